"""How the application looks for a person, in whatever browser; their picture, and what they let the owner look at."""

from __future__ import annotations

from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .models import Entry, Mark, Person

__all__ = ["LOOKS", "keep_looks", "keep_picture", "looks_of", "picture_of", "watched"]

LOOKS: dict[str, Any] = {"theme": "system", "cards": "medium", "hides": []}
"""What holds until a person has chosen."""


def looks_of(person: Person) -> dict[str, Any]:
    """How it looks for somebody."""
    return {**LOOKS, **{name: value for name, value in person.looks.items() if name in LOOKS}}


def keep_looks(db: Session, person_id: int, looks: dict[str, Any], *, tells_seen: bool, language: str | None) -> None:
    """Keep how it is to look, in which language, and whether the owner may look at what they saw."""
    person = db.get_one(Person, person_id)
    person.looks, person.tells_seen = looks, tells_seen
    person.language = language or person.language


def keep_picture(db: Session, person_id: int, picture: bytes | None) -> None:
    """Keep a person's picture, or none any more."""
    db.get_one(Person, person_id).picture = picture


def picture_of(db: Session, person_id: int) -> bytes | None:
    """A person's picture."""
    return db.scalar(select(Person.picture).where(Person.id == person_id))


def watched(db: Session, person: Person, *, limit: int) -> list[tuple[Entry, Mark]]:
    """What somebody saw or began of late, the latest first; raises :class:`IndiceError`
    (403) where they do not let that be seen."""
    if not person.tells_seen:
        raise IndiceError(
            phrase("{name} keeps to themselves what they saw.", name=person.name),
            hint="",
            reference="seen-kept",
            status=403,
        )
    at = func.greatest(Mark.seen_at, Mark.position_at)  # PostgreSQL: of those that there are
    query = (
        select(Entry, Mark).join(Mark, Mark.entry_id == Entry.id).where(Mark.person_id == person.id, at.is_not(None))
    )
    return list(db.execute(query.order_by(at.desc(), Entry.id).limit(limit)))
