"""What a person decides is kept, taught, and can be taken back."""

from __future__ import annotations

import os
import random
import signal
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from sqlalchemy import select
from werkzeug.serving import make_server

from indice.settings import Settings
from indice.standins.almanac import Faults, Record, create_almanac
from indice.standins.profile import PROFILE
from indice.store.aliases import list_aliases
from indice.store.catalog import least_certain
from indice.store.database import Database
from indice.store.facts import values_of
from indice.store.libraries import add_library
from indice.store.models import Artwork, Candidate, Entry, Job, Source, now
from indice.store.sources import add_source
from indice.work.decisions import keep_name, take_back, take_candidates
from indice.work.match import libraries_to_ask_again
from indice.work.queue import perform, requeue_lost
from indice.work.requests import request_job


def film(key: str, title: str, year: int, *, aliases: tuple[str, ...] = (), plot: str = "") -> Record:
    """A film that the source of these tests knows."""
    values = {
        "title": [{"str": title}],
        "alsoKnownAs": [{"str": alias} for alias in aliases],
        "released": [{"date": f"{year}-05-05"}],
        "synopsis": [{"str": plot}] if plot else [],
    }
    return Record(key, "Film", title, (title, *aliases), year, (), values)


KNOWN = [
    film("f1", "Gannet Weather", 1988, plot="A gale."),
    film("f2", "Gannet Weathering", 1989),
    film("f3", "The Slow Ferry", 2001),
    film("f4", "The Slower Ferry", 2003),
    film("f5", "Plain Bread", 1999),
]


@pytest.fixture
def url() -> Iterator[str]:
    server = make_server("127.0.0.1", 0, create_almanac(known={r.id: r for r in KNOWN}), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/reconcile"
    server.shutdown()


@pytest.fixture
def library(database: Database, settings: Settings, tmp_path: Path, url: str) -> int:
    """Films of which one is sure and the others wait."""
    for name in ("Ganet Whether (1991)", "Plain Bread (1999)", "Slow Fery (2001)"):
        (tmp_path / "films" / name).mkdir(parents=True)
        (tmp_path / "films" / name / f"{name}.mkv").write_bytes(b"no video")
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url), None)
        made = add_library(
            db,
            name="Films",
            kind="movies",
            folders=[os.fsencode(tmp_path / "films")],
            language="en",
            country="",
            sources=[],
        ).id
    work(database, settings, "scan", made)
    work(database, settings, "match", made)
    return made


def work(database: Database, settings: Settings, kind: str, library_id: int) -> None:
    assert perform(database, settings, request_job(database, kind, library_id)) == "done"


def named(database: Database, beginning: str) -> Entry:
    with database.begin() as db:
        return db.scalars(select(Entry).where(Entry.key.startswith(f"movie:{beginning}"))).one()


def candidate(database: Database, entry: Entry, external_id: str) -> int:
    with database.begin() as db:
        return db.scalars(
            select(Candidate.id).where(Candidate.entry_id == entry.id, Candidate.external_id == external_id)
        ).one()


def test_a_decision_teaches_an_alias_and_is_not_asked_again(
    database: Database, settings: Settings, library: int, tmp_path: Path
) -> None:
    entry = named(database, "ganet")
    assert entry.state == "waiting"
    take_candidates(database, {entry.id: candidate(database, entry, "f1")})
    with database.begin() as db:
        assert [(a.name, a.title) for a, _ in list_aliases(db)] == [("Ganet Whether (1991)", "Gannet Weather")]
        db.delete(db.get_one(Entry, entry.id))
    (tmp_path / "films" / "new.txt").write_text("so that the scan has something to do")
    work(database, settings, "scan", library)
    assert named(database, "ganet").state == "unseen"
    work(database, settings, "match", library)
    again = named(database, "ganet")
    assert (again.state, again.external_id, again.decided_by) == ("settled", "f1", "hand")
    assert "this name means" in again.note


def test_what_no_source_knows_is_remembered_too(database: Database, settings: Settings, library: int) -> None:
    entry = named(database, "slow")
    keep_name(database, entry.id)
    with database.begin() as db:
        db.get_one(Entry, entry.id).state = "unseen"
        db.get_one(Entry, entry.id).decided_by = None
    work(database, settings, "match", library)
    assert named(database, "slow").state == "none"
    take_back(database, entry.id)
    with database.begin() as db:
        assert not list_aliases(db)


def test_none_of_these_takes_away_what_the_wrong_one_said(database: Database, library: int) -> None:
    entry = named(database, "plain")
    assert (entry.state, entry.external_id) == ("settled", "f5")
    keep_name(database, entry.id)
    with database.begin() as db:
        origins = {v.origin for values in values_of(db, [entry.id])[entry.id].values() for v in values}
    assert not [origin for origin in origins if origin.startswith("source:")]
    take_back(database, entry.id)
    again = named(database, "plain")
    assert (again.state, again.external_id, again.decided_by) == ("settled", "f5", "automatic")


def test_several_are_decided_together(database: Database, library: int) -> None:
    one, other = named(database, "ganet"), named(database, "slow")
    take_candidates(database, {one.id: candidate(database, one, "f1"), other.id: candidate(database, other, "f3")})
    assert (named(database, "ganet").external_id, named(database, "slow").external_id) == ("f1", "f3")


