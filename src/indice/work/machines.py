"""A worker among others: what it can do, what it sees, that it lives, and whom it helps."""

from __future__ import annotations

import contextlib
import os
import platform
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import structlog
from sqlalchemy.exc import SQLAlchemyError

from ..core.phrase import phrase
from ..disk.hardware import encoder_version
from ..disk.walk import is_away
from ..errors import IndiceError
from ..store.database import Database
from ..store.machines import beat, count_done, folders_of, join, leave, to_help_with
from ..store.models import Job
from ..store.seen import here_of, is_told, see_as
from .far import Carrier
from .inside import help_inside
from .lease import LeaseLost
from .requests import QUEUES

__all__ = ["CAN", "Along", "Here", "read_can", "read_sees"]

log = structlog.get_logger()
CONVERT = "convert"
CAN: tuple[str, ...] = (*dict.fromkeys(QUEUES.values()), CONVERT)
"""What another machine can do: `scan`, `match`, `inside`, `convert`."""
BEAT_SECONDS = 5.0
LOOK_SECONDS = 1.0
LOOK_AT_HOME_SECONDS = 5.0
"""Most homes have one machine: there it is asked less often whether another has a scan to help with."""
IDLE_SECONDS = 5.0


@dataclass(frozen=True, slots=True)
class Along:
    """What a machine does that works along."""

    can: tuple[str, ...]
    name: str
    """As it calls itself."""
    sees: tuple[tuple[str, str], ...]
    """Where the catalog has a folder, and where that lies on this machine."""
    converts: int = 0
    """So many films it converts at a time."""


def read_can(text: str) -> tuple[str, ...]:
    """What a machine is to do, as it was typed: words between commas; raises
    :class:`IndiceError` for what there is not."""
    words = tuple(dict.fromkeys(word.strip() for word in text.split(",") if word.strip()))
    unknown = [word for word in words if word not in CAN]
    if unknown or not words:
        raise IndiceError(
            phrase(
                "A machine that works along cannot be given {unknown}.",
                unknown=unknown[0] if unknown else "nothing to do",
            ),
            hint=phrase("--can takes, between commas: {can}.", can=", ".join(CAN)),
        )
    return words


def read_sees(pairs: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Where folders lie here, as it was typed: `/media/films=/mnt/films`; raises
    :class:`IndiceError` for what is none."""
    found: list[tuple[str, str]] = []
    for pair in pairs:
        there, _, here = pair.partition("=")
        here = here or there
        if not there.startswith("/") or not here.startswith("/"):
            raise IndiceError(
                phrase("{pair} does not say where a folder lies.", pair=pair),
                hint="Write its path at home and its path here, such as --sees /media/films=/mnt/films.",
            )
        if not os.path.isdir(here):
            raise IndiceError(phrase("{here} is not there.", here=here), hint="Mount the share first.")
        found.append((there, here))
    return tuple(found)


class Here:
    """This worker."""

    def __init__(self, database: Database, along: Along | None) -> None:
        self._database = database
        self._along = along
        self.name = (along.name if along is not None else "") or platform.node() or "machine"
        see_as(along.sees if along is not None else ())
        with database.begin() as db:
            self.id = join(
                db,
                name=self.name,
                pid=os.getpid(),
                is_home=along is None,
                can=along.can if along is not None else CAN,
                sees=along.sees if along is not None else (),
                converts=along.converts if along is not None else 0,
                ffmpeg=encoder_version() if along is not None and along.converts else "",
            )
        self._helps: int | None = None
        self._ended = threading.Event()
        self._carrier: Carrier | None = None

    def sees_job(self, database: Database, job_id: int) -> bool:
        """Whether this machine reaches what a job is about; at home what is not there is away."""
        if self._along is None:
            return True
        with database.begin() as db:
            job = db.get(Job, job_id)
            return job is None or job.library_id is None or self.sees(folders_of(db, job.library_id))

    def sees(self, folders: Sequence[bytes]) -> bool:
        """Whether all these folders of the catalog are seen from here, with something in them."""
        lie = [here_of(folder) for folder in folders]
        is_known = self._along is None or all(is_told(folder) for folder in folders)
        return is_known and all(os.path.isdir(folder) and not is_away(folder) for folder in lie)

    def carry(self, home: Path) -> None:
        """Convert for players at home, where that is what it is there for."""
        if self._along is not None and self._along.converts:
            self._carrier = Carrier(self._database, self.id, home, self._along.converts)
            threading.Thread(target=self._carrier.live, daemon=True, name="carrier").start()

    def live(self) -> None:
        """Say every few seconds that it lives, and help where files wait to be looked into, until it leaves."""
        threading.Thread(target=self._beat, daemon=True, name="beats").start()
        while not self._ended.wait(LOOK_SECONDS if self._along is not None else LOOK_AT_HOME_SECONDS):
            if self._along is not None and "inside" not in self._along.can:
                continue
            with contextlib.suppress(SQLAlchemyError, LeaseLost, OSError):
                self._help()

    def leave(self) -> None:
        """It does no more."""
        self._ended.set()
        if self._carrier is not None:
            self._carrier.leave()
        with contextlib.suppress(SQLAlchemyError), self._database.begin() as db:
            leave(db, self.id)

    def _beat(self) -> None:
        while True:
            with contextlib.suppress(SQLAlchemyError), self._database.begin() as db:
                beat(db, self.id, helps_id=self._helps)
            if self._ended.wait(BEAT_SECONDS):
                return

    def _help(self) -> None:
        with self._database.begin() as db:
            waiting = [
                (job_id, library_id)
                for job_id, library_id in to_help_with(db, self.name)
                if self.sees(folders_of(db, library_id))
            ]
        for job_id, library_id in waiting:
            self._help_with(job_id, library_id)

    def _help_with(self, job_id: int, library_id: int) -> None:
        self._helps = job_id
        began = time.monotonic()
        try:
            count = help_inside(self._database, library_id, self._done)
        finally:
            self._helps = None
        if count:
            log.info("helped", job_id=job_id, files=count, seconds=round(time.monotonic() - began, 1))
        else:
            self._ended.wait(IDLE_SECONDS)  # others are at all that is left

    def _done(self, files: int) -> None:
        with self._database.begin() as db:
            count_done(db, self.id, files)
            beat(db, self.id, helps_id=self._helps)
        if self._ended.is_set():
            raise LeaseLost
