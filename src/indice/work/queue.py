"""The queue: jobs wait in PostgreSQL, and any worker that sees the same database takes them."""

from __future__ import annotations

import threading
import time
import traceback
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import structlog
from sqlalchemy import select, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from ..errors import IndiceError
from ..settings import Settings
from ..store.database import Database
from ..store.jobs import announce, create_job, fail_orphans, find_active
from ..store.models import Job, Library, now
from ..store.plans import plan_at
from .checks import check_library
from .intake import poll_intakes
from .match import libraries_to_ask_again, match_library
from .progress import Progress, Stopped
from .scan import scan_library
from .tidy import apply_plan, mend_plans, undo_plan
from .write_back import apply_writing, mend_writing, undo_writing

if TYPE_CHECKING:
    from procrastinate import App

__all__ = ["Queue", "ensure_queue", "perform", "request_job", "request_plan"]

log = structlog.get_logger()
TITLES = {"scan": "Scan", "match": "Match", "tidy": "Tidy", "undo": "Undo", "write": "Write", "unwrite": "Take back"}


def perform(database: Database, settings: Settings, job_id: int) -> str:
    """Run one job here and now; returns the state in which it ended. Never raises: what went wrong stands in the job."""
    with database.begin() as db:
        job = db.get(Job, job_id)
        if job is None or job.state not in ("queued", "running"):
            return "gone"
        job.state, job.started_at, job.beat_at = "running", now(), now()
        kind, library_id, subject = job.kind, job.library_id, dict(job.subject)
        announce(db, "jobs")
    progress = Progress(database, job_id)
    state, message = "done", ""
    try:
        message = _run(database, settings, kind, library_id, subject, progress)
    except Stopped:
        state, message = "stopped", "Stopped by hand. What was done so far is kept."
    except IndiceError as error:
        state, message = "failed", f"{error.message} {error.hint}".strip()
        progress.log(message, level="error")
    except OperationalError as error:
        log.error("database_failed", job_id=job_id, error=str(error.orig))
        state, message = (
            "failed",
            f"The database could not go on: {str(error.orig).strip().splitlines()[0]}. Is its disk full?",
        )
    except Exception as error:  # the outermost layer of a job: everything is told, nothing is lost
        log.error("job_failed", job_id=job_id, kind=kind, trace=traceback.format_exc())
        state, message = (
            "failed",
            f"Something went wrong that should not: {type(error).__name__}. The log in the data folder has the details.",
        )
        progress.log(message, level="error")
    with database.begin() as db:
        job = db.get_one(Job, job_id)
        job.state, job.message, job.finished_at, job.current, job.rate = state, message, now(), "", 0.0
        if state == "done":
            job.done = max(job.total, job.done)
        announce(db, "jobs")
    return state


def _run(
    database: Database,
    settings: Settings,
    kind: str,
    library_id: int | None,
    subject: dict[str, Any],
    progress: Progress,
) -> str:
    if kind == "write":
        return _then_scan(database, library_id, apply_writing(database, settings, subject["plan"], progress))
    if kind == "unwrite":
        return _then_scan(database, library_id, undo_writing(database, settings, subject["plan"], progress))
    if kind == "tidy":
        return apply_plan(database, settings, subject["plan"], progress)
    if kind == "undo":
        return undo_plan(database, settings, subject["plan"], progress, only=subject.get("only"))
    if library_id is None:
        raise IndiceError(f"A job of kind {kind} needs a library.")
    if kind == "scan":
        said = scan_library(database, settings, library_id, progress)
        with database.begin() as db:
            follow = db.get_one(Library, library_id).kind not in ("photos", "home-videos")
        if follow:
            Queue(database).defer(request_job(database, "match", library_id))
        return said
    if kind in ("match", "match-again"):
        said = match_library(database, settings, library_id, progress, again=kind == "match-again")
        progress.step("Checking names")
        check_library(database, library_id)
        progress.changed("findings")
        return said
    raise IndiceError(f"There is no job of kind {kind}.")


def _then_scan(database: Database, library_id: int | None, said: str) -> str:
    """What was written is looked at by a scan."""
    if library_id is not None:
        Queue(database).defer(request_job(database, "scan", library_id))
    return said


