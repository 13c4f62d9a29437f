"""Libraries are scanned when their time has come: by schedule, or by the pace of network shares."""

from __future__ import annotations

import os
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import pytest

from indice.errors import IndiceError
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library, set_schedule
from indice.store.models import Job, Library, now
from indice.work import watch
from indice.work.requests import request_job


@pytest.fixture
def library(database: Database, tmp_path: Path) -> int:
    root = tmp_path / "films"
    root.mkdir()
    with database.begin() as db:
        return add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(root)], language="en", country="", sources=[]
        ).id


def asked(database: Database, settings: Settings, *, watched: bool = True) -> int:
    """How many scans are asked for now."""
    told: list[int] = []
    watch._ask_in_time(database, settings, watch._folders(database), told.append, watched=watched)
    return len(told)


def scanned(database: Database, library_id: int, ago: timedelta) -> None:
    with database.begin() as db:
        db.get_one(Library, library_id).scanned_at = now() - ago


def test_a_schedule_asks_for_a_scan_once(database: Database, settings: Settings, library: int) -> None:
    scanned(database, library, timedelta(hours=7))
    assert asked(database, settings) == 0, "without a schedule only changes do"
    with database.begin() as db:
        set_schedule(db.get_one(Library, library), "every 6 hours")
    assert asked(database, settings) == 1
    assert asked(database, settings) == 0, "one waits already"


def test_what_was_scanned_in_time_is_not_asked_for(database: Database, settings: Settings, library: int) -> None:
    with database.begin() as db:
        set_schedule(db.get_one(Library, library), "every 6 hours")
    scanned(database, library, timedelta(hours=5))
    assert asked(database, settings) == 0


def test_a_scan_that_failed_is_not_tried_on_and_on(database: Database, settings: Settings, library: int) -> None:
    with database.begin() as db:
        set_schedule(db.get_one(Library, library), "every hour")
    scanned(database, library, timedelta(hours=2))
    job_id = request_job(database, "scan", library)
    with database.begin() as db:
        job = db.get_one(Job, job_id)
        job.state, job.finished_at = "failed", now()
    assert asked(database, settings) == 0
    with database.begin() as db:
        db.get_one(Job, job_id).finished_at = now() - watch.AGAIN
    assert asked(database, settings) == 1


def test_where_nothing_is_told_the_pace_counts(database: Database, settings: Settings, library: int) -> None:
    scanned(database, library, timedelta(minutes=11))
    assert asked(database, replace(settings, poll_minutes=0), watched=False) == 0
    assert asked(database, replace(settings, poll_minutes=12), watched=False) == 0
    assert asked(database, replace(settings, poll_minutes=10), watched=False) == 1


def test_what_is_no_schedule_is_refused_in_words(database: Database, library: int) -> None:
    with database.begin() as db:
        with pytest.raises(IndiceError) as problem:
            set_schedule(db.get_one(Library, library), "now and then")
        assert problem.value.reference == "schedule-wrong" and "now and then" in problem.value.message
        set_schedule(db.get_one(Library, library), " Nightly at 03:00 ")
        assert db.get_one(Library, library).schedule == "nightly at 3"
        set_schedule(db.get_one(Library, library), "")
        assert db.get_one(Library, library).schedule == ""


def test_in_quiet_hours_nothing_begins_by_itself(database: Database, settings: Settings, library: int) -> None:
    with database.begin() as db:
        set_schedule(db.get_one(Library, library), "every hour")
    scanned(database, library, timedelta(hours=2))
    here = datetime.now().astimezone()
    quiet = f"{(here.hour - 1) % 24}-{(here.hour + 2) % 24}"
    assert asked(database, replace(settings, quiet_hours=quiet)) == 0
    loud = f"{(here.hour + 2) % 24}-{(here.hour + 3) % 24}"
    assert asked(database, replace(settings, quiet_hours=loud)) == 1, "what was put off is made good"
