"""The workers' side of the queue: any worker that sees the same database takes what waits there."""

from __future__ import annotations

import asyncio
import gc
import os
import sys
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from typing import TYPE_CHECKING, Any

import psycopg
import structlog
from sqlalchemy import func, select
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.orm import Session
from tenacity import retry, retry_if_exception_type, stop_after_delay, wait_exponential

from ..core.phrase import joined, phrase
from ..core.schedule import seconds_of_quiet
from ..disk.pace import set_paces
from ..disk.workshop import give_way
from ..errors import IndiceError
from ..settings import Settings
from ..store.database import Database
from ..store.decisions import has_entries_to_match
from ..store.jobs import ACTIVE, announce, lost_jobs
from ..store.machines import hand_home
from ..store.models import Job, Library, now
from ..store.paths import exact_path
from .backup import is_backup_due, scheduled_backup
from .bins import empty_bins
from .check_changed import check_changed
from .digests import has_undigested, take_digests
from .duplicates import look_for_duplicates
from .intake import poll_intakes
from .lease import JOB, Lease, LeaseLost
from .machines import Along, Here
from .match import libraries_to_ask_again, match_library
from .passages import has_unheard, listen_to_library
from .progress import Progress, Stopped
from .requests import APART, HOME_QUEUE, QUEUES, Queue, request_backup, request_job
from .scan import NOTHING_CHANGED, scan_library
from .tidy import apply_plan, mend_plans, undo_plan
from .traits import settle_all
from .watch import watch_folders
from .write_back import apply_writing, mend_writing, undo_writing

if TYPE_CHECKING:
    from procrastinate import App

__all__ = ["perform", "requeue_lost", "run_worker"]

log = structlog.get_logger()


SWITCH_SECONDS = 0.0005
"""So long a thread computes before another, whose answer has come from the database, gets
on: short, as there are many of these."""
COLLECT_AFTER = (100_000, 20, 20)
"""Jobs make many small things that live for a while; to look for rings among them
after every 700 took half of the time."""


def perform(database: Database, settings: Settings, job_id: int, machine: Here | None = None) -> str:
    """Run one job here and now; returns the state in which it ended, or `gone` when it is not ours to run.

    Never raises: what went wrong stands in the job. Where the database or its connection failed, the job goes back into
    the queue and is tried again, a few times.
    """
    gc.set_threshold(*COLLECT_AFTER)
    sys.setswitchinterval(SWITCH_SECONDS)
    try:
        lease = Lease(database)
    except psycopg.Error as error:
        log.error("database_failed", job_id=job_id, error=str(error).strip())
        return "gone"
    try:
        if not lease.take(JOB, job_id):
            return "gone"
        if machine is not None and not machine.sees_job(database, job_id):
            with database.begin() as db:
                hand_home(db, job_id)
            Queue(database).defer(job_id)
            return "gone"
        begun = _begin(database, job_id, machine)
        if begun is None:
            return "gone"
        kind, library_id, subject, tries = begun
        progress = Progress(database, job_id, lease)
        state, message = _attempt(kind, _Task(database, settings, subject, progress, library_id))
        if state == "again":
            state = "queued" if tries < MOST_TRIES else "failed"
        if state != "lost":
            _end(database, job_id, state, message)
        if state == "done":
            settle_all(database)
        return state
    except (OperationalError, InterfaceError, LeaseLost) as error:
        log.error("database_failed", job_id=job_id, error=str(error))
        return "lost"
    finally:
        lease.end()


def _begin(database: Database, job_id: int, machine: Here | None) -> tuple[str, int | None, dict[str, Any], int] | None:
    """Mark a job as running; None when it is not there to be run."""
    with database.begin() as db:
        job = db.get(Job, job_id, with_for_update=True)
        if job is None or job.state not in ACTIVE:
            return None
        job.state, job.started_at, job.beat_at, job.message = "running", now(), now(), ""
        job.tries += 1
        job.machine_id = machine.id if machine is not None else None
        announce(db, "jobs")
        return job.kind, job.library_id, dict(job.subject), job.tries


