"""Shelves of the catalog: their pages, what they are narrowed down and grouped by, and photos on the map."""

from __future__ import annotations

import math

from apiflask import APIBlueprint

from ..core.catalog import GROUPS, LOOKED_FOR
from ..core.catalog.spots import Box
from ..errors import IndiceError
from ..store.browse import (
    MARKS,
    SHELVES,
    Wanted,
    has_cast,
    matching_ids,
    ruler_of,
    shelf_page,
    trait_counts,
    traits_like,
)
from ..store.groups import groups_of, is_grouped
from ..store.heaps import heaps_in
from ..store.libraries import library_names
from ..store.traits import SETTLED_AT_ONCE, settle_traits
from .common import begin, begin_for_all, cards_of, viewer
from .missing import set_lacks
from .schemas_shelves import (
    GroupOut,
    GroupsOut,
    HeapOut,
    MapOut,
    MapQuery,
    MatchingIds,
    Ruler,
    Shelf,
    ShelfQuery,
    TraitGroup,
    TraitOut,
    TraitQuery,
    TraitsOut,
)

__all__ = ["bp", "wanted_from"]

bp = APIBlueprint("shelves", __name__, url_prefix="/api", tag="Catalog")


def wanted_from(shelf: str, query: ShelfQuery) -> Wanted:
    """What a shelf is asked for; raises :class:`IndiceError` (404) where there is no such shelf or group of traits."""
    if shelf not in SHELVES:
        raise IndiceError("There is no such shelf.", reference="shelf-unknown", status=404)
    traits = tuple(one for one in query.traits.split("|") if one)
    if any(one.partition(":")[0] not in GROUPS[shelf] for one in traits):
        raise IndiceError("Nothing is narrowed down by that.", reference="trait-unknown", status=404)
    return Wanted(
        shelf,
        query.year,
        query.until,
        query.words,
        query.after,
        traits=traits,
        sort=query.sort,
        person_id=viewer().person_id,
    )


@bp.get("/shelves/<shelf>")
@bp.input(ShelfQuery, location="query", arg_name="query")
@bp.output(Shelf)
def read_shelf(shelf: str, query: ShelfQuery) -> Shelf:
    """A page of a shelf: films, series, music or photos; by year (of photos also by month) and by words."""
    with begin() as db:
        page = shelf_page(db, wanted_from(shelf, query))
        return Shelf(entries=cards_of(db, page.entries), following=page.following)


@bp.get("/shelves/<shelf>/ruler")
@bp.input(ShelfQuery, location="query", arg_name="query")
@bp.output(Ruler)
def read_ruler(shelf: str, query: ShelfQuery) -> Ruler:
    """How many entries of a shelf are of each year, of photos of each month."""
    with begin() as db:
        steps = ruler_of(db, wanted_from(shelf, query))
        return Ruler(steps=steps, total=sum(steps.values()))


@bp.get("/map")
@bp.input(MapQuery, location="query", arg_name="query")
@bp.output(MapOut)
def read_map(query: MapQuery) -> MapOut:
    """Heaps of photos in what is seen of the earth and close to it, the largest first."""
    box = Box(query.west, query.south, query.east, query.north)
    if box.west > box.east or box.south > box.north:
        raise IndiceError("There is no such place on the map.", reference="request-wrong", status=422)
    wanted = wanted_from("photos", query)
    with begin_for_all() as db:
        settle_traits(db, limit=SETTLED_AT_ONCE)
    with begin() as db:
        heaps = heaps_in(db, wanted, box)
        cards = cards_of(db, [heap.shown for heap in heaps])
    told = ("cell", "count", "latitude", "longitude", "town", "country")
    return MapOut(
        heaps=[
            HeapOut(entry=card, **{name: getattr(heap, name) for name in told})
            for heap, card in zip(heaps, cards, strict=True)
        ]
    )


