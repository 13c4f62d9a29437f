"""Two entries become one: what people keep of the one that goes, goes on with the one that stays."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import text
from sqlalchemy.orm import Session

__all__ = ["hand_over"]

_PAIRS = "unnest(cast(:gone as integer[]), cast(:stays as integer[])) as pair (gone, stays)"
_MARKS = text(
    f"""
    insert into mark as known (person_id, entry_id, seen_at, favourite, rating, tags, note,
                               position_seconds, duration_seconds, position_at)
    select distinct on (person_id, pair.stays) person_id, pair.stays, seen_at, favourite, rating, tags, note,
           position_seconds, duration_seconds, position_at
    from {_PAIRS} join mark on mark.entry_id = pair.gone
    order by person_id, pair.stays, pair.gone
    on conflict (person_id, entry_id) do update set
        seen_at = coalesce(known.seen_at, excluded.seen_at),
        favourite = known.favourite or excluded.favourite,
        rating = coalesce(known.rating, excluded.rating),
        tags = case when known.tags = '[]' then excluded.tags else known.tags end,
        note = case when known.note = '' then excluded.note else known.note end,
        position_seconds = coalesce(known.position_seconds, excluded.position_seconds),
        duration_seconds = case when known.position_seconds is null then excluded.duration_seconds
                                else known.duration_seconds end,
        position_at = case when known.position_seconds is null then excluded.position_at else known.position_at end
    """
)
_FACTS = text(
    f"""
    insert into fact (entry_id, field, origin, value, at, locked)
    select pair.stays, field, origin, value, at, locked
    from {_PAIRS} join fact on fact.entry_id = pair.gone
    where locked or origin = 'hand'
    on conflict do nothing
    """
)
_NAMING = ("fact_change", "playlist_item", "share", "party")
"""Tables in which any number of rows may speak of an entry: they only have to name another."""


def hand_over(db: Session, pairs: Mapping[int, int]) -> None:
    """Give what people keep of entries to others: the number of one that goes → of the one that stays.

    Marks, words by hand with their history, places in playlists and links are meant. Where both have
    something the word of the one that stays is kept.
    """
    if not pairs:
        return
    told = {"gone": list(pairs), "stays": list(pairs.values())}
    db.execute(_MARKS, told)
    db.execute(_FACTS, told)
    for name in _NAMING:
        db.execute(
            text(f"update {name} set entry_id = pair.stays from {_PAIRS} where {name}.entry_id = pair.gone"), told
        )
