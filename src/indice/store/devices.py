"""Sign-in of a device by a short code that somebody confirms elsewhere (after RFC 8628, whose field names it keeps)."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import timedelta
from typing import Literal

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from ..errors import IndiceError
from .models import DeviceSignIn, Person, now

__all__ = ["INTERVAL_SECONDS", "LASTS", "Asked", "answer_code", "ask_for", "begin_device", "waiting_device"]

LASTS = timedelta(minutes=10)
INTERVAL_SECONDS = 3
"""A device asks no more often than this."""
MOST_WAITING = 200
_LETTERS = "BCDFGHJKLMNPQRSTVWXZ"
"""Without vowels, so that no words come out."""
_LENGTH = 6


@dataclass(frozen=True, slots=True)
class Asked:
    """What a device is told that asks whether it was confirmed: an error of RFC 8628, or who it is signed in for."""

    error: Literal["authorization_pending", "slow_down", "access_denied", "expired_token", ""]
    person_id: int = 0
    device: str = ""


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "replace")).hexdigest()


def begin_device(db: Session, *, device: str, address: str) -> tuple[str, str]:
    """A device wants to be signed in; returns its secret and the code that it shows.

    Raises :class:`IndiceError` (429) when too many wait.
    """
    db.execute(delete(DeviceSignIn).where(DeviceSignIn.ends_at < now() - LASTS))
    waiting = select(func.count()).select_from(DeviceSignIn)
    if (db.scalar(waiting) or 0) >= MOST_WAITING:
        error = IndiceError("Too many devices wait to be signed in.", reference="too-often", status=429)
        error.retry_after = 60
        raise error
    secret = secrets.token_urlsafe(32)
    taken = set(db.scalars(select(DeviceSignIn.user_code)))
    code = next(code for code in iter(_any_code, "") if code not in taken)
    db.add(
        DeviceSignIn(
            digest=_digest(secret), user_code=code, device=device[:200], address=address[:60], ends_at=now() + LASTS
        )
    )
    return secret, code


def _any_code() -> str:
    return "".join(secrets.choice(_LETTERS) for _ in range(_LENGTH))


def ask_for(db: Session, secret: str) -> Asked:
    """What became of a device's wish; it is told once that it was confirmed."""
    query = select(DeviceSignIn).where(DeviceSignIn.digest == _digest(secret[:200])).with_for_update()
    found = db.scalars(query).first()
    if found is None or found.ends_at <= now():
        return Asked("expired_token")
    if found.is_denied:
        db.delete(found)
        return Asked("access_denied")
    if found.person_id is not None:
        db.delete(found)
        return Asked("", found.person_id, found.device)
    before, found.asked_at = found.asked_at, now()
    if before is not None and now() - before < timedelta(seconds=INTERVAL_SECONDS * 0.6):
        return Asked("slow_down")
    return Asked("authorization_pending")


def waiting_device(db: Session, code: str) -> DeviceSignIn | None:
    """The device that shows a code and waits; letters may be small, and set apart."""
    plain = "".join(letter for letter in code.upper() if letter.isalpha())[:_LENGTH]
    query = select(DeviceSignIn).where(
        DeviceSignIn.user_code == plain,
        DeviceSignIn.ends_at > now(),
        DeviceSignIn.person_id.is_(None),
        DeviceSignIn.is_denied.is_(False),
    )
    return db.scalars(query.with_for_update()).first()


def answer_code(db: Session, person: Person, found: DeviceSignIn, *, allow: bool) -> None:
    """Somebody who is signed in says whether a device is theirs."""
    found.person_id = person.id if allow else None
    found.is_denied = not allow
