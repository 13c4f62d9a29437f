"""Shelves of the catalog: a page by key, rulers, and all that match; the same cost at any size.

A page goes on behind the key of its last entry, never by counting from the beginning. Conditions on the kind are
written out, so that the indexes of each shelf are used.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from sqlalchemy import (
    ColumnElement,
    Text,
    and_,
    cast,
    exists,
    func,
    literal,
    literal_column,
    or_,
    select,
    tuple_,
)
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session, aliased

from ..core.catalog import Filters, parse_filters
from ..core.catalog.spots import spots_of
from ..errors import IndiceError
from .among import among
from .cast import HAS_CAST, cast_of_most, count_cast, has_one_of
from .models import CleanText, Entry, Mark
from .orders import Sort, packed, sorted_page, unpacked
from .trait_sums import whole_counts
from .traits import count_traits

__all__ = [
    "MARKS",
    "PAGE",
    "SHELVES",
    "Page",
    "Wanted",
    "conditions_of",
    "counts_of",
    "first_matching",
    "has_cast",
    "matching_count",
    "matching_filters",
    "matching_ids",
    "pattern_of",
    "ruler_of",
    "shelf_of",
    "shelf_page",
    "trait_counts",
    "traits_like",
    "within_cells",
]

PAGE = 120
"""Entries of a page."""
ARTISTS_A_PAGE = 40
MOST_MATCHING = 50_000
"""So many at most are taken at once."""
SHELVES: dict[str, tuple[str, ...]] = {
    "films": ("movie",),
    "series": ("series",),
    "music": ("album",),
    "photos": ("photo", "clip"),
}
"""Shelf → the kinds that stand on it."""
_MOMENT = func.coalesce(Entry.moment, "")


MARKS = ("seen", "unseen", "begun", "favourite")


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a shelf is asked for."""

    shelf: str
    year: str = ""
    """A year, or of photos a month (`2019-07`)."""
    until: str = ""
    """Of photos: the list begins at this month, and goes on to older ones."""
    words: str = ""
    """Words of titles, and filters among them (:mod:`indice.core.catalog.filters`)."""
    after: str = ""
    """Where the page before ended; empty for the first."""
    traits: tuple[str, ...] = ()
    """Of each group that is named an entry has one of these; `mark` is one's own."""
    sort: Sort = "title"
    """Of films and series."""
    person_id: int = 0
    """Whose marks are meant."""


@dataclass(frozen=True, slots=True)
class Page:
    """A piece of a shelf."""

    entries: Sequence[Entry]
    following: str | None
    """What the next page is asked with; None after the last."""


def pattern_of(words: str) -> str:
    """Words as `LIKE` takes them, anywhere in what is searched."""
    escaped = words.casefold().strip().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{escaped}%"


def _of_kind(shelf: str) -> ColumnElement[bool]:
    """Written out, as the partial indexes have it."""
    kinds = [f"'{kind}'" for kind in SHELVES[shelf]]
    return literal_column(f"entry.kind in ({', '.join(kinds)})" if len(kinds) > 1 else f"entry.kind = {kinds[0]}")


def shelf_of(kind: str) -> str:
    """Where a kind of entry stands, or the first of all shelves for what stands on none."""
    return next((shelf for shelf, kinds in SHELVES.items() if kind in kinds), "films")


def conditions_of(wanted: Wanted) -> list[ColumnElement[bool]]:
    """What entries of a shelf must be, to be what is asked for."""
    found: list[ColumnElement[bool]] = [_of_kind(wanted.shelf)]
    by_group: dict[str, list[str]] = {}
    for trait in wanted.traits:
        by_group.setdefault(trait.partition(":")[0], []).append(trait)
    for group, traits in by_group.items():
        if group == "mark":
            found.append(or_(*(_marked(wanted, trait.partition(":")[2]) for trait in traits)))
        elif group == "near":
            found.append(within_cells([trait.partition(":")[2] for trait in traits]))
        else:
            found.append(_has_one(group, traits))
    if wanted.shelf == "photos" and wanted.year:
        found.append(and_(wanted.year <= _MOMENT, wanted.year + "~" > _MOMENT))
    elif wanted.year and wanted.shelf != "photos":
        found.append(Entry.year == int(wanted.year) if wanted.year.isdigit() else Entry.year.is_(None))
    if wanted.shelf == "photos" and wanted.until:
        found.append(wanted.until + "~" > _MOMENT)
    filters = parse_filters(wanted.words)
    found += _filtered(filters, wanted)
    if filters.words:
        pattern = pattern_of(filters.words)
        above = aliased(Entry)
        holds = Entry.search.like(pattern, escape="\\")
        if wanted.shelf != "films":
            holder = select(above.id).where(
                above.search.like(pattern, escape="\\"), above.kind.in_(("artist", "event"))
            )
            holds = or_(holds, Entry.parent_id.in_(holder))
        found.append(holds)
    return found


