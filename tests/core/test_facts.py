"""Which of several values is shown."""

from __future__ import annotations

import pytest

from indice.core.facts import Value, best_value


@pytest.mark.parametrize(
    ("values", "shown"),
    [
        ([Value("a", "name"), Value("b", "source:Almanac")], "b"),
        ([Value("a", "name"), Value("b", "tags")], "b"),
        ([Value("a", "hand"), Value("b", "source:Almanac")], "a"),
        ([Value("a", "name", locked=True), Value("b", "hand")], "a"),
        ([Value("b", "source:B"), Value("a", "source:A")], "a"),
    ],
    ids=["source before name", "tags before name", "a person's word wins", "a lock wins", "ties by name"],
)
def test_the_highest_ranking_value_is_shown(values: list[Value], shown: str) -> None:
    best = best_value(values)
    assert best is not None
    assert best.value == shown


def test_nothing_is_shown_where_nothing_is_known() -> None:
    assert best_value([]) is None
