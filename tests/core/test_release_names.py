"""Files in the folder of a release are called after its group and a short form of the title: the folder says what they are."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.reader import read_path

FILM = {"kind": "movie", "title": "Salt and Iron", "year": 2011}
EPISODE = {"kind": "episode", "series": "Harrow Lane", "season": 2, "episodes": [5]}
_FILM = "Salt.and.Iron.2011.German.DL.1080p.BluRay.x264-KESTREL"
_EPISODE = "Harrow.Lane.S02E05.720p.HDTV.x264-KESTREL"
_CASES: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("movies", f"{_FILM}/kestrel-saltandiron.1080p.mkv", FILM),
    ("movies", f"{_FILM}/KESTREL-SaltAndIron-1080p.mkv", FILM),
    ("movies", f"{_FILM}/kestrel-salt.and.iron.1080p.mkv", FILM),
    ("movies", f"{_FILM}/kestrel-saltandiron.german.dl.1080p.mkv", FILM),
    ("movies", f"{_FILM}/kestrel-sai.mkv", FILM),
    ("movies", f"{_FILM}/kst-slt.mkv", FILM),
    ("movies", f"{_FILM}/kst-sai1080p.mkv", FILM),
    ("movies", f"{_FILM}/kestrel-salt-cd2.avi", {**FILM, "part": 2}),
    ("movies", f"{_FILM}/CD1/kst-slt1.avi", {**FILM, "part": 1}),
    ("movies", f"{_FILM}/Subs/kestrel-saltandiron.idx", {**FILM, "kind": "subtitle"}),
    ("movies", f"{_FILM}/Sample/kestrel-saltandiron-sample.mkv", {**FILM, "kind": "extra", "role": "sample"}),
    ("series", f"{_EPISODE}/kestrel-harrowlane-s02e05-720p.mkv", EPISODE),
    ("series", f"{_EPISODE}/kst-hl.s02e05.720p.mkv", EPISODE),
    ("series", "Harrow Lane/Harrow.Lane.S02.720p.HDTV.x264-KESTREL/kestrel-harrowlane-s02e05.mkv", EPISODE),
)


@pytest.mark.parametrize(("library", "path", "expected"), _CASES, ids=[path for _, path, _ in _CASES])
def test_the_folder_says_what_it_is(library: str, path: str, expected: dict[str, Any]) -> None:
    reading = read_path(path, library)
    told = {"kind": reading.kind, **{name: fact.value for name, fact in reading.facts.items()}}
    assert {name: told.get(name) for name in expected} == expected


@pytest.mark.parametrize(
    ("path", "title"),
    [
        (f"{_FILM}/other-film.mkv", "other-film"),  # neither the group nor the title
        (f"{_FILM}/kestrel-Another Film.mkv", "kestrel-Another Film"),  # words of its own
        ("Spider-Gate.2011.1080p.BluRay.x264-KESTREL/Spider-Gate.2011.mkv", "Spider-Gate"),  # a dash of its own
        ("Salt and Iron (2011)/kestrel-saltandiron.mkv", "kestrel-saltandiron"),  # no release
    ],
)
def test_what_is_no_short_form_keeps_its_own_name(path: str, title: str) -> None:
    assert read_path(path, "movies").facts["title"].value == title
