"""What the convention writes, the reader reads: the tidy path of a thing gives back its facts."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from indice.core.naming.convention import SHIPPED, shipped
from indice.core.reading.places import is_sorting
from indice.core.reading.reader import read_path
from indice.core.reading.scan import fold
from indice.core.reading.seriesmarks import SEASON_FOLDER

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
conventions = st.sampled_from(SHIPPED)


def fits(name: str, *texts: str | None) -> bool:
    """Whether a convention keeps these letters: one that writes plain Latin cannot give others back."""
    return shipped(name).file_system != "strict" or all(text is None or text.isascii() for text in texts)


titles = st.lists(st.sampled_from(WORDS), min_size=1, max_size=5).map(
    lambda words: " ".join(words).capitalize() if words[0].islower() else " ".join(words)
)
years = st.integers(1900, 2026)


def comparable(facts: dict[str, Any]) -> dict[str, Any]:
    """Facts as the contract compares them."""
    return {name: fold(value) if isinstance(value, str) else value for name, value in facts.items()}


@given(
    conventions,
    titles,
    years,
    st.one_of(st.none(), st.integers(1, 4)),
    st.sampled_from((None, "Director's Cut", "Extended", "40th Anniversary Edition")),
)
@settings(max_examples=300, deadline=None)
def test_films(convention: str, title: str, year: int, part: int | None, edition: str | None) -> None:
    facts = {
        name: value
        for name, value in {"title": title, "year": year, "part": part, "edition": edition}.items()
        if value is not None
    }
    assume(fits(convention, title))
    path = shipped(convention).path("movie", facts, "mkv")
    assert path is not None
    assert comparable(read_path(path, "movies").values()) == comparable({"kind": "movie", **facts})


@given(
    conventions,
    titles,
    st.one_of(st.none(), years),
    st.integers(0, 30),
    st.integers(1, 120),
    st.integers(0, 2),
    st.one_of(st.none(), titles),
)
@settings(max_examples=300, deadline=None)
def test_episodes(
    convention: str, series: str, year: int | None, season: int, first: int, more: int, title: str | None
) -> None:
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
    assume(not is_sorting(series) and fits(convention, series, title))
    path = shipped(convention).path("episode", facts, "mkv")
    assert path is not None
    assert comparable(read_path(path, "series").values()) == comparable({"kind": "episode", **facts})


@given(conventions, titles, titles, years, st.integers(1, 40), st.one_of(st.none(), st.integers(1, 4)), titles)
@settings(max_examples=300, deadline=None)
def test_tracks(convention: str, artist: str, album: str, year: int, track: int, disc: int | None, title: str) -> None:
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
    assume(not is_sorting(artist) and not is_sorting(album) and fits(convention, artist, album, title))
    path = shipped(convention).path("track", facts, "flac")
    assert path is not None
    assert comparable(read_path(path, "music").values()) == comparable({"kind": "track", **facts})


@given(
    conventions,
    st.datetimes(min_value=datetime(1990, 1, 1), max_value=datetime(2026, 1, 1)),
    st.sampled_from((None, "Lake Walk", "Orchard Day")),
    st.one_of(st.none(), st.integers(1, 9999)),
)
@settings(max_examples=300, deadline=None)
def test_photos(convention: str, moment: datetime, event: str | None, sequence: int | None) -> None:
    """Conventions that keep the camera's name keep what it says; the day stands in the folder."""
    facts = {"taken": moment.replace(microsecond=0).isoformat(), "event": event, "sequence": sequence}
    original = f"IMG_{sequence:04d}" if sequence else "sunset"
    path = shipped(convention).path(
        "photo", {k: v for k, v in facts.items() if v is not None}, "jpg", original=original
    )
    assert path is not None
    read = read_path(path, "photos").values()
    assert str(read["taken"])[:10] == str(facts["taken"])[:10]
    assert read.get("event") == event
    assert read.get("sequence") == sequence


@given(conventions, titles, years, st.integers(1, 12))
@settings(max_examples=100, deadline=None)
def test_dated_running_and_compilations(convention: str, name: str, year: int, number: int) -> None:
    assume(not is_sorting(name) and fits(convention, name))
    assume(SEASON_FOLDER.match(name) is None)  # a series that is called as a season is
    for kind, library, facts in (
        ("episode", "series", {"series": name, "date": f"{year}-{number:02d}-09"}),
        ("episode", "series", {"series": name, "absolute": [number + 200]}),
        (
            "track",
            "music",
            {
                "album_artist": "Various Artists",
                "artist": "Orla Fenn",
                "album": name,
                "year": year,
                "track": number,
                "title": "Kite",
            },
        ),
    ):
        path = shipped(convention).path(kind, facts, "mkv" if kind == "episode" else "flac")
        assert path is not None
        assert comparable(read_path(path, library).values()) == comparable({"kind": kind, **facts}), path
