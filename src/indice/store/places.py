"""Photos whose place has no name yet, and the names that were found for them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from ..core.catalog.spots import middle_of
from .among import among
from .due import done, some_due
from .facts import put_facts
from .models import Entry, Fact

__all__ = ["ORIGIN", "Due", "places_due", "put_towns"]

ORIGIN = "place"
"""Of what is known of a photo only by where it was taken."""
_FIELDS = ("town", "country")


@dataclass(frozen=True, slots=True)
class Due:
    """Photos whose place was not looked up yet, or is another now."""

    notes: list[int]
    entries: list[int]
    places: dict[int, tuple[float, float]]
    """Latitude and longitude, in degrees, of those that nobody names."""


def places_due(db: Session, *, limit: int) -> Due:
    """The next photos of which the town is to be found."""
    notes, due = some_due(db, "place_due", limit)
    named = select(Fact.entry_id).where(among(Fact.entry_id, due), Fact.field.in_(_FIELDS), Fact.origin != ORIGIN)
    query = select(Entry.id, Entry.spot).where(among(Entry.id, due), Entry.spot.is_not(None), Entry.id.not_in(named))
    return Due(notes, due, {row.id: middle_of(row.spot) for row in db.execute(query)})


def put_towns(db: Session, due: Due, told: Mapping[int, Mapping[str, str]]) -> None:
    """Keep what was found in place of what was found before; the entries are not due any more."""
    gone = text("delete from fact where entry_id = any(:ids) and origin = :origin")
    db.execute(gone, {"ids": due.entries, "origin": ORIGIN})
    there = set(db.scalars(select(Entry.id).where(among(Entry.id, told))))
    put_facts(db, ((entry_id, ORIGIN, values) for entry_id, values in told.items() if entry_id in there and values))
    done(db, "place_due", due.notes)
