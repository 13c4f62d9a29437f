"""Names: what the checks found."""

from __future__ import annotations

from collections import Counter

from apiflask import APIBlueprint
from sqlalchemy import func, select

from ..core.naming.checks import CHECKS
from ..store.catalog import findings_of
from ..store.models import Finding, Library
from .common import begin
from .schemas import CheckOut, FindingMove, FindingOut, FindingsOut, FindingsQuery

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
                    path=f.path,
                    message=f.message,
                    fix=f.fix,
                    fix_kind=f.fix_kind,
                    moves=[FindingMove(before=m["before"], after=m["after"]) for m in f.also],
                )
                for f in findings_of(db, check=query.check, library_id=query.library_id)
            ],
        )
