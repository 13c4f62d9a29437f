"""How fast background work reads and fetches: so many bytes a second in all, whatever number of threads does it.

Unlimited unless :func:`set_paces` says otherwise; only processes whose work nobody waits for are told to.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

__all__ = ["FETCHING", "READING", "Pace", "set_paces"]

MEGABYTE = 1_000_000
SLACK_SECONDS = 0.1
"""So far ahead of the pace nobody waits: many short waits would cost more than they give."""


class Pace:
    """Keeps what several threads do at a pace: who did something waits until it was time for it to be done."""

    def __init__(
        self, *, clock: Callable[[], float] = time.monotonic, sleep: Callable[[float], None] = time.sleep
    ) -> None:
        self._clock, self._sleep = clock, sleep
        self._lock = threading.Lock()
        self._bytes_per_second = 0.0
        self._done_at = 0.0
        """When all that was done should have been done, at the pace."""

    def limit(self, megabytes_per_second: float) -> None:
        """From now on at most so much; 0: as fast as it goes."""
        with self._lock:
            self._bytes_per_second, self._done_at = megabytes_per_second * MEGABYTE, 0.0

    def took(self, count: int) -> None:
        """So many bytes were read or fetched; returns when more may be."""
        with self._lock:
            if not self._bytes_per_second:
                return
            moment = self._clock()
            self._done_at = max(moment, self._done_at) + count / self._bytes_per_second
            wait = self._done_at - moment
        if wait > SLACK_SECONDS:
            self._sleep(wait)


READING = Pace()
"""What this process reads from the household's disks to take fingerprints and to look inside."""
FETCHING = Pace()
"""What it fetches from metadata sources."""


def set_paces(*, reading: float, fetching: float) -> None:
    """Let this process read and fetch at most so many megabytes a second; 0: as fast as it goes."""
    READING.limit(reading)
    FETCHING.limit(fetching)
