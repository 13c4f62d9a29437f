"""What is due: the database notes the entries that each change touches, in the transaction that makes the change.

A note is a row of its own, even where one for the same entry is there: it becomes visible with the change that it is
of, and who settles takes away those that they saw, and no others.
"""

from __future__ import annotations

from typing import Literal

from sqlalchemy import text
from sqlalchemy.orm import Session

__all__ = ["Notes", "done", "is_due", "some_due"]

Notes = Literal["age_due", "trait_due", "place_due"]


def is_due(db: Session, notes: Notes) -> bool:
    """Whether anything is."""
    return db.scalar(text(f"select 1 from {notes} limit 1")) is not None


def some_due(db: Session, notes: Notes, limit: int) -> tuple[list[int], list[int]]:
    """The entries that the oldest notes name, up to so many notes, each once;
    and the ids of all notes that name them."""
    query = text(
        f"with oldest as (select entry_id from {notes} order by id limit :limit)"
        f" select id, entry_id from {notes} where entry_id in (select entry_id from oldest)"
    )
    rows = db.execute(query, {"limit": limit}).all()
    return [row.id for row in rows], sorted({row.entry_id for row in rows})


def done(db: Session, notes: Notes, ids: list[int]) -> None:
    """What these notes name is settled."""
    db.execute(text(f"delete from {notes} where id = any(:ids)"), {"ids": ids})
