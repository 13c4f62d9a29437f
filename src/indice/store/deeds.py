"""The log of what concerns who may do what: sign-ins, shares, changes of rights, requests that were refused."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import delete, or_, select
from sqlalchemy.orm import Session

from .models import Deed, now

__all__ = ["KINDS", "deeds", "new_devices", "note_deed"]

KEPT = timedelta(days=180)
MOST = 20_000
"""So many lines are kept at most, whoever makes them: somebody who is refused over and over fills no disk."""
FORGET_EVERY = 100
"""So often what is too old, or too much, is looked for."""
TOLD = timedelta(days=3)
"""So long the owner is told in Today."""
KINDS = (
    *("signed-in", "signed-out", "sign-in-wrong", "new-device", "password-changed", "invited", "came-in"),
    *("shared", "share-ended", "share-opened", "handed-in", "person-added", "rights-changed", "person-removed"),
    *("token-made", "token-ended", "passkey-made", "passkey-removed", "device-confirmed", "refused", "network-changed"),
)


def note_deed(
    db: Session, kind: str, *, person: str = "", address: str = "", values: dict[str, Any] | None = None
) -> None:
    """Write down what somebody did, or was refused."""
    if kind not in KINDS:
        raise ValueError(kind)
    made = Deed(kind=kind, person=person[:80], address=address[:60], values=values or {})
    db.add(made)
    db.flush()
    if made.id % FORGET_EVERY == 0:
        db.execute(delete(Deed).where(or_(Deed.at < now() - KEPT, Deed.id <= made.id - MOST)))


def new_devices(db: Session) -> Sequence[Deed]:
    """Who signed in of late from where, and with what, they were never seen before."""
    query = select(Deed).where(Deed.kind == "new-device", Deed.at > now() - TOLD)
    return db.scalars(query.order_by(Deed.id.desc()).limit(5)).all()


def deeds(db: Session, *, before: int | None = None, kinds: Collection[str] = (), limit: int = 100) -> Sequence[Deed]:
    """Lines of the log, the newest first; `before`: older than the line of this number."""
    query = select(Deed).where(Deed.at > now() - KEPT).order_by(Deed.id.desc()).limit(limit)
    if before is not None:
        query = query.where(Deed.id < before)
    if kinds:
        query = query.where(Deed.kind.in_(kinds))
    return db.scalars(query).all()
