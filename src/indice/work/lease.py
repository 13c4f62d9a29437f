"""Who performs a job holds a lease on it: a lock in the database that ends with its holder, however it ends.

A job that says it runs and whose lease is free has lost its worker. Jobs that change a library hold a lease on that as
well, so that two never change it at once, whether a worker or the command line performs them.
"""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable

import psycopg

from ..store.database import Database

__all__ = ["INSIDE", "JOB", "LIBRARY", "Lease", "LeaseLost"]

JOB = 7701
LIBRARY = 7702
INSIDE = 7703
"""The first of the two numbers that name an advisory lock of PostgreSQL: what it is about."""
_NOTICED_SOON = (
    "-c tcp_keepalives_idle=5 -c tcp_keepalives_interval=5 -c tcp_keepalives_count=3 -c tcp_user_timeout=20000"
)
"""A holder whose machine is cut off loses its locks within 20 seconds: the server asks whether it is there."""
LOOK_EVERY_SECONDS = 3.0
WAIT_SECONDS = 0.3


class LeaseLost(Exception):
    """The connection that held the lease is gone: somebody else may have begun the job."""


class Lease:
    """Locks on one connection of their own."""

    def __init__(self, database: Database) -> None:
        self._link = psycopg.connect(
            database.plain_url,
            autocommit=True,
            connect_timeout=10,
            keepalives_idle=10,
            keepalives_interval=5,
            options=_NOTICED_SOON,
        )
        self._looked = time.monotonic()

    def take(self, subject: int, number: int) -> bool:
        """Take a lock; False when another has it. Raises :class:`LeaseLost` when the connection is gone."""
        try:
            row = self._link.execute("select pg_try_advisory_lock(%s, %s)", (subject, number)).fetchone()
        except psycopg.Error as error:
            raise LeaseLost from error
        return bool(row and row[0])

    def give_back(self, subject: int, number: int) -> None:
        """Give a lock back; raises :class:`LeaseLost` when the connection is gone."""
        try:
            self._link.execute("select pg_advisory_unlock(%s, %s)", (subject, number))
        except psycopg.Error as error:
            raise LeaseLost from error

    def wait_for(self, subject: int, number: int, meanwhile: Callable[[], None]) -> None:
        """Take a lock as soon as it is free; `meanwhile` is called again and again, and may raise."""
        while not self.take(subject, number):
            meanwhile()
            time.sleep(WAIT_SECONDS)

    def must_hold(self) -> None:
        """Raises :class:`LeaseLost` when the connection is gone; asks every few seconds only."""
        if time.monotonic() - self._looked < LOOK_EVERY_SECONDS:
            return
        self._looked = time.monotonic()
        try:
            self._link.execute("select 1")
        except psycopg.Error as error:
            raise LeaseLost from error

    def end(self) -> None:
        """Give everything back."""
        with contextlib.suppress(psycopg.Error):
            self._link.close()
