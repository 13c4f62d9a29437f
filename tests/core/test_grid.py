"""The grid of a series: what is here, what is missing between, months of what is
dated, tens of what is numbered through."""

from __future__ import annotations

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog.grid import Placed, Row, rows_of


def one(number: int | None = None, season: int | None = 1, moment: str | None = None, **more: Any) -> Placed:
    told: dict[str, Any] = {"entry_id": number or 1, "title": f"t{number}", "files": 1} | more
    return Placed(season=season, number=number, moment=moment, **told)


def told(row: Row) -> str:
    """A row as a line: numbers, with what is missing in brackets."""
    return " ".join(f"({c.number})" if c.state == "missing" else str(c.number) for c in row.cells)


def test_gaps_and_what_a_source_knows_are_missing() -> None:
    rows = rows_of([one(1), one(3)], {(1, 4): "Four", (2, 1): "Next", (0, 7): "Special"}, seasons={1})
    assert [(row.season, told(row)) for row in rows] == [(1, "1 (2) 3 (4)"), (2, ""), (0, "")]
    assert rows[0].cells[3].title == "Four" and rows[0].cells[3].entry_id is None


def test_specials_have_no_gaps_and_come_late() -> None:
    rows = rows_of([one(9, season=0), one(1)], {}, seasons={0, 1})
    assert [(row.season, told(row)) for row in rows] == [(1, "1"), (0, "9")]


def test_what_is_there_twice_covered_or_gone() -> None:
    rows = rows_of([one(1, files=2), one(2, files=0), one(3, files=0, entry_id=7)], {}, covered={2})
    assert [(c.state, c.entry_id) for c in rows[0].cells] == [("twice", 1), ("here", 2), ("missing", 7)]


def test_a_dated_show_goes_by_months_and_keeps_every_day() -> None:
    shows = [
        one(moment="2018-04-30", season=2018, entry_id=3),
        one(moment="2018-04-02", season=2018, entry_id=1),
        one(moment="2018-05-02", season=2018, entry_id=4),
        one(moment="2018-04-02", season=2018, entry_id=2),
        one(moment="2019-01-31", season=2019, entry_id=5),
    ]
    rows = rows_of(shows, {}, seasons={2018, 2019})
    assert [(row.season, row.month, told(row)) for row in rows] == [
        (2018, "2018-04", "2 2 30"),
        (2018, "2018-05", "2"),
        (2019, "2019-01", "31"),
    ]
    assert [cell.entry_id for cell in rows[0].cells] == [1, 2, 3]


def test_running_numbers_stand_in_tens_from_the_first_that_is_there() -> None:
    rows = rows_of([one(n, season=None) for n in (8, 10, 11, 21)], {(1, 5): "known elsewhere"}, seasons={None})
    assert [(row.first, told(row)) for row in rows] == [
        (1, "8 (9) 10"),
        (11, "11 (12) (13) (14) (15) (16) (17) (18) (19) (20)"),
        (21, "21"),
    ]


def test_a_season_of_which_nothing_is_known_is_an_empty_row() -> None:
    assert [(row.season, row.cells) for row in rows_of([], {}, seasons={3})] == [(3, ())]


@given(
    st.lists(
        st.builds(
            one,
            number=st.none() | st.integers(0, 40),
            season=st.none() | st.integers(0, 3),
            moment=st.none() | st.dates().map(str),
            entry_id=st.integers(1, 10**6),
            files=st.integers(0, 2),
        ),
        unique_by=(lambda p: p.entry_id, lambda p: (p.season, p.number) if p.number is not None else p.entry_id),
        max_size=12,
    )
)
def test_every_numbered_or_dated_episode_has_its_place(episodes: list[Placed]) -> None:
    shown = [cell.entry_id for row in rows_of(episodes, {}) for cell in row.cells if cell.entry_id is not None]
    assert len(shown) == len(set(shown))
    placed = {e.entry_id for e in episodes if e.number is not None or e.moment}
    unnumbered = {e.season for e in episodes if e.number is None and not e.moment}
    assert {e.entry_id for e in episodes if e.entry_id in placed and e.season not in unnumbered} <= set(shown)