def _has_one(group: str, traits: Sequence[str]) -> ColumnElement[bool]:
    """Whether an entry has one of these traits of a group."""
    if group == "cast":
        return has_one_of(trait.partition(":")[2] for trait in traits)
    return Entry.traits.overlap(cast(traits, ARRAY(CleanText())))


def within_cells(cells: Sequence[str]) -> ColumnElement[bool]:
    """Whether something was taken in one of these cells of the earth; raises :class:`IndiceError` where one is none."""
    try:
        return or_(*(Entry.spot.between(*spots_of(cell)) for cell in cells))
    except ValueError as error:
        raise IndiceError("There is no such place on the map.", reference="trait-unknown", status=404) from error


def _filtered(filters: Filters, wanted: Wanted) -> list[ColumnElement[bool]]:
    """What filters among the words ask for."""
    found: list[ColumnElement[bool]] = []
    if filters.years is not None:
        first, last = filters.years
        if wanted.shelf == "photos":
            found += [f"{first:04d}" <= _MOMENT, f"{last:04d}~" > _MOMENT]
        else:
            found.append(Entry.year.between(first, last))
    if filters.kinds:
        found.append(Entry.kind.in_(filters.kinds))
    if filters.marks:
        found.append(or_(*(_marked(wanted, mark) for mark in filters.marks)))
    for group, values in filters.traits.items():
        found.append(_has_one(group, [f"{group}:{value}" for value in values]))
    return found


_SEEABLE = ("movie", "series", "clip")
_FOUND = ("movie", "series", "album", "photo", "clip", "episode", "track", "artist")


def matching_filters(db: Session, filters: Filters, person_id: int, *, limit: int) -> list[Entry]:
    """Entries of all kinds that filters leave, by title; where only marks are asked for, those that one can see."""
    wanted = Wanted("films", person_id=person_id)
    plain = replace(filters, marks=())
    conditions: list[ColumnElement[bool]] = _filtered(plain, wanted)
    if not filters.kinds:
        conditions.append(Entry.kind.in_(_SEEABLE if filters.marks else _FOUND))
    if filters.marks:
        of_series = replace(wanted, shelf="series")
        conditions.append(
            or_(
                and_(Entry.kind != "series", or_(*(_marked(wanted, mark) for mark in filters.marks))),
                and_(Entry.kind == "series", or_(*(_marked(of_series, mark) for mark in filters.marks))),
            )
        )
    for word in filters.words.split():
        conditions.append(Entry.search.like(pattern_of(word), escape="\\"))
    query = select(Entry).where(*conditions).order_by(Entry.sort_title, Entry.id).limit(limit)
    return list(db.scalars(query))


def first_matching(db: Session, wanted: Wanted, *, limit: int) -> list[Entry]:
    """The first entries of a shelf that match, in its order."""
    found: list[Entry] = []
    after: str | None = ""
    while after is not None and len(found) < limit:
        page = shelf_page(db, replace(wanted, after=after), size=min(limit, PAGE))
        found += page.entries
        after = page.following
    return found[:limit]


def matching_count(db: Session, wanted: Wanted, *, limit: int) -> int:
    """How many entries of a shelf match, counted up to a limit; of music how many songs those albums hold."""
    found = select(Entry.id).where(*conditions_of(wanted)).limit(limit)
    if wanted.shelf != "music":
        return db.scalar(select(func.count()).select_from(found.subquery())) or 0
    song = aliased(Entry)
    songs = select(func.count()).where(song.kind == "track", song.parent_id.in_(found))
    return db.scalar(songs.select_from(song)) or 0


