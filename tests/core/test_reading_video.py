"""What names of films, series and their side files state. All names are made up."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.reader import read_path

FILMS: list[tuple[str, dict[str, Any]]] = [
    ("Harbour Glass (1987)/Harbour Glass (1987).mkv", {"title": "Harbour Glass", "year": 1987}),
    (
        "Harbour.Glass.1987.1080p.WEB-DL.DDP5.1.H.264-TERN.mkv",
        {
            "title": "Harbour Glass",
            "year": 1987,
            "resolution": "1080p",
            "source": "web",
            "audio_codec": ["eac3"],
            "channels": "5.1",
            "video_codec": "h264",
            "release": "TERN",
        },
    ),
    ("tin_orchard_(1978).avi", {"title": "tin orchard", "year": 1978}),
    ("Paper Lighthouse, The (2000).mkv", {"title": "The Paper Lighthouse", "year": 2000}),
    ("1957.1080p.mkv", {"title": "1957", "resolution": "1080p"}),
    ("2031.2019.720p.mkv", {"title": "2031", "year": 2019, "resolution": "720p"}),
    ("1994 - Tin Orchard.avi", {"title": "Tin Orchard", "year": 1994}),
    ("Moth Season (2016)/movie.mp4", {"title": "Moth Season", "year": 2016}),
    ("Signal Fires (2010) - cd2.avi", {"title": "Signal Fires", "year": 2010, "part": 2}),
    ("Ember Atlas (2021) - Attic copy.mkv", {"title": "Ember Atlas", "year": 2021, "version": "Attic copy"}),
    ("Ember Atlas (2021) Director's Cut.mkv", {"title": "Ember Atlas", "year": 2021, "edition": "Director's Cut"}),
    ("Old Ropes AKA Alte Seile (1992).mkv", {"title": "Old Ropes", "alt_title": "Alte Seile", "year": 1992}),
    ("Fog Signals (1985) [almanac-f0017].mkv", {"title": "Fog Signals", "year": 1985, "ids": {"almanac": "f0017"}}),
    ("夜市の時計屋（2001）.mkv", {"title": "夜市の時計屋", "year": 2001}),
    ("T.A.L.L.O.W.2011.720p.mkv", {"title": "T.A.L.L.O.W", "year": 2011, "resolution": "720p"}),
    ("The German Lodger (1999).mkv", {"title": "The German Lodger", "year": 1999}),
    (
        "Tarn.2013.GERMAN.DL.1080p.BluRay.x264-BRK.mkv",
        {
            "title": "Tarn",
            "year": 2013,
            "languages": ["de", "dual"],
            "resolution": "1080p",
            "source": "bluray",
            "video_codec": "h264",
            "release": "BRK",
        },
    ),
]

EPISODES: list[tuple[str, dict[str, Any]]] = [
    (
        "Gannet Row/Season 1/Gannet Row - S01E02 - Two Doors.mkv",
        {"series": "Gannet Row", "season": 1, "episodes": [2], "title": "Two Doors"},
    ),
    (
        "Gannet Row/Season 1/Gannet Row 112 The Ladder.avi",
        {"series": "Gannet Row", "season": 1, "episodes": [12], "title": "The Ladder"},
    ),
    ("Gannet Row S01E03-E05.mkv", {"series": "Gannet Row", "season": 1, "episodes": [3, 4, 5]}),
    ("Gannet Row - S01E02 - 24 Hours.mkv", {"series": "Gannet Row", "season": 1, "episodes": [2], "title": "24 Hours"}),
    ("Gannet Row 2x07.mkv", {"series": "Gannet Row", "season": 2, "episodes": [7]}),
    ("Gannet Row/Specials/The Winter Lamp.mkv", {"series": "Gannet Row", "season": 0, "title": "The Winter Lamp"}),
    (
        "The Saltmere Evening/The Saltmere Evening - 2021-03-04 - Fog.mp4",
        {"series": "The Saltmere Evening", "date": "2021-03-04", "title": "Fog"},
    ),
    (
        "[Shiokaze] Neko no Tou - 07v2 [720p].mkv",
        {"release": "Shiokaze", "series": "Neko no Tou", "absolute": [7], "proper": True, "resolution": "720p"},
    ),
    ("93 Lanterns - 11.mkv", {"series": "93 Lanterns", "absolute": [11]}),
    (
        "Die Fährleute/Staffel 1/Folge 3 - Nebel.mp4",
        {"series": "Die Fährleute", "season": 1, "episodes": [3], "title": "Nebel"},
    ),
    (
        "Les Veilleurs/Saison 2/Épisode 03 - La Digue.mkv",
        {"series": "Les Veilleurs", "season": 2, "episodes": [3], "title": "La Digue"},
    ),
    ("灯台守/第2季/第05集.mkv", {"series": "灯台守", "season": 2, "episodes": [5]}),
    ("Gannet Row S01E04b.mkv", {"series": "Gannet Row", "season": 1, "episodes": [4], "part": 2}),
]

SIDE_FILES: list[tuple[str, str, dict[str, Any]]] = [
    (
        "movies",
        "Moth Season (2016)/Moth Season (2016).de.forced.srt",
        {"kind": "subtitle", "title": "Moth Season", "year": 2016, "language": "de", "flags": ["forced"]},
    ),
    (
        "movies",
        "Moth Season (2016)/Moth Season (2016).en.hi.srt",
        {"kind": "subtitle", "title": "Moth Season", "year": 2016, "language": "en", "flags": ["sdh"]},
    ),
    (
        "movies",
        "Moth Season (2016)/Trailers/Moth Season teaser 2.mp4",
        {"kind": "extra", "role": "trailer", "title": "Moth Season", "year": 2016, "label": "teaser 2"},
    ),
    (
        "movies",
        "Moth Season (2016)/poster.jpg",
        {"kind": "artwork", "role": "poster", "title": "Moth Season", "year": 2016},
    ),
    (
        "series",
        "Gannet Row (1998)/season02-poster.jpg",
        {"kind": "artwork", "role": "poster", "series": "Gannet Row", "year": 1998, "season": 2},
    ),
    ("movies", "Moth Season (2016)/Moth Season (2016).nfo", {"kind": "sidecar"}),
    ("movies", "Moth Season (2016)/Thumbs.db", {"kind": "other"}),
    ("movies", "moth.season.2016.mkv.part", {"kind": "other"}),
]


@pytest.mark.parametrize(("path", "facts"), FILMS)
def test_films(path: str, facts: dict[str, Any]) -> None:
    assert read_path(path, "movies").values() == {"kind": "movie", **facts}


@pytest.mark.parametrize(("path", "facts"), EPISODES)
def test_episodes(path: str, facts: dict[str, Any]) -> None:
    assert read_path(path, "series").values() == {"kind": "episode", **facts}


@pytest.mark.parametrize(("library", "path", "facts"), SIDE_FILES)
def test_side_files(library: str, path: str, facts: dict[str, Any]) -> None:
    assert read_path(path, library).values() == facts


def test_a_day_that_no_calendar_has_is_no_day_of_a_recording() -> None:
    told = read_path("Concerts/Lantern Row - Quay Hall 2009-02-31.mkv", "movies").values()
    assert "date" not in told
    assert read_path("Concerts/Lantern Row - Quay Hall 2009-02-28.mkv", "movies").values()["date"] == "2009-02-28"
