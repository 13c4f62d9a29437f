"""When a library is due by its schedule."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.schedule import read_quiet, read_schedule, seconds_of_quiet

HERE = timezone(timedelta(hours=2))


@pytest.mark.parametrize(
    ("said", "kept"),
    [
        ("nightly at 3", "nightly at 3"),
        ("Nightly  at 03:00", "nightly at 3"),
        ("daily at 23:05", "nightly at 23:05"),
        ("every 6 hours", "every 6 hours"),
        ("every hour", "every hour"),
        ("every 1 hour", "every hour"),
        ("every 90 minutes", "every 90 minutes"),
        ("every 120 minutes", "every 2 hours"),
        ("every 7 days", "every 7 days"),
        ("", None),
        ("   ", None),
    ],
)
def test_a_schedule_is_read_as_people_write_it(said: str, kept: str | None) -> None:
    found = read_schedule(said)
    assert (None if found is None else str(found)) == kept


@pytest.mark.parametrize(
    "said",
    [
        *("nightly", "nightly at 24", "nightly at 3:60", "every", "every 0 hours", "every 2 minutes", "every 400 days"),
        *("often", "at 3", "every -1 hours", "nightly at 3 every 2 hours", "every 99999 hours"),
    ],
)
def test_what_is_no_schedule_is_refused(said: str) -> None:
    with pytest.raises(ValueError, match=said):
        read_schedule(said)


@pytest.mark.parametrize(
    ("said", "last", "moment", "due"),
    [
        ("every 6 hours", "2026-03-01 00:00", "2026-03-01 05:59", False),
        ("every 6 hours", "2026-03-01 00:00", "2026-03-01 06:00", True),
        ("nightly at 3", "2026-03-01 03:01", "2026-03-01 22:00", False),
        ("nightly at 3", "2026-03-01 03:01", "2026-03-02 02:59", False),
        ("nightly at 3", "2026-03-01 03:01", "2026-03-02 03:00", True),
        ("nightly at 3", "2026-03-01 02:58", "2026-03-01 03:00", True),
        ("nightly at 3", "2026-02-20 03:01", "2026-03-02 12:00", True),
        ("nightly at 23:30", "2026-03-01 23:30", "2026-03-02 01:00", False),
        ("nightly at 23:30", "2026-03-01 23:29", "2026-03-02 01:00", True),
    ],
)
def test_it_is_due_when_its_time_has_come_and_also_when_it_was_missed(
    said: str, last: str, moment: str, due: bool
) -> None:
    schedule = read_schedule(said)
    assert schedule is not None
    told = datetime.fromisoformat(last).replace(tzinfo=HERE)
    at = datetime.fromisoformat(moment).replace(tzinfo=HERE)
    assert schedule.is_due(told, at) is due
    assert schedule.is_due(told.astimezone(UTC), at) is due, "in whatever zone the record is kept"
    assert schedule.is_due(None, at)


@given(st.integers(0, 23), st.integers(0, 59), st.integers(0, 60 * 24 * 3))
def test_nightly_is_due_once_a_day(hour: int, minute: int, later: int) -> None:
    schedule = read_schedule(f"nightly at {hour}:{minute:02d}")
    assert schedule is not None
    done = datetime(2026, 3, 1, hour, minute, tzinfo=HERE)
    assert schedule.is_due(done, done + timedelta(minutes=later)) is (later >= 60 * 24)


@pytest.mark.parametrize(
    ("hours", "clock", "left"),
    [
        ("", "12:00", 0),
        ("22-7", "21:59", 0),
        ("22-7", "22:00", 9 * 3600),
        ("22-7", "00:30", 6 * 3600 + 1800),
        ("22-7", "07:00", 0),
        ("20:30 to 23:00", "20:29", 0),
        ("20:30 – 23", "22:45", 900),
        ("0-24", "15:00", 0),  # no span at all
        ("never", "15:00", 0),
    ],
)
def test_how_long_it_is_still_quiet(hours: str, clock: str, left: int) -> None:
    hour, minute = map(int, clock.split(":"))
    assert seconds_of_quiet(hours, datetime(2031, 5, 14, hour, minute, tzinfo=HERE)) == left


@pytest.mark.parametrize("typed", ["25-7", "22", "22:75-7", "at night", "22-7-8"])
def test_what_are_no_hours_is_refused(typed: str) -> None:
    with pytest.raises(ValueError):
        read_quiet(typed)


@given(st.integers(0, 23), st.integers(0, 23), st.integers(0, 86_399))
def test_quiet_ends_when_it_says(begin: int, end: int, second: int) -> None:
    moment = datetime(2031, 5, 14, tzinfo=HERE) + timedelta(seconds=second)
    left = seconds_of_quiet(f"{begin}-{end}", moment)
    assert 0 <= left <= 86_400
    if left:
        ended = moment + timedelta(seconds=left)
        assert (ended.hour, ended.minute, ended.second) == (end, 0, 0)
        assert seconds_of_quiet(f"{begin}-{end}", ended) == 0
