"""The front page of the catalog: from where an evening, or a walk through old pictures, begins."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from sqlalchemy import ColumnElement, exists, func, select
from sqlalchemy.orm import Session, aliased

from .among import among
from .marks import going_on
from .models import Entry, File, Mark
from .viewer import Viewer

__all__ = ["ROWS", "front_rows", "places_in_series"]

ROWS = ("going-on", "next", "new-films", "new-series", "new-albums", "this-day", "favourites", "seen")
SHOWN = 20
LOOKED_AT = 400
"""So many of the newest episodes, or pictures of a day, are looked at."""


def front_rows(db: Session, viewer: Viewer, today: date) -> dict[str, list[Entry]]:
    """Row → what stands in it; a row with nothing in it is left out."""
    rows = {
        "going-on": going_on(db, viewer, limit=SHOWN),
        "next": _next_episodes(db, viewer),
        "new-films": _newest(db, "movie"),
        "new-series": _newest_series(db),
        "new-albums": _newest(db, "album"),
        "this-day": _this_day(db, today),
        "favourites": _marked(db, viewer, favourite=True),
        "seen": _marked(db, viewer, favourite=False),
    }
    return {name: rows[name] for name in ROWS if rows[name]}


def _newest(db: Session, kind: str) -> list[Entry]:
    query = select(Entry).where(Entry.kind == kind).order_by(Entry.added_at.desc(), Entry.id.desc()).limit(SHOWN)
    return list(db.scalars(query))


def _newest_series(db: Session) -> list[Entry]:
    """Series with the newest episodes."""
    episode, season = aliased(Entry), aliased(Entry)
    newest = (
        select(episode.parent_id, episode.added_at)
        .where(episode.kind == "episode")
        .order_by(episode.added_at.desc(), episode.id.desc())
        .limit(LOOKED_AT)
        .subquery()
    )
    query = (
        select(season.parent_id, func.max(newest.c.added_at).label("at"))
        .join(newest, newest.c.parent_id == season.id)
        .where(season.parent_id.is_not(None))
        .group_by(season.parent_id)
        .order_by(func.max(newest.c.added_at).desc(), season.parent_id.desc())
        .limit(SHOWN)
    )
    return _in_order(db, [id_ for id_, _ in db.execute(query) if id_ is not None])


def _in_order(db: Session, ids: Sequence[int]) -> list[Entry]:
    found = {entry.id: entry for entry in db.scalars(select(Entry).where(among(Entry.id, ids)))}
    return [found[id_] for id_ in ids if id_ in found]


def _next_episodes(db: Session, viewer: Viewer) -> list[Entry]:
    """Of each series of which something was seen and nothing is half seen: the episode after the one seen last."""
    season = aliased(Entry)
    seen = (
        select(Entry.id, season.parent_id, Mark.seen_at)
        .join(Mark, (Mark.entry_id == Entry.id) & (Mark.person_id == viewer.person_id))
        .join(season, season.id == Entry.parent_id)
        .where(Entry.kind == "episode", Mark.seen_at.is_not(None), season.parent_id.is_not(None))
        .order_by(Mark.seen_at.desc(), Entry.season.desc(), Entry.number.desc())
        .limit(LOOKED_AT)
    )
    latest: dict[int, int] = {}
    for episode_id, series_id, _ in db.execute(seen):
        latest.setdefault(series_id or 0, episode_id)
    found: list[Entry] = []
    for series_id, episode_id in list(latest.items())[:SHOWN]:
        episode = _after(db, viewer, series_id, episode_id)
        if episode is not None:
            found.append(episode)
    return found


def _after(db: Session, viewer: Viewer, series_id: int, episode_id: int) -> Entry | None:
    """The first episode after one that was not seen; None where one of the series is half seen, or nothing follows."""
    season = aliased(Entry)
    order = (func.coalesce(Entry.season, 0), func.coalesce(Entry.number, 0), Entry.id)
    query = (
        select(Entry, Mark.seen_at, Mark.position_seconds)
        .join(season, season.id == Entry.parent_id)
        .outerjoin(Mark, (Mark.entry_id == Entry.id) & (Mark.person_id == viewer.person_id))
        .where(season.parent_id == series_id, Entry.kind == "episode", _is_there())
        .order_by(*order)
    )
    passed = False
    following: Entry | None = None
    for episode, seen_at, position in db.execute(query):
        if position is not None:
            return None
        if passed and following is None and seen_at is None:
            following = episode
        passed = passed or episode.id == episode_id
    return following


def _is_there() -> ColumnElement[bool]:
    """Whether an episode has a file of its own."""
    return exists().where(File.entry_id == Entry.id, File.kind == "episode", File.state == "present")


def _this_day(db: Session, today: date) -> list[Entry]:
    """Pictures and clips of this day in other years, from as many years as there are."""
    of_day = func.substr(Entry.moment, 6, 5) == f"{today:%m-%d}"
    query = (
        select(Entry)
        .where(Entry.kind.in_(("photo", "clip")), of_day, func.substr(Entry.moment, 1, 4) < str(today.year))
        .order_by(Entry.moment.desc(), Entry.id)
        .limit(LOOKED_AT)
    )
    by_year: dict[str, list[Entry]] = {}
    for entry in db.scalars(query):
        by_year.setdefault((entry.moment or "")[:4], []).append(entry)
    share = max(1, SHOWN // max(1, len(by_year)))
    chosen = [entry for entries in by_year.values() for entry in entries[:: max(1, len(entries) // share)][:share]]
    return chosen[:SHOWN]


def places_in_series(db: Session, entries: Sequence[Entry]) -> dict[int, tuple[str, int | None, int | None]]:
    """Episode's id → title of its series, number of its season, its own."""
    season, series = aliased(Entry), aliased(Entry)
    query = (
        select(Entry.id, series.title, Entry.season, Entry.number)
        .join(season, season.id == Entry.parent_id)
        .join(series, series.id == season.parent_id)
        .where(among(Entry.id, [entry.id for entry in entries if entry.kind == "episode"]))
    )
    return {id_: (title, of, number) for id_, title, of, number in db.execute(query)}


def _marked(db: Session, viewer: Viewer, *, favourite: bool) -> list[Entry]:
    """Favourites, or what was seen or heard last."""
    query = select(Entry).join(Mark, (Mark.entry_id == Entry.id) & (Mark.person_id == viewer.person_id))
    if favourite:
        query = query.where(Mark.favourite).order_by(Entry.sort_title, Entry.id)
    else:
        query = query.where(Mark.seen_at.is_not(None), Entry.kind.in_(("movie", "episode", "clip")))
        query = query.order_by(Mark.seen_at.desc(), Entry.id)
    return list(db.scalars(query.limit(SHOWN)))
