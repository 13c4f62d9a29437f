"""Runs the core's grouping over the records of a library."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.grouping import FileView, Grouped, group
from ..store.among import among
from ..store.database import Database
from ..store.entries import entries_told, keys_in, keys_of
from ..store.files import NewFile, library_files, stirred
from ..store.gone import bring_back, libraries_of_entries, remove_empty
from ..store.jobs import announce
from ..store.models import Entry, File
from ..store.served import Seen, apply_grouping, everything
from ..store.shown import refresh_shown
from ..store.stages import GROUPED, due_files, note_done
from ..store.vicinity import TooWide, Vicinity

__all__ = ["regroup", "show_new", "view_of", "view_of_new"]


def view_of(file: File) -> FileView:
    """A record as grouping sees it."""
    media = file.media or {}
    return FileView(
        id=file.id,
        path=file.shown,
        kind=file.kind,
        reading=file.reading,
        tags=media.get("tags") or {},
        taken=media.get("taken") if file.kind in ("photo", "clip") else None,
        facts=media.get("facts") or {},
        is_own=bool(media.get("own")),
        about=str(media.get("about") or ""),
        seconds=media.get("seconds") if file.kind in ("movie", "clip") else None,
    )


def view_of_new(file: NewFile, id_: int) -> FileView:
    """A file of which nothing but its name is known yet."""
    return FileView(id=id_, path=file.shown, kind=file.kind, reading=file.reading)


def show_new(db: Session, library_id: int, files: Iterable[FileView], *, known: Sequence[int] = ()) -> int:
    """Add the entries of some files, while a scan still runs; `known` are numbers of more of them. Returns how many are new."""
    more = library_files(db, library_id, ids=known) if known else ()
    return apply_grouping(db, library_id, group([*files, *map(view_of, more)]))


def regroup(database: Database, library_id: int, *, whole: bool = False) -> int:
    """Put entries together anew where something has changed; returns how many are new.

    What a change reaches is looked at, and all of the library where that is much, or where `whole` asks for it.
    """
    with database.begin() as db:
        restored = bring_back(db, library_id)
        grouped, seen = (None if whole else _near(db, library_id)) or _all(db, library_id)
        fresh = apply_grouping(db, library_id, grouped, seen)
        for other in libraries_of_entries(db, restored):
            remove_empty(db, other, restored)
        _show(db, library_id, grouped)
        note_done(db, GROUPED, library_id)
        announce(db, "catalog")
    return fresh


def _all(db: Session, library_id: int) -> tuple[Grouped, Seen]:
    files = library_files(db, library_id)
    return group(view_of(file) for file in files), everything(db, library_id)


FEW = 2000
"""So many files are always looked at by themselves, however small the library is."""


def _near(db: Session, library_id: int) -> tuple[Grouped, Seen] | None:
    """What changes since the last grouping reach; None when it is better to look at everything."""
    changed, total = due_files(db, GROUPED, library_id)
    most = max(FEW, total // 4)
    if len(changed) > most or len(changed) == total:
        return None
    vicinity = Vicinity(db, library_id, most=most)
    try:
        vicinity.start(changed, stirred(db, library_id))
        while True:
            files = library_files(db, library_id, ids=sorted(vicinity.files))
            grouped = group(map(view_of, files), elsewhere=vicinity.elsewhere)
            if not vicinity.widen(grouped):
                break
    except TooWide:
        return None
    old = [*vicinity.entries, *vicinity.emptied()]
    return grouped, Seen(vicinity.files, keys_of(db, library_id, old))


def _show(db: Session, library_id: int, grouped: Grouped) -> None:
    """Titles and years of what was put together, as its facts give them."""
    ids = list(keys_in(db, library_id, grouped.entries).values())
    plain = select(Entry.id).where(among(Entry.id, ids), Entry.kind.in_(("artist", "album", "track")))
    refresh_shown(db, list(db.scalars(plain)))
    refresh_shown(db, entries_told(db, library_id, among_ids=ids))