def _marked(wanted: Wanted, name: str) -> ColumnElement[bool]:
    """Whether somebody has marked an entry so; of a series, one of its episodes."""
    if name not in MARKS:
        raise IndiceError("There is no such mark.", reference="trait-unknown", status=404)
    own = and_(Mark.person_id == wanted.person_id, _SAYS[name])
    if wanted.shelf == "series" and name != "favourite":
        season, episode = aliased(Entry), aliased(Entry)
        seen = (
            select(season.parent_id)
            .join(episode, episode.parent_id == season.id)
            .join(Mark, Mark.entry_id == episode.id)
            .where(own, season.parent_id.is_not(None))
        )
    else:
        seen = select(Mark.entry_id).where(own)
    return Entry.id.not_in(seen) if name == "unseen" else Entry.id.in_(seen)


_SAYS: dict[str, ColumnElement[bool]] = {
    "seen": Mark.seen_at.is_not(None),
    "unseen": Mark.seen_at.is_not(None),
    "begun": Mark.position_seconds.is_not(None),
    "favourite": Mark.favourite.is_(True),
}


def counts_of(db: Session, wanted: Wanted, *, group: str = "") -> dict[str, int]:
    """Trait → how many entries have it; of one group only where that is named.
    What is not narrowed down has kept sums."""
    if wanted == Wanted(wanted.shelf, sort=wanted.sort, after=wanted.after, person_id=wanted.person_id):
        whole = whole_counts(db, SHELVES[wanted.shelf], group=group)
        if whole is not None:
            return whole
    return count_traits(db, conditions_of(wanted), group=group)


def traits_like(db: Session, wanted: Wanted, group: str, words: str, *, limit: int) -> list[tuple[str, int]]:
    """Values of a group in which these words stand, with how many would be left beside what of the group is chosen.

    Those of most come first.
    """
    beside = replace(wanted, traits=tuple(one for one in wanted.traits if one.partition(":")[0] != group))
    if group == "cast":
        like = pattern_of(words) if words.strip() else ""
        if _leaves_most(beside):
            return cast_of_most(db, SHELVES[beside.shelf][0], conditions_of(beside), like=like, limit=limit)
        return count_cast(db, conditions_of(beside), like=like, limit=limit)
    counts = counts_of(db, beside, group=group)
    folded = words.casefold().strip()
    held = [(trait[len(group) + 1 :], count) for trait, count in counts.items()]
    found = [(value, count) for value, count in held if folded in value.casefold()]
    return sorted(found, key=lambda one: (-one[1], one[0]))[:limit]


def _leaves_most(wanted: Wanted) -> bool:
    """Whether what is asked for is nearly all of a shelf."""
    groups = {trait.partition(":")[0] for trait in wanted.traits}
    return not (wanted.year or wanted.until or wanted.words.strip()) and groups <= {"mark", "library"}


def has_cast(db: Session, wanted: Wanted) -> bool:
    """Whether of anything that matches it is known who is in it."""
    return db.scalar(select(Entry.id).where(*conditions_of(wanted), HAS_CAST).limit(1)) is not None


def trait_counts(db: Session, wanted: Wanted) -> dict[str, int]:
    """Trait → how many entries would be left; of a group of which something is
    chosen, with its other traits beside it."""
    groups = {trait.partition(":")[0] for trait in wanted.traits}
    counts = counts_of(db, wanted)
    for group in groups - {"mark", "near", "cast"}:
        others = tuple(trait for trait in wanted.traits if trait.partition(":")[0] != group)
        counts = {trait: count for trait, count in counts.items() if not trait.startswith(f"{group}:")}
        counts |= counts_of(db, replace(wanted, traits=others), group=group)
    unmarked = replace(wanted, traits=tuple(trait for trait in wanted.traits if not trait.startswith("mark:")))
    counts |= _mark_counts(db, unmarked, counts if unmarked == wanted else {})
    return {trait: count for trait, count in counts.items() if count}


