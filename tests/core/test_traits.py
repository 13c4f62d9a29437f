"""Traits: what a film, a series, an album and a picture can be found by."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog import GROUPS, LOOKED_FOR, Ground, Measures, cast_of, measures_of, traits_of

MINUTE = 60.0
Read = dict[str, Any]


def film(*files: tuple[Read, Read], facts: Read | None = None, languages: tuple[str, ...] = ()) -> set[str]:
    ground = Ground(kind="movie", year=1987, age=12, library_id=4, facts=facts or {}, files=files, languages=languages)
    return set(traits_of(ground))


def test_a_film_says_what_is_known_of_it() -> None:
    media = {"width": 1920, "height": 800, "seconds": 100 * MINUTE, "audio": [{"language": "eng"}, {"language": "deu"}]}
    found = film(
        ({"source": "bluray", "edition": ["Director's Cut"], "hdr": ["hdr10"]}, media),
        facts={"genres": ["Drama", "Sea|Land"], "set": "Velvet films"},
        languages=("fra", ""),
    )
    assert found == {
        *("library:4", "decade:1980", "age:12", "genre:Drama", "genre:Sea/Land", "set:Velvet films"),
        *("length:120", "resolution:1080p", "range:HDR10", "sound:eng", "sound:deu", "text:fra"),
        *("source:bluray", "edition:Director's Cut"),
    }


@pytest.mark.parametrize(
    ("width", "height", "name"),
    [
        (3840, 2160, "2160p"), (3840, 1600, "2160p"), (1920, 1080, "1080p"), (1916, 796, "1080p"), (1440, 1080, "1080p"),
        (1280, 720, "720p"), (1280, 536, "720p"), (720, 576, "576p"), (720, 480, "480p"), (480, 270, "480p"),
        (2560, 1440, "1440p"), (7680, 4320, "4320p"),
    ],
)  # fmt: skip
def test_a_picture_is_called_by_its_usual_name(width: int, height: int, name: str) -> None:
    assert f"resolution:{name}" in film(({}, {"width": width, "height": height}))


@pytest.mark.parametrize(
    ("files", "facts", "length"),
    [
        ([({}, {"seconds": 12 * MINUTE})], {}, "40"),
        ([({}, {"seconds": 90 * MINUTE})], {}, "90"),
        ([({}, {"seconds": 91 * MINUTE})], {}, "120"),
        ([({}, {"seconds": 200 * MINUTE})], {}, "more"),
        ([({}, {"seconds": 95 * MINUTE}), ({}, {"seconds": 80 * MINUTE})], {}, "120"),
        ([({"part": 1}, {"seconds": 70 * MINUTE}), ({"part": 2}, {"seconds": 65 * MINUTE})], {}, "150"),
        ([({}, {"seconds": 30 * MINUTE})], {"runtime": 140 * MINUTE}, "150"),
        ([({}, {})], {}, None),
    ],
)
def test_how_long_a_film_is(files: list[tuple[Read, Read]], facts: Read, length: str | None) -> None:
    assert {one for one in film(*files, facts=facts) if one.startswith("length:")} == (
        {f"length:{length}"} if length else set()
    )


def test_before_a_file_was_looked_into_its_name_speaks() -> None:
    found = film(({"resolution": "720p", "languages": ["deu"]}, {}))
    assert {"resolution:720p", "sound:deu"} <= found


def test_pictures_albums_and_series() -> None:
    photo = Ground(
        kind="photo",
        year=2019,
        age=None,
        library_id=2,
        facts={"people": ["Nell"], "keywords": ["boat", "dusk"], "genres": ["no"]},
        files=(({}, {"camera": "Orrin K2", "width": 4000, "height": 3000}),),
    )
    assert set(traits_of(photo)) == {
        *("library:2", "kind:photo", "person:Nell", "keyword:boat", "keyword:dusk", "camera:Orrin K2"),
    }
    album = Ground(kind="album", year=1961, age=None, library_id=1, facts={"genres": ["jazz"], "label": "Pell"})
    assert set(traits_of(album)) == {"library:1", "genre:jazz", "decade:1960", "label:Pell"}
    series = Ground(kind="series", year=None, age=6, library_id=1, facts={"genres": "Drama"})
    assert set(traits_of(series)) == {"library:1", "genre:Drama", "age:6"}


VALUES = st.none() | st.text(max_size=120) | st.lists(st.text(max_size=120) | st.integers(), max_size=20)


@given(
    st.dictionaries(st.sampled_from(("genres", "set", "label", "people", "keywords")), VALUES),
    st.sampled_from(sorted(GROUPS)),
)
def test_whatever_facts_say_traits_are_short_single_words_of_known_groups(facts: Read, shelf: str) -> None:
    kind = {"films": "movie", "series": "series", "music": "album", "photos": "photo"}[shelf]
    found = traits_of(Ground(kind=kind, year=1950, age=None, library_id=1, facts=facts))
    assert list(found) == sorted(set(found))
    for one in found:
        group, _, value = one.partition(":")
        assert group in GROUPS[shelf] and value.strip() and len(value) <= 80 and "|" not in value


@pytest.mark.parametrize(
    ("files", "facts", "size_bytes", "expected"),
    [
        ([({}, {"width": 1920, "height": 800, "seconds": 5400.4})], {}, 7, Measures(5400, 1080, 7)),
        ([({}, {"width": 720, "height": 576}), ({}, {"width": 1280, "height": 720})], {}, 9, Measures(None, 720, 9)),
        ([({"part": 1}, {"seconds": 3000.0}), ({"part": 2}, {"seconds": 2400.0})], {}, 5, Measures(5400, None, 5)),
        ([({}, {"seconds": 60.0})], {"runtime": 6000}, 1, Measures(6000, None, 1)),
        ([], {}, 0, Measures()),
    ],
)
def test_what_a_film_measures(files: list[tuple[Read, Read]], facts: Read, size_bytes: int, expected: Measures) -> None:
    ground = Ground(kind="movie", year=None, age=None, library_id=1, facts=facts, files=files, size_bytes=size_bytes)
    assert measures_of(ground) == expected
    other = Ground(kind="photo", year=None, age=None, library_id=1, facts=facts, files=files, size_bytes=size_bytes)
    assert measures_of(other) == Measures(), "only films stand in such an order"


@pytest.mark.parametrize(
    ("kind", "told", "expected"),
    [
        ("movie", ["Bo Tarn", "Ada Quill", "Bo Tarn"], ("Bo Tarn", "Ada Quill")),
        ("series", "Ada Quill", ("Ada Quill",)),
        ("movie", [" Ada Quill ", "", None, "Ada Quill"], ("Ada Quill",)),
        ("movie", ["A|B"], ("A/B",)),
        ("movie", None, ()),
        ("album", ["Ada Quill"], ()),
        ("photo", ["Ada Quill"], ()),
    ],
)
def test_who_is_in_it(kind: str, told: Any, expected: tuple[str, ...]) -> None:
    assert cast_of(Ground(kind=kind, year=None, age=None, library_id=1, facts={"cast": told})) == expected


@given(st.lists(st.text(max_size=100) | st.integers() | st.none(), max_size=80))
def test_whoever_is_in_it_names_are_short_and_said_once(told: list[Any]) -> None:
    found = cast_of(Ground(kind="movie", year=None, age=None, library_id=1, facts={"cast": told}))
    assert len(set(found)) == len(found) <= 60
    assert all(one.strip() and len(one) <= 80 and "|" not in one for one in found)


def test_only_groups_that_a_shelf_has_are_looked_for() -> None:
    assert set(LOOKED_FOR) <= {group for groups in GROUPS.values() for group in groups}
    assert not {"mark", "near", "library", "decade"} & set(LOOKED_FOR)
