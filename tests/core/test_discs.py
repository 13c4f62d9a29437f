"""Discs copied as they are: the film among menus and trailers, whatever order the files come in."""

from __future__ import annotations

import random

import pytest

from indice.core.grouping.discs import disc_of, feature_of
from indice.core.grouping.entries import FileView, group

DVD = "Lantern Ferry (1994)/VIDEO_TS"
BLURAY = "Copper Wren (2008)/BDMV/STREAM"


@pytest.mark.parametrize(
    ("path", "disc"),
    [
        (f"{DVD}/VTS_01_1.VOB", DVD),
        ("Lantern Ferry (1994)/video_ts/vts_01_1.vob", "Lantern Ferry (1994)/video_ts"),
        (f"{BLURAY}/00001.m2ts", "Copper Wren (2008)/BDMV"),
        ("VIDEO_TS/VTS_01_1.VOB", "VIDEO_TS"),
        ("Box/Disc 2/VIDEO_TS/VTS_01_1.VOB", "Box/Disc 2/VIDEO_TS"),
        ("About VIDEO_TS/film.mkv", None),
        ("Lantern Ferry (1994)/VIDEO_TS.VOB", None),
        ("film.mkv", None),
    ],
)
def test_a_disc_is_the_folder_of_its_structure(path: str, disc: str | None) -> None:
    assert disc_of(path) == disc


@pytest.mark.parametrize(
    ("files", "film"),
    [
        ({"VTS_01_1": 20, "VTS_02_1": 900, "VTS_02_2": 800, "VTS_03_1": 1600}, ("VTS_02_1", "VTS_02_2")),
        ({"VIDEO_TS": 9000, "VTS_01_0": 9000, "VTS_01_1": 40}, ("VTS_01_1",)),
        ({"VTS_01_1": None, "VTS_02_2": None, "VTS_02_1": None}, ("VTS_02_1", "VTS_02_2")),
        ({"VTS_02_1": None, "VTS_01_1": None}, ("VTS_01_1",)),
        ({"VIDEO_TS": 20, "VTS_01_0": 20}, ()),
    ],
    ids=["the longest set in order", "menus never", "most pieces", "the first", "nothing to play"],
)
def test_the_film_of_a_dvd_is_its_longest_set_of_titles(files: dict[str, float | None], film: tuple[str, ...]) -> None:
    told = [(f"{DVD}/{name}.VOB", seconds) for name, seconds in files.items()]
    assert list(feature_of(told)) == [f"{DVD}/{name}.VOB" for name in film]


def test_the_film_of_a_bluray_is_its_longest_stream() -> None:
    streams = [(f"{BLURAY}/0000{n}.m2ts", seconds) for n, seconds in enumerate((30.0, 5400.0, 120.0))]
    assert list(feature_of(streams)) == [f"{BLURAY}/00001.m2ts"]


def views(*files: tuple[str, float | None], title: str = "Lantern Ferry", year: int = 1994) -> list[FileView]:
    reading = {"title": title, "year": year, "source": "dvd"}
    return [
        FileView(id=place, path=path, kind="movie", reading=reading, seconds=seconds)
        for place, (path, seconds) in enumerate(files, 1)
    ]


@pytest.mark.parametrize("seed", range(6))
def test_a_disc_is_one_film_in_parts_with_its_menus_beside(seed: int) -> None:
    files = views(
        (f"{DVD}/VIDEO_TS.VOB", 2.0),
        (f"{DVD}/VTS_01_0.VOB", 2.0),
        (f"{DVD}/VTS_01_1.VOB", 1200.0),
        (f"{DVD}/VTS_01_2.VOB", 900.0),
        (f"{DVD}/VTS_02_1.VOB", 60.0),
    )
    random.Random(seed).shuffle(files)
    found = group(files)
    assert list(found.entries) == ["movie:lantern ferry:1994"]
    assert {id_: role for id_, (_, role) in sorted(found.serves.items())} == {
        **dict.fromkeys((1, 2, 5), "beside"),
        **dict.fromkeys((3, 4), "part"),
    }


def test_a_disc_of_one_piece_is_the_main_file_and_a_version_beside_a_loose_one() -> None:
    disc = (f"{DVD}/VTS_01_1.VOB", 1200.0)
    assert group(views(disc)).serves[1] == ("movie:lantern ferry:1994", "main")
    both = group(views(disc, ("Lantern Ferry (1994)/Lantern Ferry (1994).mkv", 1210.0)))
    assert {id_: role for id_, (_, role) in both.serves.items()} == {1: "version", 2: "main"}


def test_two_discs_of_two_films_stay_two() -> None:
    other = views(("Copper Wren (2008)/VIDEO_TS/VTS_01_1.VOB", 900.0), title="Copper Wren", year=2008)
    both = [*views((f"{DVD}/VTS_01_1.VOB", 1200.0)), *(FileView(**{**_fields(one), "id": 9}) for one in other)]
    assert set(group(both).entries) == {"movie:lantern ferry:1994", "movie:copper wren:2008"}


def _fields(view: FileView) -> dict[str, object]:
    return {name: getattr(view, name) for name in ("path", "kind", "reading", "seconds")}
