"""Names: what the checks found."""

from __future__ import annotations

from collections import Counter

from apiflask import APIBlueprint
from sqlalchemy import func, select

from ..core.naming.checks import CHECKS
from ..errors import IndiceError
from ..store.catalog import findings_of
from ..store.jobs import announce
from ..store.models import Excuse, Finding, Library
from ..store.paths import shown_path
from ..store.plans import excuse
from ..work.checks import check_library
from .common import begin, database
from .schemas import CheckOut, Done, ExcuseOut, ExcusesOut, FindingMove, FindingOut, FindingsOut, FindingsQuery

__all__ = ["bp"]

bp = APIBlueprint("findings", __name__, url_prefix="/api", tag="Names")


@bp.get("/findings")
@bp.input(FindingsQuery, location="query", arg_name="query")
@bp.output(FindingsOut)
def list_findings(query: FindingsQuery) -> FindingsOut:
    """Findings by check or library, with what each check is about."""
    with begin() as db:
        counts = Counter(dict(db.execute(select(Finding.check, func.count()).group_by(Finding.check)).all()))
        by_library = dict(
            db.execute(
                select(Library.name, func.count())
                .join(Finding, Finding.library_id == Library.id)
                .group_by(Library.name)
            ).all()
        )
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
            libraries=by_library,
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
                for f in findings_of(db, check=query.check, library_id=query.library_id)
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
