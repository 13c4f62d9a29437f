"""Specials stand in the story where they were aired."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog.lacking import Due
from indice.core.catalog.story import specials_behind

TWO_SEASONS = {
    (1, 1): Due(date="2011-01-03"),
    (1, 2): Due(date="2011-01-10"),
    (2, 1): Due(date="2012-02-01"),
    (2, 2): Due(date="2012-02-08"),
}


def behind(date: str) -> tuple[int, int] | None:
    return specials_behind({**TWO_SEASONS, (0, 4): Due(date=date)}).get(4)


def test_a_special_stands_behind_what_was_aired_before_it() -> None:
    assert behind("2011-01-05") == (1, 1)
    assert behind("2011-12-24") == (1, 2)
    assert behind("2019-01-01") == (2, 2)


def test_one_of_the_same_day_stands_behind_the_episode() -> None:
    assert behind("2012-02-01") == (2, 1)


def test_one_that_was_first_of_all_stands_before_the_first_season() -> None:
    assert behind("2010-12-31") == (1, 0)


def test_what_has_no_whole_day_is_not_placed() -> None:
    assert behind("2011") is None
    assert behind("") is None
    assert specials_behind({(0, 1): Due(date="2011-01-05"), (1, 1): Due(date="2011")}) == {}


days = st.dates().map(lambda day: Due(date=day.isoformat()))
places = st.tuples(st.integers(0, 4), st.integers(1, 30))


@given(st.dictionaries(places, days, max_size=30))
def test_nothing_before_it_was_aired_after_it(due: dict[tuple[int, int], Due]) -> None:
    found = specials_behind(due)
    regular = {place: one.date for place, one in due.items() if place[0]}
    assert set(found) == ({number for season, number in due if not season} if regular else set())
    for number, place in found.items():
        date = due[0, number].date
        if place[1]:
            assert regular[place] <= date
            assert not [other for other, day in regular.items() if regular[place] < day <= date]
        else:
            assert min(regular.values()) > date