def _mark_counts(db: Session, wanted: Wanted, counts: Mapping[str, int]) -> dict[str, int]:
    """How many one has marked; what is not seen is what is left of all, which
    are counted by their libraries already."""
    found: dict[str, int] = {}
    for name in MARKS:
        if name != "unseen":
            conditions = conditions_of(replace(wanted, traits=(*wanted.traits, f"mark:{name}")))
            found[f"mark:{name}"] = db.scalar(select(func.count()).select_from(Entry).where(*conditions)) or 0
    libraries = [count for trait, count in counts.items() if trait.startswith("library:")]
    if libraries and not any(trait.startswith("library:") for trait in wanted.traits):
        whole = sum(libraries)
    else:
        whole = db.scalar(select(func.count()).select_from(Entry).where(*conditions_of(wanted))) or 0
    found["mark:unseen"] = max(0, whole - found["mark:seen"])
    return found


def shelf_page(db: Session, wanted: Wanted, *, size: int | None = None) -> Page:
    """A page of a shelf: films and series by title, albums by artist and year, photos from the newest to the oldest.

    It holds :data:`PAGE` entries where no size is said, of music the albums of so many artists at most.
    Raises :class:`IndiceError` where the page is none that was given out.
    """
    size = size or PAGE
    if wanted.shelf == "music":
        return _albums(db, wanted, min(size, ARTISTS_A_PAGE))
    if wanted.shelf == "photos":
        key, order = (_MOMENT, Entry.id), (_MOMENT.desc(), Entry.id.desc())
        query = select(Entry).where(*conditions_of(wanted)).order_by(*order)
        if wanted.after:
            moment, id_ = unpacked(wanted.after, str, int)
            query = query.where(tuple_(*key) < tuple_(literal(moment, CleanText()), literal(id_)))
        entries = list(db.scalars(query.limit(size + 1)))
        last = entries[size - 1] if len(entries) > size else None
        return Page(entries[:size], packed(last.moment or "", last.id) if last is not None else None)
    query = select(Entry).where(*conditions_of(wanted))
    return Page(*sorted_page(db, query, wanted.sort, wanted.after, size, person_id=wanted.person_id))


def _albums(db: Session, wanted: Wanted, size: int) -> Page:
    """Albums of the next artists that have some."""
    artist = aliased(Entry)
    conditions = conditions_of(wanted)
    query = (
        select(artist.id, artist.sort_title)
        .where(artist.kind == literal_column("'artist'"), exists().where(Entry.parent_id == artist.id, *conditions))
        .order_by(artist.sort_title, artist.id)
    )
    if wanted.after:
        title, id_ = unpacked(wanted.after, str, int)
        query = query.where(tuple_(artist.sort_title, artist.id) > tuple_(literal(title, CleanText()), literal(id_)))
    artists = db.execute(query.limit(size + 1)).all()
    shown = {row.id: place for place, row in enumerate(artists[:size])}
    albums = list(db.scalars(select(Entry).where(among(Entry.parent_id, shown), *conditions)))
    albums.sort(key=lambda album: (shown[album.parent_id or 0], album.year or 0, album.sort_title, album.id))
    if len(artists) <= size:
        return Page(albums, None)
    last = artists[size - 1]
    return Page(albums, packed(last.sort_title, last.id))


def ruler_of(db: Session, wanted: Wanted) -> dict[str, int]:
    """How many entries of a shelf are of each year, of photos of each month; `?` where it is not known."""
    step = func.left(_MOMENT, 7) if wanted.shelf == "photos" else func.coalesce(cast(Entry.year, Text), "")
    query = select(step, func.count()).where(*conditions_of(replace(wanted, year="", until=""))).group_by(step)
    return {str(name) or "?": int(count) for name, count in sorted(db.execute(query).all())}


def matching_ids(db: Session, wanted: Wanted) -> list[int]:
    """Ids of all entries of a shelf that match, for doing something with all of them."""
    query = select(Entry.id).where(*conditions_of(wanted)).order_by(Entry.id).limit(MOST_MATCHING)
    return list(db.scalars(query))
