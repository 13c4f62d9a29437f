"""What folders around a name are: parts of an album, its format, a year, what
things are sorted by, what pictures are."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.places import is_sorting
from indice.core.reading.reader import read_path

SONG: dict[str, Any] = {"artist": "Ole Rudd", "album": "Fjordlicht", "track": 12, "title": "Nebel"}
LOOSE: dict[str, Any] = {"artist": "Ole Rudd", "album": None, "track": 12, "title": "Nebel"}
MUSIC: tuple[tuple[str, dict[str, Any]], ...] = (
    ("Fjordlicht/CD 1/12 Nebel.flac", {**SONG, "artist": None, "disc": 1}),
    ("Fjordlicht/Disc 2/12 - Nebel.mp3", {**SONG, "artist": None, "disc": 2}),
    ("Fjordlicht/Side B/12 Nebel.mp3", {**SONG, "artist": None, "disc": 2}),
    ("Genres/Folk/Fjordlicht/CD1/12 Nebel.flac", {**SONG, "artist": None, "disc": 1}),
    ("Ole Rudd - Fjordlicht/CD2/12 - Nebel.mp3", {**SONG, "disc": 2}),
    ("Ole Rudd/Fjordlicht/Bonus/12 Nebel (Akustik).mp3", {**SONG, "title": "Nebel (Akustik)"}),
    ("Ole Rudd/Fjordlicht/Bonus Tracks/12 Nebel.mp3", SONG),
    ("Ole Rudd/Fjordlicht/Bonusmaterial/12 Nebel.mp3", SONG),
    ("Ole Rudd/Fjordlicht/[FLAC]/12 Nebel.flac", {**SONG, "audio_codec": ["flac"]}),
    ("Ole Rudd/Fjordlicht/320/12 Nebel.mp3", {**SONG, "bitrate": 320}),
    ("Ole Rudd/Fjordlicht/Vinyl Rip/12 Nebel.flac", {**SONG, "source": "vinyl"}),
    ("Ole Rudd - Discography (1999-2015) [FLAC]/2010 - Fjordlicht/12 Nebel.flac", {**SONG, "audio_codec": ["flac"]}),
    ("Ole Rudd/1998/Fjordlicht/12 Nebel.mp3", {**SONG, "year": 1998}),
    ("Ole Rudd/1998/Fjordlicht (1998)/12 Nebel.mp3", {**SONG, "year": 1998}),
    ("1998/Ole Rudd - Fjordlicht/12 Nebel.mp3", {**SONG, "year": 1998}),
    ("1998/Ole Rudd/Fjordlicht/12 Nebel.mp3", SONG),
    ("Ole Rudd feat. Ines Brandt - Fjordlicht (Single) [2012]/12 Nebel.mp3", {**SONG, "featuring": ["Ines Brandt"]}),
    ("Classical/Hartvig, Emil (1801-1870)/Symphony No. 3/02 Adagio.flac", {"artist": "Hartvig, Emil"}),
    ("Classical/Emil Hartvig [b. 1951]/Symphony No. 3/02 Adagio.flac", {"artist": "Emil Hartvig"}),
    ("By Artist/Ole Rudd/12 Nebel.mp3", LOOSE),
    ("Interpreten/Ole Rudd/12 Nebel.mp3", LOOSE),
    ("Nach Genre/Ole Rudd/12 Nebel.mp3", LOOSE),
    ("Géneros/Ole Rudd/12 Nebel.mp3", LOOSE),
    ("Исполнители/Ole Rudd/12 Nebel.mp3", LOOSE),
    ("アーティスト/Ole Rudd/12 Nebel.mp3", LOOSE),
)
NOT_SO: tuple[tuple[str, dict[str, Any]], ...] = (
    ("1934/Tallow Fires (2001)/01 - First Bell.mp3", {"artist": "1934", "year": 2001}),  # another year is a name
    ("Ole Rudd/1998/01 - Nebel.mp3", {"artist": "Ole Rudd", "album": "1998"}),
    ("Ole Rudd/Opus/01 - Nebel.mp3", {"artist": "Ole Rudd", "album": "Opus"}),  # one word is a title, also a format's
    ("Ole Rudd/Web of Salt/01 - Nebel.mp3", {"artist": "Ole Rudd", "album": "Web of Salt"}),
    ("Ole Rudd/Bonus/01 - Nebel.mp3", {"artist": "Ole Rudd", "album": "Bonus"}),  # no album around it
    ("By Night/Ole Rudd/01 - Nebel.mp3", {"artist": "By Night", "album": "Ole Rudd"}),  # nothing is sorted by night
    ("Ole Rudd/Nebel (1801)/01 - Ufer.mp3", {"artist": "Ole Rudd"}),
)


def told(path: str, library: str, names: Any) -> dict[str, Any]:
    """What is read of a path, of these fields."""
    reading = read_path(path, library)
    return {name: reading.get(name) for name in names}


@pytest.mark.parametrize(("path", "expected"), MUSIC + NOT_SO)
def test_around_a_song(path: str, expected: dict[str, Any]) -> None:
    assert told(path, "music", expected) == expected


@pytest.mark.parametrize(
    "folder",
    ["Pano", "Timelapse", "HDR", "Selfies", "Slow motion", "JPG", "Retouched", "To print", "For web", "Thumbnails",
     "Originale", "Originaux", "Doppelte", "Proofs", "Recibos", "Zeitraffer", "Noir et blanc", "Для печати", "ביקור 3 תמונות"],
)  # fmt: skip
def test_kinds_of_pictures_are_no_occasion(folder: str) -> None:
    assert told(f"2019/03 March/{folder}/DSC_0101.JPG", "photos", ["event"]) == {"event": None}


@pytest.mark.parametrize(
    ("folder", "event"),
    [
        ("Sommer2019", "Sommer"),
        ("Italien2014", "Italien"),
        ("夏休み2016", "夏休み"),
        ("2016夏休み", "夏休み"),
        ("Hochzeit'15", "Hochzeit"),
        ("Hochzeit '15", "Hochzeit"),
        ("Poland_2018", "Poland"),
        ("EOS2000D", None),  # what a camera is called
        ("R2020", None),
    ],
)
def test_a_year_that_stands_at_its_words(folder: str, event: str | None) -> None:
    assert told(f"{folder}/DSC_0077.JPG", "photos", ["event"]) == {"event": event}


@pytest.mark.parametrize(
    ("library", "path", "expected"),
    [
        ("photos", "scan_2019-03-04_001.jpg", {"taken": "2019-03-04", "sequence": 1, "marks": ["scan"]}),
        ("photos", "Elba 2014 bis 2016/DSC_0077.JPG", {"event": "Elba", "sequence": 77}),
        ("photos", "Elba 2014 - 2016/DSC_0077.JPG", {"event": "Elba"}),
        ("home-videos", "VHS 03 - 1988 bis 1990/Kassette 3 Teil 2.avi", {"event": None}),
        ("home-videos", "Super 8 Filme/Rolle 3.mov", {"event": None, "title": "Rolle 3"}),
        ("home-videos", "VHS 1991 - Garten/Garten.avi", {"event": "Garten"}),
    ],
)
def test_tapes_and_scans(library: str, path: str, expected: dict[str, Any]) -> None:
    assert told(path, library, expected) == expected


@pytest.mark.parametrize(
    ("folder", "sorts"),
    [
        ("By Genre", True),
        ("Sorted by Year", True),
        ("nach Jahr", True),
        ("Par année", True),
        ("по годам", True),
        ("Podle roku", True),
        ("By the Sea", False),
        ("Nach Norden", False),
        ("Por la tarde", False),
    ],
)
def test_what_folders_are_sorted_by(folder: str, sorts: bool) -> None:
    assert is_sorting(folder) is sorts


@pytest.mark.parametrize(
    ("library", "path", "expected"),
    [
        ("movies", "9 Reeds (2010)/9 Reeds (2010) - Extras/Making of 9 Reeds.mkv", ("extra", "9 Reeds", 2010)),
        ("movies", "The Weir (2001)/The Weir - Bonus Features/Sluice Keeper.mkv", ("extra", "The Weir", 2001)),
        ("movies", "The Weir (2001)/Extras (The Weir)/Deleted Scenes.mkv", ("extra", "The Weir", 2001)),
        ("movies", "The Weir (2001)/Trailers - The Weir/Teaser.mkv", ("extra", "The Weir", 2001)),
        ("movies", "Das Wehr (2001)/Das Wehr - Bonusmaterial/Am Deich.mkv", ("extra", "Das Wehr", 2001)),
        ("series", "Mercator (1988)/Mercator - Extras/Pilot Commentary.mkv", ("extra", "Mercator", 1988)),
        ("series", "Mercator (1988)/Mercator Extras/Pilot Commentary.mkv", ("extra", "Mercator", 1988)),
        ("movies", "Extras (2005)/Extras (2005).mkv", ("movie", "Extras", 2005)),
        ("movies", "The Hotel Extras (2008)/The Hotel Extras (2008).mkv", ("movie", "The Hotel Extras", 2008)),
        ("movies", "Weir Box/The Hotel Extras (2008)/The Hotel Extras.mkv", ("movie", "The Hotel Extras", 2008)),
        ("movies", "Drama/Drama Extras (1999)/Drama Extras.mkv", ("movie", "Drama Extras", 1999)),
    ],
)
def test_a_folder_of_extras_that_says_its_work_again(library: str, path: str, expected: tuple[str, str, int]) -> None:
    told = read_path(path, library).values()
    assert (told["kind"], told.get("series") or told.get("title"), told.get("year")) == expected


def test_what_stands_before_an_extra_keeps_its_place() -> None:
    path = "The Weir (2001)/The Weir - Extras/Sluice Keeper.mkv"
    for fact in read_path(path, "movies").facts.values():
        for start, end in fact.spans:
            assert 0 <= start < end <= len(path)
    (start, end), *_ = read_path(path, "movies").facts["title"].spans
    assert path[start:end] == "The Weir"
