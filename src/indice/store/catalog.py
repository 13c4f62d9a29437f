"""Questions that the screens ask of the catalog."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, Text, case, cast, func, literal, or_, select
from sqlalchemy.orm import Session, aliased

from ..core.facts import best_value
from .entries import rankings, values_of
from .models import Artwork, Candidate, Entry, Fact, File, Finding, Folder, Library

__all__ = [
    "SHELVES",
    "FolderCount",
    "apart_of",
    "artwork_of",
    "candidates_of",
    "entries_of_kinds",
    "entries_with",
    "facts_for_names",
    "files_of",
    "findings_of",
    "folder_counts",
    "least_certain",
    "library_states",
    "main_picture",
    "recent_entries",
    "search_entries",
    "shared_files",
    "tree_of",
    "waiting_counts",
    "waiting_entries",
]

SHELVES = {"films": ("movie",), "series": ("series",), "music": ("album",), "photos": ("photo", "clip")}
"""A shelf of the catalog → the kinds of entries that stand on it."""
_ROLES = {
    "movie": ("poster", "thumb"),
    "series": ("poster",),
    "season": ("poster",),
    "album": ("cover",),
    "artist": ("portrait",),
    "photo": ("photo",),
    "clip": ("thumb",),
    "episode": ("thumb",),
}
SURE = 0.97
"""Score from which nobody need look again."""
_ORIGIN_ORDER = ("hand", "file", "tags", "source", "frame")


def artwork_of(db: Session, entry_ids: Iterable[int]) -> dict[int, list[Artwork]]:
    """Pictures of entries, the one to show first."""
    found: dict[int, list[Artwork]] = defaultdict(list)
    chosen = list(entry_ids)
    for start in range(0, len(chosen), 5000):
        for picture in db.scalars(select(Artwork).where(Artwork.entry_id.in_(chosen[start : start + 5000]))):
            found[picture.entry_id].append(picture)
    for pictures in found.values():
        pictures.sort(
            key=lambda picture: (
                not picture.chosen,
                _ORIGIN_ORDER.index(picture.origin.partition(":")[0])
                if picture.origin.partition(":")[0] in _ORIGIN_ORDER
                else 9,
                picture.role,
                picture.place,
                picture.id,
            )
        )
    return found


def main_picture(kind: str, pictures: Sequence[Artwork]) -> Artwork | None:
    """The picture that stands for an entry."""
    for role in _ROLES.get(kind, ()):
        for picture in pictures:
            if picture.role == role:
                return picture
    return None


def entries_of_kinds(db: Session, kinds: Sequence[str], *, library_id: int | None = None) -> list[Entry]:
    """Entries of kinds, as they stand on the shelf: by title; pictures by the moment they were taken, newest first."""
    query = select(Entry).where(Entry.kind.in_(kinds))
    if library_id is not None:
        query = query.where(Entry.library_id == library_id)
    if "photo" in kinds:
        query = query.order_by(Entry.moment.desc().nulls_last(), Entry.id)
    else:
        query = query.order_by(Entry.sort_title, Entry.year, Entry.id)
    return list(db.scalars(query))


def entries_with(db: Session, fields: Sequence[str], value: str) -> list[tuple[str, Entry]]:
    """Field and entry of everything that shows a value in one of these fields, in the order of titles."""
    order = rankings(db)
    held = Fact.value["v"]
    query = (
        select(Fact.entry_id)
        .where(Fact.field.in_(fields), or_(held.contains([value]), held == func.to_jsonb(cast(value, Text))))
        .distinct()
    )
    ids = list(db.scalars(query))
    facts = values_of(db, ids)
    found: list[tuple[str, Entry]] = []
    for entry in db.scalars(select(Entry).where(Entry.id.in_(ids)).order_by(Entry.sort_title, Entry.year, Entry.id)):
        for name in fields:
            best = best_value(facts[entry.id].get(name, []), name, order[entry.library_id])
            if best is not None and (best.value == value or (isinstance(best.value, list) and value in best.value)):
                found.append((name, entry))
    return sorted(found, key=lambda pair: fields.index(pair[0]))


def search_entries(db: Session, words: str, *, limit: int) -> list[Entry]:
    """Entries whose titles hold the words, or are like them; titles that begin so come first."""
    wanted = words.casefold().strip()
    if not wanted:
        return []
    escaped = wanted.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    by_file = select(File.entry_id).where(File.shown.ilike(f"%{escaped}%", escape="\\")).limit(200)
    rank = func.greatest(func.similarity(Entry.search, wanted), func.word_similarity(wanted, Entry.search))
    order = {
        kind: place
        for place, kind in enumerate(
            ("movie", "series", "artist", "album", "event", "episode", "track", "clip", "photo", "season")
        )
    }
    query = (
        select(Entry)
        .where(
            or_(
                Entry.search.like(f"%{escaped}%", escape="\\"),
                literal(wanted).op("<%")(Entry.search),
                Entry.id.in_(by_file),
            ),
            Entry.kind != "season",
        )
        .order_by(Entry.search.like(f"{escaped}%", escape="\\").desc(), rank.desc(), Entry.id)
        .limit(limit * 2)
    )
    found = list(db.scalars(query))
    found.sort(key=lambda entry: (not entry.search.startswith(wanted), order.get(entry.kind, 20)))
    return found[:limit]


def files_of(db: Session, entry_ids: Iterable[int]) -> dict[int, list[tuple[File, Folder]]]:
    """Files that serve entries, with the folder that they lie in, in the order of paths."""
    found: dict[int, list[tuple[File, Folder]]] = defaultdict(list)
    for file, folder in db.execute(
        select(File, Folder)
        .join(Folder)
        .where(File.entry_id.in_(list(entry_ids)), File.state != "missing")
        .order_by(File.shown)
    ):
        found[file.entry_id or 0].append((file, folder))
    return found


def shared_files(db: Session, entry: Entry) -> list[tuple[File, Folder]]:
    """Files of several episodes that hold this one and serve another: `S01E02-E03` serves the second, and holds the third."""
    if entry.kind != "episode" or entry.number is None:
        return []
    holds = or_(
        File.reading.contains({"episodes": [entry.number]}), File.reading.contains({"absolute": [entry.number]})
    )
    query = (
        select(File, Folder)
        .join(Folder)
        .join(Entry, Entry.id == File.entry_id)
        .where(Entry.parent_id == entry.parent_id, Entry.id != entry.id, File.kind == "episode", holds)
        .where(File.state != "missing")
        .order_by(File.shown)
    )
    return [(file, folder) for file, folder in db.execute(query)]


def recent_entries(db: Session, since: datetime | None, *, limit: int) -> list[Entry]:
    """Works that came in since a moment, newest first."""
    query = select(Entry).where(Entry.kind.in_(("movie", "series", "album", "event")))
    if since is not None:
        query = query.where(Entry.added_at > since)
    return list(db.scalars(query.order_by(Entry.added_at.desc(), Entry.sort_title).limit(limit)))


def waiting_counts(db: Session) -> dict[str, int]:
    """How much waits in each place."""
    return {
        "matches": db.scalar(
            select(func.count())
            .select_from(Entry)
            .where(Entry.state == "waiting", Entry.kind.in_(("movie", "series", "album")))
        )
        or 0,
        "names": db.scalar(select(func.count()).select_from(Finding)) or 0,
    }


def waiting_entries(db: Session) -> list[Entry]:
    """Entries that wait for a decision: those of one artist or one beginning together, the likeliest first."""
    return list(
        db.scalars(
            select(Entry)
            .where(Entry.state == "waiting", Entry.kind.in_(("movie", "series", "album")))
            .order_by(Entry.library_id, Entry.kind, Entry.sort_title, Entry.id)
        )
    )


def least_certain(db: Session, *, limit: int) -> list[Entry]:
    """Entries that were taken automatically although little spoke for them, or much for another: the least certain first."""
    taken = list(
        db.scalars(
            select(Entry)
            .where(
                Entry.state == "settled",
                Entry.decided_by == "automatic",
                Entry.kind.in_(("movie", "series", "album")),
                Entry.score < SURE,
            )
            .order_by(Entry.score, Entry.id)
            .limit(limit * 4)
        )
    )
    rivals = candidates_of(db, [entry.id for entry in taken])

    def certainty(entry: Entry) -> float:
        score = entry.score or 0.0
        others = [c.score for c in rivals.get(entry.id, []) if c.external_id != entry.external_id]
        return score + 0.2 * min(score - max(others, default=0.0), 0.5)

    return sorted(taken, key=lambda entry: (certainty(entry), entry.id))[:limit]


def candidates_of(db: Session, entry_ids: Sequence[int]) -> dict[int, list[Candidate]]:
    """Candidates of entries, best first; what is of another type is none, see :func:`apart_of`."""
    return _candidates(db, entry_ids, Candidate.apart == "")


def apart_of(db: Session, entry_ids: Sequence[int]) -> dict[int, list[Candidate]]:
    """What sources brought up for entries that is of another type."""
    return _candidates(db, entry_ids, Candidate.apart != "")


def _candidates(db: Session, entry_ids: Sequence[int], which: ColumnElement[bool]) -> dict[int, list[Candidate]]:
    found: dict[int, list[Candidate]] = defaultdict(list)
    query = select(Candidate).where(Candidate.entry_id.in_(entry_ids), which)
    for candidate in db.scalars(query.order_by(Candidate.score.desc(), Candidate.id)):
        found[candidate.entry_id].append(candidate)
    return found


def findings_of(db: Session, *, check: str | None = None, library_id: int | None = None) -> list[Finding]:
    """Findings, by check and path."""
    query = select(Finding)
    if check:
        query = query.where(Finding.check == check)
    if library_id is not None:
        query = query.where(Finding.library_id == library_id)
    return list(db.scalars(query.order_by(Finding.check, Finding.library_id, Finding.path)))


@dataclass(slots=True)
class FolderCount:
    """A directory with how many files below it stand where."""

    folder_id: int
    path: str
    states: dict[str, int] = field(default_factory=dict)


_PARENT = aliased(Entry)
_ABOVE = aliased(Entry)


def _with_state(query: Any) -> Any:
    """Files joined with what decides their state."""
    return (
        query.outerjoin(Entry, Entry.id == File.entry_id)
        .outerjoin(_PARENT, _PARENT.id == Entry.parent_id)
        .outerjoin(_ABOVE, _ABOVE.id == _PARENT.parent_id)
    )


def _state() -> ColumnElement[str]:
    """A file's state for people: settled, waiting, name (to be mended), unseen, away or other."""
    found = select(Finding.id).where(Finding.folder_id == File.folder_id, Finding.path == File.shown).exists()
    settled = or_(
        Entry.state == "settled",
        _PARENT.state == "settled",
        _ABOVE.state == "settled",
        File.kind.in_(("photo", "clip")),
    )
    waiting = or_(Entry.state == "waiting", _PARENT.state == "waiting", _ABOVE.state == "waiting")
    return case(
        (File.state == "away", "away"),
        (found, "name"),
        (File.entry_id.is_(None), "other"),
        (settled, "settled"),
        (waiting, "waiting"),
        else_="unseen",
    )


