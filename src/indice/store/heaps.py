"""Photos on the map: heaps of those that were taken near each other, counted from an index alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import func, literal_column, select
from sqlalchemy.orm import Session

from ..core.catalog.spots import LEVELS, Box, cell_of, cells_over, level_for, middle_of
from .among import among
from .browse import Wanted, conditions_of, within_cells
from .models import Entry

__all__ = ["ACROSS", "Heap", "heaps_in"]

ACROSS = 14
"""So many heaps at most lie side by side in what is seen of the map."""


@dataclass(frozen=True, slots=True)
class Heap:
    """Photos and clips of one cell of the earth."""

    cell: str
    count: int
    shown: Entry
    """One of them, that came in last."""
    latitude: float
    longitude: float
    town: str
    country: str
    """Where that one says it was; empty where it says nothing."""


def heaps_in(db: Session, wanted: Wanted, box: Box) -> Sequence[Heap]:
    """What lies in a box and close to it, of photos that are asked for: the more is
    seen of the earth, the larger the cells."""
    level = level_for(box, across=ACROSS)
    number = Entry.spot.op(">>")(literal_column(f"{2 * (LEVELS - level)}"))
    query = (
        select(func.count(), func.max(Entry.id))
        .where(*conditions_of(wanted), Entry.spot.is_not(None), within_cells(cells_over(box)))
        .group_by(number)
    )
    counts = {int(newest): int(count) for count, newest in db.execute(query)}
    entries = list(db.scalars(select(Entry).where(among(Entry.id, counts))))
    heaps: list[Heap] = []
    for entry in entries:
        spot, said = entry.spot or 0, dict(trait.split(":", 1) for trait in entry.traits)
        where = said.get("town", ""), said.get("country", "")
        heaps.append(Heap(cell_of(spot, level), counts[entry.id], entry, *middle_of(spot), *where))
    return sorted(heaps, key=lambda heap: (-heap.count, heap.cell))
