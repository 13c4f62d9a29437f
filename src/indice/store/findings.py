"""Findings of the checks, and what is excused."""

from __future__ import annotations

from typing import NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from .models import Excuse, Finding, Library

__all__ = ["FindingCount", "finding_counts", "list_excuses"]


class FindingCount(NamedTuple):
    """How many findings a check has in a library, the number of the first, and how many have a cure that is safe."""

    check: str
    library_id: int
    findings: int
    first: int
    safe: int


def finding_counts(db: Session) -> list[FindingCount]:
    """The findings of each check in each library."""
    safe = func.count().filter(Finding.fix_kind == "safe")
    query = select(Finding.check, Finding.library_id, func.count(), func.min(Finding.id), safe)
    return [FindingCount(*row) for row in db.execute(query.group_by(Finding.check, Finding.library_id))]


def list_excuses(db: Session) -> list[tuple[Excuse, str]]:
    """Everything that is excused, with its library's name, the newest first."""
    return list(db.execute(select(Excuse, Library.name).join(Library).order_by(Excuse.id.desc())))
