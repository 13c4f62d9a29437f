"""Titles as they are sorted, and which way to write one is shown."""

from __future__ import annotations

from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.titles import best_title, better_title, sort_title


@pytest.mark.parametrize(
    ("title", "wanted"),
    [
        ("The Third Bell", "third bell"),
        ("A Grey Field", "grey field"),
        ("An Oar", "oar"),
        ("Die stille Uhr", "stille uhr"),
        ("L'Étang", "étang"),
        ("l’Heure", "heure"),
        ("Het Veer", "veer"),
        ("Theatre", "theatre"),
        ("Anchor", "anchor"),
        ("The", "the"),
        ("  Old Ropes ", "old ropes"),
        ("STRASSE", "strasse"),
        ("夜市の時計屋", "夜市の時計屋"),
    ],
)
def test_an_article_does_not_count(title: str, wanted: str) -> None:
    assert sort_title(title) == wanted


@given(st.text(max_size=40))
def test_nothing_that_is_called_something_is_sorted_as_nothing(title: str) -> None:
    assert bool(sort_title(title)) or not title


@pytest.mark.parametrize(
    ("better", "worse"),
    [
        ("Moth Season", "moth season"),
        ("Moth Season", "MOTH SEASON"),
        ("The Moth Season", "Moth Season"),
        ("moth season", "moth seaso"),
        ("Åkerö Light", "akero light and more"),
        ("Åkerö Light", "Akero Light"),
        ("Été sans fin", "Ete sans fin"),
        ("Who's Rowing", "Whos Rowing"),
    ],
)
def test_the_better_way_to_write_a_title(better: str, worse: str) -> None:
    assert better_title(better, worse)
    assert not better_title(worse, better)


@given(st.lists(st.text(max_size=12), min_size=1, max_size=5, unique=True))
def test_which_is_shown_does_not_depend_on_the_order(titles: list[str]) -> None:
    def shown(told: tuple[str, ...]) -> str:
        best = told[0]
        for one in told[1:]:
            if better_title(one, best):
                best = one
        return best

    assert {shown(told) for told in permutations(titles)} == {best_title(titles)}
