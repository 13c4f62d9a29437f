"""What changes while something is being settled is settled afterwards: nothing is lost between two transactions."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from sqlalchemy import select, text, update
from sqlalchemy.orm import Session

from indice.store.ages import settle_ages
from indice.store.database import Database
from indice.store.due import is_due
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, File, Folder
from indice.store.places import places_due, put_towns
from indice.store.traits import settle_traits


@pytest.fixture
def film(database: Database, tmp_path: Path) -> int:
    """A film whose notes are due."""
    with database.begin() as db:
        library = add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(tmp_path)], language="en", country="DE", sources=[]
        )
        entry = Entry(library_id=library.id, key="m", kind="movie", title="Gull", sort_title="gull")
        db.add(entry)
        db.flush()
        return entry.id


def settle(db: Session) -> None:
    """All that is due now."""
    settle_ages(db)
    settle_traits(db, limit=100)


def told(database: Database, film: int) -> tuple[int | None, list[str]]:
    """Age and traits, once everything is settled."""
    with database.begin() as db:
        settle(db)
    with database.begin() as db:
        entry = db.get_one(Entry, film)
        return entry.age, [one for one in entry.traits if one.startswith("genre:")]


def say(db: Session, film: int) -> None:
    """A certificate and a genre."""
    db.add(Fact(entry_id=film, field="certificates", origin="hand", value={"v": ["DE:16"]}))
    db.add(Fact(entry_id=film, field="genres", origin="hand", value={"v": ["Drama"]}))
    db.flush()


def test_facts_that_are_committed_behind_who_settles(database: Database, film: int) -> None:
    with database.begin() as db:
        assert is_due(db, "age_due") and is_due(db, "trait_due")
    with database.begin() as slow:
        say(slow, film)
        with database.begin() as quick:
            settle(quick)
    assert told(database, film) == (16, ["genre:Drama"])


def test_facts_that_are_written_while_somebody_settles(database: Database, film: int) -> None:
    with database.begin() as slow:
        settle(slow)
        with database.begin() as quick:
            say(quick, film)
    assert told(database, film) == (16, ["genre:Drama"])


def test_many_changes_of_one_thing_are_settled_once(database: Database, film: int) -> None:
    for year in range(1990, 1999):
        with database.begin() as db:
            db.execute(update(Entry).where(Entry.id == film).values(year=year))
    with database.begin() as db:
        assert (db.scalar(text("select count(*) from trait_due")) or 0) > 9
        settle(db)
        assert not is_due(db, "age_due") and not is_due(db, "trait_due")


def test_the_towns_of_places_that_nobody_names(database: Database, film: int) -> None:
    with database.begin() as db:
        folder = db.scalars(select(Folder)).one()
        for title, place in (("pier", [41.2, -70.5]), ("barn", [41.3, -70.6]), ("desk", None)):
            entry = Entry(library_id=1, key=title, kind="photo", title=title, sort_title=title)
            db.add(entry)
            db.flush()
            file = File(folder_id=folder.id, path=title.encode(), shown=title, directory="", size_bytes=1, mtime_ns=1)
            file.kind, file.reading, file.marks, file.entry_id = "photo", {}, [], entry.id
            file.media = {"place": place} if place else {}
            db.add(file)
            if title == "barn":
                db.add(Fact(entry_id=entry.id, field="town", origin="tags", value={"v": "Olmar"}))
        settle(db)
    with database.begin() as db:
        due = places_due(db, limit=10)
        assert len(due.entries) == 2 and len(due.places) == 1
        ((pier, place),) = due.places.items()
        assert place == pytest.approx((41.2, -70.5), abs=1e-4)
        put_towns(db, due, {pier: {"town": "Brackwater", "country": "NO"}})
    with database.begin() as db:
        settle(db)
        assert not places_due(db, limit=10).notes
        traits = dict(db.execute(select(Entry.title, Entry.traits)).all())
    assert {"town:Brackwater", "country:NO"} <= set(traits["pier"])
    assert "town:Olmar" in traits["barn"] and not any(one.startswith("country") for one in traits["barn"])
    with database.begin() as db:
        db.execute(update(File).where(File.shown == "pier").values(media={}))
        settle(db)
        due = places_due(db, limit=10)
        assert due.entries == [pier] and not due.places
        put_towns(db, due, {})
        settle(db)
        assert not any(one.startswith("town") for one in db.get_one(Entry, pier).traits)
