"""Who does jobs: workers of the machine where Indice is at home, and of others that work along."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import LargeBinary, delete, select, type_coerce, update
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from .jobs import announce
from .models import Folder, Job, Machine, now

__all__ = [
    "LOOKS_INSIDE",
    "SILENT_SECONDS",
    "beat",
    "count_done",
    "folders_of",
    "hand_home",
    "is_silent",
    "join",
    "leave",
    "machines_now",
    "to_help_with",
]

SILENT_SECONDS = 20.0
"""Who has said nothing for so long has left."""
FORGOTTEN_AFTER = timedelta(days=1)
LOOKS_INSIDE = phrase("Looking inside")
"""The step of a scan that others can help with."""


def join(
    db: Session,
    *,
    name: str,
    pid: int,
    is_home: bool,
    can: Sequence[str],
    sees: Sequence[tuple[str, str]],
    converts: int = 0,
    ffmpeg: str = "",
) -> int:
    """A worker is there; returns its number."""
    silent = Machine.beat_at < now() - timedelta(seconds=SILENT_SECONDS)
    db.execute(delete(Machine).where((Machine.beat_at < now() - FORGOTTEN_AFTER) | ((Machine.name == name) & silent)))
    made = Machine(
        name=name,
        pid=pid,
        is_home=is_home,
        can=list(can),
        sees=[list(pair) for pair in sees],
        converts=converts,
        ffmpeg=ffmpeg,
    )
    db.add(made)
    db.flush()
    announce(db, "jobs")
    return made.id


def beat(db: Session, machine_id: int, *, helps_id: int | None) -> None:
    """A worker says that it lives, and whom it helps."""
    db.execute(update(Machine).where(Machine.id == machine_id).values(beat_at=now(), helps_id=helps_id))


def count_done(db: Session, machine_id: int, files: int) -> None:
    """A worker has looked into so many files more."""
    db.execute(update(Machine).where(Machine.id == machine_id).values(done=Machine.done + files))


def leave(db: Session, machine_id: int) -> None:
    """A worker goes."""
    db.execute(delete(Machine).where(Machine.id == machine_id))
    announce(db, "jobs")


def machines_now(db: Session) -> list[tuple[Machine, Job | None]]:
    """Workers, those at home first, each with the job that it is at or helps with."""
    found = list(db.scalars(select(Machine).order_by(Machine.is_home.desc(), Machine.name, Machine.id)))
    running = list(db.scalars(select(Job).where(Job.state == "running").order_by(Job.id)))
    own = {job.machine_id: job for job in running}
    by_id = {job.id: job for job in running}
    return [(one, own.get(one.id) or by_id.get(one.helps_id or 0)) for one in found]


def is_silent(machine: Machine) -> bool:
    """Whether a worker has said nothing for long, and is gone for all that is known."""
    return now() - machine.beat_at > timedelta(seconds=SILENT_SECONDS)


def to_help_with(db: Session, name: str) -> list[tuple[int, int]]:
    """Scans of other machines than the one of this name that look inside at the moment: job and library."""
    others = (
        select(Job.id, Job.library_id)
        .join(Machine, Machine.id == Job.machine_id)
        .where(Job.state == "running", Job.kind == "scan", Job.step == LOOKS_INSIDE, Machine.name != name)
        .order_by(Job.id)
    )
    return [(job_id, library_id) for job_id, library_id in db.execute(others) if library_id]


def folders_of(db: Session, library_id: int) -> list[bytes]:
    """Folders of a library, as the catalog has them."""
    path = type_coerce(Folder.path, LargeBinary)
    paths = db.scalars(select(path).where(Folder.library_id == library_id).order_by(Folder.id))
    return [bytes(path) for path in paths]


def hand_home(db: Session, job_id: int) -> None:
    """A job goes back to where Indice is at home: who took it does not see its folders."""
    job = db.get(Job, job_id)
    if job is not None:
        job.subject = {**job.subject, "at_home": True}
        announce(db, "jobs")
