"""Invitations: links by which one person comes into the household, once, as the owner has said."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from .found import find
from .household import Change, add_person
from .libraries import libraries_named, library_names
from .models import Invitation, Person, now

__all__ = ["invitations", "make_invitation", "open_invitation", "sender_of", "take_invitation_back", "use_invitation"]

KEPT = timedelta(days=90)
"""So long one that was used, or has ended, is still shown."""


def make_invitation(
    db: Session,
    by: Person,
    *,
    role: str,
    libraries: Sequence[str],
    age: int | None,
    unrated: str,
    downloads: bool,
    days: int,
) -> tuple[Invitation, str]:
    """A new invitation, and the secret of its link, which is kept nowhere.

    Raises :class:`IndiceError` when there is no library of one of these names.
    """
    names = [library.name for library in libraries_named(db, list(libraries))] if libraries else []
    secret = secrets.token_urlsafe(24)
    made = Invitation(
        digest=_digest(secret),
        role=role,
        libraries=names,
        age=age,
        unrated=unrated,
        downloads=downloads,
        ends_at=now() + timedelta(days=days),
        made_by_id=by.id,
    )
    db.add(made)
    db.flush()
    return made, secret


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "replace")).hexdigest()


def open_invitation(db: Session, secret: str, *, for_use: bool = False) -> Invitation | None:
    """The invitation of a link that can still be used; None when there is none.
    `for_use`: nobody else may, meanwhile."""
    query = select(Invitation).where(
        Invitation.digest == _digest(secret[:200]), Invitation.used_at.is_(None), Invitation.ends_at > now()
    )
    return db.scalars(query.with_for_update() if for_use else query).first()


def sender_of(db: Session, found: Invitation) -> str:
    """The name of who sent an invitation."""
    return db.get_one(Person, found.made_by_id).name


def take_invitation_back(db: Session, invitation_id: int) -> None:
    """A link opens nothing any more; raises :class:`IndiceError` (404) when there is none of this number."""
    db.delete(find(db, Invitation, invitation_id))


def use_invitation(db: Session, found: Invitation, name: str, password_hash: str, *, language: str) -> Person:
    """Somebody comes in by an invitation, which is used up; raises :class:`IndiceError` when their name is taken."""
    there = set(library_names(db).values())
    change = Change(
        role=found.role,
        libraries=[str(one) for one in found.libraries if one in there],
        age="none" if found.age is None else found.age,
        unrated=found.unrated,
        downloads=found.downloads,
        password_hash=password_hash,
    )
    person = add_person(db, name, change, language=language)
    found.used_at, found.used_by_id = now(), person.id
    return person


def invitations(db: Session) -> list[tuple[Invitation, str | None]]:
    """Invitations, the newest first, each with the name of who came by it; what is long over is left out."""
    query = (
        select(Invitation, Person.name)
        .outerjoin(Person, Person.id == Invitation.used_by_id)
        .where(Invitation.ends_at > now() - KEPT)
        .order_by(Invitation.id.desc())
    )
    return [(one, name) for one, name in db.execute(query)]
