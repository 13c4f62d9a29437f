"""Runs the core's checks over the records of a library, and keeps the findings."""

from __future__ import annotations

from sqlalchemy import delete, insert, select

from ..core.naming.checks import Item, Listing, run_checks
from ..store.database import Database
from ..store.models import File, Finding, Folder, Library

__all__ = ["check_library", "item_of"]


def item_of(file: File) -> Item:
    """A record as checks see it."""
    media = file.media or {}
    looked = file.media is not None
    return Item(
        path=file.shown,
        kind=file.kind,
        reading=file.reading,
        size_bytes=file.size_bytes,
        tags=media.get("tags") if looked else None,
        has_picture=media.get("has_picture") if looked else None,
    )


def check_library(database: Database, library_id: int) -> int:
    """Check every folder of a library; the new findings take the place of the old. Returns their number."""
    count = 0
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        db.execute(delete(Finding).where(Finding.library_id == library_id))
        for folder in db.scalars(select(Folder).where(Folder.library_id == library_id)):
            items = [
                item_of(file)
                for file in db.scalars(select(File).where(File.folder_id == folder.id, File.state != "missing"))
            ]
            found = run_checks(Listing(library.kind, items))
            count += len(found)
            rows = [
                {
                    "library_id": library_id,
                    "folder_id": folder.id,
                    "check": f.check,
                    "severity": f.severity,
                    "path": f.path,
                    "message": f.message,
                    "fix": f.fix,
                    "fix_kind": f.fix_kind,
                    "also": [{"before": before, "after": after} for before, after in f.moves]
                    or [{"before": path, "after": None} for path in f.also],
                }
                for f in found
            ]
            if rows:
                db.execute(insert(Finding), rows)
    return count
