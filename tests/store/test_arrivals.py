"""What came in is told by day and library, without looking at what came before."""

from __future__ import annotations

import random
from collections import defaultdict
from datetime import UTC, date, datetime, timedelta

import pytest

from indice.store.arrivals import DAYS, GROUPS, came_in
from indice.store.database import Database
from indice.store.models import Entry, Library, now

NOON = datetime(2026, 11, 20, 12, tzinfo=UTC)


def entry(library: int, kind: str, title: str, at: datetime) -> Entry:
    return Entry(
        library_id=library, key=f"{kind}:{title}", handle=f"{kind}:{title}", kind=kind, title=title,
        sort_title=title.casefold(), search=title.casefold(), state="unseen", added_at=at,
    )  # fmt: skip


def libraries(database: Database, count: int) -> list[int]:
    with database.begin() as db:
        made = [
            Library(name=f"L{place}", kind="mixed", language="en", country="", created_at=now())
            for place in range(count)
        ]
        db.add_all(made)
        db.flush()
        return [one.id for one in made]


def told(database: Database, since: datetime | None = None, shown: int = 3) -> list[tuple[date, int, int, list[str]]]:
    with database.begin() as db:
        return [
            (one.day, one.library_id, one.total, [entry.title for entry in one.entries])
            for one in came_in(db, since, shown=shown)
        ]


def test_nothing_came_into_nothing(database: Database) -> None:
    libraries(database, 2)
    assert told(database) == []


def test_a_library_that_was_filled_at_once_hides_no_other(database: Database) -> None:
    many, few = libraries(database, 2)
    with database.begin() as db:
        db.add_all(entry(many, "event", f"Day {place:04d}", NOON) for place in range(700))
        db.add(entry(few, "movie", "Tin Kite", NOON - timedelta(hours=1)))
    assert told(database) == [
        (NOON.date(), many, 700, ["Day 0000", "Day 0001", "Day 0002"]),
        (NOON.date(), few, 1, ["Tin Kite"]),
    ]


@pytest.mark.parametrize("kind", ["season", "episode", "track", "photo", "clip", "artist"])
def test_parts_of_works_are_not_told(database: Database, kind: str) -> None:
    (library,) = libraries(database, 1)
    with database.begin() as db:
        db.add(entry(library, kind, "Part", NOON))
    assert told(database) == []


@pytest.mark.parametrize("seed", range(4))
def test_it_is_what_counting_by_hand_says(database: Database, seed: int) -> None:
    dice = random.Random(seed)
    numbers = libraries(database, 5)
    since = dice.choice([None, NOON - timedelta(days=3, hours=5)])
    by_hand: dict[tuple[date, int], list[tuple[datetime, str]]] = defaultdict(list)
    with database.begin() as db:
        for place in range(300):
            at = NOON - timedelta(hours=dice.randrange(24 * 9), minutes=dice.choice([0, 0, 7]))
            library, kind = dice.choice(numbers), dice.choice(["movie", "series", "album", "event", "track"])
            title = f"{dice.choice('abc')} {place}"
            db.add(entry(library, kind, title, at))
            if kind != "track" and (since is None or at > since):
                by_hand[at.date(), library].append((at, title))
    days_of: dict[int, list[date]] = defaultdict(list)
    for day, library in sorted(by_hand, reverse=True):
        days_of[library].append(day)
    wanted = [
        (
            day,
            library,
            len(mine),
            [title for _, title in sorted(mine, key=lambda one: (-one[0].timestamp(), one[1]))[:3]],
        )
        for (day, library), mine in sorted(by_hand.items(), key=lambda one: (-one[0][0].toordinal(), one[0][1]))
        if day in days_of[library][:DAYS]
    ]
    with database.begin() as db:
        db.connection().exec_driver_sql("set local time zone 'UTC'")
        found = [
            (one.day, one.library_id, one.total, [entry.title for entry in one.entries])
            for one in came_in(db, since, shown=3)
        ]
    assert found == wanted[:GROUPS]
