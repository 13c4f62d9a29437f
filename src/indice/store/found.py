"""One record by its number, or words that say that it is gone."""

from __future__ import annotations

from typing import TypeVar

from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .models import (
    Arrival,
    Artwork,
    Base,
    Candidate,
    Entry,
    Excuse,
    File,
    Finding,
    Folder,
    Intake,
    Invitation,
    Job,
    Library,
    Person,
    Source,
    TextService,
    Twin,
)

__all__ = ["find", "get"]

_Row = TypeVar("_Row", bound=Base)
_GONE: dict[type[Base], tuple[str, str, str]] = {
    Arrival: (phrase("It is not there any more."), "", "arrival-gone"),
    Artwork: (phrase("This picture is gone."), "", "artwork-unknown"),
    Candidate: (phrase("That candidate is gone."), phrase("Load the page again."), "candidate-unknown"),
    Entry: (
        phrase("There is no such entry."),
        phrase("It may have been removed by a scan. Load the page again."),
        "entry-unknown",
    ),
    Excuse: (phrase("This was forgotten already."), "", "excuse-unknown"),
    File: (phrase("There is no such file."), phrase("It may have been removed by a scan."), "file-unknown"),
    Finding: (phrase("This finding is gone."), phrase("The list is read anew."), "finding-unknown"),
    Folder: (phrase("There is no such folder."), "", "folder-unknown"),
    Intake: (phrase("There is no such intake folder."), "", "intake-unknown"),
    Invitation: (phrase("This invitation is gone."), "", "invitation-unknown"),
    Job: (phrase("There is no such job."), "", "job-unknown"),
    Library: (phrase("There is no such library."), "", "library-unknown"),
    Person: (phrase("There is nobody of this number."), "", "person-unknown"),
    Source: (phrase("There is no such source."), "", "source-unknown"),
    TextService: (phrase("There is no such service."), "", "source-unknown"),
    Twin: (phrase("This group is gone."), phrase("Look again for what is there twice."), "twin-unknown"),
}
"""What is said where there is no such record, what to do, and the reference."""


def find(db: Session, model: type[_Row], number: int) -> _Row:
    """A record; raises :class:`IndiceError` (404) when there is none of this number."""
    row = db.get(model, number)
    if row is None:
        message, hint, reference = _GONE[model]
        raise IndiceError(message, hint=hint, reference=reference, status=404)
    return row


def get(db: Session, model: type[_Row], number: int | None) -> _Row | None:
    """A record, or None."""
    return db.get(model, number) if number is not None else None
