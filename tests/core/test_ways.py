"""The story of a reading: the questions that a name leaves open, and that the
answer which won is the one that stands."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.reading.reader import read_path
from indice.core.reading.ways import MOST, Way, ways_of


def asked(path: str, library: str) -> list[Way]:
    return ways_of(path, read_path(path, library))


@pytest.mark.parametrize(
    ("path", "library", "subject", "won", "parts"),
    [
        (
            *("Kiln.2009.2017.1080p.mkv", "movies", "Kiln.2009.2017.1080p", "year"),
            (("year", "2017"),),
        ),
        (
            *("Gate 1922 (2010)/Gate 1922 (2010).mkv", "movies", "Gate 1922 (2010)", "year"),
            (("year", "2010"),),
        ),
        (
            *("1922 Gates (2010)/1922 Gates.mkv", "movies", "1922 Gates", "title"),
            (("title", "1922"),),
        ),
        (
            *("2019-06-14 Abiball/DSC_0001.JPG", "photos", "2019-06-14 Abiball", "event"),
            (("event", "Abiball"),),
        ),
        (*("Grandma/DSC_0001.JPG", "photos", "Grandma", "no event"), ()),
        (*("Downloads/DSC_0001.JPG", "photos", "Downloads", "no event"), ()),
    ],
)
def test_a_question_with_the_answer_that_stands_first(
    path: str, library: str, subject: str, won: str, parts: tuple[tuple[str, str], ...]
) -> None:
    way = next(way for way in asked(path, library) if way.subject == subject)
    assert (way.options[0].name, way.options[0].parts, way.options[0].won) == (won, parts, True)


@pytest.mark.parametrize(
    ("path", "library"),
    [
        ("The Kiln (1988).mkv", "movies"),
        ("The Kiln.mkv", "movies"),
        ("Clayworks/Season 1/Clayworks S01E01.mkv", "series"),
        ("The Kiln (1988)/poster.jpg", "movies"),
        ("notes.txt", "mixed"),
        ("DSC_0001.JPG", "photos"),
    ],
)
def test_a_name_that_leaves_nothing_open_has_no_questions(path: str, library: str) -> None:
    assert asked(path, library) == []


def test_the_columns_of_a_song_are_told_with_what_repeats_the_folders() -> None:
    (way,) = asked("Wren Halloway/Salt Bread (2003)/Wren Halloway - Salt Bread - 06 - Flour.mp3", "music")
    best = way.options[0]
    assert (way.question, best.won) == ("columns", True)
    labels = [label for label, _ in best.parts]
    assert labels[:3] == ["artist", "album", "track"] or {"artist", "album"} <= set(labels), labels
    assert dict(best.points)["repeats"] >= 2


_WORDS = st.sampled_from(["Kiln", "2001", "1988", "(1999)", "Wren", "-", "03", "Grandma", "Summer", "1080p", "_", "."])
_NAMES = st.lists(_WORDS, min_size=1, max_size=6).map(" ".join)


@given(
    st.lists(_NAMES, max_size=2),
    _NAMES,
    st.sampled_from([".mkv", ".mp3", ".jpg"]),
    st.sampled_from(["mixed", "photos", "music", "movies"]),
)
def test_whatever_the_name_one_answer_at_most_has_won_and_stands_first(
    folders: list[str], name: str, ending: str, library: str
) -> None:
    for way in asked("/".join([*folders, name + ending]), library):
        won = [place for place, option in enumerate(way.options) if option.won]
        assert won in ([], [0]) or (way.question == "number" and won == list(range(len(won))))
        assert way.options and len(way.options) <= MOST + 1 and way.subject
        assert all(points for option in way.options for _, points in option.points), "what says nothing is not told"