def folder_counts(db: Session, library_id: int | None = None) -> list[FolderCount]:
    """States of the files of every directory, not summed up."""
    query = _with_state(select(File.folder_id, File.directory, _state().label("state")).join(Folder)).where(
        File.state != "missing"
    )
    if library_id is not None:
        query = query.where(Folder.library_id == library_id)
    counts: dict[tuple[int, str], FolderCount] = {}
    rows = query.subquery()
    grouped = select(rows.c.folder_id, rows.c.directory, rows.c.state, func.count()).group_by(
        rows.c.folder_id, rows.c.directory, rows.c.state
    )
    for folder_id, directory, state, count in db.execute(grouped):
        counts.setdefault((folder_id, directory), FolderCount(folder_id, directory)).states[state] = count
    return list(counts.values())


def tree_of(counts: Sequence[FolderCount]) -> list[FolderCount]:
    """Every directory, those above included, with the states of all files below it, in the order of paths."""
    summed: dict[tuple[int, str], FolderCount] = {}
    for count in counts:
        path = count.path
        while True:
            node = summed.setdefault((count.folder_id, path), FolderCount(count.folder_id, path))
            for state, number in count.states.items():
                node.states[state] = node.states.get(state, 0) + number
            if not path:
                break
            path = path.rpartition("/")[0]
    return sorted(summed.values(), key=lambda node: (node.folder_id, node.path.split("/") if node.path else []))


