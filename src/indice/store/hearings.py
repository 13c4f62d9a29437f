"""What episodes sound like: which seasons have to be listened to, what was heard, and what it came to."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Select, and_, or_, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.playing.moments import Passage
from .among import among
from .models import Entry, File, Folder, Hearing

__all__ = ["VERSION", "Unheard", "keep_heard", "keep_passages", "passages_heard", "prints_of", "seasons_to_hear"]

VERSION = 1
"""Raise it when listening, or comparing, comes to something else."""


@dataclass(frozen=True, slots=True)
class Unheard:
    """An episode's file, and whether it was listened to as it is."""

    file_id: int
    root: bytes
    path: bytes
    size_bytes: int
    mtime_ns: int
    is_heard: bool


def seasons_to_hear(db: Session, library_id: int) -> dict[int, list[Unheard]]:
    """Seasons in which an episode's file was not listened to as it is: season → its episodes' files in their order."""
    current = and_(Hearing.size_bytes == File.size_bytes, Hearing.mtime_ns == File.mtime_ns, Hearing.version == VERSION)
    with_new = db.scalars(_of_episodes(library_id, Entry.parent_id).where(current.is_not(True)).distinct()).all()
    asked = _of_episodes(
        library_id, Entry.parent_id, Entry.id, File.id, Folder.path, File.path, File.size_bytes, File.mtime_ns, current
    )
    order = (Entry.parent_id, Entry.number, Entry.id, File.serves != "main", File.shown)
    rows = db.execute(asked.where(among(Entry.parent_id, with_new)).order_by(*order)).all() if with_new else ()
    seasons: dict[int, dict[int, Unheard]] = defaultdict(dict)
    for season, entry, file, root, path, size, changed, heard in rows:
        # of several files of an episode the first is listened to
        seasons[season or 0].setdefault(entry, Unheard(file, bytes(root), bytes(path), size, changed, bool(heard)))
    return {
        season: list(files.values())
        for season, files in seasons.items()
        if len(files) > 1 and not all(one.is_heard for one in files.values())
    }


def _of_episodes(library_id: int, *asked: Any) -> Select[*tuple[Any, ...]]:
    """Files of a library that are episodes of a season, with what was heard of them."""
    return (
        select(*asked)
        .join_from(Entry, File, File.entry_id == Entry.id)
        .join(Folder, Folder.id == File.folder_id)
        .outerjoin(Hearing, Hearing.file_id == File.id)
        .where(
            Folder.library_id == library_id,
            Entry.kind == "episode",
            Entry.parent_id.is_not(None),
            File.kind == "episode",
            File.state == "present",
            File.problem == "",
            or_(File.serves == "main", File.serves == "version"),
        )
    )


def keep_heard(db: Session, file: Unheard, last_from: float, first: bytes, last: bytes) -> None:
    """Keep what a file sounds like."""
    told = {
        "size_bytes": file.size_bytes, "mtime_ns": file.mtime_ns, "version": VERSION, "first": first, "last": last,
        "last_from": last_from, "opening_from": None, "opening_to": None, "closing_from": None, "closing_to": None,
    }  # fmt: skip
    statement = insert(Hearing).values(file_id=file.file_id, **told)
    db.execute(statement.on_conflict_do_update(index_elements=["file_id"], set_=told))


def prints_of(db: Session, file_ids: Sequence[int]) -> dict[int, tuple[bytes, bytes, float]]:
    """File → its prints, and where the second begins."""
    rows = db.execute(
        select(Hearing.file_id, Hearing.first, Hearing.last, Hearing.last_from).where(among(Hearing.file_id, file_ids))
    )
    return {file_id: (bytes(first), bytes(last), last_from) for file_id, first, last, last_from in rows}


def keep_passages(db: Session, found: Mapping[int, Sequence[Passage]]) -> None:
    """Keep the openings and closings of files."""
    for file_id, passages in found.items():
        told: dict[str, float | None] = dict.fromkeys(("opening_from", "opening_to", "closing_from", "closing_to"))
        for one in passages:
            told[f"{one.kind}_from"], told[f"{one.kind}_to"] = one.start_seconds, one.end_seconds
        db.execute(update(Hearing).where(Hearing.file_id == file_id).values(told))


def passages_heard(db: Session, file: File) -> list[Passage]:
    """The opening and the closing of a file, where its season told them and the file is as it was."""
    row = db.get(Hearing, file.id)
    if row is None or (row.size_bytes, row.mtime_ns) != (file.size_bytes, file.mtime_ns):
        return []
    found: list[Passage] = []
    if row.opening_from is not None and row.opening_to is not None:
        found.append(Passage("opening", row.opening_from, row.opening_to))
    if row.closing_from is not None and row.closing_to is not None:
        found.append(Passage("closing", row.closing_from, row.closing_to))
    return found
