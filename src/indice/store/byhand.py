"""What people write of entries: their word is shown, locked, and told in the entry's story."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..core.facts import best_value
from ..core.phrase import phrase
from ..errors import IndiceError
from .facts import rankings, values_of
from .models import Entry, Fact, FactChange
from .shown import refresh_shown

__all__ = ["FIELDS_BY_HAND", "changes_of", "write_by_hand", "write_many_by_hand"]


FIELDS_BY_HAND: dict[str, type] = {
    "title": str,
    "original_title": str,
    "year": int,
    "date": str,
    "plot": str,
    "tagline": str,
    "genres": list,
    "directors": list,
    "cast": list,
    "artist": str,
    "rating": str,
    "set": str,
    "keywords": list,
    "people": list,
    "lyrics": str,
}
"""Fields that a person may write, and what they hold."""


def write_by_hand(db: Session, entry: Entry, field: str, value: Any, *, by: str) -> None:
    """A person's word for a field: it is shown, locked, and never undone by what is fetched. None takes it back.

    Raises :class:`IndiceError` for a field that cannot be written, or a value that it cannot hold.
    """
    wanted = FIELDS_BY_HAND.get(field)
    if wanted is None:
        raise IndiceError(phrase("{field} cannot be written by hand.", field=field), reference="field-unknown")
    if value is not None and (
        type(value) is not wanted
        or value in ("", [])
        or (wanted is list and not all(isinstance(v, str) for v in value))
    ):
        raise IndiceError(
            "This is no value for the field.",
            hint="A year is a number; several names are parted by commas.",
            reference="value-wrong",
        )
    if field == "year" and value is not None and not 1800 <= value <= 2200:
        raise IndiceError("This is no year.", reference="value-wrong")
    values = values_of(db, [entry.id]).get(entry.id, {}).get(field, [])
    before = best_value(values, field, rankings(db)[entry.library_id])
    db.execute(delete(Fact).where(Fact.entry_id == entry.id, Fact.field == field, Fact.origin == "hand"))
    if value is not None:
        db.add(Fact(entry_id=entry.id, field=field, origin="hand", value={"v": value}, locked=True))
    change = FactChange(
        entry_id=entry.id,
        field=field,
        before={"v": before.value} if before else {},
        after={} if value is None else {"v": value},
        by=by,
    )
    db.add(change)
    db.flush()
    refresh_shown(db, [entry.id])


def write_many_by_hand(db: Session, entries: Sequence[Entry], field: str, value: Any, *, how: str, by: str) -> int:
    """A person's word for a field of many entries; returns how many are changed.

    `set` gives each this value, `add` and `drop` change single values of a list that is shown now. Raises IndiceError
    as :func:`write_by_hand` does, before anything is changed.
    """
    if how != "set" and (FIELDS_BY_HAND.get(field) is not list or not isinstance(value, list) or not value):
        raise IndiceError("Single values can be added to a list only.", reference="value-wrong")
    order = rankings(db)
    facts = values_of(db, [entry.id for entry in entries]) if how != "set" else {}
    changed = 0
    for entry in entries:
        wanted = value
        if how != "set":
            best = best_value(facts.get(entry.id, {}).get(field, []), field, order[entry.library_id])
            held = list(best.value) if best is not None and isinstance(best.value, list) else []
            folded = {str(one).casefold() for one in value}
            wanted = [one for one in held if str(one).casefold() not in folded] + (list(value) if how == "add" else [])
            if wanted == held or (how == "add" and folded <= {str(one).casefold() for one in held}):
                continue
            wanted = wanted or None
        write_by_hand(db, entry, field, wanted, by=by)
        changed += 1
    return changed


def changes_of(db: Session, entry_id: int, *, limit: int) -> list[FactChange]:
    """What people changed of an entry, the newest first."""
    query = select(FactChange).where(FactChange.entry_id == entry_id)
    return list(db.scalars(query.order_by(FactChange.id.desc()).limit(limit)))
