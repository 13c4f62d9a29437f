"""Who is in films and series, and in how many: those in most are found without counting everybody.

Nearly every name is of few entries, so that there are more names than entries, and sums for everyone who may
see a part of them would be as many as what they sum up. Kept is instead, of each name, a number that what
anybody may see of it never exceeds (`cast_name.most`). Names are looked at in its order, and what was found
stands as soon as the next name cannot have more.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

from sqlalchemy import ColumnElement, Integer, Text, any_, cast, column, func, literal_column, select, table, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from .models import CleanText, Entry

__all__ = ["HAS_CAST", "cast_of_most", "count_cast", "even_cast", "has_one_of", "note_cast"]

HAS_CAST = Entry.cast_names != literal_column("'{}'")
"""As the index has it, which the database takes only where that is said."""
_AT_ONCE = (80, 400)
"""So many names are looked at first, and then so many more, before everybody is counted."""
_NAMES = table("cast_name", column("kind", Text), column("name", Text), column("most", Integer))
_NOTE = text(
    """
    insert into cast_name (kind, name, most)
    select * from unnest(cast(:kinds as text[]), cast(:names as text[]), cast(:more as integer[]))
    on conflict (kind, name) do update set most = cast_name.most + excluded.most
    """
)
_IS_EVEN = text(
    """
    select coalesce((select sum(cardinality(cast_names)) from entry where kind in ('movie', 'series')), 0)
         = coalesce((select sum(most) from cast_name), 0)
    """
)
_COUNTED = text(
    """
    insert into cast_name (kind, name, most)
    select kind, name, count(*) from entry, unnest(cast_names) as name where kind in ('movie', 'series') group by 1, 2
    """
)


def has_one_of(names: Iterable[str]) -> ColumnElement[bool]:
    """Whether one of these is in an entry."""
    return HAS_CAST & Entry.cast_names.overlap(cast(list(names), ARRAY(CleanText())))


def note_cast(db: Session, changes: Iterable[tuple[str, Sequence[str], Sequence[str]]]) -> None:
    """Entries have another cast now: their kind, who was in them and who is. For one writer at a time."""
    more: Counter[tuple[str, str]] = Counter()
    for kind, before, now in changes:
        more.update((kind, name) for name in now)
        more.subtract((kind, name) for name in before)
    told = [(kind, name, count) for (kind, name), count in more.items() if count]
    if told:
        kinds, names, counts = zip(*told, strict=True)
        db.execute(_NOTE, {"kinds": list(kinds), "names": list(names), "more": list(counts)})


def even_cast(db: Session) -> None:
    """Count all names anew where entries have gone, or came by another way. For one writer at a time."""
    if not db.scalar(_IS_EVEN):
        db.execute(text("delete from cast_name"))
        db.execute(_COUNTED)


def cast_of_most(
    db: Session, kind: str, conditions: Sequence[ColumnElement[bool]], *, like: str, limit: int
) -> list[tuple[str, int]]:
    """Who is in the entries of a kind that these conditions leave, and in how many, those in most first.

    For conditions that leave nearly all: of a few everybody is counted sooner (:func:`count_cast`). `like` is a
    pattern of `LIKE` for the name in small letters.
    """
    counts: dict[str, int] = {}
    looked = 0
    for size in _AT_ONCE:
        most = _next_names(db, kind, like, looked, size)
        looked += size
        counts |= dict(count_cast(db, [*conditions, has_one_of(most)], limit=size, only=list(most)))
        best = sorted(counts.items(), key=lambda one: (-one[1], one[0]))[:limit]
        if len(most) < size or (len(best) == limit and best[-1][1] >= min(most.values())):
            return best
    return count_cast(db, conditions, like=like, limit=limit)


def _next_names(db: Session, kind: str, like: str, skip: int, size: int) -> dict[str, int]:
    """The next names of a kind, with what nobody's count of them exceeds, those in most first."""
    query = select(_NAMES.c.name, _NAMES.c.most).where(_NAMES.c.kind == kind, _NAMES.c.most > 0)
    if like:
        query = query.where(func.lower(_NAMES.c.name).like(like, escape="\\"))
    return dict(db.execute(query.order_by(_NAMES.c.most.desc(), _NAMES.c.name).offset(skip).limit(size)).all())


def count_cast(
    db: Session,
    conditions: Sequence[ColumnElement[bool]],
    *,
    like: str = "",
    limit: int,
    only: Sequence[str] | None = None,
) -> list[tuple[str, int]]:
    """The same, by counting everybody in what these conditions leave; `only` these names where some are given."""
    each = select(func.unnest(Entry.cast_names).label("name")).where(*conditions, HAS_CAST).subquery()
    # Names are counted first: there are fewer of them than times that they are named.
    counted = select(each.c.name, func.count().label("count")).group_by(each.c.name)
    if only is not None:
        counted = counted.where(each.c.name == any_(cast(only, ARRAY(Text))))
    named = counted.subquery()
    query = select(named.c.name, named.c.count)
    if like:
        query = query.where(func.lower(named.c.name).like(like, escape="\\"))
    rows = db.execute(query.order_by(named.c.count.desc(), named.c.name).limit(limit))
    return [(str(name), int(count)) for name, count in rows]
