"""Runs the core's grouping over the records of a library."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.grouping import FileView, Grouped, group
from ..store.among import among
from ..store.database import Database
from ..store.entries import entries_told, keys_in, keys_of
from ..store.files import NewFile, stirred
from ..store.gone import bring_back, libraries_of_entries, remove_empty
from ..store.jobs import announce
from ..store.models import Entry, File, Folder
from ..store.served import Seen, apply_grouping, everything
from ..store.shown import refresh_shown
from ..store.stages import GROUPED, due_files, note_done, still_due
from ..store.tallies import directories_of, freshen
from ..store.vicinity import TooWide, Vicinity

__all__ = ["group_new", "regroup", "show_new", "view_of_new", "views_of"]


_INSIDE = ("tags", "taken", "facts", "own", "about", "seconds")
"""What was found inside a file that grouping looks at; what else is known of it is not fetched."""


def views_of(db: Session, library_id: int, *, ids: Collection[int] | None = None) -> Iterator[FileView]:
    """Files of a library, or some of them, as grouping sees them, by path; what is missing is left out."""
    query = (
        select(File.id, File.shown, File.kind, File.reading, *(File.media[name] for name in _INSIDE))
        .join(Folder)
        .where(Folder.library_id == library_id, File.state != "missing")
        .order_by(File.shown)
    )
    if ids is not None:
        query = query.where(among(File.id, ids))
    rows: Iterable[Any] = db.execute(query)
    for id_, path, kind, reading, tags, taken, facts, own, about, seconds in rows:
        yield FileView(
            id=id_,
            path=path,
            kind=kind,
            reading=reading,
            tags=tags or {},
            taken=taken if kind in ("photo", "clip") else None,
            facts=facts or {},
            is_own=bool(own),
            about=str(about or ""),
            seconds=seconds if kind in ("movie", "clip") else None,
        )


def view_of_new(file: NewFile, id_: int) -> FileView:
    """A file of which nothing but its name is known yet."""
    return FileView(id=id_, path=file.shown, kind=file.kind, reading=file.reading)


def group_new(files: Mapping[int, NewFile]) -> Grouped:
    """What files make of which nothing but their names is known yet, by their numbers."""
    return group([view_of_new(file, id_) for id_, file in files.items()])


def show_new(db: Session, library_id: int, files: Iterable[FileView], *, known: Sequence[int] = ()) -> int:
    """Add the entries of some files, while a scan still runs; `known` are numbers of
    more of them. Returns how many are new."""
    more = views_of(db, library_id, ids=known) if known else ()
    return apply_grouping(db, library_id, group([*files, *more]))


def regroup(database: Database, library_id: int, *, whole: bool = False) -> int:
    """Put entries together anew where something has changed; returns how many are new.

    What a change reaches is looked at; all of the library where that is much of it, or where `whole` asks for it. A
    large library is put together in bunches, each in a transaction of its own, so that memory does not grow with it.
    """
    with database.begin() as db:
        freshen(db, exactly=True)
    with database.begin() as db:
        restored = bring_back(db, library_id)
        changed, total = due_files(db, GROUPED, library_id)
        if whole or total <= SMALL:
            is_most = whole or _is_most(changed, total)
            near = None if is_most else _what_changed_reaches(db, library_id, changed, max(FEW, total // 4))
            fresh = _apply(db, library_id, *near) if near is not None else _apply_whole(db, library_id)
            _clear_away(db, restored)
            note_done(db, GROUPED, library_id)
            announce(db, "catalog")
            return fresh
    return _regroup_bunches(database, library_id, changed, restored)


FEW = 2000
"""So many files are always looked at by themselves, however small the library is."""
SMALL = 20_000
"""A library of no more files is put together as a whole where most of it has changed; a larger one in bunches …"""
WIDEST = 20_000
"""… unless one of them reaches more files than that."""


def _is_most(changed: Sequence[int], total: int) -> bool:
    return len(changed) > max(FEW, total // 4) or len(changed) == total


def _apply_whole(db: Session, library_id: int) -> int:
    return _apply(db, library_id, group(views_of(db, library_id)), everything(db, library_id))


def _what_changed_reaches(
    db: Session, library_id: int, changed: Sequence[int], most: int
) -> tuple[Grouped, Seen] | None:
    """What changed files reach; None where that is so much that everything is better looked at."""
    vicinity = Vicinity(db, library_id, directories_of(db, library_id), most=most)
    try:
        vicinity.start(changed, stirred(db, library_id))
        return _near(db, library_id, vicinity)
    except TooWide:
        return None


def _regroup_bunches(database: Database, library_id: int, changed: Sequence[int], restored: Collection[int]) -> int:
    """Put together what the files that changed reach, some at a time; everything where some of them reach too much.

    What had come back is cleared away at the end, if it found no file of its own.
    """
    with database.begin() as db:
        directories = directories_of(db, library_id)
        left_behind: Sequence[str] = stirred(db, library_id)
    fresh = 0
    try:
        for start in range(0, max(1, len(changed)), FEW):
            with database.begin() as db:
                bunch = still_due(db, GROUPED, changed[start : start + FEW])
                if start and not bunch:
                    continue
                vicinity = Vicinity(db, library_id, directories, most=WIDEST)
                vicinity.start(bunch, () if start else left_behind, with_unserved=not start)
                fresh += _apply(db, library_id, *_near(db, library_id, vicinity))
                note_done(db, GROUPED, library_id, among_ids=vicinity.files)
                announce(db, "catalog")
    except TooWide:
        with database.begin() as db:
            fresh += _apply_whole(db, library_id)
    with database.begin() as db:
        _clear_away(db, restored)
        note_done(db, GROUPED, library_id)
        announce(db, "catalog")
    return fresh


def _clear_away(db: Session, restored: Collection[int]) -> None:
    """Of what had come back and found no file, nothing stays."""
    for other in libraries_of_entries(db, restored):
        remove_empty(db, other, restored)


def _near(db: Session, library_id: int, vicinity: Vicinity) -> tuple[Grouped, Seen]:
    """What a vicinity makes, grown until nothing is added."""
    while True:
        views = views_of(db, library_id, ids=sorted(vicinity.files))
        grouped = group(views, elsewhere=vicinity.elsewhere)
        if not vicinity.widen(grouped):
            break
    old = [*vicinity.entries, *vicinity.emptied()]
    return grouped, Seen(vicinity.files, keys_of(db, library_id, old), vicinity.spoken_of)


def _apply(db: Session, library_id: int, grouped: Grouped, seen: Seen) -> int:
    fresh = apply_grouping(db, library_id, grouped, seen)
    _show(db, library_id, grouped)
    return fresh


def _show(db: Session, library_id: int, grouped: Grouped) -> None:
    """Titles and years of what was put together, as its facts give them."""
    ids = list(keys_in(db, library_id, grouped.entries).values())
    plain = select(Entry.id).where(among(Entry.id, ids), Entry.kind.in_(("artist", "album", "track")))
    refresh_shown(db, list(db.scalars(plain)))
    refresh_shown(db, entries_told(db, library_id, among_ids=ids))
