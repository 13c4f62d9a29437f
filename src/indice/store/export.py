"""The catalog as lines of JSON."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.facts import Ranking, Value, best_value
from .among import among
from .facts import rankings, values_of
from .gone import gone_entries
from .marks import PLAYED, kept_of, marks_of
from .models import Candidate, Entry, File, Folder, Library, Source
from .viewer import Viewer

__all__ = ["export_entries"]


def export_entries(db: Session, library: Library, viewer: Viewer | None = None) -> Iterator[dict[str, Any]]:
    """One object an entry, parents before their children; with a viewer also what that person keeps of each."""
    entries = {
        entry.id: entry for entry in db.scalars(select(Entry).where(Entry.library_id == library.id).order_by(Entry.id))
    }
    sources = {source.id: source.name for source in db.scalars(select(Source))}
    facts = values_of(db, list(entries))
    ranking = rankings(db)[library.id]
    candidates: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for candidate in db.scalars(
        select(Candidate).where(among(Candidate.entry_id, entries)).order_by(Candidate.score.desc(), Candidate.id)
    ):
        candidates[candidate.entry_id].append({"id": candidate.external_id, "score": round(candidate.score, 4)})
    marks = marks_of(db, viewer, entries) if viewer is not None else {}
    served = _served(db, library, entries)
    for entry in entries.values():
        row: dict[str, Any] = {
            "key": entry.handle,
            "parent": entries[entry.parent_id].handle if entry.parent_id in entries else None,
            "kind": entry.kind,
            "title": entry.title,
            "year": entry.year,
            "season": entry.season,
            "number": entry.number,
            "library": library.name,
            "folder": served.folders.get(entry.id),
            "files": served.files[entry.id],
            "source": sources.get(entry.source_id or 0),
            "id": entry.external_id,
            "page": f"/catalog/entry/{entry.id}",
            "play": f"/play/{entry.id}" if entry.id in served.played else None,
            "state": "present" if entry.id in served.present or not served.files[entry.id] else "away",
            "added": entry.added_at.astimezone(UTC).isoformat(timespec="seconds"),
            "decision": entry.state if entry.state != "settled" else entry.decided_by or "automatic",
            "score": entry.score,
            "candidates": candidates.get(entry.id) if entry.state in ("waiting", "settled") else None,
            "facts": {
                name: best.value
                for name, values in sorted(facts.get(entry.id, {}).items())
                if (best := best_value(values, name, ranking)) is not None
            },
        }
        if viewer is not None:
            row |= kept_of(marks.get(entry.id))
        yield {name: value for name, value in row.items() if value is not None}
    yield from _gone(db, library, {entry.id: entry.handle for entry in entries.values()}, ranking)


@dataclass(slots=True)
class _Served:
    """What serves entries, themselves or what lies below them."""

    files: dict[int, list[str]] = field(default_factory=lambda: defaultdict(list))
    folders: dict[int, str] = field(default_factory=dict)
    played: set[int] = field(default_factory=set)
    present: set[int] = field(default_factory=set)

    def add(self, entry_id: int, path: str, folder: str, *, is_played: bool, is_present: bool) -> None:
        """A file serves an entry."""
        self.files[entry_id].append(path)
        self.folders.setdefault(entry_id, folder)
        if is_played:
            self.played.add(entry_id)
        if is_present:
            self.present.add(entry_id)


def _served(db: Session, library: Library, entries: Mapping[int, Entry]) -> _Served:
    """The files of all entries of a library, those that are away among them."""
    numbered = {(e.parent_id, e.number): e.id for e in entries.values() if e.kind == "episode" and e.number is not None}
    found = _Served()
    for entry_id, path, folder, reading, kind, state in db.execute(
        select(File.entry_id, File.shown, Folder.shown, File.reading, File.kind, File.state)
        .join(Folder)
        .where(Folder.library_id == library.id, File.state != "missing")
        .order_by(File.shown, File.id)
    ):
        is_present = state == "present"
        walked = entry_id
        while walked is not None and walked in entries:
            found.add(walked, path, folder, is_played=kind in PLAYED, is_present=is_present)
            walked = entries[walked].parent_id
        for other in _also_served(entries.get(entry_id or 0), reading, numbered):
            found.add(other, path, folder, is_played=True, is_present=is_present)
    return found


def _gone(db: Session, library: Library, handles: dict[int, str], ranking: Ranking) -> Iterator[dict[str, Any]]:
    """What is gone and kept for a while, as it was."""
    gone = gone_entries(db, library.id)
    handles = handles | {one.entry_id: one.records["entry"][0]["handle"] for one in gone}
    for one in gone:
        was = one.records["entry"][0]
        row: dict[str, Any] = {
            "key": was["handle"],
            "parent": handles.get(was["parent_id"] or 0),
            **{name: was[name] for name in ("kind", "title", "year", "season", "number")},
            "library": library.name,
            "files": [],
            "id": was["external_id"],
            "state": "gone",
            "added": datetime.fromisoformat(was["added_at"]).astimezone(UTC).isoformat(timespec="seconds"),
            "gone": one.at.astimezone(UTC).isoformat(timespec="seconds"),
            "decision": was["decided_by"] or ("automatic" if was["state"] == "settled" else was["state"]),
            "facts": _facts_of(one.records.get("fact", []), ranking),
        }
        yield {name: value for name, value in row.items() if value is not None}


def _facts_of(rows: list[dict[str, Any]], ranking: Ranking) -> dict[str, Any]:
    values: dict[str, list[Value]] = defaultdict(list)
    for row in rows:
        at = datetime.fromisoformat(row["at"])
        values[row["field"]].append(Value(row["value"].get("v"), row["origin"], at, row["locked"]))
    found = ((name, best_value(held, name, ranking)) for name, held in sorted(values.items()))
    return {name: best.value for name, best in found if best is not None}


def _also_served(
    entry: Entry | None, reading: dict[str, Any], numbered: dict[tuple[int | None, int], int]
) -> list[int]:
    """The other episodes that a file of several holds."""
    if entry is None or entry.kind != "episode":
        return []
    numbers = reading.get("episodes") or reading.get("absolute") or []
    found = (numbered.get((entry.parent_id, number)) for number in numbers[1:])
    return [other for other in found if other is not None and other != entry.id]
