"""Names: what the checks found."""

from __future__ import annotations

from collections import Counter

from apiflask import APIBlueprint

from ..core.naming.checks import CHECKS, Check
from ..store.catalog import findings_of, safe_findings
from ..store.findings import finding_counts
from ..store.findings import list_excuses as excused
from ..store.found import find
from ..store.jobs import announce
from ..store.models import Excuse, Finding
from ..store.paths import shown_path
from ..store.plans import excuse
from ..store.viewer import keeps
from ..work.checks import check_library
from .common import begin, begin_for_all, database, say, viewer
from .schemas import Done
from .schemas_names import CheckOut, ExcuseOut, ExcusesOut, FindingMove, FindingOut, FindingsOut, FindingsQuery, SafeOut

__all__ = ["bp"]

SHOWN = 300
"""Findings that are sent at once; the others come up when these are dealt with."""
bp = APIBlueprint("findings", __name__, url_prefix="/api", tag="Names")


@bp.get("/findings")
@bp.input(FindingsQuery, location="query", arg_name="query")
@bp.output(FindingsOut)
def list_findings(query: FindingsQuery) -> FindingsOut:
    """The first findings of a check or a library, with what each check is about, and how many there are of each."""
    asking = viewer()
    libraries = None if asking.manages else asking.tidies
    with begin_for_all() as db:
        counts, by_library, total, safe = Counter[str](), Counter[int](), 0, 0
        since: dict[int, int] = {}
        for check, library_id, count, first, mendable in finding_counts(db):
            if not keeps(asking, library_id):
                continue
            since[library_id] = min(first, since.get(library_id, first))
            counts[check] += count
            by_library[library_id] += count
            if query.check in (None, check) and query.library_id in (None, library_id):
                total += count
                safe += mendable
        return FindingsOut(
            checks=[_check_out(check, counts[check.slug]) for check in CHECKS],
            libraries=dict(by_library),
            since=since,
            total=total,
            safe=safe,
            findings=[
                _finding_out(finding)
                for finding in findings_of(
                    db, check=query.check, library_id=query.library_id, libraries=libraries, limit=SHOWN
                )
            ],
        )


@bp.get("/findings/safe")
@bp.input(FindingsQuery, location="query", arg_name="query")
@bp.output(SafeOut)
def list_safe_findings(query: FindingsQuery) -> SafeOut:
    """All findings of a check or a library whose cure is safe, to be mended at once."""
    asking = viewer()
    libraries = None if asking.manages else asking.tidies
    found: dict[int, list[int]] = {}
    with begin_for_all() as db:
        rows = safe_findings(db, check=query.check, library_id=query.library_id, libraries=libraries)
    for id_, library_id in rows:
        found.setdefault(library_id, []).append(id_)
    return SafeOut(findings=found)


def _check_out(check: Check, count: int) -> CheckOut:
    return CheckOut(
        slug=check.slug,
        title=say(check.title),
        severity=check.severity,
        why=say(check.why),
        before=check.before,
        after=check.after,
        looks_at=say(check.looks_at),
        count=count,
    )


def _finding_out(finding: Finding) -> FindingOut:
    return FindingOut(
        id=finding.id,
        check=finding.check,
        severity=finding.severity,
        library_id=finding.library_id,
        path=shown_path(finding.path),
        message=say(finding.message),
        fix=finding.fix,
        fix_kind=finding.fix_kind,
        missing=[int(number) for number in finding.missing],
        moves=[FindingMove(before=move["before"], after=move["after"]) for move in finding.also],
    )


@bp.post("/findings/<int:finding_id>/excuse")
@bp.output(Done)
def excuse_finding(finding_id: int) -> Done:
    """The check says nothing of this path any more; House shows and forgets excuses."""
    with begin() as db:
        finding = find(db, Finding, finding_id)
        excuse(db, finding.library_id, finding.check, finding.path)
        db.delete(finding)
        announce(db, "findings")
    return Done()


@bp.get("/excuses")
@bp.output(ExcusesOut)
def list_excuses() -> ExcusesOut:
    """Everything that is excused."""
    with begin() as db:
        return ExcusesOut(
            excuses=[
                ExcuseOut(id=e.id, library=name, check=e.check, path=shown_path(e.path)) for e, name in excused(db)
            ]
        )


@bp.delete("/excuses/<int:excuse_id>")
@bp.output(Done)
def forget_excuse(excuse_id: int) -> Done:
    """Let the check speak again."""
    with begin() as db:
        row = find(db, Excuse, excuse_id)
        library_id = row.library_id
        db.delete(row)
    check_library(database(), library_id)
    return Done()