def request_plan(database: Database, kind: str, plan_id: int, *, only: Sequence[str] | None = None) -> int:
    """A job that carries a plan out (`tidy`) or takes it back (`undo`); one a library at a time. Returns its id."""
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        if plan.kind == "write":
            kind = {"tidy": "write", "undo": "unwrite"}[kind]
        if any(find_active(db, busy, plan.library_id) for busy in ("tidy", "undo", "write", "unwrite")):
            raise IndiceError(
                "A plan of this library is at work.", hint="Wait until it is done.", reference="plan-busy"
            )
        return create_job(
            db,
            kind,
            f"{TITLES[kind]} {plan.title}",
            plan.library_id,
            subject={"plan": plan_id, "only": only and list(only)},
        ).id


def request_job(database: Database, kind: str, library_id: int) -> int:
    """A job of this kind for a library: the one that waits or runs already, or a new one. Returns its id."""
    with database.begin() as db:
        library = db.get(Library, library_id)
        if library is None:
            raise IndiceError("There is no such library.", reference="library-unknown", status=404)
        active = find_active(db, kind, library_id)
        if active is not None:
            return active.id
        return create_job(db, kind, f"{TITLES.get(kind.partition('-')[0], kind)} {library.name}", library_id).id


def ensure_queue(database: Database) -> None:
    """Make the queue's own tables if they are not there."""
    with database.engine.begin() as link:
        if link.execute(text("select to_regclass('procrastinate_jobs')")).scalar() is not None:
            return
    import procrastinate

    connector = procrastinate.SyncPsycopgConnector(conninfo=database.plain_url)
    app = procrastinate.App(connector=connector)
    with app.open():
        app.schema_manager.apply_schema()


@dataclass(frozen=True, slots=True)
class Queue:
    """Sends jobs to the workers."""

    database: Database

    def defer(self, job_id: int) -> None:
        """Hand a job to whichever worker is free."""
        import procrastinate  # loaded on the first job: the first page does not wait for it

        app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=self.database.plain_url))
        with app.open():
            app.configure_task("perform", queue="indice", queueing_lock=f"job-{job_id}").defer(
                job_id=job_id
            ) if not self._waits(job_id) else None

    def _waits(self, job_id: int) -> bool:
        with self.database.begin() as db:
            return bool(
                db.execute(
                    text("select 1 from procrastinate_jobs where queueing_lock = :lock and status = 'todo'"),
                    {"lock": f"job-{job_id}"},
                ).scalar()
            )


def worker_app(database: Database, settings: Settings) -> App:
    """The queue's side that performs."""
    import procrastinate

    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database.plain_url))

    @app.task(name="perform", queue="indice")
    def run(job_id: int) -> None:
        perform(database, settings, job_id)

    return app


def requeue_lost(database: Database) -> None:
    """Jobs whose worker died go on where they were."""

    def lost(db: Session) -> list[int]:
        waiting = list(db.scalars(select(Job.id).where(Job.state == "queued")))
        return [*fail_orphans(db), *waiting]

    with database.begin() as db:
        ids = lost(db)
    for job_id in ids:
        Queue(database).defer(job_id)


POLL_SECONDS = 5


def _watch(database: Database, settings: Settings) -> None:
    """Look at the intake folders, and for sources that are back, every few seconds, as long as the worker lives."""
    while True:
        time.sleep(POLL_SECONDS)
        try:
            for library_id in libraries_to_ask_again(database):
                Queue(database).defer(request_job(database, "match", library_id))
            for library_id in dict.fromkeys(poll_intakes(database, settings)):
                Queue(database).defer(request_job(database, "scan", library_id))
        except (IndiceError, OSError, OperationalError) as error:
            log.warning("intake_failed", error=str(error))


def run_worker(
    database: Database, settings: Settings, *, wait: bool = True, started: Callable[[], None] | None = None
) -> None:
    """Work until told to stop, or, without `wait`, until the queue is empty."""
    for said in (*mend_plans(database, settings), *mend_writing(database, settings)):
        log.warning("plan_mended", said=said)
    requeue_lost(database)
    if started is not None:
        started()
    if wait:
        threading.Thread(target=_watch, args=(database, settings), daemon=True, name="watch").start()
    app = worker_app(database, settings)
    app.run_worker(
        queues=["indice"],
        concurrency=settings.worker_jobs,
        wait=wait,
        install_signal_handlers=True,
        delete_jobs="always",
        shutdown_graceful_timeout=8,
    )
