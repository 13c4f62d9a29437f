"""A shelf in groups: its films by genre, albums by composer, photos by lens, each with the first of what it holds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Select, Subquery, cast, func, literal, select, union_all
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from ..core.catalog import GROUPED, NEWEST_FIRST
from .among import among
from .browse import Wanted, conditions_of, counts_of
from .models import CleanText, Entry
from .orders import packed, unpacked

__all__ = ["GROUPS_A_PAGE", "SHOWN", "Group", "GroupPage", "groups_of", "is_grouped"]

GROUPS_A_PAGE = 12
SHOWN = 12
"""So many of each group are shown beside its name."""


@dataclass(frozen=True, slots=True)
class Group:
    """What has one trait."""

    value: str
    count: int
    entries: Sequence[Entry]


@dataclass(frozen=True, slots=True)
class GroupPage:
    """Some groups of a shelf."""

    groups: Sequence[Group]
    total: int
    """How many groups there are."""
    following: str | None


def is_grouped(shelf: str, group: str) -> bool:
    """Whether a shelf can be looked at so."""
    return group in GROUPED.get(shelf, ())


def groups_of(db: Session, wanted: Wanted, group: str) -> GroupPage:
    """The next groups of a shelf, those that hold most first, decades from the newest;
    `wanted.after` is where the last page ended.

    Raises :class:`IndiceError` where the page is none that was given out.
    """
    counts = counts_of(db, wanted, group=group)
    order = sorted((_key(group, trait, count) for trait, count in counts.items()))
    if wanted.after:
        behind = tuple(unpacked(wanted.after, int, str))
        order = [key for key in order if key > behind]
    shown = [trait for _, trait in order[:GROUPS_A_PAGE]]
    entries = _first_of(db, wanted, {trait: counts[trait] for trait in shown})
    return GroupPage(
        groups=[Group(trait[len(group) + 1 :], counts[trait], entries.get(trait, ())) for trait in shown],
        total=len(counts),
        following=packed(*order[GROUPS_A_PAGE - 1]) if len(order) > GROUPS_A_PAGE else None,
    )


def _key(group: str, trait: str, count: int) -> tuple[int, str]:
    value = trait[len(group) + 1 :]
    return (-int(value) if value.isdigit() else 0, trait) if group in NEWEST_FIRST else (-count, trait)


def _first_of(db: Session, wanted: Wanted, counts: Mapping[str, int]) -> Mapping[str, list[Entry]]:
    """The first entries that have each trait, in the order of the shelf.

    What many have is found among the first of the shelf; only for what few have the database looks by the trait.
    """
    if not counts:
        return {}
    keys, newest_first = _order_of(wanted.shelf)
    found: dict[str, list[int]] = {trait: [] for trait in counts}
    first = select(Entry.id, Entry.traits).where(*conditions_of(wanted))
    order = [key.desc() if newest_first else key.asc() for key in keys]
    for row in db.execute(first.order_by(*order).limit(LOOKED_THROUGH)):
        for trait in row.traits:
            if len(found.get(trait, _FULL)) < SHOWN:
                found[trait].append(row.id)
    rare = [trait for trait, ids in found.items() if len(ids) < min(SHOWN, counts[trait])]
    if rare:
        found |= _by_trait(db, wanted, rare)
    every = {id_ for ids in found.values() for id_ in ids}
    known = {entry.id: entry for entry in db.scalars(select(Entry).where(among(Entry.id, every)))}
    return {trait: [known[id_] for id_ in ids if id_ in known] for trait, ids in found.items()}


LOOKED_THROUGH = 600
_FULL = range(10**6)


def _order_of(shelf: str) -> tuple[list[Any], bool]:
    if shelf == "photos":
        return [func.coalesce(Entry.moment, "").label("first"), Entry.id], True
    return [Entry.sort_title.label("first"), func.coalesce(Entry.year, 0).label("second"), Entry.id], False


def _by_trait(db: Session, wanted: Wanted, traits: Sequence[str]) -> dict[str, list[int]]:
    """Ids of the first entries that have each trait: one question for all traits."""
    keys, newest_first = _order_of(wanted.shelf)
    order = [key.desc() if newest_first else key.asc() for key in keys]
    parts = [
        select(*keys)
        .where(*conditions_of(wanted), Entry.traits.overlap(cast([trait], ARRAY(CleanText()))))
        .order_by(*order)
        .limit(SHOWN)
        .subquery()
        for trait in traits
    ]
    rows = db.execute(union_all(*(_placed(part, place, newest_first) for place, part in enumerate(parts)))).all()
    found: dict[str, list[int]] = {trait: [] for trait in traits}
    for row in sorted(rows, key=lambda row: (row.place, row.at)):
        found[traits[int(row.place)]].append(row.id)
    return found


def _placed(part: Subquery, place: int, newest_first: bool) -> Select[int, int, int]:
    """Ids of one part, with its place among the parts and theirs in it."""
    order = [key.desc() if newest_first else key.asc() for key in part.c]
    return select(part.c.id, literal(place).label("place"), func.row_number().over(order_by=order).label("at"))