def _attempt(kind: str, task: _Task) -> tuple[str, str]:
    """State and message in which an attempt ends; `again` when it should be tried
    again, `lost` when another may have it."""
    progress = task.progress
    try:
        if task.library_id is not None and kind not in APART:
            progress.wait_for_library(task.library_id)
        return "done", _run(kind, task)
    except Stopped:
        return "stopped", phrase("Stopped by hand. What was done so far is kept.")
    except LeaseLost:
        log.error("lease_lost", job_id=progress.job_id)
        return "lost", ""
    except IndiceError as error:
        message = joined(error.message, error.hint)
        progress.try_log(message)
        return "failed", message
    except (OperationalError, InterfaceError) as error:
        log.error("database_failed", job_id=progress.job_id, error=str(error.orig))
        reason = str(error.orig).strip().splitlines() or [phrase("it does not answer")]
        return "again", phrase("The database could not go on: {reason}. Is its disk full?", reason=reason[0])
    except OSError as error:
        log.error("job_failed", job_id=progress.job_id, kind=kind, exc_info=error)
        message = phrase("The system could not go on: {why}.", why=error.strerror or error)
        progress.try_log(message)
        return "failed", message
    except Exception as error:  # the outermost layer of a job: everything is told, nothing is lost
        log.error("job_failed", job_id=progress.job_id, kind=kind, exc_info=error)
        message = phrase(
            "Something went wrong that should not: {name}. The log in the data folder has the details.",
            name=type(error).__name__,
        )
        progress.try_log(message)
        return "failed", message


@retry(
    retry=retry_if_exception_type((OperationalError, InterfaceError)),
    wait=wait_exponential(multiplier=0.2, max=5),
    stop=stop_after_delay(30),
    reraise=True,
)
def _end(database: Database, job_id: int, state: str, message: str) -> None:
    """Write down how a job ended; a database that is down is waited for."""
    with database.begin() as db:
        job = db.get(Job, job_id)
        if job is None:
            return
        job.state, job.message, job.current, job.rate = state, message, "", 0.0
        job.finished_at = None if state == "queued" else now()
        if state == "queued":
            job.step = phrase("Waits to be tried again")
        if state == "done":
            job.done = max(job.total, job.done)
        announce(db, "jobs")


@dataclass(frozen=True, slots=True)
class _Task:
    """What a job of any kind is given."""

    database: Database
    settings: Settings
    subject: Mapping[str, Any]
    progress: Progress
    library_id: int | None

    @property
    def library(self) -> int:
        """The library it is about; raises :class:`IndiceError` where it is about none."""
        if self.library_id is None:
            raise IndiceError(phrase("A job of this kind needs a library."))
        return self.library_id


def _run(kind: str, task: _Task) -> str:
    """Do what a job of a kind does; returns what came of it, in words."""
    work = _KINDS.get(kind)
    if work is None:
        raise IndiceError(phrase("There is no job of kind {kind}.", kind=kind))
    return work(task)


def _write(task: _Task) -> str:
    said = apply_writing(task.database, task.settings, task.subject["plan"], task.progress)
    return _then_scan(task, said)


def _unwrite(task: _Task) -> str:
    said = undo_writing(task.database, task.settings, task.subject["plan"], task.progress)
    return _then_scan(task, said)


def _then_scan(task: _Task, said: str) -> str:
    """What was written is looked at by a scan."""
    if task.library_id is not None:
        Queue(task.database).defer(request_job(task.database, "scan", task.library_id))
    return said


def _tidy(task: _Task) -> str:
    return apply_plan(task.database, task.settings, task.subject["plan"], task.progress)


def _undo(task: _Task) -> str:
    return undo_plan(task.database, task.settings, task.subject["plan"], task.progress, only=task.subject.get("only"))


def _back_up(task: _Task) -> str:
    task.progress.step(phrase("Writing a backup"))
    return scheduled_backup(task.database, task.settings)