def test_taking_another_leaves_nothing_of_the_first_and_undo_brings_it_back(database: Database, library: int) -> None:
    entry = named(database, "ganet")
    take_candidates(database, {entry.id: candidate(database, entry, "f1")})
    take_candidates(database, {entry.id: candidate(database, entry, "f2")})
    with database.begin() as db:
        facts = values_of(db, [entry.id])[entry.id]
        assert "plot" not in facts
        assert {v.value for v in facts["title"]} == {"Ganet Whether", "Gannet Weathering"}
    take_back(database, entry.id)
    with database.begin() as db:
        facts = values_of(db, [entry.id])[entry.id]
        assert [v.value for v in facts["plot"]] == ["A gale."]
    assert named(database, "ganet").external_id == "f1"
    take_back(database, entry.id)
    again = named(database, "ganet")
    assert (again.state, again.external_id, again.title) == ("waiting", None, "Ganet Whether")


def test_the_least_certain_come_first(database: Database, library: int) -> None:
    with database.begin() as db:
        for beginning, score in (("ganet", 0.95), ("slow", 0.91), ("plain", 0.99)):
            entry = db.scalars(select(Entry).where(Entry.key.startswith(f"movie:{beginning}"))).one()
            entry.state, entry.decided_by, entry.score, entry.external_id = "settled", "automatic", score, "f9"
        assert [entry.key.split()[0] for entry in least_certain(db, limit=9)] == ["movie:slow", "movie:ganet"]


def test_killed_in_the_middle_a_match_goes_on_where_it_was(
    database: Database, settings: Settings, tmp_path: Path
) -> None:
    """Killed again and again, everything is decided in the end as if nothing had happened, pictures included."""
    titles = [
        f"{one} {other}"
        for one in ("Gannet", "Copper", "Paper", "Winter", "Harbour")
        for other in ("Bread", "Ferry", "Clock", "Letter", "Orchard", "Tide", "Window", "Garden", "Lantern", "Bridge")
    ]
    known = {
        f"f{n}": replace(
            film(f"f{n}", title, 1960 + n),
            values={**film("", title, 1960 + n).values, "poster": [{"str": f"pictures/f{n}/poster.jpg"}]},
        )
        for n, title in enumerate(titles)
    }
    server = make_server("127.0.0.1", 0, create_almanac(known=known, faults=Faults(slow_seconds=0.05)), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    for n, title in enumerate(titles):
        name = f"{title} ({1960 + n})"
        (tmp_path / "films" / name).mkdir(parents=True)
        (tmp_path / "films" / name / f"{name}.mkv").write_bytes(b"no video")
    with database.begin() as db:
        add_source(db, PROFILE.format(url=f"http://127.0.0.1:{server.server_port}/reconcile"), None)
        folders = [os.fsencode(tmp_path / "films")]
        library = add_library(db, name="F", kind="movies", folders=folders, language="en", country="", sources=[]).id
    work(database, settings, "scan", library)
    job_id = request_job(database, "match", library)
    rng, kills = random.Random(5), 0
    while True:
        child = os.fork()
        if not child:
            perform(Database(database.url), settings, job_id)
            os._exit(0)
        time.sleep(rng.uniform(0.1, 0.6) if kills < 8 else 60)
        done, _ = os.waitpid(child, os.WNOHANG)
        if done:
            break
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        kills += 1
        requeue_lost(database)
    server.shutdown()
    assert kills > 2
    with database.begin() as db:
        assert db.get_one(Job, job_id).state == "done"
        found = {e.external_id for e in db.scalars(select(Entry).where(Entry.state == "settled"))}
        posters = set(db.scalars(select(Artwork.entry_id).where(Artwork.role == "poster")))
    assert found == set(known)
    assert len(posters) == len(known)


def test_what_a_source_did_not_know_is_asked_again_when_another_was_down(
    database: Database, settings: Settings, tmp_path: Path, url: str
) -> None:
    name = "Nobody Knows It (1990)"
    (tmp_path / "films" / name).mkdir(parents=True)
    (tmp_path / "films" / name / f"{name}.mkv").write_bytes(b"no video")
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url), None)
        down = PROFILE.format(url="http://127.0.0.1:9/").replace('"Almanac"', '"Away"')
        add_source(db, down, None)
        folders = [os.fsencode(tmp_path / "films")]
        library = add_library(db, name="F", kind="movies", folders=folders, language="en", country="", sources=[]).id
    work(database, settings, "scan", library)
    perform(database, settings, request_job(database, "match", library))
    assert named(database, "nobody").state == "unseen"
    with database.begin() as db:
        away = db.scalars(select(Source).where(Source.name == "Away")).one()
        assert away.problem
        away.checked_at = now() - timedelta(hours=1)
    assert libraries_to_ask_again(database) == [], "it is still down"
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url).replace('"Almanac"', '"Away"'), None)
        away = db.scalars(select(Source).where(Source.name == "Away")).one()
        away.problem, away.checked_at = "it was down", now() - timedelta(hours=1)
    assert libraries_to_ask_again(database) == [library]
    work(database, settings, "match", library)
    assert named(database, "nobody").state == "none"


def test_an_identifier_in_a_name_is_looked_up_even_if_the_search_does_not_bring_it_up(
    database: Database, settings: Settings, tmp_path: Path, url: str
) -> None:
    for name in ("Quite Another Name [almanac-f5]", "Nobody [almanac-f99]"):
        (tmp_path / "films" / name).mkdir(parents=True)
        (tmp_path / "films" / name / f"{name}.mkv").write_bytes(b"no video")
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url), None)
        folders = [os.fsencode(tmp_path / "films")]
        library = add_library(db, name="F", kind="movies", folders=folders, language="en", country="", sources=[]).id
    work(database, settings, "scan", library)
    work(database, settings, "match", library)
    known = named(database, "quite another name")
    assert (known.state, known.external_id, known.title) == ("settled", "f5", "Plain Bread")
    assert named(database, "nobody").state == "waiting"
