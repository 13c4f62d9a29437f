"""Orders in which films and series stand on a shelf, each a key by which a page goes on behind the one before."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, get_args

from sqlalchemy import ColumnElement, Select, and_, func, literal, select, tuple_
from sqlalchemy.orm import Session

from ..errors import IndiceError
from .models import CleanText, Entry, Mark

__all__ = ["SORTS", "Sort", "packed", "page_unknown", "sorted_page", "unpacked"]

Sort = Literal["title", "year", "added", "length", "resolution", "size", "rating"]
SORTS: tuple[Sort, ...] = get_args(Sort)
_YEAR = func.coalesce(Entry.year, 0)


def packed(*key: Any) -> str:
    """A key as an address can hold it."""
    return base64.urlsafe_b64encode(json.dumps(key).encode()).decode().rstrip("=")


def unpacked(after: str, *types: type) -> list[Any]:
    """The key that :func:`packed` made; raises :class:`IndiceError` where it is none of these types."""
    try:
        key = json.loads(base64.urlsafe_b64decode(after + "=" * (-len(after) % 4)))
    except (ValueError, binascii.Error):
        key = None
    if (
        not isinstance(key, list)
        or len(key) != len(types)
        or any(type(v) is not t for v, t in zip(key, types, strict=True))
    ):
        raise page_unknown()
    return key


def page_unknown() -> IndiceError:
    """What is said of a page that was never given out."""
    return IndiceError("This page of the list is not known.", hint="Load the list again.", reference="page-unknown")


@dataclass(frozen=True, slots=True)
class _Order:
    """Ascending by a key that no two entries share; an index has the same."""

    key: tuple[Any, ...]
    of: Callable[[Entry], tuple[Any, ...]]
    """The key of an entry; the same numbers and texts that the database has."""


def _largest_first(measure: Any, of: Callable[[Entry], int | None]) -> _Order:
    key = (-func.coalesce(measure, 0), Entry.sort_title, Entry.id)
    return _Order(key, lambda entry: (-(of(entry) or 0), entry.sort_title, entry.id))


_TITLE = _Order(
    (Entry.sort_title, _YEAR, Entry.id),
    lambda entry: (entry.sort_title, entry.year or 0, entry.id),
)
_ORDERS: dict[Sort, _Order] = {
    "title": _TITLE,
    "year": _largest_first(Entry.year, lambda entry: entry.year),
    "length": _largest_first(Entry.seconds, lambda entry: entry.seconds),
    "resolution": _largest_first(Entry.lines, lambda entry: entry.lines),
    "size": _largest_first(Entry.size_bytes, lambda entry: entry.size_bytes),
}


def sorted_page(
    db: Session, query: Select[Entry], sort: Sort, after: str, size: int, *, person_id: int
) -> tuple[Sequence[Entry], str | None]:
    """Some entries of a query in an order, behind where the page before ended, and what the next page is asked with.

    All but `title` have the largest or newest first, and what is not known last; `rating` is a person's own.
    Raises :class:`IndiceError` where the page is none that was given out.
    """
    if sort == "added":
        return _newest(db, query, after, size)
    if sort == "rating":
        return _best(db, query, after, size, person_id)
    order = _ORDERS[sort]
    entries = list(db.scalars(_behind(query, order, after).limit(size + 1)))
    return _page(entries, size, lambda last: packed(*order.of(last)))


def _behind(query: Select[Entry], order: _Order, after: str) -> Select[Entry]:
    query = query.order_by(*order.key)
    if not after:
        return query
    types = tuple(str if column is Entry.sort_title else int for column in order.key)
    return query.where(tuple_(*order.key) > tuple_(*map(_told, unpacked(after, *types))))


def _told(value: Any) -> ColumnElement[Any]:
    return literal(value, CleanText()) if isinstance(value, str) else literal(value)


def _page(entries: Sequence[Entry], size: int, following: Callable[[Entry], str]) -> tuple[Sequence[Entry], str | None]:
    if len(entries) <= size:
        return entries, None
    return entries[:size], following(entries[size - 1])


def _newest(db: Session, query: Select[Entry], after: str, size: int) -> tuple[Sequence[Entry], str | None]:
    query = query.order_by(Entry.added_at.desc(), Entry.id.desc())
    if after:
        at, id_ = unpacked(after, str, int)
        try:
            moment = datetime.fromisoformat(at)
        except ValueError as error:
            raise page_unknown() from error
        query = query.where(tuple_(Entry.added_at, Entry.id) < tuple_(literal(moment), literal(id_)))
    entries = list(db.scalars(query.limit(size + 1)))
    return _page(entries, size, lambda last: packed(last.added_at.isoformat(), last.id))


def _best(
    db: Session, query: Select[Entry], after: str, size: int, person_id: int
) -> tuple[Sequence[Entry], str | None]:
    """Those that somebody rated, the best first, then all others by title: of those
    there are many, and an index has them."""
    rated = and_(Mark.person_id == person_id, Mark.rating.is_not(None))
    stars, behind = 0, ""
    if after:
        stars, *key = unpacked(after, int, str, int, int)
        behind = packed(*key)
    found: list[tuple[Entry, int]] = []
    if not after or stars:
        best = _Order((-Mark.rating, *_TITLE.key), lambda entry: _TITLE.of(entry))
        mine = query.join(Mark, and_(Mark.entry_id == Entry.id, rated)).add_columns(Mark.rating)
        mine = mine.order_by(*best.key)
        if after:
            values = unpacked(behind, str, int, int)
            mine = mine.where(tuple_(*best.key) > tuple_(literal(-stars), *map(_told, values)))
        found = [(entry, int(given or 0)) for entry, given in db.execute(mine.limit(size + 1))]
        behind = ""
    if len(found) <= size:
        others = query.where(Entry.id.not_in(select(Mark.entry_id).where(rated)))
        rest = db.scalars(_behind(others, _TITLE, behind).limit(size + 1 - len(found)))
        found += [(entry, 0) for entry in rest]
    given = {entry.id: stars for entry, stars in found}
    return _page([entry for entry, _ in found], size, lambda last: packed(given[last.id], *_TITLE.of(last)))
