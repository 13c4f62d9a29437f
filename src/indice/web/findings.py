"""Names: what the checks found."""

from __future__ import annotations

from collections import Counter

from apiflask import APIBlueprint
from sqlalchemy import func, select

from ..core.naming.checks import CHECKS
from ..errors import IndiceError
from ..store.catalog import findings_of, safe_findings
from ..store.jobs import announce
from ..store.models import Excuse, Finding, Library
from ..store.paths import shown_path
from ..store.plans import excuse
from ..work.checks import check_library
from .common import begin, database
from .schemas import (
    CheckOut,
    Done,
    ExcuseOut,
    ExcusesOut,
    FindingMove,
    FindingOut,
    FindingsOut,
    FindingsQuery,
    SafeFinding,
)

__all__ = ["bp"]

SHOWN = 300
"""Findings that are sent at once; the others come up when these are dealt with."""
bp = APIBlueprint("findings", __name__, url_prefix="/api", tag="Names")


@bp.get("/findings")
@bp.input(FindingsQuery, location="query", arg_name="query")
@bp.output(FindingsOut)
def list_findings(query: FindingsQuery) -> FindingsOut:
    """The first findings of a check or a library, with what each check is about, and how many there are of each."""
    with begin() as db:
        counted = db.execute(
            select(Finding.check, Finding.library_id, func.count(), func.min(Finding.id)).group_by(
                Finding.check, Finding.library_id
            )
        ).all()
        counts, by_library, total = Counter[str](), Counter[int](), 0
        since: dict[int, int] = {}
        for check, library_id, count, first in counted:
            since[library_id] = min(first, since.get(library_id, first))
            counts[check] += count
            by_library[library_id] += count
            if query.check in (None, check) and query.library_id in (None, library_id):
                total += count
        return FindingsOut(
            checks=[
                CheckOut(
                    slug=c.slug,
                    title=c.title,
                    severity=c.severity,
                    why=c.why,
                    before=c.before,
                    after=c.after,
                    looks_at=c.looks_at,
                    count=counts[c.slug],
                )
                for c in CHECKS
            ],
            libraries=dict(by_library),
            since=since,
            total=total,
            safe=[
                SafeFinding(id=id_, library_id=library)
                for id_, library in safe_findings(db, check=query.check, library_id=query.library_id)
            ],
            findings=[
                FindingOut(
                    id=f.id,
                    check=f.check,
                    severity=f.severity,
                    library_id=f.library_id,
                    path=shown_path(f.path),
                    message=f.message,
                    fix=f.fix,
                    fix_kind=f.fix_kind,
                    missing=[int(number) for number in f.missing],
                    moves=[FindingMove(before=m["before"], after=m["after"]) for m in f.also],
                )
                for f in findings_of(db, check=query.check, library_id=query.library_id, limit=SHOWN)
            ],
        )


@bp.post("/findings/<int:finding_id>/excuse")
@bp.output(Done)
def excuse_finding(finding_id: int) -> Done:
    """The check says nothing of this path any more; House shows and forgets excuses."""
    with begin() as db:
        finding = db.get(Finding, finding_id)
        if finding is None:
            raise IndiceError(
                "This finding is gone.", hint="The list is read anew.", reference="finding-unknown", status=404
            )
        excuse(db, finding.library_id, finding.check, finding.path)
        db.delete(finding)
        announce(db, "findings")
    return Done()


@bp.get("/excuses")
@bp.output(ExcusesOut)
def list_excuses() -> ExcusesOut:
    """Everything that is excused."""
    with begin() as db:
        rows = db.execute(select(Excuse, Library.name).join(Library).order_by(Excuse.id.desc()))
        return ExcusesOut(
            excuses=[ExcuseOut(id=e.id, library=name, check=e.check, path=shown_path(e.path)) for e, name in rows]
        )


@bp.delete("/excuses/<int:excuse_id>")
@bp.output(Done)
def forget_excuse(excuse_id: int) -> Done:
    """Let the check speak again."""
    with begin() as db:
        row = db.get(Excuse, excuse_id)
        if row is None:
            raise IndiceError("This was forgotten already.", reference="excuse-unknown", status=404)
        library_id = row.library_id
        db.delete(row)
    check_library(database(), library_id)
    return Done()
