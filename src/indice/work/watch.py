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
from datetime import datetime, timedelta

import structlog
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.schedule import Schedule, read_schedule, seconds_of_quiet
from ..disk.trial import is_on_share
from ..disk.walk import BIN
from ..settings import Settings
from ..store.database import Database
from ..store.jobs import find_active
from ..store.models import Folder, Job, Library, now
from ..store.paths import kept_path
from .requests import Queue, request_job

__all__ = ["Pending", "directories_of", "watch_folders"]

log = structlog.get_logger()
LOOK_EVERY_SECONDS = 20.0
"""How often it is asked which folders there are."""
TICK_MS = 250
AGAIN = timedelta(minutes=5)
"""So soon after a scan that failed, or found nothing, it is not tried by itself again."""
MOST_DIRECTORIES = 400
"""Where more changes at once, the whole library is scanned."""


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
    """Directories, relative to a root, in which something has changed: those that
    hold the paths, and those that they are."""
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
            local = [one for one in folders if not is_on_share(one.root)]
            _ask_in_time(database, settings, folders, told)
            if local:
                _watch_some(database, settings, local, pending, stop, told)
            else:
                stop.wait(LOOK_EVERY_SECONDS)
        except (
            Exception
        ) as error:  # the watch must not end: a drive that is pulled, a table that is full, a database that restarts
            log.warning("watch_failed", error=str(error))
            with contextlib.suppress(Exception):
                _ask_in_time(database, settings, _folders(database), told, watched=False)
            stop.wait(LOOK_EVERY_SECONDS)


def _watch_some(
    database: Database,
    settings: Settings,
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
            all_of_them = _folders(database)
            if [one for one in all_of_them if not is_on_share(one.root)] != folders:
                return
            _ask_in_time(database, settings, all_of_them, told)


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


def _ask_in_time(
    database: Database,
    settings: Settings,
    folders: Iterable[_Watched],
    told: Callable[[int], None] | None,
    *,
    watched: bool = True,
) -> None:
    """Ask for scans of libraries whose time has come: by their schedule, or by a pace where folders tell no changes.

    Without `watched` no folder tells any: all go by the pace.
    """
    if seconds_of_quiet(settings.quiet_hours, datetime.now().astimezone()):
        return
    pace = Schedule(every=timedelta(minutes=settings.poll_minutes)) if settings.poll_minutes else None
    silent = {one.library_id for one in folders if not watched or is_on_share(one.root)}
    moment = datetime.now().astimezone()
    due: list[int] = []
    with database.begin() as db:
        for library in db.scalars(select(Library).order_by(Library.id)):
            plans = (read_schedule(library.schedule), pace if library.id in silent else None)
            is_time = any(plan is not None and plan.is_due(library.scanned_at, moment) for plan in plans)
            if is_time and find_active(db, "scan", library.id) is None and not _tried_lately(db, library.id):
                due.append(library.id)
    for library_id in due:
        (told or Queue(database).defer)(request_job(database, "scan", library_id))


def _tried_lately(db: Session, library_id: int) -> bool:
    """Whether a scan of a library has ended a moment ago, such as one that found its
    drive gone: it is not tried on and on."""
    last = db.scalar(select(func.max(Job.finished_at)).where(Job.kind == "scan", Job.library_id == library_id))
    return last is not None and now() - last < AGAIN
