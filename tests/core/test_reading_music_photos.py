"""What names of music, photos and clips state. All names are made up."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.reader import read_path

TRACKS: list[tuple[str, dict[str, Any]]] = [
    (
        "Wren Calloway/Tidewrack (2004)/03 - Low Lamps.flac",
        {"artist": "Wren Calloway", "album": "Tidewrack", "year": 2004, "track": 3, "title": "Low Lamps"},
    ),
    (
        "Wren Calloway/2004 - Tidewrack [FLAC]/Disc 2/03. Low Lamps.flac",
        {
            "artist": "Wren Calloway",
            "album": "Tidewrack",
            "year": 2004,
            "disc": 2,
            "track": 3,
            "title": "Low Lamps",
            "audio_codec": ["flac"],
        },
    ),
    (
        "Wren Calloway - Tidewrack/B2 - Low Lamps.mp3",
        {"artist": "Wren Calloway", "album": "Tidewrack", "disc": 2, "track": 2, "title": "Low Lamps"},
    ),
    (
        "Various Artists/Harbour Radio (2016)/04 - Mothwing - Wingbeat.mp3",
        {
            "artist": "Mothwing",
            "album_artist": "Various Artists",
            "album": "Harbour Radio",
            "year": 2016,
            "track": 4,
            "title": "Wingbeat",
        },
    ),
    (
        "Mothwing/Porchlight (1991)/05 - Ash (feat. Dita Morwenna).mp3",
        {
            "artist": "Mothwing",
            "album": "Porchlight",
            "year": 1991,
            "track": 5,
            "title": "Ash",
            "featuring": ["Dita Morwenna"],
        },
    ),
    ("Unknown Artist/Unknown Album/Track 07.mp3", {"track": 7}),
    (
        "Night Ferries, The/Gangway (2006)/01 - Rope.mp3",
        {"artist": "The Night Ferries", "album": "Gangway", "year": 2006, "track": 1, "title": "Rope"},
    ),
    (
        "Mothwing/1991 (2013)/02 - Ledger.flac",
        {"artist": "Mothwing", "album": "1991", "year": 2013, "track": 2, "title": "Ledger"},
    ),
    ("Podcasts/The Lamp/2018年04月21日 - Fog.mp3", {"album": "The Lamp", "date": "2018-04-21", "title": "Fog"}),
]

PICTURES: list[tuple[str, str, dict[str, Any]]] = [
    (
        "photos",
        "2019/2019-08-11 Ferry day/IMG_2401.JPG",
        {"kind": "photo", "taken": "2019-08-11", "event": "Ferry day", "sequence": 2401},
    ),
    (
        "photos",
        "PXL_20210720_101500123.NIGHT.jpg",
        {"kind": "photo", "taken": "2021-07-20T10:15:00", "marks": ["night"]},
    ),
    (
        "photos",
        "IMG-20190720-WA0007 (1).jpg",
        {"kind": "photo", "taken": "2019-07-20", "sequence": 7, "marks": ["copy", "messenger"]},
    ),
    ("photos", "DCIM/100PELLP/DSC00317.JPG", {"kind": "photo", "sequence": 317}),
    ("photos", "2019/07/20/P1010123.RW2", {"kind": "photo", "taken": "2019-07-20", "sequence": 123}),
    ("photos", "Scan_0012.jpg", {"kind": "photo", "sequence": 12, "marks": ["scan"]}),
    ("photos", "Old oak in the fog.tif", {"kind": "photo", "title": "Old oak in the fog"}),
    ("home-videos", "Ski week/GX010123.MP4", {"kind": "clip", "event": "Ski week", "sequence": 123}),
    ("mixed", "Videos/VID_20210101_000130.mp4", {"kind": "clip", "taken": "2021-01-01T00:01:30"}),
]


@pytest.mark.parametrize(("path", "facts"), TRACKS)
def test_tracks(path: str, facts: dict[str, Any]) -> None:
    assert read_path(path, "music").values() == {"kind": "track", **facts}


@pytest.mark.parametrize(("library", "path", "facts"), PICTURES)
def test_pictures(library: str, path: str, facts: dict[str, Any]) -> None:
    assert read_path(path, library).values() == facts
