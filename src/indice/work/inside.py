"""The part of a scan that looks into files, which every worker that sees them helps with.

Files wait in bunches of neighbouring numbers. Who looks into a bunch holds a lock of the database on it, which ends
with its holder, however it ends: then another takes it. Whose scan it is begins at the front, in the order of paths;
helpers begin at the back. What is done is seen in the records alone.
"""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor

from sqlalchemy import select

from ..disk.apart import probe_apart
from ..disk.digest import SMALL_BYTES, digest_of, sample_of
from ..disk.pace import READING
from ..disk.probe import Probe
from ..disk.walk import is_away, shown
from ..store.database import Database
from ..store.files import Inside, bunches_to_probe, files_to_probe, save_probe
from ..store.machines import LOOKS_INSIDE
from ..store.models import Folder
from .drives import device_of, mark_folder_away
from .lease import INSIDE, Lease
from .progress import Progress

__all__ = ["help_inside", "look_inside", "sample_or_none"]

_Row = tuple[int, bytes, bytes, str]
"""A file to be looked into: its id, its folder, its path, its kind."""
PROBERS = 4
BUNCH = 48
"""So many neighbouring numbers are one bunch."""


def sample_or_none(path: bytes | None) -> bytes | None:
    """A fingerprint of some of a file's bytes; None when it cannot be read."""
    if path is None:
        return None
    try:
        return sample_of(path)
    except OSError:
        return None


def look_inside(database: Database, library_id: int, progress: Progress) -> list[str]:
    """Look into all files that nobody has looked into; returns the folders whose drive went away meanwhile."""
    with database.begin() as db:
        waiting = bunches_to_probe(db, library_id, BUNCH)
        folders = {bytes(f.path): f for f in db.scalars(select(Folder).where(Folder.library_id == library_id))}
    if not waiting:
        return []
    progress.step(LOOKS_INSIDE, sum(count for _, count in waiting))
    devices = {root: device_of(root) for root in folders}
    vanished: list[bytes] = []

    def out_of_reach(roots: Iterable[bytes]) -> None:
        for root in {*roots} - {*vanished}:
            if is_away(root) or device_of(root) != devices[root]:
                vanished.append(root)
                mark_folder_away(database, folders[root], progress)

    def do(bunch: Sequence[_Row]) -> None:
        wanted = [row for row in bunch if row[1] not in vanished]
        found = _look_into(wanted, pool)
        out_of_reach(row[1] for row, result in found if result.out_of_reach)
        _save_probes(database, [(row, result) for row, result in found if row[1] not in vanished], progress)

    with ThreadPoolExecutor(PROBERS) as pool, _Claims(database, library_id) as claims:
        taken = [bunch for bunch in waiting if not _one(claims, bunch, do, progress)]
        for bunch in taken:  # by helpers: they are through by now, or have died
            while not _one(claims, bunch, do, progress):
                claims.wait(bunch[0], progress.tell)
    progress.tell()
    return [folders[root].shown for root in vanished]


def help_inside(database: Database, library_id: int, done: Callable[[int], None]) -> int:
    """Look into files of a scan that another worker is at, from the back; returns how many it were.

    `done` hears of each bunch, and may raise. Ends when nothing is left that nobody is at, or when this machine does
    not reach a file: what that means is for the scan to say.
    """
    with database.begin() as db:
        waiting = bunches_to_probe(db, library_id, BUNCH)
    count = 0
    with ThreadPoolExecutor(PROBERS) as pool, _Claims(database, library_id) as claims:
        for number, _ in reversed(waiting):
            if not claims.take(number):
                continue
            try:
                left = claims.left(number)
                found = _look_into(left, pool)
                if any(result.out_of_reach for _, result in found):
                    return count
                _save_probes(database, found, None)
            finally:
                claims.give_back(number)
            count += len(left)
            done(len(left))
    return count


class _Claims:
    """Bunches that this worker is at."""

    def __init__(self, database: Database, library_id: int) -> None:
        self._database = database
        self._library_id = library_id
        self._lease = Lease(database)

    def __enter__(self) -> _Claims:
        return self

    def __exit__(self, *_: object) -> None:
        self._lease.end()

    def take(self, number: int) -> bool:
        return self._lease.take(INSIDE, number)

    def wait(self, number: int, meanwhile: Callable[[], None]) -> None:
        self._lease.wait_for(INSIDE, number, meanwhile)
        self.give_back(number)

    def give_back(self, number: int) -> None:
        self._lease.give_back(INSIDE, number)

    def left(self, number: int) -> list[_Row]:
        """Of a bunch what nobody has looked into meanwhile."""
        with self._database.begin() as db:
            return files_to_probe(db, self._library_id, number, BUNCH)


def _one(claims: _Claims, bunch: tuple[int, int], do: Callable[[Sequence[_Row]], None], progress: Progress) -> bool:
    """Do a bunch, as far as nobody has; False when somebody is at it."""
    number, count = bunch
    if not claims.take(number):
        return False
    try:
        left = claims.left(number)
        do(left)
    finally:
        claims.give_back(number)
    progress.advance(count, shown(left[-1][2]) if left else "")
    return True


def _look_into(rows: Sequence[_Row], pool: ThreadPoolExecutor) -> list[tuple[_Row, Probe]]:
    return list(zip(rows, pool.map(_probe_row, rows), strict=True))


def _save_probes(database: Database, found: Sequence[tuple[_Row, Probe]], progress: Progress | None) -> None:
    with database.begin() as db:
        save_probe(
            db,
            [
                Inside(
                    row[0],
                    None if result.out_of_reach else result.media,
                    "" if result.is_missing else result.problem,
                    result.sample,
                    result.digest,
                )
                for row, result in found
            ],
        )
    said = [(result.problem, f"{shown(row[1])}/{shown(row[2])}") for row, result in found if result.problem]
    if progress is not None:
        progress.log_all(said, level="warning")


_READ_WHOLE = frozenset(("photo", "artwork"))
"""Kinds of files of which a look inside reads all bytes; of the others it reads here and there."""


def _probe_row(row: _Row) -> Probe:
    path = os.path.join(row[1], row[2])
    found = probe_apart(path, row[3])
    if not found.out_of_reach:
        found.sample = sample_or_none(path)
        with contextlib.suppress(OSError):
            size = os.stat(path).st_size
            if size <= SMALL_BYTES:
                found.digest = digest_of(path)
            else:
                READING.took(size if row[3] in _READ_WHOLE else SMALL_BYTES)
    return found
