"""What lies above an entry and below it."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import select
from sqlalchemy.orm import Session

from .among import among
from .entries import descendants
from .models import Entry

__all__ = ["children_of", "entries_at", "parents_of", "seasons_of", "tracks_of"]


def entries_at(db: Session, ids: Iterable[int]) -> list[Entry]:
    """Those entries that there are of these numbers."""
    return list(db.scalars(select(Entry).where(among(Entry.id, ids))))


def parents_of(db: Session, entry: Entry) -> list[Entry]:
    """What an entry lies in, the topmost first."""
    chain: list[Entry] = []
    walked = entry
    while walked.parent_id is not None:
        above = db.get(Entry, walked.parent_id)
        if above is None:  # who asks may not see it
            break
        walked = above
        chain.append(walked)
    return chain[::-1]


def children_of(db: Session, entry_id: int) -> list[Entry]:
    """What lies directly in an entry, in its own order."""
    order = (Entry.season, Entry.disc.nulls_first(), Entry.number.nulls_last(), Entry.year, Entry.moment, Entry.id)
    return list(db.scalars(select(Entry).where(Entry.parent_id == entry_id).order_by(*order)))


def seasons_of(db: Session, series_id: int) -> tuple[list[Entry], list[Entry]]:
    """Seasons of a series, and the episodes of all of them."""
    seasons = select(Entry).where(Entry.parent_id == series_id, Entry.kind == "season")
    found = list(db.scalars(seasons.order_by(Entry.season.nulls_last())))
    episodes = select(Entry).where(among(Entry.parent_id, [season.id for season in found]), Entry.kind == "episode")
    return found, list(db.scalars(episodes.order_by(Entry.number.nulls_last(), Entry.moment)))


def tracks_of(db: Session, entry_id: int) -> list[Entry]:
    """All tracks below an album or an artist, in the order in which they play."""
    tracks = select(Entry).where(among(Entry.id, descendants(db, entry_id)), Entry.kind == "track")
    order = (Entry.parent_id, Entry.disc.nulls_first(), Entry.number.nulls_last(), Entry.sort_title)
    return list(db.scalars(tracks.order_by(*order)))
