"""Jobs: what runs, what ran, their logs, and the stop button."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..store.found import find
from ..store.jobs import job_lines, recent_jobs, want_stop
from ..store.machines import is_silent, machines_now
from ..store.models import Job, JobLine
from .common import begin, job_out, say, viewer
from .schemas import Done, JobLineOut
from .schemas_house import JobsOut, LogOut, MachineOut, MachinesOut

__all__ = ["bp", "line_out"]

bp = APIBlueprint("jobs", __name__, url_prefix="/api/jobs", tag="Jobs")


def line_out(line: JobLine) -> JobLineOut:
    """A line of a log."""
    return JobLineOut(at=line.at.isoformat(), level=line.level, path=line.path, text=say(line.text))


@bp.get("")
@bp.output(JobsOut)
def list_jobs() -> JobsOut:
    """The last jobs, those that run first."""
    asking = viewer()
    libraries = None if asking.manages else asking.tidies
    with begin() as db:
        return JobsOut(jobs=[job_out(job) for job in recent_jobs(db, limit=40, libraries=libraries)])


@bp.get("/machines")
@bp.output(MachinesOut)
def list_machines() -> MachinesOut:
    """Who does jobs: workers at home, and of machines that work along."""
    with begin() as db:
        found = machines_now(db)
    return MachinesOut(
        machines=[
            MachineOut(
                id=one.id,
                name=one.name,
                is_home=one.is_home,
                is_silent=is_silent(one),
                can=one.can,
                sees=one.sees,
                job=job.title if job is not None else None,
                helps=job is not None and job.machine_id != one.id,
                done=one.done,
                began_at=one.began_at.isoformat(),
            )
            for one, job in found
        ]
    )


@bp.get("/<int:job_id>/log")
@bp.output(LogOut)
def read_log(job_id: int) -> LogOut:
    """The last lines of a job's log."""
    with begin() as db:
        return LogOut(lines=[line_out(line) for line in job_lines(db, job_id, limit=500)])


@bp.post("/<int:job_id>/stop")
@bp.output(Done)
def stop_job(job_id: int) -> Done:
    """Stop a job; what it has done so far is kept."""
    with begin() as db:
        want_stop(db, find(db, Job, job_id))
    return Done()
