"""Intake: waiting until a thing is complete, proposing where it goes, filing it, and taking that back."""

from __future__ import annotations

from pathlib import Path

import pytest
from sqlalchemy import select

from indice.settings import Settings
from indice.store.aliases import teach_alias
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Arrival, Entry, Intake, Library, Plan
from indice.store.sources import add_source
from indice.work.intake import file_arrival, look_at_intakes
from indice.work.progress import Progress
from indice.work.queue import perform
from indice.work.requests import request_job
from indice.work.tidy import undo_plan

from .test_scan_and_match import PROFILE, almanac_url, household  # noqa: F401


@pytest.fixture
def door(database: Database, tmp_path: Path) -> tuple[Path, Path, int]:
    """An intake folder, a library of films beside it, and the intake's id."""
    landing, films = tmp_path / "landing", tmp_path / "films"
    landing.mkdir()
    films.mkdir()
    (films / "keep.nfo").write_text("x")
    with database.begin() as db:
        add_library(
            db, name="Films", kind="movies", folders=[str(films).encode()], language="en", country="", sources=[]
        )
        intake = Intake(path=str(landing).encode(), shown=str(landing))
        db.add(intake)
        db.flush()
        return landing, films, intake.id


def states(database: Database) -> dict[str, str]:
    """Every arrival and where it stands."""
    with database.begin() as db:
        return {row.path: row.state for row in db.scalars(select(Arrival))}


def test_a_thing_waits_until_it_is_complete(
    database: Database, settings: Settings, door: tuple[Path, Path, int]
) -> None:
    landing, _, intake_id = door
    film = landing / "Harbour.Glass.1987.1080p.mkv"
    film.write_bytes(b"half")
    look_at_intakes(database, settings, intake_id, still_seconds=3600)
    assert states(database) == {film.name: "growing"}
    film.write_bytes(b"half and more")
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    assert states(database) == {film.name: "proposed"}
    (landing / "other.mkv.part").write_bytes(b"x")
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    assert states(database)["other.mkv.part"] == "growing"
    film.unlink()
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    assert film.name not in states(database)


def test_a_proposal_is_filed_and_taken_back(
    database: Database, settings: Settings, door: tuple[Path, Path, int]
) -> None:
    landing, films, intake_id = door
    for name in ("harbour.glass.1987.mkv", "harbour.glass.1987.en.srt", "poster.jpg"):
        path = landing / "harbour.glass.1987.1080p-TERN" / name
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(name.encode())
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    with database.begin() as db:
        arrival = db.scalars(select(Arrival)).one()
        assert (arrival.state, arrival.why) == ("proposed", "No source is sure what it is.")
        arrival_id = arrival.id
    library_id = file_arrival(database, settings, arrival_id)
    assert sorted(str(p.relative_to(films)) for p in films.rglob("*") if p.is_file()) == [
        "harbour glass (1987)/harbour glass (1987).en.srt",
        "harbour glass (1987)/harbour glass (1987).mkv",
        "harbour glass (1987)/poster.jpg",
        "keep.nfo",
    ]
    assert not (landing / "harbour.glass.1987.1080p-TERN").exists()
    job_id = request_job(database, "scan", library_id)
    assert perform(database, settings, job_id) == "done"
    with database.begin() as db:
        plan_id = db.scalars(select(Plan.id)).one()
    undo_plan(database, settings, plan_id, Progress(database, job_id))
    assert (
        landing / "harbour.glass.1987.1080p-TERN" / "harbour.glass.1987.mkv"
    ).read_bytes() == b"harbour.glass.1987.mkv"


def test_what_is_there_already_or_is_nothing_is_said(
    database: Database, settings: Settings, door: tuple[Path, Path, int]
) -> None:
    landing, films, intake_id = door
    (films / "Harbour Glass (1987)").mkdir()
    (films / "Harbour Glass (1987)" / "Harbour Glass (1987).mkv").write_bytes(b"mine")
    (landing / "Harbour Glass (1987).mkv").write_bytes(b"new")
    (landing / "letter.txt").write_bytes(b"x")
    (landing / "01 - Ebb.flac").write_bytes(b"x")
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    assert set(states(database).values()) == {"unknown"}
    with database.begin() as db:
        why = {row.path: row.why for row in db.scalars(select(Arrival))}
    assert "already" in why["Harbour Glass (1987).mkv"]
    assert why["01 - Ebb.flac"].startswith("There is no library")


def test_what_is_sure_is_filed_alone(
    database: Database,
    settings: Settings,
    door: tuple[Path, Path, int],
    household: Path,  # noqa: F811
    almanac_url: str,  # noqa: F811
) -> None:
    landing, films, intake_id = door
    source = household / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4"
    (landing / source.name).write_bytes(source.read_bytes())
    with database.begin() as db:
        add_source(db, PROFILE.format(url=almanac_url), None)
        db.get_one(Intake, intake_id).alone = True
    filed = look_at_intakes(database, settings, intake_id, still_seconds=0)
    with database.begin() as db:
        assert filed, [(a.path, a.why) for a in db.scalars(select(Arrival))]
    assert states(database) == {source.name: "filed"}
    assert any(path.suffix == ".mp4" for path in films.rglob("*"))


def test_a_name_that_was_explained_is_not_asked_again(
    database: Database,
    settings: Settings,
    door: tuple[Path, Path, int],
    almanac_url: str,  # noqa: F811
) -> None:
    landing, _, intake_id = door
    with database.begin() as db:
        source = add_source(db, PROFILE.format(url=almanac_url), None)
        library = db.scalars(select(Library)).one()
        for name, external_id in (("moths at home", "f0001"), ("our own", None)):
            said = Entry(library_id=library.id, key=f"movie:{name}", kind="movie", title=name, sort_title=name)
            db.add(said)
            db.flush()
            teach_alias(db, said, source.id if external_id else None, external_id, "What it means")
    for name in ("Moths at Home.mkv", "Our Own.mkv"):
        (landing / name).write_bytes(b"no video")
    look_at_intakes(database, settings, intake_id, still_seconds=0)
    with database.begin() as db:
        why = {row.path: row.why for row in db.scalars(select(Arrival))}
    assert "this name means" in why["Moths at Home.mkv"]
    assert "no source knows it" in why["Our Own.mkv"]


def test_a_landing_place_that_is_gone_is_said(
    database: Database, settings: Settings, door: tuple[Path, Path, int]
) -> None:
    landing, _, intake_id = door
    landing.rmdir()
    assert look_at_intakes(database, settings, intake_id) == []
    with database.begin() as db:
        assert "not there" in db.get_one(Intake, intake_id).problem
