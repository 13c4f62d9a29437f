"""Forms of names that were met late.

Marks said twice over; technical words in brackets before everything or in the middle; files in the folder of a
release, which are called after its group and a short form of the title: the folder says what they are.
"""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.reader import read_path

FILM = {"kind": "movie", "title": "Ember Hollow", "year": 2009}
BOTH = {"kind": "episode", "series": "Ferrow", "season": 1, "episodes": [1, 2]}
WEIR = {"kind": "episode", "series": "Ferrow", "title": "Weir", "resolution": "1080p"}
_CASES: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("movies", "[BD] Ember Hollow (2009)/Ember Hollow.mkv", {**FILM, "source": "bluray"}),
    ("movies", "[BD] Ember Hollow - 2009 - 1080p/Ember Hollow.mkv", {**FILM, "resolution": "1080p"}),
    ("movies", "[1080p] Ember Hollow - 2009 - BluRay.mkv", {**FILM, "resolution": "1080p", "source": "bluray"}),
    ("movies", "(DVDRip) Ember Hollow 2009.avi", {**FILM, "source": "dvd"}),
    ("series", "[720p] Ferrow S01E02.mkv", {"series": "Ferrow", "episodes": [2], "resolution": "720p"}),
    ("series", "Ferrow/Season 1/Ferrow.S01E01.S01E02.mkv", BOTH),
    ("series", "Ferrow/Season 1/Ferrow.1x01.1x02.mkv", BOTH),
    ("series", "ferrow_s01e01_s01e02.mkv", {**BOTH, "series": "ferrow"}),
    ("series", "Ferrow 1x01 - 1x02 - Weir.mkv", {**BOTH, "title": "Weir"}),
    ("series", "Ferrow S01E01 S01E02 S01E03 Weir.mkv", {**BOTH, "episodes": [1, 2, 3], "title": "Weir"}),
    ("series", "Ferrow - S01E04 [1080p] Weir.mkv", {**WEIR, "season": 1, "episodes": [4]}),
    ("series", "Ferrow - 04 [1080p] Weir.mkv", {**WEIR, "absolute": [4]}),
    ("series", "Ferrow 1x04 (1080p) Weir [4B21AA09].mkv", {**WEIR, "season": 1, "episodes": [4]}),
    ("series", "Ferrow - 04 [1080p] part 2.mkv", {"absolute": [4], "part": 2, "title": None}),
)


BOXED: dict[str, Any] = {"series": "Harrow Lane", "season": 2, "episodes": [5]}
SPOKEN = {"kind": "subtitle", "title": "Kite Harbour", "year": 2014}
_BOXED_AND_SPOKEN: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("series", "Harrow Lane/Season 2/(05) The Gate.mkv", {**BOXED, "title": "The Gate"}),
    ("series", "Harrow Lane/Season 2/[05] The Gate.mkv", {**BOXED, "title": "The Gate"}),
    ("series", "Harrow Lane/Season 2/(05).mkv", {**BOXED, "title": None}),
    ("series", "Harrow Lane/(05) The Gate.mkv", {"series": "Harrow Lane", "absolute": [5], "title": "The Gate"}),
    ("movies", "[12] Lanterns (2014)/[12] Lanterns (2014).mkv", {"kind": "movie", "year": 2014}),
    ("movies", "Kite Harbour (2014)/Subs/Brazilian Portuguese.srt", {**SPOKEN, "language": "pt-br"}),
    ("movies", "Kite Harbour (2014)/Subs/3_Canadian French.srt", {**SPOKEN, "language": "fr-ca"}),
    ("movies", "Kite Harbour (2014)/Subs/Traditional Chinese.srt", {**SPOKEN, "language": "zh-hant"}),
    ("movies", "Kite Harbour (2014)/Subs/Spanish (Latin America).srt", {**SPOKEN, "language": "es-419"}),
    ("movies", "Kite Harbour (2014)/Kite Harbour (2014) - Swiss German.srt", {**SPOKEN, "language": "de-ch"}),
    (
        "movies",
        "The Brazilian (2014)/The Brazilian (2014).Portuguese.srt",
        {"title": "The Brazilian", "language": "pt"},
    ),
    ("movies", "The Brazilian (2014)/The Brazilian (2014).srt", {"title": "The Brazilian", "language": None}),
)


RELEASED = {"kind": "movie", "title": "Salt and Iron", "year": 2011}
AIRED = {"kind": "episode", "series": "Harrow Lane", "season": 2, "episodes": [5]}
_FILM = "Salt.and.Iron.2011.German.DL.1080p.BluRay.x264-KESTREL"
_EPISODE = "Harrow.Lane.S02E05.720p.HDTV.x264-KESTREL"
_OF_RELEASES: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("movies", f"{_FILM}/kestrel-saltandiron.1080p.mkv", RELEASED),
    ("movies", f"{_FILM}/KESTREL-SaltAndIron-1080p.mkv", RELEASED),
    ("movies", f"{_FILM}/kestrel-salt.and.iron.1080p.mkv", RELEASED),
    ("movies", f"{_FILM}/kestrel-saltandiron.german.dl.1080p.mkv", RELEASED),
    ("movies", f"{_FILM}/kestrel-sai.mkv", RELEASED),
    ("movies", f"{_FILM}/kst-slt.mkv", RELEASED),
    ("movies", f"{_FILM}/kst-sai1080p.mkv", RELEASED),
    ("movies", f"{_FILM}/kestrel-salt-cd2.avi", {**RELEASED, "part": 2}),
    ("movies", f"{_FILM}/CD1/kst-slt1.avi", {**RELEASED, "part": 1}),
    ("movies", f"{_FILM}/Subs/kestrel-saltandiron.idx", {**RELEASED, "kind": "subtitle"}),
    ("movies", f"{_FILM}/Sample/kestrel-saltandiron-sample.mkv", {**RELEASED, "kind": "extra", "role": "sample"}),
    ("series", f"{_EPISODE}/kestrel-harrowlane-s02e05-720p.mkv", AIRED),
    ("series", f"{_EPISODE}/kst-hl.s02e05.720p.mkv", AIRED),
    ("series", "Harrow Lane/Harrow.Lane.S02.720p.HDTV.x264-KESTREL/kestrel-harrowlane-s02e05.mkv", AIRED),
)


@pytest.mark.parametrize(("library", "path", "expected"), (*_CASES, *_BOXED_AND_SPOKEN, *_OF_RELEASES))
def test_what_is_said(library: str, path: str, expected: dict[str, Any]) -> None:
    reading = read_path(path, library)
    told = {"kind": reading.kind, **{name: fact.value for name, fact in reading.facts.items()}}
    assert {name: told.get(name) for name in expected} == expected


@pytest.mark.parametrize(
    ("path", "expected"),
    [
        ("Ferrow S01E01 S02E02.mkv", {"season": 1, "episodes": [1]}),  # of two seasons
        ("Ferrow S01E01 - S01E09.mkv", {"season": 1}),  # a range is left to the mark itself
        ("Ferrow - 04 [1080p] GRP.mkv", {"title": None}),  # a group in capitals
        ("Ferrow - 04 [1080p][GRP].mkv", {"title": None}),
        ("[1080p][Ferrow][04].mkv", {"resolution": "1080p"}),  # everything stands in brackets
    ],
)
def test_what_is_not_said(path: str, expected: dict[str, Any]) -> None:
    facts = read_path(path, "series").facts
    assert {name: facts[name].value if name in facts else None for name in expected} == expected


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
