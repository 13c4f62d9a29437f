"""Secrets of scripts: each of one person, for what its scopes say, shown once,
and ended at once when it is taken back."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import delete, func, or_, select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .models import Person, Token, now
from .people import SignedIn

__all__ = ["end_token", "is_token", "make_token", "owner_of_token", "tokens_of"]

_MARK = "ind_"
"""Such a secret begins so, and can be found where it does not belong."""
MOST = 50
NOTE_SEEN_AFTER = timedelta(minutes=1)


def is_token(secret: str) -> bool:
    """Whether a secret is one of a script, and not of a session."""
    return secret.startswith(_MARK)


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "replace")).hexdigest()


def make_token(db: Session, person: Person, *, name: str, scopes: Sequence[str], days: int | None) -> tuple[Token, str]:
    """A new secret of a person, which is kept nowhere; raises :class:`IndiceError` when they have too many."""
    count = db.scalar(select(func.count()).select_from(Token).where(Token.person_id == person.id)) or 0
    if count >= MOST:
        raise IndiceError(
            phrase("There are {most} tokens already.", most=MOST), hint="End one first.", reference="tokens-full"
        )
    secret = _MARK + secrets.token_urlsafe(32)
    ends_at = now() + timedelta(days=days) if days is not None else None
    made = Token(
        person_id=person.id, name=name.strip(), digest=_digest(secret), scopes=sorted(set(scopes)), ends_at=ends_at
    )
    db.add(made)
    db.flush()
    return made, secret


def owner_of_token(db: Session, secret: str, scope: str | None, address: str) -> SignedIn | None:
    """Whose secret it is; None when it is none, or has ended. Raises :class:`IndiceError` (403) beyond its scopes."""
    query = (
        select(Token, Person)
        .join(Person, Person.id == Token.person_id)
        .where(Token.digest == _digest(secret[:200]), or_(Token.ends_at.is_(None), Token.ends_at > now()))
    )
    row = db.execute(query).first()
    if row is None:
        return None
    token, person = row
    if scope is None or scope not in token.scopes:
        raise IndiceError(
            "This token may not do that.",
            hint=phrase("It would need the scope {scope}.", scope=scope)
            if scope
            else "It is done by a person, in a browser.",
            reference="not-allowed",
            status=403,
        )
    if token.seen_at is None or now() - token.seen_at > NOTE_SEEN_AFTER:
        token.seen_at, token.address = now(), address[:60]
    return SignedIn(person, 0)


def tokens_of(db: Session, person_id: int) -> Sequence[Token]:
    """Tokens of a person, the newest first."""
    return db.scalars(select(Token).where(Token.person_id == person_id).order_by(Token.id.desc())).all()


def end_token(db: Session, person_id: int, token_id: int) -> str:
    """A token of a person opens nothing any more; returns its name. Raises
    :class:`IndiceError` (404) when it is none."""
    gone = delete(Token).where(Token.id == token_id, Token.person_id == person_id).returning(Token.name)
    name = db.execute(gone).scalar()
    if name is None:
        raise IndiceError("There is no such token.", reference="token-unknown", status=404)
    return name