@bp.get("/shelves/<shelf>/traits")
@bp.input(ShelfQuery, location="query", arg_name="query")
@bp.output(TraitsOut)
def read_traits(shelf: str, query: ShelfQuery) -> TraitsOut:
    """What a shelf can be narrowed down by, with how many entries would be left."""
    wanted = wanted_from(shelf, query)
    with begin_for_all() as db:
        is_settled = settle_traits(db, limit=SETTLED_AT_ONCE) < SETTLED_AT_ONCE
    with begin() as db:
        counts = trait_counts(db, wanted)
        libraries = library_names(db)
        is_told = "cast" in GROUPS[shelf] and has_cast(db, wanted)
    groups: list[TraitGroup] = []
    for name in GROUPS[shelf]:
        if name == "near":
            continue
        if name == "cast":  # there are very many: the page asks for them apart
            groups += [TraitGroup(name=name, traits=[], has_more=True)] if is_told else []
            continue
        told = [(trait[len(name) + 1 :], count) for trait, count in counts.items() if trait.startswith(f"{name}:")]
        told += [(one[len(name) + 1 :], 0) for one in wanted.traits if one.startswith(f"{name}:") and one not in counts]
        told.sort(key=lambda pair: (_place(name, pair[0]), -pair[1], pair[0]))
        if len(told) > 1 or any(one.startswith(f"{name}:") for one in wanted.traits):
            traits = [
                TraitOut(
                    value=value,
                    label=libraries.get(int(value), "") if name == "library" and value.isdigit() else "",
                    count=count,
                )
                for value, count in told[:MOST_TRAITS]
            ]
            has_more = len(told) > MOST_TRAITS and name in LOOKED_FOR
            groups.append(TraitGroup(name=name, traits=traits, has_more=has_more))
    return TraitsOut(groups=groups, is_settled=is_settled)


@bp.get("/shelves/<shelf>/traits/<group>")
@bp.input(TraitQuery, location="query", arg_name="query")
@bp.output(TraitGroup)
def read_traits_like(shelf: str, group: str, query: TraitQuery) -> TraitGroup:
    """Values of one group by which a shelf can be narrowed down, such as who is in its
    films, as far as letters stand in them."""
    wanted = wanted_from(shelf, query)
    if group not in GROUPS[shelf] or group not in LOOKED_FOR:
        raise IndiceError("Nothing is narrowed down by that.", reference="trait-unknown", status=404)
    with begin_for_all() as db:
        settle_traits(db, limit=SETTLED_AT_ONCE)
    with begin() as db:
        found = traits_like(db, wanted, group, query.like, limit=MOST_TRAITS + 1)
    traits = [TraitOut(value=value, label="", count=count) for value, count in found[:MOST_TRAITS]]
    return TraitGroup(name=group, traits=traits, has_more=len(found) > MOST_TRAITS)


@bp.get("/shelves/<shelf>/by/<group>")
@bp.input(ShelfQuery, location="query", arg_name="query")
@bp.output(GroupsOut)
def read_groups(shelf: str, group: str, query: ShelfQuery) -> GroupsOut:
    """A shelf in groups, such as films by genre, each with the first of what it holds; a page of groups."""
    wanted = wanted_from(shelf, query)
    if not is_grouped(shelf, group):
        raise IndiceError("Nothing is grouped by that.", reference="trait-unknown", status=404)
    with begin_for_all() as db:
        settle_traits(db, limit=SETTLED_AT_ONCE)
    with begin() as db:
        page = groups_of(db, wanted, group)
        lacks = set_lacks(db, {one.value: one.entries for one in page.groups}) if group == "set" else {}
        cards = {
            card.id: card for card in cards_of(db, list({e.id: e for g in page.groups for e in g.entries}.values()))
        }
    groups = [
        GroupOut(
            value=one.value,
            count=one.count,
            entries=[cards[entry.id] for entry in one.entries],
            lacks=lacks.get(one.value, []),
        )
        for one in page.groups
    ]
    return GroupsOut(groups=groups, total=page.total, following=page.following)


MOST_TRAITS = 40
"""So many of a group are told, those of which there are most."""
_IN_ORDER = ("decade", "age", "length", "resolution")
"""Groups whose traits have an order of their own; of the others what there is most of comes first."""


def _place(group: str, value: str) -> float:
    digits = "".join(letter for letter in value if letter.isdigit())
    if group == "mark":
        return MARKS.index(value) if value in MARKS else len(MARKS)
    return (float(digits) if digits else math.inf) if group in _IN_ORDER else 0.0


@bp.get("/shelves/<shelf>/ids")
@bp.input(ShelfQuery, location="query", arg_name="query")
@bp.output(MatchingIds)
def read_ids(shelf: str, query: ShelfQuery) -> MatchingIds:
    """Ids of all entries of a shelf that match, for doing something with all of them."""
    with begin() as db:
        return MatchingIds(ids=matching_ids(db, wanted_from(shelf, query)))
