"""Watches the folders of libraries: what changes there is scanned at once, and nothing else is looked at.

Changes are told by the system (inotify). Network shares tell none, or too few: their libraries are scanned at a pace.
"""

from __future__ import annotations

import contextlib
import os
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import structlog
from sqlalchemy import select

from ..disk.walk import BIN
from ..settings import Settings
from ..store.database import Database
from ..store.jobs import find_active
from ..store.models import Folder, Library, now
from ..store.paths import kept_path
from .requests import Queue, request_job

__all__ = ["Pending", "directories_of", "is_remote", "watch_folders"]

log = structlog.get_logger()
LOOK_EVERY_SECONDS = 20.0
"""How often it is asked which folders there are."""
TICK_MS = 250
MOST_DIRECTORIES = 400
"""Where more changes at once, the whole library is scanned."""
_REMOTE = frozenset(("nfs", "nfs4", "cifs", "smb3", "smbfs", "9p", "ceph", "afs", "glusterfs", "davfs", "sshfs"))


@dataclass(slots=True)
class Pending:
    """What has changed and was not scanned yet: library → folder → directories, relative; None: all of the library."""

    changed: dict[int, dict[int, set[bytes]] | None] = field(default_factory=dict)

    def add(self, library_id: int, folder_id: int, directories: Iterable[bytes]) -> None:
        """Something changed in these directories."""
        known = self.changed.setdefault(library_id, {})
        if known is None:
            return
        known.setdefault(folder_id, set()).update(directories)
        if sum(map(len, known.values())) > MOST_DIRECTORIES:
            self.changed[library_id] = None

    def take(self, library_id: int) -> dict[str, dict[str, list[str]]]:
        """The subject of a scan of what has changed in a library, which is pending no more."""
        known = self.changed.pop(library_id)
        if known is None:
            return {}
        return {
            "only": {
                str(folder_id): [kept_path(os.fsdecode(path)) for path in sorted(directories)]
                for folder_id, directories in known.items()
            }
        }


def directories_of(root: bytes, paths: Iterable[bytes]) -> set[bytes]:
    """Directories, relative to a root, in which something has changed: those that hold the paths, and those that they are."""
    found: set[bytes] = set()
    start = root.rstrip(b"/") + b"/"
    for path in paths:
        if not path.startswith(start):
            continue
        relative = path[len(start) :]
        if relative == BIN or relative.startswith(BIN + b"/"):
            continue
        found.add(os.path.dirname(relative))
        if os.path.isdir(path) and not os.path.islink(path):
            found.add(relative)
    return found


def is_remote(path: bytes, mounts: str | None = None) -> bool:
    """Whether a path lies on a network share, by the table of mounts of the system (`proc(5)`, mountinfo)."""
    if mounts is None:
        try:
            with open("/proc/self/mountinfo", encoding="utf-8", errors="surrogateescape") as table:
                mounts = table.read()
        except OSError:
            return False
    place = os.fsdecode(os.path.realpath(path))
    best, kind = -1, ""
    for line in mounts.splitlines():
        left, _, right = line.partition(" - ")
        fields = left.split()
        if len(fields) < 5 or not right:
            continue
        point = fields[4].encode().decode("unicode_escape").encode("latin-1").decode("utf-8", "surrogateescape")
        holds = place == point or place.startswith(point.rstrip("/") + "/")
        if holds and len(point) >= best:
            best, kind = len(point), right.split()[0]
    return kind in _REMOTE or (kind.startswith("fuse.") and kind.partition(".")[2] in _REMOTE)


@dataclass(frozen=True, slots=True)
class _Watched:
    folder_id: int
    library_id: int
    root: bytes


def _folders(database: Database) -> list[_Watched]:
    with database.begin() as db:
        rows = db.execute(select(Folder.id, Folder.library_id, Folder.path).order_by(Folder.id)).all()
    return [_Watched(id_, library_id, root) for id_, library_id, root in rows if os.path.isdir(root)]


def watch_folders(
    database: Database,
    settings: Settings,
    *,
    stop: threading.Event | None = None,
    told: Callable[[int], None] | None = None,
) -> None:
    """Watch until stopped: folders that come and go are noticed, and a failure only pauses it.

    `told` is called with each scan that is asked for, instead of handing it to the workers.
    """
    stop = stop or threading.Event()
    pending = Pending()
    while not stop.is_set():
        try:
            folders = _folders(database)
            local = [one for one in folders if not is_remote(one.root)]
            _poll(database, settings, {one.library_id for one in folders} - {one.library_id for one in local}, told)
            if local:
                _watch_some(database, local, pending, stop, told)
            else:
                stop.wait(LOOK_EVERY_SECONDS)
        except (
            Exception
        ) as error:  # the watch must not end: a drive that is pulled, a table that is full, a database that restarts
            log.warning("watch_failed", error=str(error))
            with contextlib.suppress(Exception):
                _poll(database, settings, {one.library_id for one in _folders(database)}, told)
            stop.wait(LOOK_EVERY_SECONDS)


def _watch_some(
    database: Database,
    folders: list[_Watched],
    pending: Pending,
    stop: threading.Event,
    told: Callable[[int], None] | None,
) -> None:
    """Watch these folders until others are to be watched."""
    from watchfiles import watch

    roots = [os.fsdecode(one.root) for one in folders]
    until = time.monotonic() + LOOK_EVERY_SECONDS
    for changes in watch(
        *roots,
        watch_filter=None,
        debounce=400,
        step=100,
        stop_event=stop,
        rust_timeout=TICK_MS,
        yield_on_timeout=True,
        raise_interrupt=False,
        ignore_permission_denied=True,
    ):
        paths = [os.fsencode(path) for _, path in changes]
        for one in folders if paths else ():
            directories = directories_of(one.root, paths)
            if directories:
                pending.add(one.library_id, one.folder_id, directories)
        _ask(database, pending, told)
        if time.monotonic() > until:
            until = time.monotonic() + LOOK_EVERY_SECONDS
            if [one for one in _folders(database) if not is_remote(one.root)] != folders:
                return


def _ask(database: Database, pending: Pending, told: Callable[[int], None] | None) -> None:
    """Ask for scans of what has changed, library by library, wherever none waits or runs."""
    for library_id in list(pending.changed):
        with database.begin() as db:
            if db.get(Library, library_id) is None:
                del pending.changed[library_id]
                continue
            if find_active(db, "scan", library_id) is not None:
                continue
        job_id = request_job(database, "scan", library_id, subject=pending.take(library_id))
        (told or Queue(database).defer)(job_id)


def _poll(
    database: Database, settings: Settings, library_ids: Iterable[int], told: Callable[[int], None] | None
) -> None:
    """Ask for scans of libraries whose folders tell no changes, at a pace."""
    if not settings.poll_minutes:
        return
    due: list[int] = []
    with database.begin() as db:
        for library_id in library_ids:
            scanned_at = db.get_one(Library, library_id).scanned_at
            if scanned_at is not None and (now() - scanned_at).total_seconds() < settings.poll_minutes * 60:
                continue
            if find_active(db, "scan", library_id) is None:
                due.append(library_id)
    for library_id in due:
        (told or Queue(database).defer)(request_job(database, "scan", library_id))
