"""A film's set is asked of its source when the film is taken, once for all its films, and never in the way of it."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select
from werkzeug.serving import make_server

from indice.settings import Settings
from indice.standins.almanac import Record, create_almanac
from indice.standins.profile import PROFILE
from indice.store.database import Database
from indice.store.film_sets import sets_page, what_sets_lack
from indice.store.libraries import add_library
from indice.store.models import Entry, FilmSetFilm, SourceAnswer
from indice.store.sources import add_source
from indice.work.queue import perform
from indice.work.requests import request_job


def film(key: str, title: str, date: str, of: list[Any]) -> Record:
    values = {"title": [{"str": title}], "released": [{"date": date}] if date else [], "collection": of}
    return Record(key, "Film", title, (title,), int(date[:4]) if date else None, (), values)


TIDES = [{"id": "c1", "name": "Tide Tables"}]
KNOWN = [
    film("f1", "Neap", "1988-05-05", TIDES),
    film("f2", "Spring Flood", "1993-01-09", TIDES),
    film("f3", "Slack Water", "2032-08-01", TIDES),
    film("f4", "Plain Bread", "1999-05-05", [{"str": "Bread films"}]),
    film("f5", "Empty Larder", "2001-05-05", [{"id": "c2", "name": "Larders"}]),
    film("f6", "Odd Socks", "2004-05-05", [{"id": "nobody", "name": "Lost"}]),
    Record("f0", "Film", "", (), None, (), {}),
    Record(
        "c1", "Collection", "Tide Tables", (), None, (),
        {"title": [{"str": "The Tide Tables"}], "films": [{"id": f"f{n}", "name": "x"} for n in (1, 2, 3, 0)]},
    ),
    Record("c2", "Collection", "Larders", (), None, (), {"title": [{"str": "Larders"}], "films": [{"str": "loose"}]}),
]  # fmt: skip


@pytest.fixture
def url() -> Iterator[str]:
    server = make_server("127.0.0.1", 0, create_almanac(known={r.id: r for r in KNOWN}), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/reconcile"
    server.shutdown()


def matched(database: Database, settings: Settings, folder: Path, profile: str, *names: str) -> None:
    for name in names:
        (folder / name).mkdir(parents=True)
        (folder / name / f"{name}.mkv").write_bytes(b"no video")
    with database.begin() as db:
        add_source(db, profile, None)
        library = add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(folder)], language="en", country="", sources=[]
        ).id
    for kind in ("scan", "match"):
        assert perform(database, settings, request_job(database, kind, library)) == "done"


def lacking(database: Database) -> dict[str, list[str]]:
    with database.begin() as db:
        sets = sets_page(db, None, 10)
        told = what_sets_lack(db, sets, today="2026-12-01")
        return {one.title: [lack.title for lack in told.get(one.id, ())] for one in sets}


def test_what_the_source_knows_of_a_set(database: Database, settings: Settings, tmp_path: Path, url: str) -> None:
    names = ("Neap (1988)", "Plain Bread (1999)", "Empty Larder (2001)", "Odd Socks (2004)")
    matched(database, settings, tmp_path / "films", PROFILE.format(url=url), *names)
    assert lacking(database) == {"The Tide Tables": ["Spring Flood", "Slack Water"]}
    with database.begin() as db:
        assert {e.state for e in db.scalars(select(Entry))} == {"settled"}, "what is said of sets is in nobody's way"
        assert list(db.scalars(select(FilmSetFilm.date).order_by(FilmSetFilm.place))) == [
            "1988-05-05",
            "1993-01-09",
            "2032-08-01",
        ]


def test_a_profile_without_sets_asks_nothing_of_them(
    database: Database, settings: Settings, tmp_path: Path, url: str
) -> None:
    whole = PROFILE.format(url=url)
    start, end = whole.index("[set]"), whole.index("[series]")
    matched(database, settings, tmp_path / "films", whole[:start] + whole[end:], "Neap (1988)")
    assert lacking(database) == {}
    with database.begin() as db:
        asked = [str(answer) for answer in db.scalars(select(SourceAnswer.answer))]
    assert asked and not any("Spring Flood" in one for one in asked)
