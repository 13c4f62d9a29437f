"""What a list shows of an entry beside its own record: how much lies below, what lies above, and a picture."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select, true
from sqlalchemy.orm import Session, aliased

from .among import among
from .catalog import artwork_of, main_picture
from .models import Artwork, Entry, File

__all__ = ["Card", "cards_for", "pictures_for"]

_HOLDER = aliased(Entry)


@dataclass(frozen=True, slots=True)
class Card:
    """An entry as a list shows it."""

    entry: Entry
    picture: Artwork | None
    above: str
    """Title of what it lies in."""
    below: int
    """How many entries lie directly in it."""
    moves: bool
    """Whether a photo has the moments around it beside it."""


_Pictures = Mapping[int, list[Artwork]]
"""Entry → its pictures, the one to show first."""


def cards_for(db: Session, entries: Sequence[Entry], *, pictures: _Pictures | None = None) -> list[Card]:
    """Entries with what lists show of them, in a few questions however many they are; `pictures` if they are known."""
    if not entries:
        return []
    ids = [entry.id for entry in entries]
    shown = pictures_for(db, entries, pictures)
    below = select(Entry.parent_id, func.count()).where(among(Entry.parent_id, ids)).group_by(Entry.parent_id)
    counts = {parent: count for parent, count in db.execute(below) if parent is not None}
    titles = _titles(db, {entry.parent_id for entry in entries if entry.parent_id})
    moving = _moving(db, [entry.id for entry in entries if entry.kind == "photo"])
    return [
        Card(
            entry,
            shown.get(entry.id),
            titles.get(entry.parent_id or 0, ""),
            counts.get(entry.id, 0),
            entry.id in moving,
        )
        for entry in entries
    ]


def pictures_for(db: Session, entries: Sequence[Entry], pictures: _Pictures | None = None) -> dict[int, Artwork]:
    """The picture of each entry, or that of what it lies in or what lies in it; none where there is none."""
    if pictures is None:
        pictures = artwork_of(db, [entry.id for entry in entries])
    own = {entry.id: main_picture(entry.kind, pictures.get(entry.id, [])) for entry in entries}
    found = {id_: picture for id_, picture in own.items() if picture is not None}
    return _borrowed_pictures(db, [entry for entry in entries if entry.id not in found]) | found


def _moving(db: Session, photos: Sequence[int]) -> set[int | None]:
    query = select(File.entry_id).where(among(File.entry_id, photos), File.serves == "live", File.state == "present")
    return set(db.scalars(query)) if photos else set()


def _titles(db: Session, ids: Iterable[int]) -> dict[int, str]:
    wanted = set(ids)
    return dict(db.execute(select(Entry.id, Entry.title).where(among(Entry.id, wanted))).all()) if wanted else {}


def _borrowed_pictures(db: Session, entries: Sequence[Entry]) -> dict[int, Artwork]:
    """A picture from below for events and artists, from above for tracks."""
    found: dict[int, Artwork] = {}
    holders = [entry.id for entry in entries if entry.kind in ("event", "artist")]
    if holders:
        first = (
            select(Artwork)
            .join(Entry, Artwork.entry_id == Entry.id)
            .where(Entry.parent_id == _HOLDER.id)
            .order_by(Entry.id, Artwork.id)
            .limit(1)
            .lateral()
        )
        picture = aliased(Artwork, first)
        query = select(_HOLDER.id, picture).join(picture, true()).where(among(_HOLDER.id, holders))
        found.update(dict(db.execute(query).all()))
    tracks = {entry.id: entry.parent_id for entry in entries if entry.kind == "track" and entry.parent_id}
    if tracks:
        above = artwork_of(db, set(tracks.values()))
        for entry_id, parent_id in tracks.items():
            cover = main_picture("album", above.get(parent_id or 0, []))
            if cover is not None:
                found[entry_id] = cover
    return found
