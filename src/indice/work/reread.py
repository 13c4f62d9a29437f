"""Reads the names of some files again, after a person has taught something or taken it back."""

from __future__ import annotations

import os

from sqlalchemy import select

from ..core.reading.siblings import read_listing
from ..disk.walk import Seen
from ..store.database import Database
from ..store.files import NewFile
from ..store.jobs import announce
from ..store.models import File, Folder, Library
from ..store.taught import corrections_of
from .check_changed import check_changed
from .grouping import regroup
from .scan import new_file

__all__ = ["reread"]


def reread(database: Database, folder_id: int, path: str, *, siblings: bool) -> int:
    """Read a file, or all files of its folder, anew; returns how many. What was found inside them is kept."""
    with database.begin() as db:
        folder = db.get_one(Folder, folder_id)
        library = db.get_one(Library, folder.library_id)
        corrections = corrections_of(db, folder_id)
        query = select(File).where(File.folder_id == folder_id, File.state != "missing")
        files = list(
            db.scalars(
                query.where(File.directory == path.rpartition("/")[0]) if siblings else query.where(File.shown == path)
            )
        )
        directory = path.rpartition("/")[0]
        beside = select(File.path).where(
            File.folder_id == folder_id, File.directory == directory, File.state != "missing"
        )
        readings = read_listing([os.fsdecode(bytes(name)) for name in db.scalars(beside)], library.kind)
        for file in files:
            seen = Seen(bytes(file.path), file.size_bytes, file.mtime_ns, file.inode)
            made: NewFile = new_file(seen, readings[os.fsdecode(seen.path)], corrections)
            file.kind, file.reading, file.marks = made.kind, made.reading, made.marks
            file.grouped_by = file.checked_by = 0
        library_id = library.id
    regroup(database, library_id)
    check_changed(database, library_id)
    with database.begin() as db:
        for topic in ("catalog", "findings", "taught"):
            announce(db, topic)
    return len(files)
