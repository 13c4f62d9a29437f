"""Pictures of entries that files give: which file it is, and what is left of them when it is gone."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING

from sqlalchemy import func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from .models import Artwork

if TYPE_CHECKING:
    from ..disk.thumbnails import Thumbnail

__all__ = ["add_artwork", "choose_artwork", "choose_frame", "choose_uploaded", "drop_ungiven", "first_with_picture"]


def first_with_picture(db: Session, album_ids: Collection[int]) -> set[int]:
    """Of each album the first track that carries a picture: the numbers of their files."""
    return set(db.scalars(_FIRST, {"albums": sorted(album_ids)})) if album_ids else set()


_FIRST = text(
    """
    select distinct on (track.parent_id) file.id
    from entry track join file on file.entry_id = track.id
    where track.parent_id = any(:albums) and file.kind = 'track' and file.state = 'present' and file.problem = ''
      and file.media ->> 'has_picture' = 'true'
    order by track.parent_id, file.shown
    """
)


def drop_ungiven(db: Session, entry_ids: Collection[int]) -> None:
    """Forget those pictures of entries that came from a file which serves them no more.

    What a person chose or handed in stays, and so does what sources gave. A file that is
    missing gives its picture anew when it is back.
    """
    dropped = list(db.scalars(_DROP, {"ids": sorted(entry_ids)}))
    if dropped:
        db.execute(_GIVES_ANEW, {"ids": dropped})


_DROP = text(
    """
    delete from artwork where entry_id = any(:ids) and not chosen and place = 0
      and origin in ('file', 'tags', 'frame')
      and not exists (
        select 1 from file where file.entry_id = artwork.entry_id and file.state <> 'missing'
          and (
            (artwork.origin = 'file' and file.kind = 'photo' and file.serves <> 'raw' and artwork.role = 'photo')
            or (artwork.origin = 'file' and file.kind = 'artwork'
                and coalesce(file.reading ->> 'role', 'poster') = artwork.role)
            or (artwork.origin = 'frame' and file.kind in ('clip', 'episode', 'movie')
                and file.serves in ('main', 'part', 'version'))
          )
      )
      and not exists (
        select 1 from entry track join file on file.entry_id = track.id
        where artwork.origin = 'tags' and track.parent_id = artwork.entry_id and file.state <> 'missing'
          and file.kind = 'track' and file.media ->> 'has_picture' = 'true'
      )
    returning entry_id
    """
)
_GIVES_ANEW = text(
    """
    update file set pictured_by = 0 from entry
    where file.entry_id = entry.id and (entry.id = any(:ids) or entry.parent_id = any(:ids)) and file.pictured_by <> 0
    """
)


def add_artwork(db: Session, entry_id: int, role: str, origin: str, picture: Thumbnail, *, place: int = 0) -> int:
    """Record a picture of an entry, in the place of one of the same role, origin and place; returns its id."""
    kept = {"digest": picture.digest, "width": picture.width, "height": picture.height, "blur": picture.blur}
    statement = insert(Artwork).values(entry_id=entry_id, role=role, origin=origin, place=place, **kept)
    return db.execute(
        statement.on_conflict_do_update(index_elements=["entry_id", "origin", "role", "place"], set_=kept).returning(
            Artwork.id
        )
    ).scalar_one()


def choose_artwork(db: Session, artwork: Artwork) -> None:
    """From now on this picture stands for its entry in its role."""
    db.execute(
        update(Artwork).where(Artwork.entry_id == artwork.entry_id, Artwork.role == artwork.role).values(chosen=False)
    )
    artwork.chosen = True
    db.flush()


def choose_uploaded(db: Session, entry_id: int, role: str, picture: Thumbnail) -> None:
    """A person's own picture of an entry, beside those that they gave before; it is chosen."""
    own = (Artwork.entry_id == entry_id, Artwork.role == role, Artwork.origin == "hand")
    place = db.scalar(select(func.count()).where(*own)) or 0
    choose_artwork(db, db.get_one(Artwork, add_artwork(db, entry_id, role, "hand", picture, place=place)))


def choose_frame(db: Session, entry_id: int, role: str, picture: Thumbnail, *, place: int) -> None:
    """A frame of its film stands for an entry; `place` is its second."""
    choose_artwork(db, db.get_one(Artwork, add_artwork(db, entry_id, role, "frame", picture, place=place)))
