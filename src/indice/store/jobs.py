"""Jobs and their logs."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any

from sqlalchemy import func, select, text, update
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from .models import Job, JobLine, now

__all__ = [
    "ACTIVE",
    "announce",
    "create_job",
    "fewer_gone",
    "find_active",
    "job_lines",
    "lost_jobs",
    "recent_jobs",
    "recent_troubles",
    "want_stop",
]

ACTIVE = ("queued", "running")


def announce(db: Session, topic: str) -> None:
    """Tell everybody who listens, when the transaction commits, that something of this topic changed."""
    db.execute(text("select pg_notify('indice', :topic)"), {"topic": topic})


def fewer_gone(db: Session, library_id: int, count: int) -> None:
    """So many files that the last scan of a library called gone were found in another one."""
    query = select(Job).where(Job.kind == "scan", Job.library_id == library_id).order_by(Job.id.desc()).limit(1)
    job = db.scalars(query).first()
    counts = dict(job.subject.get("counts", {})) if job is not None else {}
    if job is not None and counts:
        counts["gone"] = max(0, int(counts.get("gone", 0)) - count)
        job.subject = {**job.subject, "counts": counts}


def find_active(db: Session, kind: str, library_id: int | None) -> Job | None:
    """The job of this kind for this library that waits or runs."""
    return db.scalars(
        select(Job).where(Job.kind == kind, Job.library_id.is_not_distinct_from(library_id), Job.state.in_(ACTIVE))
    ).first()


def create_job(
    db: Session, kind: str, title: str, library_id: int | None, *, subject: Mapping[str, Any] | None = None
) -> Job:
    """A new job that waits to be run."""
    job = Job(kind=kind, title=title, library_id=library_id, subject=dict(subject or {}))
    db.add(job)
    db.flush()
    announce(db, "jobs")
    return job


def recent_jobs(db: Session, *, limit: int, libraries: Collection[int] | None = None) -> list[Job]:
    """Newest first, those that are active before all others; `libraries`: of these alone."""
    query = select(Job).order_by(Job.state.in_(ACTIVE).desc(), Job.id.desc()).limit(limit)
    return list(db.scalars(query if libraries is None else query.where(Job.library_id.in_(libraries))))


def job_lines(db: Session, job_id: int, *, limit: int) -> list[JobLine]:
    """The last lines of a job's log, oldest first."""
    return list(
        reversed(
            db.scalars(select(JobLine).where(JobLine.job_id == job_id).order_by(JobLine.id.desc()).limit(limit)).all()
        )
    )


def lost_jobs(db: Session, is_free: Callable[[int], bool]) -> list[int]:
    """Put jobs that say they run, and that nobody is at, back into the queue; returns their ids."""
    running = db.scalars(select(Job.id).where(Job.state == "running").with_for_update(skip_locked=True)).all()
    lost = [job_id for job_id in running if is_free(job_id)]
    if lost:
        db.execute(update(Job).where(Job.id.in_(lost)).values(state="queued", step=phrase("Waits to go on"), rate=0.0))
        announce(db, "jobs")
    return lost


def recent_troubles(db: Session, *, limit: int) -> list[tuple[JobLine, str]]:
    """What went wrong in the jobs since a little before the last scan, the newest first; with the kind of job."""
    last = db.scalar(select(func.max(Job.id)).where(Job.kind == "scan"))
    lines = select(JobLine, Job.kind).join(Job).where(Job.id > (last or 0) - 12, JobLine.level != "info")
    return [(line, kind) for line, kind in db.execute(lines.order_by(JobLine.id.desc()).limit(limit))]


def want_stop(db: Session, job: Job) -> None:
    """A job that runs is to stop, one that waits is not to begin; one that has ended stays as it is."""
    if job.state in ACTIVE:
        job.stop_wanted = True
        if job.state == "queued":
            job.state, job.message, job.finished_at = "stopped", phrase("Stopped before it began."), now()
        announce(db, "jobs")
