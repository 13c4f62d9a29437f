"""Findings of the checks, and what is excused."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, NamedTuple

from sqlalchemy import ColumnElement, Text, cast, func, literal_column, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from .models import CleanText, Excuse, Finding, Library

__all__ = ["FindingCount", "finding_counts", "is_about", "list_excuses"]

_PLACES: ColumnElement[Any] = literal_column(
    "finding_places(finding.path, finding.fix, finding.wanted, finding.also)", ARRAY(Text)
)
"""Every path that a finding names, and every folder above it; written as its index has it."""


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


def is_about(places: Iterable[str]) -> ColumnElement[bool]:
    """Whether a finding names one of these paths, as they are kept, or something in one of these folders; theirs end in a slash."""
    return _PLACES.overlap(cast(list(places), ARRAY(CleanText())))


def list_excuses(db: Session) -> list[tuple[Excuse, str]]:
    """Everything that is excused, with its library's name, the newest first."""
    return list(db.execute(select(Excuse, Library.name).join(Library).order_by(Excuse.id.desc())).tuples())
