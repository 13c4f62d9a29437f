"""The made-up household and its world: the same every time, and big enough to be confusing."""

from __future__ import annotations

from pathlib import Path

import pytest

from indice.demo.media import chord, write_track
from indice.demo.photographs import SCENES, render
from indice.demo.posters import backdrop, cover, poster
from indice.demo.world import albums, films, series_list
from indice.standins.almanac import create_almanac, records


def test_the_world_is_as_large_as_promised() -> None:
    assert len(films()) == 60
    assert len(series_list()) == 10
    assert 130 <= sum(len(series.episodes) for series in series_list()) <= 160
    assert len(albums()) >= 40
    assert 280 <= sum(len(album.tracks) for album in albums()) <= 340
    assert any(max(disc for *_, disc in album.tracks) == 2 for album in albums())
    assert any(album.artist == "Various Artists" for album in albums())


def test_every_id_is_its_own() -> None:
    ids = (
        [film.id for film in films()]
        + [s.id for s in series_list()]
        + [e.id for s in series_list() for e in s.episodes]
        + [a.id for a in albums()]
    )
    assert len(ids) == len(set(ids))


def test_the_source_knows_remakes_and_does_not_know_everything() -> None:
    glass = [record for record in records().values() if record.name == "Harbour Glass"]
    assert len({record.year for record in glass}) >= 3
    assert not any(record.name == "Lighthouse Summer" for record in records().values())


@pytest.mark.parametrize(
    "draw",
    [
        lambda: poster("Moth Season", 2016),
        lambda: cover("Porchlight", "Mothwing", 1991),
        lambda: backdrop("Moth Season", 2016),
        lambda: poster("夜市の時計屋", 2001),
    ],
)
def test_a_picture_is_the_same_every_time(draw: object) -> None:
    assert draw().tobytes() == draw().tobytes()  # type: ignore[operator]


@pytest.mark.parametrize("scene", SCENES)
def test_photographs_are_no_grey_boxes_and_the_same_every_time(scene: str) -> None:
    picture = render(scene, 5, (120, 80))
    assert picture.tobytes() == render(scene, 5, (120, 80)).tobytes()
    assert len(picture.getcolors(maxcolors=120 * 80) or []) > 500


def test_titles_make_different_pictures() -> None:
    assert len({poster(film.title, film.year, size=(40, 60)).tobytes() for film in films()}) == len(films())


def test_music_is_audible_and_ends(tmp_path: Path) -> None:
    samples = chord("Moth", 3)
    assert abs(samples).max() > 2000
    write_track(tmp_path / "a.flac", title="Ash", seconds=20, artist="Mothwing", tags=None)
    assert (tmp_path / "a.flac").stat().st_size > 2000


def test_the_source_answers_nonsense_politely() -> None:
    client = create_almanac().test_client()
    for data in ({"queries": "{"}, {"queries": "[]"}, {"extend": "{}"}, {}):
        assert client.post("/reconcile", data=data).status_code == 400
    assert client.get("/reconcile").get_json()["batchSize"] == 40
    assert client.get("/pictures/nothing/poster.jpg").status_code == 404
    assert client.get("/pictures/f0001/poster.jpg").data[:2] == b"\xff\xd8"
    assert client.get("/suggest/entity?prefix=moth%20season").get_json()["result"][0]["name"] == "Moth Season"
    assert client.get("/preview/f0001").status_code == 200
