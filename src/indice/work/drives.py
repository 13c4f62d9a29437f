"""Drives that folders of libraries lie on: which, and what is to be noted when one is not there."""

from __future__ import annotations

import os

from ..core.phrase import phrase
from ..store.database import Database
from ..store.files import count_away, mark_away
from ..store.models import Folder
from ..store.tallies import known_directories
from .progress import Progress

__all__ = ["device_of", "mark_folder_away"]


def device_of(root: bytes) -> int | None:
    """The disk that a folder lies on; None when it is not there."""
    try:
        return os.stat(root).st_dev
    except OSError:
        return None


def mark_folder_away(database: Database, folder: Folder, progress: Progress) -> int:
    """A folder is not there: what lies in it is away. Returns how many files that count are so newly."""
    with database.begin() as db:
        here = db.get_one(Folder, folder.id)
        counted = sum(count for _, count in known_directories(db, folder.id).values())
        mark_away(db, here)
        had = count_away(db, folder.id)
        here.problem = phrase("The folder is not there. Plug the drive in, or check the share; nothing is forgotten.")
    progress.log(
        phrase("{path} is not there. Its {n} files are away; nothing is forgotten.", path=folder.shown, n=had),
        path=folder.shown,
        level="warning",
    )
    return counted
