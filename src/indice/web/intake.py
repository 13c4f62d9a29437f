"""Intake: folders where new files land, what waits there, and where it would go."""

from __future__ import annotations

import os

from apiflask import APIBlueprint

from ..core.phrase import phrase
from ..store.found import find
from ..store.intakes import declare_intake, list_arrivals
from ..store.intakes import list_intakes as intakes
from ..store.jobs import announce
from ..store.libraries import all_folders, library_names
from ..store.models import Arrival, Intake
from ..store.paths import shown_path
from ..work.intake import file_arrival
from ..work.requests import Queue, request_job
from .common import begin, database, say, settings
from .libraries import allowed
from .schemas import Done, JobRef
from .schemas_names import ArrivalOut, IntakeIn, IntakeOut, IntakesOut, PlanMove

__all__ = ["bp"]

bp = APIBlueprint("intake", __name__, url_prefix="/api", tag="Today")
SHOWN = 60


@bp.get("/intakes")
@bp.output(IntakesOut)
def list_intakes() -> IntakesOut:
    """Intake folders, and what landed in them, the newest first."""
    with begin() as db:
        names = library_names(db)
        roots = {intake.id: intake for intake in intakes(db)}
        targets = sorted((f.shown.rstrip("/") + "/" for f in all_folders(db)), key=len, reverse=True)
        return IntakesOut(
            intakes=[IntakeOut(id=i.id, path=i.shown, alone=i.alone, problem=say(i.problem)) for i in roots.values()],
            arrivals=[
                ArrivalOut(
                    id=a.id,
                    path=shown_path(a.path),
                    intake=roots[a.intake_id].shown,
                    state=a.state,
                    why=shown_path(say(a.why)),
                    library=names.get(a.library_id) if a.library_id else None,
                    files=len(a.seen),
                    size_bytes=sum(size for _, size, _ in a.seen),
                    moves=[
                        PlanMove(
                            folder_id=0,
                            before=shown_path(before).removeprefix(roots[a.intake_id].shown + "/"),
                            after=_below(shown_path(after), targets),
                        )
                        for before, after in a.moves
                    ],
                )
                for a in list_arrivals(db, limit=SHOWN)
            ],
        )


def _below(path: str, roots: list[str]) -> str:
    return next((path[len(root) :] for root in roots if path.startswith(root)), path)


@bp.post("/intakes")
@bp.input(IntakeIn, arg_name="body")
@bp.output(Done)
def add(body: IntakeIn) -> Done:
    """Declare a folder where new files land; it must lie in no library."""
    path = os.fsencode(allowed(body.path)).rstrip(b"/") or b"/"
    with begin() as db:
        declare_intake(db, path, alone=body.alone)
        announce(db, "arrivals")
    return Done()


@bp.delete("/intakes/<int:intake_id>")
@bp.output(Done)
def remove(intake_id: int) -> Done:
    """Forget an intake folder; nothing on disk is touched."""
    with begin() as db:
        db.delete(find(db, Intake, intake_id))
        announce(db, "arrivals")
    return Done()


@bp.post("/arrivals/<int:arrival_id>/file")
@bp.output(JobRef)
def file(arrival_id: int) -> JobRef:
    """File a thing to where it is proposed, and scan that library."""
    library_id = file_arrival(database(), settings(), arrival_id)
    job_id = request_job(database(), "scan", library_id)
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


@bp.post("/arrivals/<int:arrival_id>/leave")
@bp.output(Done)
def leave(arrival_id: int) -> Done:
    """Leave a thing where it lies, until it changes."""
    with begin() as db:
        arrival = find(db, Arrival, arrival_id)
        arrival.state, arrival.why = "left", phrase("Left here by hand.")
        announce(db, "arrivals")
    return Done()
