"""Who watches what together: the household's invitations to it, where the film is, and who is there."""

from __future__ import annotations

import secrets
import time
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.playing.together import Shared, told
from ..errors import IndiceError
from .family import entries_at
from .models import Entry, Party, PartyGuest, Person, now
from .viewer import Viewer

__all__ = ["LEFT_AFTER_SECONDS", "Round", "begin_party", "come", "leave_party", "parties_now", "round_at", "say"]

LEFT_AFTER_SECONDS = 20
"""Who says nothing for so long has left; without anybody it is over."""
MOST_GUESTS = 40


@dataclass(frozen=True, slots=True)
class Round:
    """A party as somebody sees it."""

    key: str
    entry: Entry
    host: str
    shared: Shared
    changed_by: str
    names: tuple[str, ...]
    """Who is there, each once."""


def begin_party(db: Session, viewer: Viewer, entry: Entry, position_seconds: float) -> str:
    """Somebody invites the household to watch something together; it waits at a moment until somebody starts it."""
    _end_left(db)
    key = secrets.token_urlsafe(9)
    name = db.get_one(Person, viewer.person_id).name
    shared = told(position_seconds, is_paused=True, now_seconds=time.time())
    party = Party(key=key, host_id=viewer.person_id, entry_id=entry.id, changed_by=name, **_columns(shared))
    db.add(party)
    db.flush()
    return key


def _columns(shared: Shared) -> dict[str, float | bool]:
    return {
        "is_paused": shared.is_paused,
        "position_seconds": shared.position_seconds,
        "at_seconds": shared.at_seconds,
    }


def round_at(db: Session, key: str) -> Round:
    """A party; raises :class:`IndiceError` (404) when it is over, or of something that may not be seen."""
    party = db.get(Party, key) if len(key) < 40 else None
    entry = next(iter(entries_at(db, [party.entry_id])), None) if party is not None else None
    if party is None or entry is None:
        raise IndiceError("They do not watch any more.", reference="party-over", status=404)
    return _round(db, party, entry)


def _round(db: Session, party: Party, entry: Entry) -> Round:
    query = (
        select(Person.name)
        .join(PartyGuest, PartyGuest.person_id == Person.id)
        .where(PartyGuest.party_key == party.key, PartyGuest.beat_at > _left_before())
        .order_by(PartyGuest.came_at)
    )
    host = db.get(Person, party.host_id)
    shared = Shared(party.is_paused, party.position_seconds, party.at_seconds)
    names = tuple(dict.fromkeys(db.scalars(query)))
    return Round(party.key, entry, host.name if host is not None else "", shared, party.changed_by, names)


def _left_before() -> datetime:
    return now() - timedelta(seconds=LEFT_AFTER_SECONDS)


def come(db: Session, viewer: Viewer, key: str, device: str) -> bool:
    """Somebody is there, with a browser; whether they were not before.

    Raises :class:`IndiceError` (429) when there are as many as may be.
    """
    known = db.get(PartyGuest, (key, device))
    if known is not None:
        known.beat_at = now()
        return False
    guests = db.scalars(select(PartyGuest).where(PartyGuest.party_key == key)).all()
    if len(guests) >= MOST_GUESTS:
        raise IndiceError("It is full here.", reference="party-full", status=429)
    statement = insert(PartyGuest).values(party_key=key, device=device, person_id=viewer.person_id)
    db.execute(statement.on_conflict_do_nothing())
    return True


def leave_party(db: Session, viewer: Viewer, key: str, device: str) -> None:
    """Somebody leaves; with the last it is over."""
    gone = delete(PartyGuest).where(
        PartyGuest.party_key == key, PartyGuest.device == device, PartyGuest.person_id == viewer.person_id
    )
    db.execute(gone)
    _end_left(db)


def say(
    db: Session, viewer: Viewer, key: str, *, position_seconds: float, is_paused: bool, entry: Entry | None = None
) -> None:
    """Somebody starts it, stops it, jumps, or goes on to another entry, for all."""
    party = db.get_one(Party, key)
    shared = told(position_seconds, is_paused=is_paused, now_seconds=time.time())
    party.is_paused, party.position_seconds, party.at_seconds = (
        shared.is_paused, shared.position_seconds, shared.at_seconds,
    )  # fmt: skip
    if entry is not None:
        party.entry_id = entry.id
    party.changed_by = db.get_one(Person, viewer.person_id).name


def parties_now(db: Session) -> Sequence[Round]:
    """What is watched together at the moment, of what may be seen."""
    _end_left(db)
    parties = db.scalars(select(Party).order_by(Party.began_at)).all()
    entries = {entry.id: entry for entry in entries_at(db, [party.entry_id for party in parties])}
    return [_round(db, party, entries[party.entry_id]) for party in parties if party.entry_id in entries]


def _end_left(db: Session) -> None:
    """Who has left is no guest; where nobody is, it is over."""
    db.execute(delete(PartyGuest).where(PartyGuest.beat_at < _left_before()))
    guests = select(PartyGuest.party_key)
    db.execute(delete(Party).where(Party.key.not_in(guests), Party.began_at < _left_before()))
