"""Jobs whose worker, connection or database fails: each ends in a state that says
what happened, and goes on where it can."""

from __future__ import annotations

import os
import random
import shutil
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path

import psycopg
import pytest
from sqlalchemy import func, select, text

import indice.work.queue as queueing
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Job
from indice.work.lease import JOB, LIBRARY, Lease, LeaseLost
from indice.work.progress import Progress
from indice.work.queue import perform, requeue_lost
from indice.work.requests import Queue, request_job

from .conftest import declare, told


def state_of(database: Database, job_id: int) -> str:
    """How a job stands."""
    with database.begin() as db:
        return db.get_one(Job, job_id).state


def test_a_job_is_never_performed_twice_at_once(database: Database, settings: Settings, household: Path) -> None:
    job_id = request_job(database, "scan", declare(database, household / "films", "movies"))
    other = Lease(database)
    assert other.take(JOB, job_id)
    assert perform(database, settings, job_id) == "gone"
    assert state_of(database, job_id) == "queued"
    other.end()
    assert perform(database, settings, job_id) == "done"
    assert perform(database, settings, job_id) == "gone"


def test_a_scan_that_is_asked_for_during_a_scan_is_that_scan(database: Database, household: Path) -> None:
    library = declare(database, household / "films", "movies")
    ids: list[int] = []
    threads = [threading.Thread(target=lambda: ids.append(request_job(database, "scan", library))) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(ids) == 8 and len(set(ids)) == 1
    with database.begin() as db:
        db.get_one(Job, ids[0]).state = "running"
    Queue(database).defer(ids[0])
    with database.begin() as db:
        assert db.execute(text("select count(*) from procrastinate_jobs")).scalar() == 0


def test_jobs_of_one_library_wait_for_each_other(database: Database, settings: Settings, household: Path) -> None:
    library = declare(database, household / "films", "movies")
    busy = Lease(database)
    assert busy.take(LIBRARY, library)
    job_id = request_job(database, "scan", library)
    ended: list[str] = []
    performing = threading.Thread(target=lambda: ended.append(perform(database, settings, job_id)))
    performing.start()
    for _ in range(100):
        with database.begin() as db:
            if db.get_one(Job, job_id).step.startswith("Waits for another job"):
                break
        time.sleep(0.05)
    else:
        pytest.fail("it did not wait")
    busy.end()
    performing.join(30)
    assert ended == ["done"]


def test_a_job_whose_holder_is_gone_is_lost_at_once_and_one_that_is_held_is_not(
    database: Database, household: Path
) -> None:
    library = declare(database, household / "films", "movies")
    lost, held = request_job(database, "scan", library), request_job(database, "match", library)
    with database.begin() as db:
        db.get_one(Job, lost).state = db.get_one(Job, held).state = "running"
    lease = Lease(database)
    lease.take(JOB, held)
    assert requeue_lost(database) == [lost]
    assert (state_of(database, lost), state_of(database, held)) == ("queued", "running")
    lease.end()


def test_a_lease_whose_connection_is_cut_is_noticed(
    database: Database, household: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("indice.work.lease.LOOK_EVERY_SECONDS", 0.0)
    job_id = request_job(database, "scan", declare(database, household / "films", "movies"))
    lease = Lease(database)
    lease.take(JOB, job_id)
    progress = Progress(database, job_id, lease)
    progress.tell()
    cut_all(database)
    with pytest.raises(LeaseLost):
        progress.tell()


def cut_all(database: Database) -> None:
    """Cut every connection to a database."""
    server = database.plain_url.rsplit("/", 1)
    with psycopg.connect(server[0] + "/postgres", autocommit=True) as link:
        link.execute("select pg_terminate_backend(pid) from pg_stat_activity where datname = %s", (server[1],))


def test_a_job_whose_connection_is_cut_is_tried_again(
    database: Database, settings: Settings, household: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    job_id = request_job(database, "scan", declare(database, household / "films", "movies"))
    real = queueing.scan_library

    def cut(database: Database, *more: object, **named: object) -> str:
        with database.begin() as db:
            db.execute(text("select 1"))
            cut_all(database)
            db.execute(text("select 1"))
        return ""

    monkeypatch.setattr(queueing, "scan_library", cut)
    assert perform(database, settings, job_id) == "queued"
    with database.begin() as db:
        job = db.get_one(Job, job_id)
        assert (job.state, job.tries) == ("queued", 1) and "could not go on" in job.message
    monkeypatch.setattr(queueing, "scan_library", real)
    assert perform(database, settings, job_id) == "done"


def test_what_fails_again_and_again_ends_as_failed(
    database: Database, settings: Settings, household: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from sqlalchemy.exc import OperationalError

    def full(*_: object, **named: object) -> str:
        raise OperationalError("insert", {}, psycopg.errors.DiskFull("could not extend file: No space left on device"))

    monkeypatch.setattr(queueing, "scan_library", full)
    job_id = request_job(database, "scan", declare(database, household / "films", "movies"))
    ends = [perform(database, settings, job_id) for _ in range(queueing.MOST_TRIES)]
    assert ends == ["queued"] * (queueing.MOST_TRIES - 1) + ["failed"]
    with database.begin() as db:
        assert "No space left" in db.get_one(Job, job_id).message


def test_a_job_that_stands_in_no_queue_is_put_there(database: Database, household: Path) -> None:
    job_id = request_job(database, "scan", declare(database, household / "films", "movies"))
    for _ in range(3):
        requeue_lost(database)
    with database.begin() as db:
        assert db.execute(text("select args->>'job_id' from procrastinate_jobs")).scalars().all() == [str(job_id)]


@pytest.fixture
def worker(database: Database, settings: Settings) -> Callable[[], subprocess.Popen[bytes]]:
    """Starts a worker, a process of its own."""
    settings.home.mkdir(parents=True, exist_ok=True)
    env = {**os.environ, "INDICE_HOME": str(settings.home), "INDICE_DATABASE_URL": database.plain_url}
    env["PYTHONPATH"] = str(Path(queueing.__file__).parents[2])

    def start() -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", "indice.cli", "worker"],
            env=env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )

    return start


def test_workers_killed_at_random_moments_come_to_the_same_as_a_calm_scan(
    tmp_path: Path,
    database: Database,
    settings: Settings,
    household: Path,
    worker: Callable[[], subprocess.Popen[bytes]],
) -> None:
    """Two workers; one or both are killed, connections are cut, and scans are asked for meanwhile."""
    dice = random.Random(20261127)
    libraries: list[tuple[int, str]] = []
    for kind, library in (("films", "movies"), ("music", "music"), ("photos", "photos")):
        shutil.copytree(household / kind, tmp_path / kind)
        libraries.append((declare(database, tmp_path / kind, library), kind))
    for library_id, _ in libraries:
        Queue(database).defer(request_job(database, "scan", library_id))
    workers = [worker(), worker()]
    for _ in range(40):
        time.sleep(dice.uniform(0.3, 1.0))
        if dice.random() < 0.2:
            cut_all(database)
        for place in range(2):
            if dice.random() < 0.35:
                os.killpg(workers[place].pid, signal.SIGKILL)
                workers[place].wait()
                workers[place] = worker()
        if dice.random() < 0.5:
            library_id, kind = dice.choice(libraries)
            with database.begin() as db:
                db.execute(text("update file set looked_by = 0, pictured_by = 0, checked_by = 0 where id % 3 = 0"))
            Queue(database).defer(request_job(database, "scan", library_id))
    try:
        await_calm(database, workers, worker)
    finally:
        for one in workers:
            one.terminate()
            one.wait()
    for library_id, kind in libraries:
        assert perform(database, settings, request_job(database, "scan", library_id)) == "done"
        calm = declare(database, household / kind, "movies" if kind == "films" else kind)
        perform(database, settings, request_job(database, "scan", calm))
        assert told(database, library_id) == told(database, calm)


def await_calm(
    database: Database,
    workers: list[subprocess.Popen[bytes]],
    worker: Callable[[], subprocess.Popen[bytes]],
) -> None:
    """Wait until no job waits or runs; a worker that ended of a cut connection is
    started again, as the supervisor does."""
    for _ in range(240):
        for place, one in enumerate(workers):
            if one.poll() is not None:
                workers[place] = worker()
        with database.begin() as db:
            active = db.scalar(select(func.count()).select_from(Job).where(Job.state.in_(("queued", "running"))))
        if not active:
            return
        time.sleep(0.25)
    with database.begin() as db:
        rows = [(job.id, job.kind, job.state, job.step, job.message) for job in db.scalars(select(Job))]
    pytest.fail(f"jobs are stuck: {rows}")
