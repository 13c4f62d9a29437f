"""Folders where new files land, and what landed there."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..disk.walk import shown
from ..errors import IndiceError
from .libraries import all_folders
from .models import Arrival, Intake

__all__ = ["declare_intake", "list_arrivals", "list_intakes"]


def list_intakes(db: Session) -> list[Intake]:
    """All intake folders."""
    return list(db.scalars(select(Intake).order_by(Intake.id)))


def list_arrivals(db: Session, *, limit: int) -> list[Arrival]:
    """What landed, the newest first."""
    return list(db.scalars(select(Arrival).order_by(Arrival.at.desc()).limit(limit)))


def declare_intake(db: Session, path: bytes, *, alone: bool) -> None:
    """New files land in this folder; raises :class:`IndiceError` when it lies in a library or holds one."""
    for folder in all_folders(db):
        own = bytes(folder.path).rstrip(b"/")
        if path == own or path.startswith(own + b"/") or own.startswith(path + b"/"):
            raise IndiceError(
                phrase("{own} belongs to a library.", own=shown(own)),
                hint="Choose a folder outside of every library.",
                reference="intake-overlaps",
            )
    known = db.scalars(select(Intake).where(Intake.path == path)).first()
    if known is None:
        db.add(Intake(path=path, shown=shown(path), alone=alone))
    else:
        known.alone = alone
