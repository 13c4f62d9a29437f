"""What a series or an album lacks, by sources and by holes between numbers."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog.lacking import Due, Lack, due_of, lacks

TODAY = "2031-05-14"
SOURCE = {
    (1, 1): Due("Ebb", "2030-01-01"),
    (1, 2): Due("Flow", "2030-01-08"),
    (2, 1): Due("Reed", "2031-05-14"),
    (2, 2): Due("Rush", "2031-05-15"),
    (2, 3): Due("Sedge", "2031-06"),
    (2, 4): Due("Moss", "2031"),
    (2, 5): Due("Fern"),
    (0, 1): Due("A special", "2030-12-24"),
}


def short(found: list[Lack]) -> list[str]:
    """Season×number, with `?` where nobody knows it, `>` where it is not out yet."""
    return [f"{one.group}×{one.number}{'' if one.is_known else '?'}{'' if one.is_out else '>'}" for one in found]


@pytest.mark.parametrize(
    ("here", "due", "from_one", "wanted"),
    [
        ([(1, 1)], SOURCE, False, ["1×2", "2×1", "2×2>", "2×3>", "2×4", "2×5"]),
        ([(1, 1), (1, 2), (2, 1), (2, 2), (2, 3), (2, 4), (2, 5)], SOURCE, False, []),
        ([(3, 2), (3, 5)], {}, False, ["3×3?", "3×4?"]),
        ([(1, 2), (1, 4)], {}, True, ["1×1?", "1×3?"]),
        # A season that no source knows, beside one that it does: the one by its holes.
        ([(1, 1), (1, 2), (3, 1), (3, 3)], {(1, 1): Due(), (1, 2): Due()}, False, ["3×2?"]),
        ([(0, 1), (0, 9)], {}, False, []),
        ([], {}, False, []),
        ([(1, 7)], {}, False, []),
        ([(1, 1), (1, 2024)], {}, False, []),  # a year, and no number
        ([(1, 1), (1, 2)], {(1, 0): Due("A prologue"), (1, 1): Due(), (1, 2): Due()}, False, []),
    ],
)
def test_what_is_lacking(
    here: list[tuple[int, int]], due: dict[tuple[int, int], Due], from_one: bool, wanted: list[str]
) -> None:
    assert short(lacks(here, due, today=TODAY, from_one=from_one)) == wanted


def test_what_a_source_knows_goes_along() -> None:
    (found,) = lacks([(1, 1)], {(1, 1): Due(), (1, 2): Due("Flow", "2030-01-08")}, today=TODAY, from_one=False)
    assert (found.title, found.date, found.is_known) == ("Flow", "2030-01-08", True)


@pytest.mark.parametrize(
    ("kept", "wanted"),
    [
        ([[1, 2, "Flow", "2030-01-08"]], {(1, 2): Due("Flow", "2030-01-08")}),
        ([[1, 2, "Flow"]], {(1, 2): Due("Flow")}),  # as it was kept before
        ([[1, 2]], {(1, 2): Due()}),
        ([[1], "x", None, [1, "2"], [None, 2, "a"]], {}),
        (None, {}),
        ("1", {}),
    ],
)
def test_what_is_kept_of_a_source_is_read_whatever_it_is(kept: object, wanted: object) -> None:
    assert due_of(kept) == wanted


NUMBERS = st.sets(st.tuples(st.integers(0, 4), st.integers(1, 30)), max_size=40)


@given(NUMBERS, NUMBERS, st.booleans())
def test_nothing_that_is_here_is_lacking_and_all_that_is_due_is(
    here: set[tuple[int, int]], due: set[tuple[int, int]], from_one: bool
) -> None:
    found = {
        (one.group, one.number): one for one in lacks(here, dict.fromkeys(due, Due()), today=TODAY, from_one=from_one)
    }
    assert not found.keys() & here
    assert {place for place in due - here if place[0]} == {place for place, one in found.items() if one.is_known}
    assert lacks(here | found.keys(), dict.fromkeys(due, Due()), today=TODAY, from_one=from_one) == []