def files_in(db: Session, folder_id: int, directory: str) -> list[tuple[File, str]]:
    """Files of one directory with their state for people."""
    query = (
        _with_state(select(File, _state()))
        .where(File.folder_id == folder_id, File.directory == directory, File.state != "missing")
        .order_by(File.shown)
    )
    rows: list[Any] = list(db.execute(query))
    return [(file, str(state)) for file, state in rows]


def library_states(db: Session) -> list[tuple[Library, dict[str, int], int]]:
    """Libraries with the states of their files, and their size in bytes."""
    sizes: dict[int, int] = dict(
        db.execute(
            select(Folder.library_id, func.sum(File.size_bytes))
            .join(File)
            .where(File.state != "missing")
            .group_by(Folder.library_id)
        ).all()
    )
    owner = dict(db.execute(select(Folder.id, Folder.library_id)).all())
    states: dict[int, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for count in folder_counts(db):
        for state, number in count.states.items():
            states[owner[count.folder_id]][state] += number
    return [
        (library, dict(states.get(library.id, {})), int(sizes.get(library.id, 0)))
        for library in db.scalars(select(Library).order_by(Library.id))
    ]


def facts_for_names(db: Session, files: Sequence[File]) -> dict[int, dict[str, Any]]:
    """What matched entries add to the readings of their files, for tidy names: entry → facts."""
    ids = {file.entry_id for file in files if file.entry_id}
    entries = {entry.id: entry for entry in db.scalars(select(Entry).where(Entry.id.in_(ids)))}
    above = {
        entry.id: entry
        for entry in db.scalars(
            select(Entry).where(Entry.id.in_({e.parent_id for e in entries.values() if e.parent_id}))
        )
    }
    top = {
        entry.id: entry
        for entry in db.scalars(select(Entry).where(Entry.id.in_({e.parent_id for e in above.values() if e.parent_id})))
    }
    named = set(db.scalars(select(Fact.entry_id).where(Fact.entry_id.in_(ids), Fact.field == "title")))
    facts: dict[int, dict[str, Any]] = {}
    for entry in entries.values():
        if entry.state != "settled":
            continue
        parent = above.get(entry.parent_id or 0)
        own: dict[str, Any] = {"title": entry.title} if entry.id in named else {}
        if entry.kind == "movie" and entry.year:
            own["year"] = entry.year
        if entry.kind == "episode" and parent is not None and (series := top.get(parent.parent_id or 0)) is not None:
            own |= {"series": series.title} | ({"year": series.year} if series.year else {})
        if entry.kind == "track" and parent is not None and parent.kind == "album":
            own |= (
                {"album": parent.title}
                | ({"year": parent.year} if parent.year else {})
                | ({"track": entry.number} if entry.number else {})
            )
        facts[entry.id] = own
    return facts