def _scan(task: _Task) -> str:
    """Scan a library, and let follow what its finds ask for."""
    database, library_id = task.database, task.library
    told = task.subject.get("only")
    only = {int(id_): [os.fsencode(exact_path(d)) for d in dirs] for id_, dirs in told.items()} if told else None
    verify = bool(task.subject.get("verify"))
    said = scan_library(database, task.settings, library_id, task.progress, verify=verify, only=only)
    with database.begin() as db:
        follow = _is_to_match(db, library_id)
    if follow or (said != NOTHING_CHANGED and follow is not None):
        Queue(database).defer(request_job(database, "match", library_id))
    quiet = seconds_of_quiet(task.settings.quiet_hours, datetime.now().astimezone())
    if has_undigested(database, library_id):
        Queue(database).defer(request_job(database, "digest", library_id), in_seconds=quiet)
    if said != NOTHING_CHANGED and has_unheard(database, library_id):
        Queue(database).defer(request_job(database, "listen", library_id), in_seconds=quiet)
    return said


def _listen(task: _Task) -> str:
    return phrase(
        "{n} openings and closings are known.",
        n=listen_to_library(task.database, task.library, task.progress),
    )


def _digest(task: _Task) -> str:
    return phrase(
        "Fingerprints of {n} files were taken.",
        n=take_digests(task.database, task.library, task.progress),
    )


def _match(task: _Task, *, again: bool = False) -> str:
    said, is_changed = match_library(task.database, task.settings, task.library, task.progress, again=again)
    if is_changed:
        task.progress.step(phrase("Checking names"))
        check_changed(task.database, task.library)
        task.progress.changed("findings")
    return said


_KINDS: Mapping[str, Callable[[_Task], str]] = {
    "scan": _scan,
    "match": _match,
    "match-again": partial(_match, again=True),
    "digest": _digest,
    "listen": _listen,
    "tidy": _tidy,
    "undo": _undo,
    "write": _write,
    "unwrite": _unwrite,
    "duplicates": lambda task: look_for_duplicates(task.database, task.progress),
    "backup": _back_up,
}


def _is_to_match(db: Session, library_id: int) -> bool | None:
    """Whether something waits to be matched, or a match was broken off; None where nothing ever is."""
    if db.get_one(Library, library_id).kind in ("photos", "home-videos"):
        return None
    last = db.scalars(
        select(Job.state)
        .where(Job.library_id == library_id, Job.kind.in_(("match", "match-again")))
        .order_by(Job.id.desc())
        .limit(1)
    ).first()
    return last != "done" or has_entries_to_match(db, library_id)


def worker_app(database: Database, settings: Settings, machine: Here) -> App:
    """The queue's side that performs."""
    import procrastinate

    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database.plain_url))

    @app.task(name="perform", queue="indice")
    def run(job_id: int) -> None:
        perform(database, settings, job_id, machine)

    return app


POLL_SECONDS = 5
BINS_EVERY_SECONDS = 3600.0
MOST_TRIES = 5
BEAT_SECONDS = 5.0
STALLED_SECONDS = 15.0


def requeue_lost(database: Database) -> list[int]:
    """Jobs whose worker died, or that wait and stand in no queue, go on; returns their ids."""
    with database.begin() as db:
        lost = lost_jobs(db, lambda job_id: bool(db.scalar(select(func.pg_try_advisory_xact_lock(JOB, job_id)))))
        waiting = {job.id: job.tries for job in db.scalars(select(Job).where(Job.state == "queued"))}
    if waiting:
        asyncio.run(_clear_stalled(database, {f"job-{job_id}" for job_id in lost}))
    for job_id, tries in waiting.items():
        Queue(database).defer(job_id, in_seconds=0 if job_id in lost else min(2**tries - 1, 60))
    return lost


