"""How a job says where it is, hears that it should stop, and writes its log."""

from __future__ import annotations

import contextlib
import time
from collections import deque
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.exc import InterfaceError, OperationalError

from ..core.phrase import phrase
from ..store.bulk import insert_rows
from ..store.database import Database
from ..store.jobs import announce
from ..store.models import Job, JobLine, now
from .lease import LIBRARY, Lease

__all__ = ["Progress", "Stopped"]

TELL_EVERY_SECONDS = 0.3


class Stopped(Exception):
    """Somebody pressed the stop button."""


class Progress:
    """Progress of one running job. What it says is seen at once, whatever transaction the work itself is in."""

    def __init__(self, database: Database, job_id: int, lease: Lease | None = None) -> None:
        self._database = database
        self._lease = lease
        self.job_id = job_id
        self._told = 0.0
        self._done = self._total = 0
        self._current = ""
        self._marks: deque[tuple[float, int]] = deque(maxlen=40)

    def step(self, name: str, total: int = 0) -> None:
        """A new step of the work begins, with so many things to do (0: unknown)."""
        self._done, self._total, self._current = 0, total, ""
        self._marks.clear()
        with self._database.begin() as db:
            db.execute(
                update(Job)
                .where(Job.id == self.job_id)
                .values(step=name, done=0, total=total, rate=0.0, current="", beat_at=now())
            )
            announce(db, "jobs")

    def keep(self, counts: Mapping[str, Any]) -> None:
        """Keep numbers with the job, for who asks what came of it."""
        with self._database.begin() as db:
            job = db.get_one(Job, self.job_id)
            job.subject = {**job.subject, "counts": dict(counts)}

    def advance(self, count: int = 1, current: str = "") -> None:
        """So many more are done; raises :class:`Stopped` when the job should end."""
        self._done += count
        self._current = current or self._current
        moment = time.monotonic()
        self._marks.append((moment, self._done))
        if moment - self._told >= TELL_EVERY_SECONDS:
            self.tell()

    def wait_for_library(self, library_id: int) -> None:
        """Wait until no other job changes the library; raises :class:`Stopped` when the job should end meanwhile."""
        if self._lease is not None and not self._lease.take(LIBRARY, library_id):
            self.step(phrase("Waits for another job of this library"))
            self._lease.wait_for(LIBRARY, library_id, self.tell)

    def may_change(self, library_id: int) -> bool:
        """Whether no other job changes a library at the moment; then none begins to until this one ends."""
        return self._lease is None or self._lease.take(LIBRARY, library_id)

    def tell(self) -> None:
        """Write the progress down now; raises :class:`Stopped` when the job should end.

        Raises :class:`LeaseLost` when the job may be somebody else's by now.
        """
        if self._lease is not None:
            self._lease.must_hold()
        self._told = time.monotonic()
        first, last = (self._marks[0], self._marks[-1]) if self._marks else ((0.0, 0), (0.0, 0))
        rate = (last[1] - first[1]) / (last[0] - first[0]) if last[0] > first[0] else 0.0
        with self._database.begin() as db:
            db.execute(
                update(Job)
                .where(Job.id == self.job_id)
                .values(
                    done=self._done, total=max(self._total, self._done), rate=rate, current=self._current, beat_at=now()
                )
            )
            announce(db, "jobs")
            stop = db.scalar(select(Job.stop_wanted).where(Job.id == self.job_id))
        if stop:
            raise Stopped

    def changed(self, topic: str) -> None:
        """Tell the screens that something of this topic changed."""
        with self._database.begin() as db:
            announce(db, topic)

    def try_log(self, text: str) -> None:
        """Write what went wrong into the log, if the database still takes it."""
        with contextlib.suppress(OperationalError, InterfaceError):
            self.log(text, level="error")

    def log(self, text: str, *, path: str = "", level: str = "info") -> None:
        """Write a line of the log; level is `info`, `warning` or `error`."""
        self.log_all([(text, path)], level=level)

    def log_all(self, lines: Sequence[tuple[str, str]], *, level: str = "info") -> None:
        """Write lines of the log, text and path of each, all at once."""
        if not lines:
            return
        rows = [
            {"job_id": self.job_id, "level": level, "text": text, "path": path, "at": now()} for text, path in lines
        ]
        with self._database.begin() as db:
            insert_rows(db, JobLine, rows)
