"""Who wants something done asks here: jobs wait in PostgreSQL. Nothing that does the work is loaded for it."""

from __future__ import annotations

import contextlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from ..core.phrase import Phrase, phrase, term
from ..errors import IndiceError
from ..store.database import Database
from ..store.jobs import create_job, find_active
from ..store.models import Job, Library, now
from ..store.plans import plan_at

__all__ = [
    "HOME_QUEUE",
    "QUEUES",
    "Queue",
    "ensure_queue",
    "request_backup",
    "request_job",
    "request_look_for_duplicates",
    "request_plan",
]

_TITLES = {
    "scan": term("Scan {name}"),
    "digest": term("Take fingerprints of {name}"),
    "listen": term("Listen to {name}"),
    "match": term("Match {name}"),
    "tidy": term("Tidy {name}"),
    "undo": term("Undo {name}"),
    "write": term("Write {name}"),
    "unwrite": term("Take back {name}"),
}


def _title(kind: str, name: str) -> str:
    said = _TITLES.get(kind.partition("-")[0])
    return f"{kind} {name}" if said is None else Phrase(said, {"name": name})


QUEUES: dict[str, str] = {
    "scan": "scan",
    "match": "match",
    "match-again": "match",
    "digest": "inside",
    "listen": "inside",
}
"""Where jobs wait that other machines can do, too, by what a machine must be able to do for them."""
HOME_QUEUE = "indice"
"""Where all else waits: for the machine where Indice is at home."""


def queue_of(kind: str, subject: Mapping[str, Any]) -> str:
    """Where a job waits; one that another machine has handed back waits at home."""
    return HOME_QUEUE if subject.get("at_home") else QUEUES.get(kind, HOME_QUEUE)


APART = frozenset(("digest", "listen"))
"""Jobs that change nothing of a library and may take days: they hold up no other, and no other holds them up."""


def request_plan(database: Database, kind: str, plan_id: int, *, only: Sequence[str] | None = None) -> int:
    """A job that carries a plan out (`tidy`) or takes it back (`undo`); one a library at a time. Returns its id."""
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        _one_at_a_time(db, plan.library_id)
        if plan.kind == "write":
            kind = {"tidy": "write", "undo": "unwrite"}[kind]
        if any(find_active(db, busy, plan.library_id) for busy in ("tidy", "undo", "write", "unwrite")):
            raise IndiceError(
                "A plan of this library is at work.", hint="Wait until it is done.", reference="plan-busy"
            )
        return create_job(
            db,
            kind,
            _title(kind, plan.title),
            plan.library_id,
            subject={"plan": plan_id, "only": only and list(only)},
        ).id


def _one_at_a_time(db: Session, library_id: int | None) -> Library | None:
    """A library; who asks for a job of it at the same moment waits until this transaction is through."""
    if library_id is None:
        return None
    return db.get(Library, library_id, with_for_update={"key_share": True})


def request_job(database: Database, kind: str, library_id: int, *, subject: Mapping[str, Any] | None = None) -> int:
    """A job of this kind for a library: the one that waits or runs already, or a new one. Returns its id.

    One that waits takes over what the subject says; one that runs is asked for nothing more.
    """
    with database.begin() as db:
        library = _one_at_a_time(db, library_id)
        if library is None:
            raise IndiceError("There is no such library.", reference="library-unknown", status=404)
        active = find_active(db, kind, library_id)
        if active is not None:
            if subject and active.state == "queued":
                active.subject = {**active.subject, **subject}
            return active.id
        return create_job(db, kind, _title(kind, library.name), library_id, subject=subject).id


def request_backup(database: Database) -> int | None:
    """A job that writes a backup; None while one waits or runs, or has failed within the hour. Returns its id."""
    with database.begin() as db:
        if find_active(db, "backup", None) is not None:
            return None
        last = db.scalars(select(Job).where(Job.kind == "backup").order_by(Job.id.desc()).limit(1)).first()
        if last is not None and last.state == "failed" and last.created_at > now() - timedelta(hours=1):
            return None
        return create_job(db, "backup", phrase("Backup"), None).id


def request_look_for_duplicates(database: Database) -> int:
    """A job that looks for what is there twice: the one that waits or runs already, or a new one. Returns its id."""
    with database.begin() as db:
        active = find_active(db, "duplicates", None)
        return active.id if active is not None else create_job(db, "duplicates", phrase("Look for duplicates"), None).id


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

    def defer(self, job_id: int, *, in_seconds: int = 0) -> None:
        """Hand a job to whichever worker is free, unless it waits already or somebody is at it.

        Jobs of one library are taken one after the other.
        """
        with self.database.begin() as db:
            job = db.get(Job, job_id)
            if job is None or job.state != "queued":
                return
            library_id = job.library_id if job.kind not in APART else None
            queue = queue_of(job.kind, job.subject)
        import procrastinate  # loaded on the first job: the first page does not wait for it
        from procrastinate.exceptions import AlreadyEnqueued

        app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=self.database.plain_url))
        with app.open(), contextlib.suppress(AlreadyEnqueued):
            app.configure_task(
                "perform",
                queue=queue,
                queueing_lock=f"job-{job_id}",
                lock=f"library-{library_id}" if library_id is not None else None,
                schedule_in={"seconds": in_seconds} if in_seconds else None,
            ).defer(job_id=job_id)