async def _clear_stalled(database: Database, lost: set[str]) -> None:
    """Take what lost its worker out of the queue's own books, so that it holds up nothing that waits for its lock."""
    import procrastinate
    from procrastinate.jobs import Status

    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database.plain_url))
    async with app.open_async():
        doing = await app.job_manager.list_jobs_async(task="perform", status="doing")
        stalled = {job.id for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_SECONDS)}
        for job in doing:
            if job.id is not None and (job.id in stalled or job.queueing_lock in lost):
                await app.job_manager.finish_job_by_id_async(job.id, Status.FAILED, delete_job=True)


def _watch(database: Database, settings: Settings) -> None:
    """Every few seconds, as long as the worker lives: lost jobs, intake folders, sources that are back."""
    while True:
        time.sleep(POLL_SECONDS)
        for look in (_watch_jobs, _watch_sources, _watch_intakes, _watch_backups, _watch_bins):
            try:
                look(database, settings)
            except Exception as error:  # the watch must not end; what failed is tried again in a moment
                log.warning("watch_failed", look=look.__name__, error=str(error))


def _watch_jobs(database: Database, _: Settings) -> None:
    for job_id in requeue_lost(database):
        log.warning("job_lost", job_id=job_id)


def _watch_sources(database: Database, _: Settings) -> None:
    for library_id in libraries_to_ask_again(database):
        Queue(database).defer(request_job(database, "match", library_id))


def _watch_intakes(database: Database, settings: Settings) -> None:
    for library_id in dict.fromkeys(poll_intakes(database, settings)):
        Queue(database).defer(request_job(database, "scan", library_id))


_bins_looked_at = [0.0]


def _watch_bins(database: Database, _: Settings) -> None:
    if time.monotonic() - _bins_looked_at[0] > BINS_EVERY_SECONDS or not _bins_looked_at[0]:
        _bins_looked_at[0] = time.monotonic()
        empty_bins(database)


def _watch_backups(database: Database, settings: Settings) -> None:
    if is_backup_due(settings) and not seconds_of_quiet(settings.quiet_hours, datetime.now().astimezone()):
        job_id = request_backup(database)
        if job_id is not None:
            Queue(database).defer(job_id)


def run_worker(
    database: Database,
    settings: Settings,
    *,
    wait: bool = True,
    started: Callable[[], None] | None = None,
    along: Along | None = None,
) -> None:
    """Work until told to stop, or, without `wait`, until the queue is empty.

    `along`: what another machine does for the one where Indice is at home; mending, watching and filing stay there.
    """
    machine = Here(database, along)
    if along is None:
        _begin_at_home(database, settings, wait=wait)
    if started is not None:
        started()
    if wait:
        give_way(settings.background_percent / 100)
        set_paces(reading=settings.read_mb_per_second, fetching=settings.fetch_mb_per_second)
        threading.Thread(target=machine.live, daemon=True, name="machine").start()
        machine.carry(settings.home)
    try:
        worker_app(database, settings, machine).run_worker(
            queues=[HOME_QUEUE, *dict.fromkeys(QUEUES.values())] if along is None else list(along.can),
            concurrency=settings.worker_jobs,
            wait=wait,
            install_signal_handlers=threading.current_thread() is threading.main_thread(),
            delete_jobs="always",
            shutdown_graceful_timeout=8,
            update_heartbeat_interval=BEAT_SECONDS,
            stalled_worker_timeout=STALLED_SECONDS,
        )
    finally:
        machine.leave()


def _begin_at_home(database: Database, settings: Settings, *, wait: bool) -> None:
    """Mend what was broken off, and keep watch."""
    for mend in (mend_plans, mend_writing):
        try:
            for said in mend(database, settings):
                log.warning("plan_mended", said=said)
        except Exception as error:  # a journal that cannot be mended must not keep everything else from working
            log.error("mending_failed", exc_info=error)
    requeue_lost(database)
    if wait:
        threading.Thread(target=settle_all, args=(database,), daemon=True, name="traits").start()
        threading.Thread(target=_watch, args=(database, settings), daemon=True, name="watch").start()
        threading.Thread(target=watch_folders, args=(database, settings), daemon=True, name="folders").start()
