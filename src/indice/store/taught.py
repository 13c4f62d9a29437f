"""What people have taught the reader."""

from __future__ import annotations

from typing import Any, cast

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.reading.corrections import Action, Correction
from ..errors import IndiceError
from .models import Folder, Library, Taught

__all__ = ["corrections_of", "forget_taught", "list_taught", "teach"]


def corrections_of(db: Session, folder_id: int) -> list[Correction]:
    """All corrections that hold in a folder, oldest first."""
    rows = db.scalars(select(Taught).where(Taught.folder_id == folder_id).order_by(Taught.id))
    return [
        Correction(
            path=row.path,
            siblings=row.siblings,
            field=row.field,
            action=cast(Action, row.action),
            value=row.value.get("v"),
        )
        for row in rows
    ]


def teach(db: Session, folder_id: int, correction: Correction) -> Taught:
    """Keep a correction; the same one said again takes the place of the first."""
    for row in db.scalars(
        select(Taught).where(
            Taught.folder_id == folder_id,
            Taught.path == correction.path,
            Taught.field == correction.field,
            Taught.action == correction.action,
        )
    ):
        db.delete(row)
    made = Taught(
        folder_id=folder_id,
        path=correction.path,
        siblings=correction.siblings,
        field=correction.field,
        action=correction.action,
        value={"v": correction.value},
    )
    db.add(made)
    db.flush()
    return made


def list_taught(db: Session) -> list[tuple[Taught, str]]:
    """All corrections with the names of their libraries, newest first."""
    rows: list[Any] = list(
        db.execute(
            select(Taught, Library.name)
            .join(Folder, Folder.id == Taught.folder_id)
            .join(Library)
            .order_by(Taught.id.desc())
        )
    )
    return [(taught, str(name)) for taught, name in rows]


def forget_taught(db: Session, taught_id: int) -> Taught:
    """Remove a correction; raises IndiceError when it is gone already."""
    row = db.get(Taught, taught_id)
    if row is None:
        raise IndiceError("This was forgotten already.", reference="taught-unknown", status=404)
    db.delete(row)
    db.flush()
    return row
