"""Runs the core's grouping over the records of a library."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select

from ..core.grouping import FileView, group
from ..store.database import Database
from ..store.entries import apply_grouping, entries_told, refresh_shown
from ..store.files import library_files
from ..store.jobs import announce
from ..store.models import Entry, File
from ..store.stages import GROUPED, note_done

__all__ = ["regroup", "view_of"]


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
        seconds=media.get("seconds") if file.kind == "movie" else None,
    )


def regroup(database: Database, library_id: int, *, ids: Sequence[int] | None = None) -> int:
    """Group the library anew, or only these files while a scan still runs; returns how many entries are new."""
    with database.begin() as db:
        files = library_files(db, library_id, ids=ids)
        fresh = apply_grouping(db, library_id, group(view_of(file) for file in files), whole=ids is None)
        if ids is None:
            refresh_shown(
                db,
                list(
                    db.scalars(
                        select(Entry.id).where(
                            Entry.library_id == library_id, Entry.kind.in_(("artist", "album", "track"))
                        )
                    )
                ),
            )
            refresh_shown(db, entries_told(db, library_id))
            note_done(db, GROUPED, library_id)
        announce(db, "catalog")
    return fresh
