"""Marks of one's own: kept for each person alone, and following the entry, not the file."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.core.grouping import FileView, group
from indice.store.database import Database
from indice.store.export import export_entries
from indice.store.libraries import add_library
from indice.store.marks import going_on, marks_of, note_position, set_marks
from indice.store.models import Entry, Library, Person
from indice.store.served import apply_grouping
from indice.store.viewer import Viewer

UNMARKED = {
    "seen": False,
    "favourite": False,
    "rating": None,
    "tags": [],
    "note": "",
    "share": 0,
    "position_seconds": None,
}


def film(number: int, title: str) -> FileView:
    """A film's file."""
    return FileView(id=number, path=f"{title}/{title}.mkv", kind="movie", reading={"title": title, "year": 2001})


def episode(number: int, season: int, count: int) -> FileView:
    """An episode's file."""
    reading: dict[str, Any] = {"series": "Gannet Row", "season": season, "episodes": [count]}
    return FileView(id=number, path=f"Gannet Row/{season}x{count:02d}.mkv", kind="episode", reading=reading)


@pytest.fixture
def shelf(owner: FlaskClient, database: Database, tmp_path: Path) -> dict[str, int]:
    """Two films and a series of two seasons; key → number."""
    with database.begin() as db:
        library_id = add_library(
            db, name="All", kind="mixed", folders=[str(tmp_path).encode()], language="en", country="", sources=[]
        ).id
        files = [film(1, "Slow Ferry"), film(2, "Ebb"), *(episode(10 + n, 1 + n // 3, 1 + n % 3) for n in range(6))]
        grouped = group(files)
        grouped.serves.clear()  # the catalog alone, without files
        apply_grouping(db, library_id, grouped)
        return {entry.key: entry.id for entry in db.scalars(select(Entry))}


def card(owner: FlaskClient, number: int) -> dict[str, Any]:
    """An entry as lists show it."""
    return owner.get(f"/api/entries/{number}").get_json()["card"]


def test_a_position_is_kept_and_goes_when_it_is_seen(owner: FlaskClient, shelf: dict[str, int]) -> None:
    ferry, ebb = shelf["movie:slow ferry:2001"], shelf["movie:ebb:2001"]
    at = f"/api/entries/{ferry}/position"
    assert owner.post(at, json={"seconds": 30, "duration_seconds": 6000}).get_json() == {"came": "left"}
    assert card(owner, ferry)["mark"] is None
    assert owner.post(at, json={"seconds": 1500, "duration_seconds": 6000}).get_json() == {"came": "kept"}
    assert card(owner, ferry)["mark"] == {**UNMARKED, "share": 0.25, "position_seconds": 1500}
    assert owner.post(at, json={"seconds": 30, "duration_seconds": 6000}).get_json() == {"came": "left"}
    assert card(owner, ferry)["mark"]["position_seconds"] == 1500, "who looks in for a moment loses nothing"
    owner.post(f"/api/entries/{ebb}/position", json={"seconds": 900, "duration_seconds": 6000})
    assert [one["title"] for one in owner.get("/api/going-on").get_json()["entries"]] == ["Ebb", "Slow Ferry"]
    assert owner.post(at, json={"seconds": 5900, "duration_seconds": 6000}).get_json() == {"came": "seen"}
    assert card(owner, ferry)["mark"] == {**UNMARKED, "seen": True}
    assert [one["title"] for one in owner.get("/api/going-on").get_json()["entries"]] == ["Ebb"]


def test_a_series_is_seen_by_its_episodes_and_goes_on_with_the_latest(
    owner: FlaskClient, shelf: dict[str, int]
) -> None:
    series = shelf["series:gannet row"]
    first, second = (shelf[f"series:gannet row/episode:1:{n}"] for n in (1, 2))
    for number in (first, second):
        owner.post(f"/api/entries/{number}/position", json={"seconds": 600, "duration_seconds": 1800})
    assert [one["id"] for one in owner.get("/api/going-on").get_json()["entries"]] == [second]
    assert owner.put("/api/marks", json={"entry_ids": [series], "seen": True}).get_json() == {"count": 1}
    cells = [cell for row in owner.get(f"/api/entries/{series}").get_json()["grid"] for cell in row["cells"]]
    assert [cell["seen"] for cell in cells] == [True] * 6
    assert owner.get("/api/going-on").get_json()["entries"] == []
    owner.put("/api/marks", json={"entry_ids": [first], "seen": False})
    cells = [cell for row in owner.get(f"/api/entries/{series}").get_json()["grid"] for cell in row["cells"]]
    assert [cell["seen"] for cell in cells] == [False] + [True] * 5


def test_what_is_not_said_of_marks_stays(owner: FlaskClient, shelf: dict[str, int]) -> None:
    ferry = shelf["movie:slow ferry:2001"]
    owner.put("/api/marks", json={"entry_ids": [ferry], "favourite": True})
    owner.put("/api/marks", json={"entry_ids": [ferry], "seen": True})
    assert card(owner, ferry)["mark"] == {**UNMARKED, "seen": True, "favourite": True}
    owner.put("/api/marks", json={"entry_ids": [ferry], "favourite": False})
    assert card(owner, ferry)["mark"]["seen"] is True
    assert owner.put("/api/marks", json={"entry_ids": [987654], "seen": True}).get_json() == {"count": 0}
    assert owner.put("/api/marks", json={"entry_ids": []}).status_code == 422
    assert owner.post(f"/api/entries/{ferry}/position", json={"seconds": -1, "duration_seconds": 1}).status_code == 422
    assert owner.post("/api/entries/987654/position", json={"seconds": 1, "duration_seconds": 9}).status_code == 404


def test_nobody_sees_the_marks_of_another(owner: FlaskClient, shelf: dict[str, int], database: Database) -> None:
    ferry = shelf["movie:slow ferry:2001"]
    with database.begin() as db:
        odile = Viewer(db.scalars(select(Person.id)).one())
        other = Person(name="Nell", password_hash="x")
        db.add(other)
        db.flush()
        nell = Viewer(other.id)
        set_marks(db, odile, [ferry], favourite=True)
        assert note_position(db, odile, ferry, 900, 6000) == "kept"
        assert marks_of(db, nell, [ferry]) == {}
        assert going_on(db, nell, limit=9) == []
        note_position(db, nell, ferry, 1200, 6000)
        assert marks_of(db, odile, [ferry])[ferry].position_seconds == 900
        db.delete(other)
        db.flush()
        assert marks_of(db, nell, [ferry]) == {}


def test_a_rating_and_tags_are_kept_and_exported(owner: FlaskClient, database: Database, shelf: dict[str, int]) -> None:
    ferry = shelf["movie:slow ferry:2001"]
    body = {"entry_ids": [ferry], "rating": 8, "tags": ["with Nell", " rainy days ", "with Nell", " "]}
    assert owner.put("/api/marks", json=body).status_code == 200
    owner.put("/api/marks", json={"entry_ids": [ferry], "favourite": True})
    assert card(owner, ferry)["mark"] == {
        **UNMARKED,
        "favourite": True,
        "rating": 8,
        "tags": ["with Nell", "rainy days"],
    }, "what is not said stays"
    with database.begin() as db:
        viewer = Viewer(db.scalars(select(Person.id)).one())
        rows = {row["key"]: row for row in export_entries(db, db.scalars(select(Library)).one(), viewer)}
    told = rows["movie:slow ferry:2001"]
    assert (told["rating"], told["tags"], told["favourite"], told["seen"]) == (
        8,
        ["with Nell", "rainy days"],
        True,
        False,
    )
    assert told["page"] == f"/catalog/entry/{ferry}" and "play" not in told, "it has no file"
    owner.put("/api/marks", json={"entry_ids": [ferry], "rating": 0, "tags": []})
    assert card(owner, ferry)["mark"] == {**UNMARKED, "favourite": True}
    for wrong in ({"rating": 11}, {"rating": -1}, {"tags": ["x" * 70]}):
        assert owner.put("/api/marks", json={"entry_ids": [ferry], **wrong}).status_code in (400, 422)
