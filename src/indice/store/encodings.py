"""Conversions that another machine carries: asked for at home, taken there, and told how far they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from .machines import SILENT_SECONDS as MACHINE_SILENT_SECONDS
from .models import Encoding, Machine, Playing, now

__all__ = [
    "SILENT_SECONDS",
    "Asked",
    "State",
    "ask_for",
    "carried_now",
    "drop",
    "far_room",
    "most_elsewhere",
    "move_on",
    "state_of",
    "take_encoding",
    "want",
]

SILENT_SECONDS = 8.0
"""A machine that says nothing of a conversion for so long has lost it."""


@dataclass(frozen=True, slots=True)
class Asked:
    """A conversion that a machine has taken."""

    id: int
    track: str
    first: int
    folder: str
    plan: dict[str, Any]


@dataclass(frozen=True, slots=True)
class State:
    """How far a conversion is."""

    is_taken: bool
    is_ended: bool
    place: int
    speed: float
    silent_seconds: float
    """Since the machine last said something of it, or since it was asked for."""


def most_elsewhere(db: Session, ffmpeg: str) -> int:
    """How many conversions other machines can carry, of those that live and whose encoder is the same as at home."""
    alive = (
        Machine.is_home.is_(False),
        Machine.ffmpeg == ffmpeg,
        Machine.beat_at > now() - timedelta(seconds=MACHINE_SILENT_SECONDS),
    )
    return int(db.scalar(select(func.sum(Machine.converts)).where(*alive)) or 0)


def far_room(db: Session, ffmpeg: str, key: str = "") -> int:
    """How many they can carry more at the moment; what they carry for the playing
    `key` makes room for what it asks now."""
    others = (Encoding.is_ended.is_(False), Encoding.playing_key != key)
    at_work = db.scalar(select(func.count()).select_from(Encoding).where(*others)) or 0
    return max(most_elsewhere(db, ffmpeg) - int(at_work), 0)


def ask_for(db: Session, key: str, track: str, first: int, folder: str) -> int:
    """Ask for a conversion from a segment on; what was asked of this track before is dropped. Returns its number."""
    db.execute(delete(Encoding).where(Encoding.playing_key == key, Encoding.track == track))
    made = Encoding(playing_key=key, track=track, first=first, place=first, wanted=first, folder=folder)
    db.add(made)
    db.flush()
    return made.id


def want(db: Session, encoding_id: int, number: int) -> None:
    """Somebody asks for a segment: go on behind it."""
    db.execute(
        update(Encoding)
        .where(Encoding.id == encoding_id, Encoding.wanted < number)
        .values(wanted=number)
        .execution_options(synchronize_session=False)
    )


def drop(db: Session, encoding_id: int) -> None:
    """Nobody needs it any more: who carries it ends."""
    db.execute(delete(Encoding).where(Encoding.id == encoding_id))


def state_of(db: Session, encoding_id: int) -> State | None:
    """How far it is; None when it was dropped."""
    row = db.get(Encoding, encoding_id)
    if row is None:
        return None
    silent = (now() - row.beat_at).total_seconds()
    return State(row.machine_id is not None, row.is_ended, row.place, row.speed, silent)


def take_encoding(db: Session, machine_id: int, refused: Sequence[int]) -> Asked | None:
    """The oldest conversion that nobody has taken, but for those that this
    machine cannot do; it is this machine's now."""
    query = (
        select(Encoding, Playing.plan)
        .join(Playing, Playing.key == Encoding.playing_key)
        .where(Encoding.machine_id.is_(None), Encoding.id.not_in(refused))
        .order_by(Encoding.id)
        .limit(1)
        .with_for_update(of=Encoding, skip_locked=True)
    )
    found = db.execute(query).first()
    if found is None:
        return None
    row, plan = found
    row.machine_id, row.beat_at = machine_id, now()
    return Asked(row.id, row.track, row.first, row.folder, plan)


def move_on(db: Session, encoding_id: int, *, place: int, speed: float, is_ended: bool) -> int | None:
    """Say how far it is; returns the segment that is wanted, None when nobody needs it any more."""
    moved = (
        update(Encoding)
        .where(Encoding.id == encoding_id)
        .values(place=place, speed=speed, is_ended=is_ended, beat_at=now())
        .returning(Encoding.wanted)
    )
    return db.execute(moved.execution_options(synchronize_session=False)).scalar()


def carried_now(db: Session) -> dict[str, str]:
    """Key of a playing → the machine that carries its conversion."""
    query = (
        select(Encoding.playing_key, Machine.name)
        .join(Machine, Machine.id == Encoding.machine_id)
        .where(Encoding.is_ended.is_(False))
    )
    return dict(db.execute(query).all())
