"""When a library is scanned by itself: `nightly at 3`, `nightly at 3:30`, `every 6 hours`, `every 30 minutes`."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta

__all__ = ["Schedule", "read_schedule"]

_NIGHTLY = re.compile(r"(?:nightly|daily) at (?P<hour>[0-9]{1,2})(?::(?P<minute>[0-9]{2}))?", re.IGNORECASE)
_EVERY = re.compile(r"every (?:(?P<count>[0-9]{1,4}) )?(?P<unit>minute|hour|day)s?", re.IGNORECASE)
_MINUTES = {"minute": 1, "hour": 60, "day": 60 * 24}
LEAST_MINUTES, MOST_MINUTES = 5, 60 * 24 * 31


@dataclass(frozen=True, slots=True)
class Schedule:
    """When something is to be done again: at a time of each day, or so long after it was done last."""

    at: tuple[int, int] | None = None
    """Hour and minute, by the clock of the machine."""
    every: timedelta | None = None

    def __str__(self) -> str:
        """As a person would write it."""
        if self.at is not None:
            hour, minute = self.at
            return f"nightly at {hour}:{minute:02d}" if minute else f"nightly at {hour}"
        minutes = round((self.every or timedelta()).total_seconds() / 60)
        unit, size = next((unit, size) for unit, size in reversed(_MINUTES.items()) if minutes % size == 0)
        count = minutes // size
        return f"every {unit}" if count == 1 else f"every {count} {unit}s"

    def is_due(self, last: datetime | None, moment: datetime) -> bool:
        """Whether it is time, at a moment, for what was done last then; both are aware, and the moment is of the machine's clock.

        What was missed, because the machine was off, is due as soon as somebody asks.
        """
        if last is None:
            return True
        if self.every is not None:
            return moment - last >= self.every
        hour, minute = self.at or (0, 0)
        latest = moment.replace(hour=hour, minute=minute, second=0, microsecond=0)
        if latest > moment:
            latest -= timedelta(days=1)
        return last < latest


def read_schedule(text: str) -> Schedule | None:
    """A schedule as a person writes it; None for nothing. Raises ValueError for what is none."""
    words = " ".join(text.split())
    if not words:
        return None
    found = _NIGHTLY.fullmatch(words)
    if found:
        at = int(found["hour"]), int(found["minute"] or 0)
        if at[0] > 23 or at[1] > 59:
            raise ValueError(text)
        return Schedule(at=at)
    found = _EVERY.fullmatch(words)
    if found is None:
        raise ValueError(text)
    minutes = int(found["count"] or 1) * _MINUTES[found["unit"].lower()]
    if not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise ValueError(text)
    return Schedule(every=timedelta(minutes=minutes))
