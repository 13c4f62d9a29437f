"""Takes fingerprints of what files hold, and compares them with those that were taken before."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select

from ..core.phrase import phrase
from ..disk.digest import digest_of, sample_of
from ..disk.walk import shown
from ..store.database import Database
from ..store.files import save_digests
from ..store.models import File, Folder, now
from .progress import Progress

__all__ = ["has_undigested", "take_digests", "verify_library"]

AT_ONCE = 200
TOLD_PATHS = 200
"""So many paths of what is rotten are kept with a scan; the job's log has all."""


@dataclass(frozen=True, slots=True)
class _Held:
    id: int
    root: bytes
    path: bytes
    size_bytes: int
    mtime_ns: int
    digest: bytes | None
    is_rotten: bool

    @property
    def place(self) -> bytes:
        """Where it lies."""
        return os.path.join(self.root, self.path)


def _held(database: Database, library_id: int, *, only_new: bool) -> Iterator[list[_Held]]:
    """Files of a library that are there, some at a time; with `only_new` those that no digest was taken of."""
    after = 0
    while True:
        query = (
            select(File.id, Folder.path, File.path, File.size_bytes, File.mtime_ns, File.digest, File.rotten_at)
            .join(Folder)
            .where(Folder.library_id == library_id, File.state == "present", File.id > after)
        )
        if only_new:
            query = query.where(File.digest.is_(None))
        with database.begin() as db:
            rows = [_Held(*row[:6], row[6] is not None) for row in db.execute(query.order_by(File.id).limit(AT_ONCE))]
        if not rows:
            return
        yield rows
        after = rows[-1].id


def has_undigested(database: Database, library_id: int) -> bool:
    """Whether there are files of which no digest was taken."""
    return next(_held(database, library_id, only_new=True), None) is not None


def take_digests(database: Database, library_id: int, progress: Progress, *, most_bytes: int | None = None) -> int:
    """Take digests of files that have none, of so many bytes at most; returns of how many files."""
    taken, read = 0, 0
    for rows in _held(database, library_id, only_new=True):
        if taken == 0:
            progress.step(phrase("Taking fingerprints"))
        found: list[tuple[int, bytes | None, bytes | None]] = []
        for row in rows:
            if most_bytes is not None and read + row.size_bytes > most_bytes:
                continue
            digest = _read(row, progress)
            if digest is not None:
                read += row.size_bytes
                found.append((row.id, sample_of(row.place), digest))
        with database.begin() as db:
            save_digests(db, found)
        taken += len(found)
        if most_bytes is not None and read >= most_bytes:
            break
    return taken


def _read(row: _Held, progress: Progress) -> bytes | None:
    """The digest of a file as the records know it; None when it is another by now, or cannot be read."""
    try:
        before = os.stat(row.place)
        if (before.st_size, before.st_mtime_ns) != (row.size_bytes, row.mtime_ns):
            return None
        digest = digest_of(row.place, lambda count: progress.advance(0, shown(row.path)))
        after = os.stat(row.place)
        progress.advance(1, shown(row.path))
        return digest if after.st_mtime_ns == before.st_mtime_ns else None
    except OSError:
        return None


def verify_library(database: Database, library_id: int, progress: Progress) -> dict[str, Any]:
    """Read every byte, and say what is another than it was although nobody has written to it: `rotten`, `rotten_paths`.

    Counted is what was not known to be so. What is as it was again, such as from a backup, is well.
    """
    progress.step(phrase("Reading every byte"))
    rotten: list[str] = []
    for rows in _held(database, library_id, only_new=False):
        found: list[tuple[int, bytes | None, bytes | None]] = []
        spoilt: list[_Held] = []
        mended: list[int] = []
        for row in rows:
            digest = _read(row, progress)
            if digest is None:
                continue
            if row.digest is None:
                found.append((row.id, sample_of(row.place), digest))
            elif digest != row.digest and not row.is_rotten:
                spoilt.append(row)
            elif digest == row.digest and row.is_rotten:
                mended.append(row.id)
        with database.begin() as db:
            save_digests(db, found)
            for file in db.scalars(select(File).where(File.id.in_([*(row.id for row in spoilt), *mended]))):
                file.rotten_at = None if file.id in mended else now()
        said = phrase(
            "What it holds has changed although nobody has written to it. The disk may be "
            "failing: take it from a backup."
        )
        progress.log_all([(said, f"{shown(row.root)}/{shown(row.path)}") for row in spoilt], level="error")
        rotten += [shown(row.path) for row in spoilt]
    return {"rotten": len(rotten), "rotten_paths": rotten[:TOLD_PATHS]}
