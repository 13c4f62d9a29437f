"""When a library is scanned by itself: `nightly at 3`, `nightly at 3:30`, `every 6 hours`, `every 30 minutes`."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta

__all__ = ["Schedule", "read_quiet", "read_schedule", "seconds_of_quiet"]

_NIGHTLY = re.compile(r"(?:nightly|daily) at (?P<hour>[0-9]{1,2})(?::(?P<minute>[0-9]{2}))?", re.IGNORECASE)
_EVERY = re.compile(r"every (?:(?P<count>[0-9]{1,4}) )?(?P<unit>minute|hour|day)s?", re.IGNORECASE)
_MINUTES = {"minute": 1, "hour": 60, "day": 60 * 24}
_QUIET = re.compile(r"([0-9]{1,2})(?::([0-9]{2}))?\s*(?:-|–|to|till)\s*([0-9]{1,2})(?::([0-9]{2}))?", re.IGNORECASE)
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
        """Whether it is time, at a moment, for what was done last then; both are aware,
        and the moment is of the machine's clock.

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


def read_quiet(text: str) -> tuple[int, int] | None:
    """Quiet hours as a person writes them (`22-7`, `20:30-23`), in minutes of the day; None for none.

    Raises ValueError for what is no span of hours.
    """
    words = " ".join(text.split())
    if not words:
        return None
    found = _QUIET.fullmatch(words)
    if found is None:
        raise ValueError(f"{text!r} are no hours, such as 22-7 or 20:30-23")
    minutes = [int(found[1]) * 60 + int(found[2] or 0), int(found[3]) * 60 + int(found[4] or 0)]
    if any(int(found[place]) > 24 for place in (1, 3)) or any(int(found[place] or 0) > 59 for place in (2, 4)):
        raise ValueError(f"{text!r} are no hours of a day")
    return minutes[0] % (24 * 60), minutes[1] % (24 * 60)


def seconds_of_quiet(text: str, moment: datetime) -> int:
    """How long it is still quiet at a moment of the machine's clock; 0 when it is
    not, or for hours that nobody can read."""
    try:
        hours = read_quiet(text)
    except ValueError:
        return 0
    if hours is None:
        return 0
    begin, end = hours
    second = moment.hour * 3600 + moment.minute * 60 + moment.second
    since, length = (second - begin * 60) % 86400, (end - begin) % (24 * 60) * 60
    return length - since if since < length else 0
