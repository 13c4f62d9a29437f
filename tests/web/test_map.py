"""Photos on the map: heaps at every distance, narrowed down by a cell or a town, and only what one may see."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import delete, update
from sqlalchemy.orm import Session

from indice.core.catalog.spots import WORLD, spots_of
from indice.settings import Settings
from indice.store.browse import Wanted
from indice.store.database import Database
from indice.store.heaps import heaps_in
from indice.store.household import Change, add_person, viewer_named
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, File, Folder
from indice.store.traits import settle_traits
from indice.store.viewer import bind_viewer
from indice.web.app import create_app

from .test_invitations import browser, renew

TAKEN = (
    ("pier", 41.2001, -70.5001, "Brackwater"),
    ("gull", 41.2002, -70.5002, "Brackwater"),
    ("barn", 41.9, -70.9, ""),
    ("kiosk", -33.4, 151.2, "Olmar"),
    ("nowhere", None, None, ""),
    ("sea", 0.0, 0.0, ""),
)


def photo(db: Session, library: int, title: str, media: dict[str, Any], kind: str = "photo") -> int:
    """A photo whose file holds this."""
    made = Entry(library_id=library, key=title, kind=kind, title=title, sort_title=title, moment="2019-07-04")
    made.search = title
    db.add(made)
    db.flush()
    folder = db.query(Folder).filter_by(library_id=library).one()
    file = File(folder_id=folder.id, path=title.encode(), shown=title, directory="", size_bytes=1, mtime_ns=1)
    file.kind, file.reading, file.marks, file.entry_id, file.media = kind, {}, [], made.id, media
    db.add(file)
    db.flush()
    return made.id


@pytest.fixture
def app(settings: Settings, database: Database, tmp_path: Path) -> Flask:
    """A house with photos in two libraries."""
    settings.home.mkdir(parents=True, exist_ok=True)
    with database.begin() as db:
        for name in ("Holidays", "Work"):
            (tmp_path / name).mkdir()
            add_library(
                db,
                name=name,
                kind="photos",
                folders=[os.fsencode(tmp_path / name)],
                language="en",
                country="",
                sources=[],
            )
        for title, north, east, town in TAKEN:
            made = photo(db, 1, title, {} if north is None else {"place": [north, east]})
            if town:
                db.add(Fact(entry_id=made, field="town", origin="file", value={"v": town}))
        photo(db, 2, "desk", {"place": [41.2003, -70.5003]}, kind="clip")
    return create_app(settings, database)


@pytest.fixture
def odile(app: Flask) -> FlaskClient:
    """The owner."""
    made = browser(app)
    made.post("/api/setup", json={"language": "en", "name": "Odile", "password": "tidewrack 9"})
    renew(made)
    return made


def heaps(client: FlaskClient, **query: Any) -> list[tuple[str, int, str]]:
    """Cell, how many, and the town of what is shown."""
    answer = client.get("/api/map", query_string=query)
    assert answer.status_code == 200, answer.get_json()
    return [(one["cell"], one["count"], one["town"]) for one in answer.get_json()["heaps"]]


CLOSE = {"west": -71, "south": 41, "east": -70, "north": 42}


def test_the_whole_earth_shows_two_heaps(odile: FlaskClient) -> None:
    found = heaps(odile)
    assert [count for _, count, _ in found] == [4, 1]
    told = odile.get("/api/map").get_json()["heaps"][1]
    assert told["latitude"] == pytest.approx(-33.4, abs=1e-4) and told["longitude"] == pytest.approx(151.2, abs=1e-4)
    assert told["entry"]["title"] == "kiosk"


def test_closer_by_a_heap_falls_apart(odile: FlaskClient) -> None:
    assert [count for _, count, _ in heaps(odile, **CLOSE)] == [3, 1]
    box = {"west": -70.5004, "south": 41.2, "east": -70.5, "north": 41.2004}
    assert [count for _, count, _ in heaps(odile, **box)] == [1, 1, 1]


def test_the_wall_shows_what_lies_in_a_heap(odile: FlaskClient) -> None:
    cell, count, _ = heaps(odile, **CLOSE)[0]
    shelf = odile.get("/api/shelves/photos", query_string={"traits": f"near:{cell}"}).get_json()["entries"]
    assert {one["title"] for one in shelf} == {"pier", "gull", "desk"} and count == 3
    other = heaps(odile)[1][0]
    both = odile.get("/api/shelves/photos/ruler", query_string={"traits": f"near:{cell}|near:{other}"}).get_json()
    assert both["total"] == 4
    asked = {"traits": f"near:{cell}|near:{other}"}
    groups = odile.get("/api/shelves/photos/traits", query_string=asked).get_json()["groups"]
    told = {group["name"]: [(one["value"], one["count"]) for one in group["traits"]] for group in groups}
    assert told["town"] == [("Brackwater", 2), ("Olmar", 1)] and "near" not in told


def test_the_map_is_narrowed_down_like_the_wall(odile: FlaskClient) -> None:
    assert [town for _, _, town in heaps(odile, traits="town:Olmar")] == ["Olmar"]
    assert [count for _, count, _ in heaps(odile, words="town:brackwater")] == [2]
    assert [count for _, count, _ in heaps(odile, words="gull")] == [1]
    assert heaps(odile, year="2018") == []
    assert heaps(odile, traits="kind:clip", **CLOSE) == [(heaps(odile, traits="kind:clip", **CLOSE)[0][0], 1, "")]


@pytest.mark.parametrize(
    ("query", "status"),
    [
        ({"west": -181}, 422),
        ({"west": "nan"}, 422),
        ({"west": 10, "east": 9}, 422),
        ({"south": 10, "north": 9}, 422),
        ({"traits": "near:4"}, 404),
        ({"traits": "near:"}, 404),
        ({"traits": f"near:{'0' * 25}"}, 404),
        ({"traits": "genre:Drama"}, 404),
    ],
)
def test_what_is_no_place_is_told(odile: FlaskClient, query: dict[str, Any], status: int) -> None:
    assert odile.get("/api/map", query_string=query).status_code == status


def test_somebody_sees_only_what_is_given_to_them(app: Flask, odile: FlaskClient, database: Database) -> None:
    assert sum(count for _, count, _ in heaps(odile)) == 5
    with database.begin() as db:
        add_person(db, "Nell", Change(role="member", libraries=["Holidays"]))
        bind_viewer(db, viewer_named(db, "Nell"))
        assert sum(heap.count for heap in heaps_in(db, Wanted("photos"), WORLD)) == 4
    with database.begin() as db:
        db.execute(update(Entry).where(Entry.title == "kiosk").values(limit_age=16))
        db.execute(update(Entry).where(Entry.title == "gull").values(limit_age=6))
        add_person(db, "Ib", Change(role="member", libraries=["Holidays"], age=8))
    with database.begin() as db:
        bind_viewer(db, viewer_named(db, "Ib"))
        assert [heap.count for heap in heaps_in(db, Wanted("photos"), WORLD)] == [3]


def test_another_place_is_settled_anew(odile: FlaskClient, database: Database) -> None:
    assert len(heaps(odile)) == 2
    with database.begin() as db:
        db.execute(update(File).where(File.shown == "kiosk").values(media={}))
        db.execute(delete(Fact))
    with database.begin() as db:
        settle_traits(db, limit=100)
    assert [(count, town) for _, count, town in heaps(odile)] == [(4, "")]
    with database.begin() as db:
        db.execute(update(File).where(File.shown == "nowhere").values(media={"place": [70.0, 25.0]}))
    cell = next(cell for cell, count, _ in heaps(odile) if count == 1)
    with database.begin() as db:
        spot = db.query(Entry).filter_by(title="nowhere").one().spot
    assert spot is not None and spots_of(cell)[0] <= spot <= spots_of(cell)[1]
