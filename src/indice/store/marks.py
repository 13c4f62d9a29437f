"""What a person keeps of an entry: seen, favourite, and the moment where they stopped. Nobody sees another's marks."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from sqlalchemy import func, select, text
from sqlalchemy.orm import Session, aliased

from ..core.playing.moments import Outcome, settle_moment
from .among import among
from .bulk import insert_rows
from .models import Entry, Mark, now
from .viewer import Viewer

__all__ = ["going_on", "kept_of", "marked_rows", "marks_of", "note_position", "set_marks"]

PLAYED = ("movie", "episode", "clip", "track")
"""Kinds that are played themselves; a mark of what holds them is theirs."""
_PLAYED_BELOW = text(
    """
    with recursive below as (
        select id, kind from entry where id = any(:ids)
        union
        select entry.id, entry.kind from entry join below on entry.parent_id = below.id
    )
    select id from below where kind in ('movie', 'episode', 'clip', 'track')
    """
)


def marks_of(db: Session, viewer: Viewer, entry_ids: Collection[int]) -> dict[int, Mark]:
    """A person's marks of entries; those without any are left out."""
    if not entry_ids:
        return {}
    query = select(Mark).where(Mark.person_id == viewer.person_id, among(Mark.entry_id, entry_ids))
    return {mark.entry_id: mark for mark in db.scalars(query)}


def set_marks(
    db: Session,
    viewer: Viewer,
    entry_ids: Sequence[int],
    *,
    seen: bool | None = None,
    favourite: bool | None = None,
    rating: int | None = None,
    tags: Sequence[str] | None = None,
    note: str | None = None,
) -> int:
    """Mark entries; what is None stays, a rating of 0 goes. Of a series, a season or an album each of
    its parts is seen, with the position gone.

    Returns how many entries are marked.
    """
    there = list(db.scalars(select(Entry.id).where(among(Entry.id, entry_ids))))
    if favourite is not None:
        _put(db, viewer, there, {"favourite": favourite})
    if rating is not None:
        _put(db, viewer, there, {"rating": rating or None})
    if tags is not None:
        _put(db, viewer, there, {"tags": list(dict.fromkeys(tag.strip() for tag in tags if tag.strip()))})
    if note is not None:
        _put(db, viewer, there, {"note": note.strip()})
    if seen is not None:
        below = list(db.scalars(_PLAYED_BELOW, {"ids": there}))
        played = list(db.scalars(select(Entry.id).where(among(Entry.id, below))))
        _put(db, viewer, played, {"seen_at": now() if seen else None, "position_seconds": None, "position_at": None})
    return len(there)


def note_position(
    db: Session,
    viewer: Viewer,
    entry_id: int,
    seconds: float,
    duration_seconds: float,
    *,
    closing_seconds: float | None = None,
) -> Outcome:
    """A person is, or stopped, at a moment of an entry; returns what came of it: `kept`, `seen` or `left`."""
    came = settle_moment(seconds, duration_seconds, closing_seconds=closing_seconds)
    if came == "kept":
        kept = {"position_seconds": seconds, "duration_seconds": duration_seconds, "position_at": now()}
        _put(db, viewer, [entry_id], kept)
    if came == "seen":
        _put(db, viewer, [entry_id], {"seen_at": now(), "position_seconds": None, "position_at": None})
    return came


def _put(db: Session, viewer: Viewer, entry_ids: Sequence[int], values: dict[str, Any]) -> None:
    rows = [{"person_id": viewer.person_id, "entry_id": id_, **values} for id_ in entry_ids]
    changes = ", ".join(f"{name} = excluded.{name}" for name in values)
    insert_rows(db, Mark, rows, tail=f"on conflict (person_id, entry_id) do update set {changes}")


def marked_rows(db: Session, viewer: Viewer) -> list[dict[str, Any]]:
    """What a person keeps, one line an entry that they may see, as the export names it (:func:`export_entries`)."""
    above, whole = aliased(Entry), aliased(Entry)
    query = (
        select(Entry, Mark, above.title, above.handle, whole.title)
        .join(Mark, Mark.entry_id == Entry.id)
        .outerjoin(above, above.id == Entry.parent_id)
        .outerjoin(whole, whole.id == above.parent_id)
        .where(Mark.person_id == viewer.person_id)
        .order_by(Entry.kind, Entry.sort_title, Entry.season, Entry.number, Entry.id)
    )
    rows: list[dict[str, Any]] = []
    for entry, mark, parent, handle, whole_title in db.execute(query):
        row = {
            "key": entry.handle,
            "kind": entry.kind,
            "title": entry.title,
            "part_of": ", ".join(one for one in (whole_title, parent) if one),
            "parent": handle,
            "year": entry.year,
            "season": entry.season,
            "number": entry.number,
            **kept_of(mark),
        }
        if any(row[name] for name in KEPT):
            rows.append({name: value for name, value in row.items() if value not in (None, "")})
    return rows


KEPT = ("seen", "favourite", "rating", "position_seconds", "tags", "note")


def kept_of(mark: Mark | None) -> dict[str, Any]:
    """What a person keeps of an entry, as exports name it."""
    return {
        "seen": mark is not None and mark.seen_at is not None,
        "favourite": mark is not None and mark.favourite,
        "position_seconds": mark.position_seconds if mark is not None else None,
        "rating": mark.rating if mark is not None else None,
        "tags": list(mark.tags) if mark is not None else [],
        "note": mark.note if mark is not None and mark.note else None,
    }


def going_on(db: Session, viewer: Viewer, *, limit: int) -> list[Entry]:
    """What a person has begun and not finished, the latest first; of a series its latest episode only."""
    season = aliased(Entry)
    whole = func.coalesce(season.parent_id, Entry.id)
    place = func.row_number().over(partition_by=whole, order_by=(Mark.position_at.desc(), Entry.id))
    begun = (
        select(Entry.id, Mark.position_at, place.label("place"))
        .join(Mark, Mark.entry_id == Entry.id)
        .outerjoin(season, (season.id == Entry.parent_id) & (season.kind == "season"))
        .where(Mark.person_id == viewer.person_id, Mark.position_seconds.is_not(None), Entry.kind.in_(PLAYED))
        .subquery()
    )
    query = select(Entry).join(begun, begun.c.id == Entry.id).where(begun.c.place == 1)
    return list(db.scalars(query.order_by(begun.c.position_at.desc(), Entry.id).limit(limit)))
