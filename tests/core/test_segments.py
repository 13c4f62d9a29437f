"""Segments, titles and marks, taken apart: tables of the small functions below the reader."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.reading.explain import explain
from indice.core.reading.places import is_sorting
from indice.core.reading.reader import family_of, read_path
from indice.core.reading.scan import fold, scan, tidy_title, without_accents
from indice.core.reading.seriesmarks import number, span_numbers
from indice.core.reading.words import language_of
from indice.core.reading.work import folder_role


@pytest.mark.parametrize(
    ("text", "dotted", "shown"),
    [
        ("Paper.Lighthouse", True, "Paper Lighthouse"),
        ("Paper_Lighthouse", False, "Paper Lighthouse"),
        ("T.A.L.L.O.W.of.the.North", True, "T.A.L.L.O.W. of the North"),
        ("Wait... Which Weir", False, "Wait... Which Weir"),
        ("Paper Lighthouse, The", False, "The Paper Lighthouse"),
        ("Étang de suie, L'", False, "L'Étang de suie"),
        ("  Old   Ropes - ", False, "Old Ropes"),
        ("88.3 FM", False, "88.3 FM"),
    ],
)
def test_titles_are_tidied(text: str, dotted: bool, shown: str) -> None:
    assert tidy_title(text, dotted=dotted) == shown


@given(st.text(max_size=60), st.booleans())
def test_tidying_twice_changes_nothing_more_to_compare(text: str, dotted: bool) -> None:
    once = tidy_title(text, dotted=dotted, articles=False)
    assert fold(tidy_title(once, dotted=False, articles=False)) == fold(once)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Kessel & Daughters", "Kessel and Daughters"),
        ("Élan", "Elan"),
        ("The Weir", "Weir"),
        ("Smørrebrød", "Smorrebrod"),
        ("Who's There?", "Whos There"),
    ],
)
def test_spellings_of_one_title(one: str, other: str) -> None:
    assert without_accents(one) == without_accents(other)


@pytest.mark.parametrize(
    ("more", "numbers"),
    [
        ("", [3]),
        ("-E05", [3, 4, 5]),
        ("E04E05", [3, 4, 5]),
        ("-05", [3, 4, 5]),
        ("E04", [3, 4]),
        ("-1080", [3]),
        ("-02", [3]),
        ("-1x04", [3, 4]),
    ],
)
def test_ranges_are_written_out(more: str, numbers: list[int]) -> None:
    assert span_numbers(3, more) == numbers


@pytest.mark.parametrize(
    ("text", "value"),
    [("12", 12), ("007", 7), ("三", 3), ("十", 10), ("十二", 12), ("二十", 20), ("二十三", 23), ("Two", 2), ("IV", 4)],
)
def test_numbers_in_many_forms(text: str, value: int) -> None:
    assert number(text) == value


@pytest.mark.parametrize(
    ("word", "tag"),
    [
        ("eng", "en"),
        ("German", "de"),
        ("Deutsch", "de"),
        ("pt-BR", "pt-br"),
        ("es-419", "es-419"),
        ("日本語", "ja"),
        ("vane", None),
        ("x", None),
        ("x264", None),
    ],
)
def test_languages(word: str, tag: str | None) -> None:
    assert language_of(word) == tag


@pytest.mark.parametrize(
    ("folder", "role"),
    [
        ("Season 01", "season"),
        ("S02", "season"),
        ("Staffel 3", "season"),
        ("Saison 1", "season"),
        ("第2季", "season"),
        ("Сезон 1", "season"),
        ("Specials", "special"),
        ("Season 00", "special"),
        ("CD1", "disc"),
        ("Subs", "subs"),
        ("Trailers", "extra"),
        ("Deleted_Scenes", "extra"),
        ("VIDEO_TS", "structure"),
        ("Drama", "sort"),
        ("A-F", "sort"),
        ("1990s", "sort"),
        ("Gannet Row (1998)", "work"),
    ],
)
def test_roles_of_folders(folder: str, role: str) -> None:
    assert folder_role(folder) == role


@pytest.mark.parametrize(
    ("folder", "sorts"),
    [
        ("Movies", True),
        ("#", True),
        ("2001-2010", True),
        ("2017 - 2047", False),
        ("Moth Season", False),
        ("New Folder (3)", True),
    ],
)
def test_folders_that_only_sort(folder: str, sorts: bool) -> None:
    assert is_sorting(folder) is sorts


@pytest.mark.parametrize(
    ("name", "family"),
    [
        ("a.MKV", "video"),
        ("a.flac", "audio"),
        ("a.srt", "subtitle"),
        ("a.nfo", "sidecar"),
        ("a.m3u8", "playlist"),
        ("a", "other"),
        (".mkv", "other"),
        ("a.b.HEIC", "picture"),
    ],
)
def test_families_of_extensions(name: str, family: str) -> None:
    assert family_of(name) == family


@pytest.mark.parametrize(
    ("segment", "ids"),
    [
        ("Moth [almanac-f01]", [("almanac", "f01")]),
        ("Moth {tt1234567}", [("tt", "tt1234567")]),
        ("Moth (kin id 77)", [("kin", "77")]),
        ("Moth [KLP-042]", []),
        ("Moth {edition-Final Cut 2}", []),
        ("Moth [Bluray-1080p]", []),
    ],
)
def test_identifiers(segment: str, ids: list[tuple[str, str]]) -> None:
    assert [found[:2] for found in scan(segment).ids] == ids


@pytest.mark.parametrize(
    ("segment", "facts"),
    [
        ("a.1080p.x264", {"resolution": "1080p", "video_codec": "h264"}),
        ("a 1280x720", {"resolution": "720p"}),
        ("a H.265", {"video_codec": "hevc"}),
        ("a WEB-DL", {"source": "web"}),
        ("a DD+5.1", {"audio_codec": "eac3", "channels": "5.1"}),
        ("a 192kbps 48kHz", {"bitrate": 192, "sample_rate": 48000}),
        ("a DTS-HD MA", {"audio_codec": "dts-hd"}),
        ("a Dolby Vision", {"hdr": "dolby-vision"}),
    ],
)
def test_technical_words(segment: str, facts: dict[str, object]) -> None:
    assert {name: value for tech in scan(segment).techs for name, value in tech.facts} == facts


def test_an_explanation_quotes_the_name() -> None:
    path = "Moth Season (2016)/Moth Season (2016) - 夜.mkv"
    shown = explain(path, read_path(path, "movies"), colour=False)
    assert shown.splitlines()[0] == path
    assert "“2016”" in shown
    assert "\x1b[" in explain(path, read_path(path, "movies"), colour=True)
