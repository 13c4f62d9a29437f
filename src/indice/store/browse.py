"""Shelves of the catalog: a page by key, rulers, and all that match; the same cost at any size.

A page goes on behind the key of its last entry, never by counting from the beginning. Conditions on the kind are written
out, so that the indexes of each shelf are used.
"""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

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
from sqlalchemy.orm import Session, aliased

from ..errors import IndiceError
from .among import among
from .models import CleanText, Entry

__all__ = ["PAGE", "SHELVES", "Page", "Wanted", "matching_ids", "ruler_of", "shelf_page"]

PAGE = 120
"""Entries of a page."""
ARTISTS_A_PAGE = 40
MOST_MATCHING = 50_000
"""So many at most are taken at once."""
SHELVES = {"films": "movie", "series": "series", "music": "album", "photos": "photo"}
_OF_PHOTOS = literal_column("entry.kind in ('photo', 'clip')")
_YEAR = func.coalesce(Entry.year, 0)
_MOMENT = func.coalesce(Entry.moment, "")


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a shelf is asked for."""

    shelf: str
    year: str = ""
    """A year, or of photos a month (`2019-07`)."""
    until: str = ""
    """Of photos: the list begins at this month, and goes on to older ones."""
    words: str = ""
    after: str = ""
    """Where the page before ended; empty for the first."""


@dataclass(frozen=True, slots=True)
class Page:
    """A piece of a shelf."""

    entries: Sequence[Entry]
    following: str | None
    """What the next page is asked with; None after the last."""


def _packed(*key: Any) -> str:
    return base64.urlsafe_b64encode(json.dumps(key).encode()).decode().rstrip("=")


def _unpacked(after: str, *types: type) -> list[Any]:
    try:
        key = json.loads(base64.urlsafe_b64decode(after + "=" * (-len(after) % 4)))
    except (ValueError, binascii.Error):
        key = None
    if (
        not isinstance(key, list)
        or len(key) != len(types)
        or any(type(v) is not t for v, t in zip(key, types, strict=True))
    ):
        raise IndiceError("This page of the list is not known.", hint="Load the list again.", reference="page-unknown")
    return key


def _pattern(words: str) -> str:
    escaped = words.casefold().strip().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{escaped}%"


def _of_kind(shelf: str) -> ColumnElement[bool]:
    return _OF_PHOTOS if shelf == "photos" else literal_column(f"entry.kind = '{SHELVES[shelf]}'")


def _conditions(wanted: Wanted) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = [_of_kind(wanted.shelf)]
    if wanted.shelf == "photos" and wanted.year:
        found.append(and_(wanted.year <= _MOMENT, wanted.year + "~" > _MOMENT))
    elif wanted.year and wanted.shelf != "photos":
        found.append(Entry.year == int(wanted.year) if wanted.year.isdigit() else Entry.year.is_(None))
    if wanted.shelf == "photos" and wanted.until:
        found.append(wanted.until + "~" > _MOMENT)
    if wanted.words.strip():
        pattern = _pattern(wanted.words)
        above = aliased(Entry)
        holds = Entry.search.like(pattern, escape="\\")
        if wanted.shelf != "films":
            holder = select(above.id).where(
                above.search.like(pattern, escape="\\"), above.kind.in_(("artist", "event"))
            )
            holds = or_(holds, Entry.parent_id.in_(holder))
        found.append(holds)
    return found


def shelf_page(db: Session, wanted: Wanted) -> Page:
    """A page of a shelf: films and series by title, albums by artist and year, photos from the newest to the oldest.

    Raises :class:`IndiceError` where the page is none that was given out.
    """
    if wanted.shelf == "music":
        return _albums(db, wanted)
    if wanted.shelf == "photos":
        key, order = (_MOMENT, Entry.id), (_MOMENT.desc(), Entry.id.desc())
        query = select(Entry).where(*_conditions(wanted)).order_by(*order)
        if wanted.after:
            moment, id_ = _unpacked(wanted.after, str, int)
            query = query.where(tuple_(*key) < tuple_(literal(moment, CleanText()), literal(id_)))
    else:
        query = select(Entry).where(*_conditions(wanted)).order_by(Entry.sort_title, _YEAR, Entry.id)
        if wanted.after:
            title, year, id_ = _unpacked(wanted.after, str, int, int)
            behind = tuple_(literal(title, CleanText()), literal(year), literal(id_))
            query = query.where(tuple_(Entry.sort_title, _YEAR, Entry.id) > behind)
    entries = list(db.scalars(query.limit(PAGE + 1)))
    if len(entries) <= PAGE:
        return Page(entries, None)
    last = entries[PAGE - 1]
    following = (
        _packed(last.moment or "", last.id)
        if wanted.shelf == "photos"
        else _packed(last.sort_title, last.year or 0, last.id)
    )
    return Page(entries[:PAGE], following)


def _albums(db: Session, wanted: Wanted) -> Page:
    """Albums of the next artists that have some."""
    artist = aliased(Entry)
    conditions = _conditions(wanted)
    query = (
        select(artist.id, artist.sort_title)
        .where(artist.kind == literal_column("'artist'"), exists().where(Entry.parent_id == artist.id, *conditions))
        .order_by(artist.sort_title, artist.id)
    )
    if wanted.after:
        title, id_ = _unpacked(wanted.after, str, int)
        query = query.where(tuple_(artist.sort_title, artist.id) > tuple_(literal(title, CleanText()), literal(id_)))
    artists = db.execute(query.limit(ARTISTS_A_PAGE + 1)).all()
    shown = {row.id: place for place, row in enumerate(artists[:ARTISTS_A_PAGE])}
    albums = list(db.scalars(select(Entry).where(among(Entry.parent_id, shown), *conditions)))
    albums.sort(key=lambda album: (shown[album.parent_id or 0], album.year or 0, album.sort_title, album.id))
    if len(artists) <= ARTISTS_A_PAGE:
        return Page(albums, None)
    last = artists[ARTISTS_A_PAGE - 1]
    return Page(albums, _packed(last.sort_title, last.id))


def ruler_of(db: Session, wanted: Wanted) -> dict[str, int]:
    """How many entries of a shelf are of each year, of photos of each month; `?` where it is not known."""
    step = func.left(_MOMENT, 7) if wanted.shelf == "photos" else func.coalesce(cast(Entry.year, Text), "")
    query = select(step, func.count()).where(*_conditions(Wanted(wanted.shelf, words=wanted.words))).group_by(step)
    return {str(name) or "?": int(count) for name, count in sorted(db.execute(query).all())}


def matching_ids(db: Session, wanted: Wanted) -> list[int]:
    """Ids of all entries of a shelf that match, for doing something with all of them."""
    query = select(Entry.id).where(*_conditions(wanted)).order_by(Entry.id).limit(MOST_MATCHING)
    return list(db.scalars(query))
