"""What the convention writes, the reader reads: the tidy path of a thing gives back its facts."""

from __future__ import annotations

from typing import Any

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from indice.core.naming.convention import tidy_path
from indice.core.reading import read_path
from indice.core.reading.places import is_sorting
from indice.core.reading.scan import fold

WORDS = (
    "Harbour",
    "Glass",
    "Moth",
    "Season",
    "the",
    "of",
    "Lantern",
    "Étang",
    "夜市",
    "Пристань",
    "Nine",
    "Old",
    "Kessel",
    "Weir",
    "Tin",
    "Orchard",
    "Ferry",
    "Salt",
    "Row",
    "and",
    "Lodger",
    "Door's",
    "Re-Thatched",
    "O'Hollin",
)
titles = st.lists(st.sampled_from(WORDS), min_size=1, max_size=5).map(
    lambda words: " ".join(words).capitalize() if words[0].islower() else " ".join(words)
)
years = st.integers(1900, 2026)


def comparable(facts: dict[str, Any]) -> dict[str, Any]:
    """Facts as the contract compares them."""
    return {name: fold(value) if isinstance(value, str) else value for name, value in facts.items()}


@given(
    titles,
    years,
    st.one_of(st.none(), st.integers(1, 4)),
    st.sampled_from((None, "Director's Cut", "Extended", "40th Anniversary Edition")),
)
@settings(max_examples=300, deadline=None)
def test_films(title: str, year: int, part: int | None, edition: str | None) -> None:
    facts = {
        name: value
        for name, value in {"title": title, "year": year, "part": part, "edition": edition}.items()
        if value is not None
    }
    path = tidy_path("movie", facts, "mkv")
    assert path is not None
    assert comparable(read_path(path, "movies").values()) == comparable({"kind": "movie", **facts})


@given(
    titles,
    st.one_of(st.none(), years),
    st.integers(0, 30),
    st.integers(1, 120),
    st.integers(0, 2),
    st.one_of(st.none(), titles),
)
@settings(max_examples=300, deadline=None)
def test_episodes(series: str, year: int | None, season: int, first: int, more: int, title: str | None) -> None:
    facts = {
        name: value
        for name, value in {
            "series": series,
            "year": year,
            "season": season,
            "episodes": list(range(first, first + more + 1)),
            "title": title,
        }.items()
        if value is not None
    }
    assume(not is_sorting(series))
    path = tidy_path("episode", facts, "mkv")
    assert path is not None
    assert comparable(read_path(path, "series").values()) == comparable({"kind": "episode", **facts})


@given(titles, titles, years, st.integers(1, 40), st.one_of(st.none(), st.integers(1, 4)), titles)
@settings(max_examples=300, deadline=None)
def test_tracks(artist: str, album: str, year: int, track: int, disc: int | None, title: str) -> None:
    facts = {
        name: value
        for name, value in {
            "artist": artist,
            "album": album,
            "year": year,
            "track": track,
            "disc": disc,
            "title": title,
        }.items()
        if value is not None
    }
    assume(not is_sorting(artist) and not is_sorting(album))
    path = tidy_path("track", facts, "flac")
    assert path is not None
    assert comparable(read_path(path, "music").values()) == comparable({"kind": "track", **facts})
