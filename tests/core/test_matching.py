"""How like things are, and what is decided alone."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.matching.decide import Candidate, Evidence, decide, likeness


@pytest.mark.parametrize(
    ("one", "other", "least", "most"),
    [
        ("Harbour Glass", "harbour glass", 1.0, 1.0),
        ("The Paper Lighthouse", "Paper Lighthouse", 1.0, 1.0),
        ("Kessel & Daughters", "Kessel and Daughters", 1.0, 1.0),
        ("Velvet Quarry II", "Velvet Quarry 2", 1.0, 1.0),
        ("Velvet Quarry II", "Velvet Quarry", 0.5, 0.82),
        ("Dust Oprea", "Dust Opera", 0.8, 0.97),
        ("Harbour Glass", "Copper Sparrow", 0.0, 0.55),
    ],
)
def test_likeness(one: str, other: str, least: float, most: float) -> None:
    assert least <= likeness(one, other) <= most


def candidate(name: str, **known: object) -> Candidate:
    """A candidate whose fields were fetched."""
    return Candidate(
        id=name + str(known.get("year", "")), name=name, asked=True, evidence=Evidence(titles=(name,), **known)
    )  # type: ignore[arg-type]


HERE = Evidence(titles=("Harbour Glass",), year=1987, minutes=112)


def test_a_sure_one_is_taken() -> None:
    verdict = decide(
        HERE, [candidate("Harbour Glass", year=1987, minutes=112), candidate("Harbour Glass", year=2019, minutes=104)]
    )
    assert verdict.state == "settled"
    assert verdict.ranked[0][0].evidence.year == 1987


@pytest.mark.parametrize(
    "rivals",
    [
        [candidate("Harbour Glass", year=2019)],
        [candidate("Harbour Glass", year=1987, minutes=40)],
        [candidate("Harbour Glass")],
        [
            candidate("Harbour Glass", year=1987, minutes=112),
            Candidate(
                id="b",
                name="Harbour Glass",
                asked=True,
                evidence=Evidence(titles=("Harbour Glass",), year=1987, minutes=112),
            ),
        ],
    ],
    ids=["another year", "another length", "nothing but the title", "two alike"],
)
def test_a_doubtful_one_waits(rivals: list[Candidate]) -> None:
    assert decide(HERE, rivals).state == "waiting"


def test_what_is_not_alike_is_no_match() -> None:
    assert decide(HERE, [candidate("Copper Sparrow", year=1987, minutes=112)]).state == "none"
    assert decide(HERE, []).state == "none"


def test_an_id_wins_over_the_title() -> None:
    here = Evidence(titles=("Glass",), ids=frozenset({"f0001"}))
    there = Candidate(
        id="f0001",
        name="Harbour Glass",
        asked=True,
        evidence=Evidence(titles=("Harbour Glass",), year=1987, ids=frozenset({"f0001"})),
    )
    assert decide(here, [there]).ranked[0][1] > 0.85


def test_the_order_of_answers_does_not_matter() -> None:
    several = [
        candidate("Harbour Glass", year=y, minutes=m) for y, m in ((1987, 112), (2019, 104), (1990, 90), (1987, 60))
    ]
    wanted = [row[0].id for row in decide(HERE, several).ranked]
    for seed in range(5):
        random.Random(seed).shuffle(several)
        assert [row[0].id for row in decide(HERE, several).ranked] == wanted


@given(st.text(max_size=30), st.text(max_size=30))
def test_likeness_is_symmetric_and_bounded(one: str, other: str) -> None:
    assert 0.0 <= likeness(one, other) <= 1.0
    assert likeness(one, other) == pytest.approx(likeness(other, one), abs=1e-9)


def test_a_namesake_of_the_next_year_makes_nobody_sure() -> None:
    """A year in a name may be one off; a running time alone cannot tell two films of one title apart."""
    twins = [candidate("Harbour Glass", year=1987, minutes=112), candidate("Harbour Glass", year=1988, minutes=112)]
    assert decide(HERE, twins).state == "waiting"
    later = candidate("Harbour Glass", year=1988, minutes=40)
    assert decide(HERE, [twins[0], later]).state == "settled", "its running time speaks against it"


def issue(key: str, year: int, tracks: int) -> Candidate:
    """An issue of an album with so many tracks."""
    songs = tuple(f"Song number {n} of ours" for n in range(tracks))
    lengths = tuple(100.0 + 7 * n for n in range(tracks))
    there = Evidence(titles=("Tidewrack",), year=year, artists=("Wren",), tracks=songs, seconds=lengths)
    return Candidate(id=key, name="Tidewrack", asked=True, evidence=there)


@pytest.mark.parametrize(
    ("here", "state", "chosen"),
    [(10, "settled", "first"), (13, "settled", "again")],
    ids=["the short issue", "the long issue"],
)
def test_the_track_list_decides_between_issues_whatever_the_year(here: int, state: str, chosen: str) -> None:
    mine = issue("mine", 2004, here).evidence
    for year in (2004, 2019, None):
        verdict = decide(
            Evidence(titles=mine.titles, year=year, artists=mine.artists, tracks=mine.tracks, seconds=mine.seconds),
            [issue("first", 2004, 10), issue("again", 2019, 13)],
        )
        assert (verdict.state, verdict.ranked[0][0].id) == (state, chosen), year


def test_an_identifier_wins_over_any_title_and_waits_where_it_is_unknown() -> None:
    here = Evidence(titles=("Something Else",), year=1999, ids=frozenset(("f1",)))
    known = Candidate(
        id="f1",
        name="Harbour Glass",
        asked=True,
        evidence=Evidence(titles=("Harbour Glass",), year=1987, ids=frozenset(("f1",))),
    )
    other = Candidate(
        id="f2",
        name="Something Else",
        asked=True,
        evidence=Evidence(titles=("Something Else",), year=1999, ids=frozenset(("f2",))),
    )
    assert decide(here, [known, other]).ranked[0][0].id == "f1"
    assert decide(here, [other]).state == "waiting"
    assert decide(here, []).state == "waiting"


UNASKED = Evidence(titles=("Harbour Glass",))


def test_silence_about_a_feature_never_outranks_what_was_looked_at_and_agrees() -> None:
    asked = candidate("Harbour Glas", year=1987, minutes=112)
    silent = Candidate(id="silent", name="Harbour Glass", evidence=UNASKED, rank=0.5)
    verdict = decide(HERE, [silent, asked])
    assert verdict.ranked[0][0].id == asked.id


def test_what_is_not_known_to_be_of_the_same_kind_is_no_rival() -> None:
    album = Candidate(id="album", name="Harbour Glass", evidence=UNASKED, rank=1.0, is_of_kind=False)
    assert decide(HERE, [album, candidate("Harbour Glass", year=1987)]).state == "settled"
    film = Candidate(id="film", name="Harbour Glass", evidence=UNASKED, rank=1.0)
    no_year = Evidence(titles=("Harbour Glass",), minutes=112)
    assert decide(no_year, [film, candidate("Harbour Glass", minutes=112)]).state == "waiting"
    assert decide(no_year, [album, candidate("Harbour Glass", minutes=112)]).state == "settled"


@pytest.mark.parametrize(
    ("minutes", "state"),
    [(112, "settled"), (87, "waiting"), (None, "waiting")],
)
def test_twins_of_neighbouring_years_are_told_apart_by_their_length_only(minutes: int | None, state: str) -> None:
    here = Evidence(titles=("Harbour Glass",), year=1987, minutes=minutes)
    twins = [candidate("Harbour Glass", year=1987, minutes=112), candidate("Harbour Glass", year=1988, minutes=84)]
    assert decide(here, twins).state == state


@pytest.mark.parametrize(
    ("title", "minutes", "state"),
    [
        ("Harbuor Glass", 112, "settled"),
        ("Harbour Glsas", 107.5, "settled"),  # a film of 112 minutes, shown at 25 pictures a second
        ("Harbuor Glass", 140, "waiting"),
        ("Arbor Class", 112, "waiting"),
    ],
)
def test_a_slip_of_the_pen_is_forgiven_where_all_else_agrees(title: str, minutes: float | None, state: str) -> None:
    here = Evidence(titles=(title,), year=1987, minutes=minutes)
    assert decide(here, [candidate("Harbour Glass", year=1987, minutes=112)]).state == state


@pytest.mark.parametrize(
    ("one", "other"),
    [("Eight Junipers", "8 Junipers"), ("Twelve", "12"), ("Weir XII", "Weir 12"), ("Two Mills", "2 Mills")],
)
def test_numbers_are_the_same_however_they_are_written(one: str, other: str) -> None:
    assert likeness(one, other) == 1.0
