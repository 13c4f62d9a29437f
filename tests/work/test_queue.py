"""The queue hands jobs to a worker, and a job that lost its worker goes on."""

from __future__ import annotations

import os
import threading
from datetime import timedelta
from pathlib import Path

import pytest

from indice.settings import Settings
from indice.store.database import Database
from indice.store.jobs import job_lines
from indice.store.libraries import add_library
from indice.store.models import Entry, Job, now
from indice.web.events import Hub
from indice.work.progress import Progress, Stopped
from indice.work.queue import perform, run_worker
from indice.work.requests import Queue, request_job


@pytest.fixture
def library_id(database: Database, tmp_path: Path) -> int:
    """A library with one small folder of photos' names."""
    folder = tmp_path / "Films"
    (folder / "Moth Season (2016)").mkdir(parents=True)
    (folder / "Moth Season (2016)" / "Moth Season (2016).mkv").write_bytes(b"x")
    with database.begin() as db:
        return add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(folder)], language="en", country="", sources=[]
        ).id


def state_of(database: Database, job_id: int) -> str:
    """How a job stands."""
    with database.begin() as db:
        return db.get_one(Job, job_id).state


def work_off(database: Database, settings: Settings) -> None:
    """Let a worker empty the queue; it wants a thread that may handle no signals of its own."""
    run_worker(database, settings, wait=False)


def test_a_worker_does_what_waits_and_what_follows(database: Database, settings: Settings, library_id: int) -> None:
    job_id = request_job(database, "scan", library_id)
    Queue(database).defer(job_id)
    work_off(database, settings)
    assert state_of(database, job_id) == "done"
    with database.begin() as db:
        assert [job.kind for job in db.query(Job).order_by(Job.id)] == ["scan", "match"]
        assert db.query(Entry).count() == 1


def test_the_same_job_is_not_asked_for_twice(database: Database, library_id: int) -> None:
    first = request_job(database, "scan", library_id)
    Queue(database).defer(first)
    Queue(database).defer(first)
    assert request_job(database, "scan", library_id) == first
    assert request_job(database, "match", library_id) != first


def test_a_job_that_lost_its_worker_is_done_by_the_next(
    database: Database, settings: Settings, library_id: int
) -> None:
    job_id = request_job(database, "scan", library_id)
    with database.begin() as db:
        job = db.get_one(Job, job_id)
        job.state, job.beat_at = "running", now() - timedelta(minutes=3)
    work_off(database, settings)
    assert state_of(database, job_id) == "done"


def test_an_unknown_job_fails_in_words(database: Database, settings: Settings, library_id: int) -> None:
    job_id = request_job(database, "dance", library_id)
    assert perform(database, settings, job_id) == "failed"
    with database.begin() as db:
        assert "dance" in db.get_one(Job, job_id).message
        assert [line.level for line in job_lines(db, job_id, limit=5)] == ["error"]


def test_progress_is_told_and_the_stop_button_heard(database: Database, library_id: int) -> None:
    job_id = request_job(database, "scan", library_id)
    progress = Progress(database, job_id)
    progress.step("Reading", 10)
    progress.advance(3, "a.mkv")
    progress.tell()
    with database.begin() as db:
        job = db.get_one(Job, job_id)
        assert (job.step, job.done, job.total, job.current) == ("Reading", 3, 10, "a.mkv")
        job.stop_wanted = True
    with pytest.raises(Stopped):
        progress.tell()


def test_screens_hear_what_changes(database: Database, library_id: int) -> None:
    stream = Hub(database.plain_url).stream()
    assert next(stream).startswith("retry")
    heard: list[str] = []

    def listen() -> None:
        for message in stream:
            heard.append(message)
            if "catalog" in message:
                return

    listener = threading.Thread(target=listen, daemon=True)
    listener.start()
    progress = Progress(database, request_job(database, "scan", library_id))
    for _ in range(40):
        progress.changed("catalog")
        listener.join(0.25)
        if not listener.is_alive():
            break
    assert any("catalog" in message for message in heard)
