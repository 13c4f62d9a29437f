"""Which of the offered texts belongs to a film, and why: the expectation is written from what a person would choose."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playing.offered import RATES, OfferedText, Wanted, rank_offers, stretch_between

FILM = Wanted(
    titles=("The Weir Keeper", "Der Wehrmeister"), year=1994, seconds=6012.0, digest="aa11", languages=("de", "en"),
    file_name="The Weir Keeper (1994) 1080p WEB.mkv",
)  # fmt: skip
EPISODE = Wanted(titles=("Salt Road",), year=2009, season=2, number=7, seconds=2640.0, languages=("en",))


def first(wanted: Wanted, *offers: OfferedText) -> str:
    return next((one.text.id for one in rank_offers(wanted, offers)), "")


def text(name: str, language: str = "en", **told: object) -> OfferedText:
    return OfferedText(id=name, language=language, **told)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("better", "worse"),
    [
        ({"digests": ("bb", "aa11")}, {"seconds": 6012.0, "title": "The Weir Keeper", "year": 1994}),
        ({"seconds": 6013.0}, {"title": "The Weir Keeper", "year": 1994}),
        ({"title": "The Weir Keeper"}, {"title": "The Weir Keeper", "is_forced": True}),
        ({"title": "The Weir Keeper"}, {"title": "The Weir Keeper", "is_for_deaf": True}),
        ({"title": "Der Wehrmeister", "year": 1994}, {"title": "The Weir Keeper", "year": 1993}),
        ({"seconds": 6040.0, "title": "The Weir Keeper"}, {"seconds": 7000.0, "title": "The Weir Keeper"}),
        ({}, {"title": "The Weir Keeper", "seconds": 9000.0}),
        ({"title": "The Weir Keeper", "release": "weir.keeper.1080p.web"}, {"title": "The Weir Keeper"}),
    ],
)
def test_the_better_of_two_comes_first(better: dict[str, object], worse: dict[str, object]) -> None:
    offers = (text("worse", **worse), text("better", **better))
    assert first(FILM, *offers) == first(FILM, *reversed(offers)) == "better"


@pytest.mark.parametrize(
    "told",
    [
        {"title": "A Garden in Wool"},
        {"title": "The Weir Keeper", "year": 1961, "seconds": 4000.0},
        {"title": "The Weir Keeper", "language": "fr"},
    ],
)
def test_what_is_something_else_is_not_shown(told: dict[str, object]) -> None:
    assert rank_offers(FILM, [text("x", **told)]) == []


def test_another_episode_is_never_shown_however_well_its_series_is_called() -> None:
    right = text("right", title="Salt Road", season=2, number=7)
    others = [text(f"{s}x{n}", title="Salt Road", season=s, number=n, seconds=2640.0) for s, n in ((2, 8), (1, 7))]
    assert [one.text.id for one in rank_offers(EPISODE, [*others, right])] == ["right"]


def test_languages_come_in_the_order_of_the_wish_and_a_region_counts_for_its_language() -> None:
    offers = [text("en", "en", seconds=6012.0), text("at", "de-at"), text("pt", "pt")]
    assert [one.text.id for one in rank_offers(FILM, offers)] == ["at", "en"]


def test_a_text_for_another_rate_of_pictures_says_by_how_much_it_is_stretched() -> None:
    (found,) = rank_offers(FILM, [text("pal", seconds=6012.0 * 24000 / 1001 / 25, title="The Weir Keeper")])
    assert found.grounds[0] == "other-rate"
    assert found.stretch == pytest.approx(25 * 1001 / 24000)


@given(st.sampled_from(RATES), st.sampled_from(RATES), st.floats(1500, 12_000))
def test_a_stretch_between_rates_is_found_and_brings_one_length_to_the_other(
    one: float, other: float, mine: float
) -> None:
    theirs = mine * other / one
    stretch = stretch_between(theirs, mine)
    assert abs(theirs * stretch - mine) <= 2.0 * max(mine / 3600, 0.25) + 1e-6 or stretch == 1.0
    if abs(one / other - 1) > 0.01:
        assert stretch == pytest.approx(one / other, rel=2e-3)


@given(st.floats(600, 12_000), st.floats(1.005, 1.03))
def test_a_longer_cut_is_not_taken_for_another_rate(mine: float, factor: float) -> None:
    theirs = mine * factor
    stretch = stretch_between(theirs, mine)
    assert stretch == 1.0 or abs(theirs * stretch - mine) <= 2.0 * max(mine / 3600, 0.25)
