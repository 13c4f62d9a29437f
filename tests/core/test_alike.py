"""Names read by the example of their sibling are read as if each were read in full."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from indice.core.reading.alike import example_of, is_plain_folder, read_alike, read_plain_film
from indice.core.reading.reader import read_in_full, read_path
from indice.core.reading.work import read_work

WORDS = (
    "Tin", "Whistle", "the", "of", "Part", "Web", "German", "Trailer", "Extended", "Night", "cut", "Live", "Remix", "Mono",
    "Two", "II", "a", "Sample", "Proper", "Internal", "Feat", "Scene", "Disc", "Real", "Line", "Limited", "Music", "Opus", "A12", "7", "12", "101", "I", "The", "Final", "White", "Black",
)  # fmt: skip
titles = st.lists(st.sampled_from(WORDS), min_size=1, max_size=4).map(" ".join)
folders = st.sampled_from(
    ("Lantern Street (2011)/Season 01/", "Lantern Street/", "Lantern Street (2011)/Season 2/", "Specials/", "")
)
albums = st.sampled_from(
    ("Wren Calloway/Tidewrack (2004)/", "Tidewrack/", "Podcasts/Ferry Talk/", "Various Artists/Low/")
)


def same(path: str, other: str, library: str) -> int:
    """The second, by the example of the first, and in full; returns how often the example served."""
    example = example_of(path, read_path(path, library))
    if example is None or not other.startswith(example.prefix):
        return 0
    alike = read_alike(other, example)
    if alike is None:
        return 0
    assert alike == read_path(other, library), other
    return 1


OFTEN = 50
"""Of 500 pairs of names so many at least must be read by example, else nothing was compared."""


def test_episodes() -> None:
    served = 0

    @given(folders, st.integers(0, 3), st.integers(0, 99), st.integers(0, 99), titles, titles, st.booleans())
    @settings(max_examples=500, deadline=None)
    def each(folder: str, season: int, one: int, two: int, first: str, second: str, titled: bool) -> None:
        nonlocal served
        names = [
            f"{folder}Lantern Street - S{season:02d}E{number:02d}{f' - {title}' if titled else ''}.mkv"
            for number, title in ((one, first), (two, second))
        ]
        served += same(*names, "series") + same(*names, "mixed")

    each()
    assert served >= OFTEN


def test_tracks() -> None:
    served = 0

    @given(albums, st.integers(0, 99), st.integers(0, 99), titles, titles)
    @settings(max_examples=1000, deadline=None)
    def each(folder: str, one: int, two: int, first: str, second: str) -> None:
        nonlocal served
        names = [f"{folder}{number:02d} - {title}.flac" for number, title in ((one, first), (two, second))]
        served += same(*names, "music") + same(*names, "mixed")

    each()
    assert served >= OFTEN


def test_plain_siblings_are_read_by_example() -> None:
    first = "Lantern Street (2011)/Season 01/Lantern Street - S01E01 - The Tin Key.mkv"
    example = example_of(first, read_path(first, "series"))
    assert example is not None
    read = read_alike("Lantern Street (2011)/Season 01/Lantern Street - S01E02 - Long Night.mkv", example)
    assert read is not None and read.get("title") == "Long Night" and read.get("episodes") == [2]


@given(
    st.sampled_from(
        ("", "Kids/", "Movies/A-F/", "Drama/Old/", "Ferry/", "Trailers/", "movies/", "Films/Series/", "Films/Photos/")
    ),
    titles,
    st.integers(1925, 2030),
    st.sampled_from((".mkv", ".mp4", ".en.srt", ".de.srt", ".srt", ".en.forced.srt")),
    st.sampled_from(("poster.jpg", "backdrop.jpg", "folder.jpg", "")),
)
@settings(max_examples=800, deadline=None)
def test_plain_films(above: str, title: str, year: int, ending: str, picture: str) -> None:
    name = f"{title} ({year})"
    path = f"{above}{name}/{picture or name + ending}"
    plain = read_plain_film(path)
    assert plain is None or plain == read_in_full(path, "movies"), path
    assert read_path(path, "mixed") == read_in_full(path, "mixed"), path


@given(titles, st.integers(1900, 2030), st.booleans())
@settings(max_examples=500, deadline=None)
def test_plain_folders(title: str, year: int, series: bool) -> None:
    """What is taken for plain without being read states title and year, and nothing else."""
    name = f"{title} ({year})"
    if is_plain_folder(name):
        work = read_work(name, episodes=series, folder=True)
        assert (work.title and work.title[0], work.year and work.year[0]) == (title, year)
        assert not work.technical


@pytest.mark.parametrize(
    ("name", "plain"),
    [
        ("Long Night (1987)", True),
        ("Long Night", False),
        ("Long Night Remux (1987)", False),
        ("Long.Night (1987)", False),
        ("Long Night (1987) [x]", False),
        ("Étang (1994)", False),
    ],
)
def test_is_plain_folder(name: str, plain: bool) -> None:
    assert is_plain_folder(name) is plain


def test_a_plain_film_is_read_so() -> None:
    for name in ("Long Night (1987).mkv", "Long Night (1987).en.srt", "poster.jpg"):
        assert read_plain_film(f"Kids/Long Night (1987)/{name}") is not None
