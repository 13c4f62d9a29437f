"""The front page of the catalog: what stands where one stopped, what follows, what is new, what was on this day."""

from __future__ import annotations

import os
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy.orm import Session

from indice.store.database import Database
from indice.store.front import front_rows
from indice.store.household import Change, add_person, viewer_named
from indice.store.libraries import add_library
from indice.store.models import Entry, File, Folder, Mark, now
from indice.store.viewer import Viewer, bind_viewer

from .kettle import said


def entry(db: Session, library: int, kind: str, title: str, parent: Entry | None = None, **more: Any) -> Entry:
    """An entry with a file of its own, where its kind has one."""
    made = Entry(
        library_id=library,
        parent_id=parent.id if parent is not None else None,
        key=f"{kind}:{title}:{parent.id if parent is not None else 0}",
        kind=kind,
        title=title,
        sort_title=title,
        search=title.lower(),
        **more,
    )
    db.add(made)
    db.flush()
    if kind in ("movie", "episode", "photo", "track"):
        folder = db.query(Folder).filter_by(library_id=library).one()
        path = f"{kind} {made.id}"
        file = File(
            folder_id=folder.id, path=path.encode(), shown=path, directory="", size_bytes=1, mtime_ns=1, kind=kind
        )
        file.reading, file.marks, file.entry_id = {}, [], made.id
        db.add(file)
    return made


@pytest.fixture
def series(database: Database, tmp_path: Path) -> tuple[int, list[Entry]]:
    """A series of two seasons with three episodes each, and its library."""
    with database.begin() as db:
        library = add_library(
            db, name="Series", kind="series", folders=[os.fsencode(tmp_path)], language="en", country="", sources=[]
        ).id
        whole = entry(db, library, "series", "Long Tide")
        episodes: list[Entry] = []
        for season in (1, 2):
            held = entry(db, library, "season", f"Season {season}", whole, season=season)
            episodes += [
                entry(db, library, "episode", f"Part {number}", held, number=number, season=season)
                for number in (1, 2, 3)
            ]
        add_person(db, "Nell", Change(role="member", libraries=["Series"]))
        return library, episodes


def rows(database: Database, person: str = "Nell", today: date = date(2026, 11, 28)) -> dict[str, list[str]]:
    """Titles, row by row."""
    with database.begin() as db:
        viewer = viewer_named(db, person)
        bind_viewer(db, viewer)
        return {name: [one.title for one in entries] for name, entries in front_rows(db, viewer, today).items()}


def mark(database: Database, entries: list[Entry], **values: Any) -> None:
    """Marks of Nell."""
    with database.begin() as db:
        nell = viewer_named(db, "Nell").person_id
        for one in entries:
            db.merge(Mark(person_id=nell, entry_id=one.id, **values))


def test_an_empty_catalog_has_no_rows(database: Database) -> None:
    with database.begin() as db:
        assert front_rows(db, Viewer(1), date(2026, 1, 1)) == {}


def test_after_an_episode_comes_the_next_also_of_the_next_season(
    database: Database, series: tuple[int, list[Entry]]
) -> None:
    _, episodes = series
    assert "next" not in rows(database)
    mark(database, episodes[:2], seen_at=now())
    assert rows(database)["next"] == ["Part 3"]
    mark(database, episodes[2:3], seen_at=now())
    assert rows(database)["next"] == ["Part 1"]
    mark(database, episodes[3:], seen_at=now())
    assert "next" not in rows(database), "all was seen"


def test_what_is_half_seen_is_gone_on_with_and_not_followed(
    database: Database, series: tuple[int, list[Entry]]
) -> None:
    _, episodes = series
    mark(database, episodes[:1], seen_at=now())
    mark(database, episodes[1:2], position_seconds=60.0, duration_seconds=600.0, position_at=now())
    told = rows(database)
    assert told["going-on"] == ["Part 2"] and "next" not in told


def test_an_episode_that_is_not_there_is_passed_over(database: Database, series: tuple[int, list[Entry]]) -> None:
    _, episodes = series
    mark(database, episodes[:1], seen_at=now())
    with database.begin() as db:
        db.query(File).filter_by(entry_id=episodes[1].id).delete()
    assert rows(database)["next"] == ["Part 3"]


def test_new_series_are_those_with_new_episodes(database: Database, series: tuple[int, list[Entry]]) -> None:
    assert rows(database)["new-series"] == ["Long Tide"]


def test_this_day_shows_other_years_only(database: Database, series: tuple[int, list[Entry]]) -> None:
    library, _ = series
    with database.begin() as db:
        for title, moment in (
            ("last year", "2025-11-28T10:00:00"),
            ("long ago", "2009-11-28"),
            ("today", "2026-11-28T08:00:00"),
            ("another day", "2025-11-27T23:59:59"),
        ):
            entry(db, library, "photo", title, moment=moment)
        entry(db, library, "photo", "undated")
    assert rows(database)["this-day"] == ["last year", "long ago"]
    assert "this-day" not in rows(database, today=date(2026, 3, 1))


def test_nobody_sees_what_is_not_for_them(database: Database, series: tuple[int, list[Entry]]) -> None:
    with database.begin() as db:
        add_person(db, "Ivo", Change(role="guest", libraries=[]))
    assert rows(database, "Ivo") == {}


def test_the_page_says_of_an_episode_what_it_is_of(
    owner: FlaskClient, database: Database, series: tuple[int, list[Entry]]
) -> None:
    _, episodes = series
    owner.put("/api/marks", json={"entry_ids": [episodes[3].id], "seen": True})
    told = {row["name"]: row["entries"] for row in owner.get("/api/front").get_json()["rows"]}
    assert [(one["title"], one["subtitle"]) for one in told["next"]] == [("Part 2", "Long Tide 2×2")]
    assert [one["title"] for one in told["seen"]] == ["Part 1"]


def test_an_episode_that_is_found_says_of_which_series_it_is(
    owner: FlaskClient, series: tuple[int, list[Entry]]
) -> None:
    found = {one["id"]: one["subtitle"] for one in said(owner.get("/api/search?q=part"))["entries"]}
    assert [found[one.id] for one in series[1][:2]] == ["Long Tide 1×1", "Long Tide 1×2"]
