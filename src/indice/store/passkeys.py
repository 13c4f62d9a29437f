"""Passkeys of people: what a server keeps of a key that lies in a device."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .models import Passkey, Person, now

__all__ = ["add_passkey", "note_use", "passkey_of", "passkeys_of", "remove_passkey"]

MOST = 20


def add_passkey(
    db: Session, person: Person, *, name: str, credential_id: bytes, public_key: bytes, sign_count: int
) -> Passkey:
    """Keep a key of a person; raises :class:`IndiceError` when it is known already, or there are too many."""
    if db.scalar(select(Passkey.id).where(Passkey.credential_id == credential_id)) is not None:
        raise IndiceError("This key is known already.", reference="passkey-known", status=409)
    if (db.scalar(select(func.count()).select_from(Passkey).where(Passkey.person_id == person.id)) or 0) >= MOST:
        raise IndiceError(
            phrase("There are {most} passkeys already.", most=MOST), hint="Remove one first.", reference="passkeys-full"
        )
    made = Passkey(
        person_id=person.id,
        name=name.strip(),
        credential_id=credential_id,
        public_key=public_key,
        sign_count=sign_count,
    )
    db.add(made)
    db.flush()
    return made


def passkeys_of(db: Session, person_id: int) -> Sequence[Passkey]:
    """Keys of a person, the newest first."""
    return db.scalars(select(Passkey).where(Passkey.person_id == person_id).order_by(Passkey.id.desc())).all()


def passkey_of(db: Session, credential_id: bytes) -> Passkey | None:
    """The key that a device says it used; None when nobody has it."""
    return db.scalars(select(Passkey).where(Passkey.credential_id == credential_id).with_for_update()).first()


def note_use(found: Passkey, sign_count: int) -> None:
    """A key was used: its count of signatures, and when."""
    found.sign_count, found.seen_at = sign_count, now()


def remove_passkey(db: Session, person_id: int, passkey_id: int) -> str:
    """A key of a person opens nothing any more; returns its name. Raises :class:`IndiceError` (404) when it is none."""
    gone = delete(Passkey).where(Passkey.id == passkey_id, Passkey.person_id == person_id).returning(Passkey.name)
    name = db.execute(gone).scalar()
    if name is None:
        raise IndiceError("There is no such passkey.", reference="passkey-unknown", status=404)
    return name
