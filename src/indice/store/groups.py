"""A shelf in groups: its films by genre, albums by composer, photos by lens, each with the first of what it holds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

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
    """The next groups of a shelf, those that hold most first, decades from the newest; `wanted.after` is where the last page ended.

    Raises :class:`IndiceError` where the page is none that was given out.
    """
    counts = counts_of(db, wanted, group=group)
    order = sorted((_key(group, trait, count) for trait, count in counts.items()))
    if wanted.after:
        behind = tuple(unpacked(wanted.after, int, str))
        order = [key for key in order if key > behind]
    shown = [trait for _, trait in order[:GROUPS_A_PAGE]]
    entries = _first_of(db, wanted, shown)
    return GroupPage(
        groups=[Group(trait[len(group) + 1 :], counts[trait], entries.get(trait, ())) for trait in shown],
        total=len(counts),
        following=packed(*order[GROUPS_A_PAGE - 1]) if len(order) > GROUPS_A_PAGE else None,
    )


def _key(group: str, trait: str, count: int) -> tuple[int, str]:
    value = trait[len(group) + 1 :]
    return (-int(value) if value.isdigit() else 0, trait) if group in NEWEST_FIRST else (-count, trait)


def _first_of(db: Session, wanted: Wanted, traits: Sequence[str]) -> Mapping[str, list[Entry]]:
    """The first entries that have each trait, in the order of the shelf: one question for all traits."""
    if not traits:
        return {}
    if wanted.shelf == "photos":
        keys, newest_first = [func.coalesce(Entry.moment, "").label("first"), Entry.id], True
    else:
        keys, newest_first = (
            [Entry.sort_title.label("first"), func.coalesce(Entry.year, 0).label("second"), Entry.id],
            False,
        )
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
    known = {entry.id: entry for entry in db.scalars(select(Entry).where(among(Entry.id, {row.id for row in rows})))}
    found: dict[str, list[Entry]] = {}
    for row in sorted(rows, key=lambda row: (row.place, row.at)):
        if row.id in known:
            found.setdefault(traits[int(row.place)], []).append(known[row.id])
    return found


def _placed(part: Subquery, place: int, newest_first: bool) -> Select[int, int, int]:
    """Ids of one part, with its place among the parts and theirs in it."""
    order = [key.desc() if newest_first else key.asc() for key in part.c]
    return select(part.c.id, literal(place).label("place"), func.row_number().over(order_by=order).label("at"))
