"""Plans: drafted, shown, carried out, taken back; and the journal of them."""

from __future__ import annotations

import os
from collections.abc import Iterator
from itertools import islice

from apiflask import APIBlueprint
from sqlalchemy.orm import Session

from ..errors import IndiceError
from ..phrases import revived
from ..store.libraries import all_folders
from ..store.models import Plan
from ..store.paths import exact_path, shown_path
from ..store.plans import plan_at, recent_plans
from ..work.requests import Queue, request_plan
from ..work.tidy import Wish, draft_plan
from ..work.write_back import draft_writing
from .common import begin_for_all, database, iso, say, settings
from .schemas import JobRef
from .schemas_names import PlanConflict, PlanIn, PlanLeft, PlanMove, PlanOut, PlansOut, UndoIn, WritingIn

__all__ = ["bp"]

bp = APIBlueprint("plans", __name__, url_prefix="/api/plans", tag="Names")
SHOWN = 2000
"""So many moves of a plan are sent at most; the counts tell of all."""


@bp.post("")
@bp.input(PlanIn, arg_name="body")
@bp.output(PlanOut)
def draft(body: PlanIn) -> PlanOut:
    """Draft a plan from findings, or for all that lies at a path. Nothing is changed on disk."""
    with begin_for_all() as db:
        wish = Wish(findings=body.findings, edits=body.edits, below=body.below)
        return plan_out(db, draft_plan(db, body.library_id, wish))


@bp.post("/writing")
@bp.input(WritingIn, arg_name="body")
@bp.output(PlanOut)
def draft_what_to_write(body: WritingIn) -> PlanOut:
    """Draft what would be written beside and into the files of a library. Nothing is written yet."""
    with begin_for_all() as db:
        return plan_out(db, draft_writing(db, settings(), body.library_id))


@bp.get("")
@bp.output(PlansOut)
def list_plans() -> PlansOut:
    """Plans that were carried out, the newest first, without their moves."""
    with begin_for_all() as db:
        return PlansOut(plans=[plan_out(db, plan, moves=False) for plan in recent_plans(db, limit=60)])


@bp.get("/<int:plan_id>")
@bp.output(PlanOut)
def read_plan(plan_id: int) -> PlanOut:
    """One plan with its moves."""
    with begin_for_all() as db:
        return plan_out(db, plan_at(db, plan_id))


@bp.post("/<int:plan_id>/apply")
@bp.output(JobRef)
def apply(plan_id: int) -> JobRef:
    """Carry a plan out, or go on with one that was stopped."""
    with begin_for_all() as db:
        plan = plan_at(db, plan_id)
        if plan.state not in (("draft",) if plan.kind == "write" else ("draft", "stopped")):
            raise IndiceError(
                "This plan was carried out already.", hint="Undo it, or draft a new one.", reference="plan-done"
            )
    return _start("tidy", plan_id)


@bp.post("/<int:plan_id>/undo")
@bp.input(UndoIn, arg_name="body")
@bp.output(JobRef)
def take_back(plan_id: int, body: UndoIn) -> JobRef:
    """Take a plan back, whole or for the files that lie at these paths now."""
    with begin_for_all() as db:
        plan = plan_at(db, plan_id)
        if plan.state not in ("done", "stopped") or not plan.journal:
            raise IndiceError("There is nothing to undo in this plan.", reference="plan-not-done")
    return _start("undo", plan_id, only=body.only)


def _start(kind: str, plan_id: int, *, only: list[str] | None = None) -> JobRef:
    job_id = request_plan(database(), kind, plan_id, only=only)
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


def plan_out(db: Session, plan: Plan, *, moves: bool = True) -> PlanOut:
    """A plan as screens show it."""
    rows = _writings(plan) if plan.kind == "write" else _moves(plan)
    folders, to_copy = (0, 0) if plan.kind == "write" else _extent(db, plan)
    return PlanOut(
        id=plan.id,
        library_id=plan.library_id,
        kind=plan.kind,
        title=say(plan.title),
        state=plan.state,
        count=len(plan.moves),
        moves=list(islice(rows, SHOWN)) if moves else [],
        conflicts=[
            PlanConflict(before=shown_path(b), after=shown_path(a), why=shown_path(say(revived(w))))
            for b, a, w in plan.conflicts
        ],
        left=[PlanLeft(path=shown_path(path), why=shown_path(say(revived(why)))) for path, why in plan.left],
        folders=folders,
        bytes_to_copy=to_copy,
        made_at=plan.made_at.isoformat(),
        applied_at=iso(plan.applied_at),
        can_undo=plan.state in ("done", "stopped") and bool(plan.journal),
    )


def _moves(plan: Plan) -> Iterator[PlanMove]:
    for folder_id, before, after in plan.moves:
        yield PlanMove(folder_id=folder_id, before=shown_path(before), after=shown_path(after))


def _writings(plan: Plan) -> Iterator[PlanMove]:
    """Of a plan that writes, each row is a file, and what is written there; a new file has nothing before."""
    for folder_id, path, what, _, size, _ in plan.moves:
        before = "" if size is None else shown_path(path)
        yield PlanMove(folder_id=folder_id, before=before, after=shown_path(path), what=what)


def _extent(db: Session, plan: Plan) -> tuple[int, int]:
    """New folders, and bytes that must be copied."""
    roots = {folder.id: bytes(folder.path) for folder in all_folders(db)}
    new = {after.rpartition("/")[0] for _, _, after in plan.moves} - {""}
    old = {before.rpartition("/")[0] for _, before, _ in plan.moves}
    return len(new - old), _bytes_to_copy(plan, roots) if plan.state == "draft" else 0


def _bytes_to_copy(plan: Plan, roots: dict[int, bytes]) -> int:
    """Bytes that must be copied because a move goes from one file system to another."""
    devices: dict[bytes, int] = {}

    def device(path: bytes) -> int:
        folder = os.path.dirname(path)
        if folder not in devices:
            try:
                devices[folder] = os.stat(folder).st_dev
            except OSError:
                devices[folder] = device(folder) if folder not in (b"/", b"") else 0
        return devices[folder]

    total = 0
    for folder_id, before, after in plan.moves:
        source = os.path.join(roots.get(folder_id, b"/"), os.fsencode(exact_path(before)))
        target = os.path.join(roots.get(folder_id, b"/"), os.fsencode(exact_path(after)))
        if device(source) != device(target):
            try:
                total += os.stat(source).st_size
            except OSError:
                continue
    return total
