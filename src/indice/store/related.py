"""What is related to a film or a series, and why: who made it, who is in it, what it belongs to, what it is like."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import literal, select, union_all
from sqlalchemy.orm import Session

from ..core.facts import Value, best_value
from .among import among, holds_value
from .models import Entry, Fact

__all__ = ["related_to"]

_SPEAKS: dict[str, tuple[float, int]] = {
    "set": (5.0, 1),
    "directors": (3.0, 3),
    "writers": (2.0, 2),
    "composers": (1.5, 1),
    "cast": (1.5, 6),
    "genres": (0.6, 3),
    "keywords": (0.6, 4),
}
"""Field → how far one value in common speaks for it, and how many of its values are asked for."""
_COMMON = ("genres", "keywords")
LEAST = 1.2
"""One genre in common is nothing."""
LOOKED_AT = 80
"""So many entries at most for one value: what thousands have in common relates nothing."""
RELATED_KINDS = ("movie", "series")


def related_to(
    db: Session, entry: Entry, values: Mapping[str, list[Value]], *, limit: int = 6
) -> list[tuple[Entry, list[tuple[str, str]]]]:
    """Entries of the same kind that have most in common with one, each with what that is: field and value."""
    if entry.kind not in RELATED_KINDS:
        return []
    said = [
        (field, value)
        for field, (_, most) in _SPEAKS.items()
        for value in _texts(best_value(values.get(field, [])))[:most]
    ]
    # What thousands share is asked for only where nothing else is known; else it is looked up of who was found.
    wanted = [pair for pair in said if pair[0] not in _COMMON] or said
    if not wanted:
        return []
    common: dict[int, set[tuple[str, str]]] = defaultdict(set)
    asked = union_all(*(_holding(field, value, place) for place, (field, value) in enumerate(wanted)))
    rows: Sequence[Any] = db.execute(asked).all()
    for row in rows:
        common[row.entry_id].add(wanted[row.place])
    common.pop(entry.id, None)
    if wanted is not said:
        _add_common(db, common, [pair for pair in said if pair[0] in _COMMON])
    weight = {id_: sum(_SPEAKS[field][0] for field, _ in pairs) for id_, pairs in common.items()}
    best = sorted((id_ for id_ in weight if weight[id_] >= LEAST), key=lambda id_: (-weight[id_], id_))[: 6 * limit]
    query = select(Entry).where(among(Entry.id, best), Entry.kind == entry.kind)
    found = sorted(
        db.scalars(query), key=lambda other: (-weight[other.id], abs((other.year or 0) - (entry.year or 0)), other.id)
    )
    order = list(_SPEAKS)
    return [(other, sorted(common[other.id], key=lambda pair: order.index(pair[0]))) for other in found[:limit]]


def _add_common(db: Session, common: dict[int, set[tuple[str, str]]], said: Sequence[tuple[str, str]]) -> None:
    """Genres and keywords that what was found has in common, too."""
    query = select(Fact.entry_id, Fact.field, Fact.value).where(
        among(Fact.entry_id, list(common)), Fact.field.in_(_COMMON)
    )
    rows: Sequence[Any] = db.execute(query).all()
    for row in rows:
        told = row.value.get("v")
        common[row.entry_id].update(pair for pair in said if pair[0] == row.field and pair[1] in _listed(told))


def _listed(value: Any) -> list[str]:
    return [str(one) for one in (value if isinstance(value, list) else [value])]


def _texts(value: Value | None) -> list[str]:
    said: Any = value.value if value is not None else []
    return [str(one) for one in (said if isinstance(said, list | tuple) else [said]) if one]


def _holding(field: str, value: str, place: int) -> Any:
    """Entries of which some origin says this value of a field."""
    one = select(literal(place).label("place"), Fact.entry_id).where(Fact.field == field, holds_value(value))
    return select(one.limit(LOOKED_AT).subquery())
