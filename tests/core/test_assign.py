"""Which episode a file is: by number, date, running number, title; and when nothing may be said."""

from __future__ import annotations

import pytest

from indice.core.matching.assign import Mine, Theirs, assign

KNOWN = [
    Theirs(id="e1", season=1, number=1, running=1, date="2011-03-01", titles=("The Tin Whistle", "Die Blechpfeife")),
    Theirs(id="e2", season=1, number=2, running=2, date="2011-03-08", titles=("Long Night",)),
    Theirs(id="e3", season=2, number=1, running=3, date="2012-03-01", titles=("The Weir",)),
    Theirs(id="s1", season=0, number=1, running=None, date="2011-12-24", titles=("Winter Fair",)),
    Theirs(id="s2", season=0, number=2, running=None, date="2012-12-24", titles=("Behind the Wick",)),
]


@pytest.mark.parametrize(
    ("season", "number", "date", "title", "found"),
    [
        (1, 2, None, None, "e2"),
        (1, 2, None, "Long Night", "e2"),
        (1, 1, None, "Die Blechpfeife", "e1"),
        (1, 2, None, "Lange Nacht der Netze", "e2"),  # a translation that the source does not know
        (1, 2, None, "The Tin Whistle", None),  # the number says one, the title another
        (2, 1, None, "The Wier", "e3"),
        (None, 3, None, None, "e3"),
        (None, None, "2011-03-08", None, "e2"),
        (None, None, None, "the weir", "e3"),
        (0, 2, None, "Winter Fair", "s1"),
        (0, 1, None, None, "s1"),
        (0, 1, None, "Making of Something Else", None),
        (0, 9, None, "Behind the Wick", "s2"),
        (5, 1, None, None, None),
        (None, None, None, None, None),
        (None, None, "1999-01-01", None, None),
    ],
)
def test_assignment(
    season: int | None, number: int | None, date: str | None, title: str | None, found: str | None
) -> None:
    assert assign(Mine(season=season, number=number, date=date, title=title), KNOWN) == found


def test_two_of_one_title_are_not_guessed() -> None:
    twins = [Theirs(id=x, season=1, number=n, running=None, date=None, titles=("Fog",)) for n, x in enumerate("ab", 1)]
    assert assign(Mine(season=None, number=None, date=None, title="Fog"), twins) is None
