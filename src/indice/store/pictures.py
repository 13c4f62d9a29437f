"""Pictures of entries that files give: which file it is, and what is left of them when it is gone."""

from __future__ import annotations

from collections.abc import Collection

from sqlalchemy import text
from sqlalchemy.orm import Session

__all__ = ["drop_ungiven", "first_with_picture"]


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

    What a person chose or handed in stays, and so does what sources gave.
    """
    db.execute(_DROP, {"ids": sorted(entry_ids)})


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
    """
)
