"""What came in lately: by day and library, the newest day first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from .among import among
from .models import WORKS, Entry

__all__ = ["CameIn", "came_in"]

DAYS = 4
"""So many days of each library are told …"""
GROUPS = 16
"""… and so many in all."""


@dataclass(frozen=True, slots=True)
class CameIn:
    """What came into a library on one day."""

    day: date
    library_id: int
    total: int
    entries: Sequence[Entry]
    """The first of them, the latest first."""


def came_in(db: Session, since: datetime | None, *, shown: int) -> list[CameIn]:
    """Films, series, albums and events that came in since a moment; so many of each day and library are told by name.

    Steps from day to day along an index: neither what came earlier nor what else came that day is looked at; it is
    counted alone.
    """
    rows = db.execute(_CAME, {"since": since, "days": DAYS, "groups": GROUPS, "shown": shown}).all()
    ids = [id_ for row in rows for id_ in row.ids]
    entries = {entry.id: entry for entry in db.scalars(select(Entry).where(among(Entry.id, ids)))}
    return [CameIn(row.day, row.library_id, row.total, [entries[id_] for id_ in row.ids]) for row in rows]


_MINE = f"entry.library_id = day.library_id and {WORKS} and entry.added_at > coalesce(:since, '-infinity'::timestamptz)"
_CAME = text(
    f"""
    with recursive day (library_id, at, number) as (
        select library.id, (
            select max(entry.added_at) from entry
            where entry.library_id = library.id and {WORKS}
              and entry.added_at > coalesce(:since, '-infinity'::timestamptz)
        ), 1 from library
        union all
        select day.library_id, (
            select max(entry.added_at) from entry where {_MINE} and entry.added_at < date_trunc('day', day.at)
        ), day.number + 1 from day where day.at is not null and day.number < :days
    ), told as (
        select library_id, date_trunc('day', at) as at from day where at is not null
        order by date_trunc('day', at) desc, library_id limit :groups
    )
    select cast(day.at as date) as day, day.library_id, (
        select count(*) from entry
        where {_MINE} and entry.added_at >= day.at and entry.added_at < day.at + interval '1 day'
    ) as total, array(
        select entry.id from entry
        where {_MINE} and entry.added_at >= day.at and entry.added_at < day.at + interval '1 day'
        order by entry.added_at desc, entry.sort_title limit :shown
    ) as ids
    from told as day order by day.at desc, day.library_id
    """.replace("::timestamptz", r"\:\:timestamptz")
)
