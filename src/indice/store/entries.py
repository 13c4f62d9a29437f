"""Entries of the catalog: by their keys, and what lies below them."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from sqlalchemy import ColumnElement, select, text
from sqlalchemy.orm import Session

from ..core.facts.clean import clean_text
from .among import among
from .models import Entry, Fact

__all__ = ["descendants", "entries_told", "keys_in", "keys_of", "keys_of_library"]


def _keys(db: Session, *conditions: ColumnElement[bool]) -> dict[str, int]:
    return dict(db.execute(select(Entry.key, Entry.id).where(*conditions)).all())


def keys_of_library(db: Session, library_id: int) -> dict[str, int]:
    """Key → id of all entries of a library."""
    return _keys(db, Entry.library_id == library_id)


def keys_of(db: Session, library_id: int, ids: Iterable[int]) -> dict[str, int]:
    """Key → id of those of these entries that are in a library."""
    return _keys(db, among(Entry.id, ids), Entry.library_id == library_id)


def keys_in(db: Session, library_id: int, keys: Iterable[str]) -> dict[str, int]:
    """Key → id of those entries of a library that have one of these keys."""
    rows = db.execute(_KEYS_IN, {"library": library_id, "keys": [clean_text(key) for key in keys]})
    return dict(rows.all())


_KEYS_IN = text(
    """
    select entry.key, entry.id from unnest(cast(:keys as text[])) as told (key)
    cross join lateral (select key, id from entry where library_id = :library and entry.key = told.key) as entry
    """
)


_BELOW = text(
    """
    with recursive below as (
        select id from entry where parent_id = :above
        union all
        select entry.id from entry join below on entry.parent_id = below.id
    )
    select id from below
    """
)


def descendants(db: Session, entry_id: int) -> list[int]:
    """Ids of everything below an entry."""
    return list(db.scalars(_BELOW, {"above": entry_id}))


def entries_told(db: Session, library_id: int, *, among_ids: Collection[int] | None = None) -> list[int]:
    """Entries of a library, or of some of it, of which a person, a sidecar or a file's
    inside says something beside its name."""
    query = (
        select(Fact.entry_id)
        .join(Entry)
        .where(
            Entry.library_id == library_id,
            Fact.origin.in_(("hand", "sidecar", "echo", "file", "tags")),
            Entry.kind.not_in(("artist", "album", "track")),
        )
        .distinct()
    )
    return list(db.scalars(query if among_ids is None else query.where(among(Entry.id, among_ids))))
