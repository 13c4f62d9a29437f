"""How an artist is spelled whose works lie in many folders: as the best of all their names spells it.

A change looks at the folders that it reaches, and not at all that somebody made; so what is seen of a shared artist is
weighed against the rest.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from ..core.grouping import Grouped
from ..core.titles import best_title, better_title
from .among import among
from .facts import put_facts
from .models import Entry
from .shown import refresh_shown

__all__ = ["artists_above", "raise_spelling", "spell_anew"]


def artists_above(db: Session, entry_ids: Collection[int]) -> set[int]:
    """The artists that these entries stand below."""
    above = select(Entry.parent_id).where(among(Entry.id, entry_ids), Entry.parent_id.is_not(None))
    return set(db.scalars(select(Entry.id).where(Entry.id.in_(above), Entry.kind == "artist")))


def raise_spelling(db: Session, grouped: Grouped, artists: Mapping[str, int]) -> None:
    """Give artists (key → id) the names that a grouping of some of their files has for them, where those are better."""
    spelled = _spellings(db, artists.values()) if artists else {}
    _spell(
        db,
        {
            id_: grouped.entries[key].title
            for key, id_ in artists.items()
            if id_ in spelled and better_title(grouped.entries[key].title, spelled[id_])
        },
    )


def spell_anew(db: Session, artists: Collection[int]) -> None:
    """Spell artists whose present name no file gives any more by what their files say.

    Nearly always one of the first files gives it, and no more of them are looked at.
    """
    spelled = _spellings(db, artists) if artists else {}
    if not spelled:
        return
    given = set(db.scalars(_GIVEN, {"ids": list(spelled), "spelled": list(spelled.values())}))
    astray = [id_ for id_ in spelled if id_ not in given]
    names: dict[int, set[str]] = defaultdict(set)
    for id_, name in db.execute(_NAMES, {"ids": astray}) if astray else ():
        names[id_].add(str(name))
    _spell(db, {id_: best_title(said) for id_, said in names.items()})


def _spellings(db: Session, artists: Collection[int]) -> dict[int, str]:
    return {int(id_): str(title) for id_, title in db.execute(_SPELLED, {"ids": list(artists)})}


def _spell(db: Session, titles: Mapping[int, str]) -> None:
    if titles:
        put_facts(db, [(id_, "name", {"title": title}) for id_, title in titles.items()])
        refresh_shown(db, list(titles))


_SPELLED = text(
    """
    select entry.id, fact.value ->> 'v' from entry
    join fact on fact.entry_id = entry.id and fact.field = 'title' and fact.origin = 'name'
    where entry.id = any(cast(:ids as integer[])) and entry.kind = 'artist'
    """
)
_TOLD = """
    select coalesce(
        nullif(file.media #>> '{tags,album_artist}', ''), nullif(file.reading ->> 'album_artist', ''),
        nullif(file.media #>> '{tags,artist}', ''), nullif(file.reading ->> 'artist', ''), 'Unknown artist'
    ) as name
    from file
    where file.entry_id = below.id and file.kind = 'track' and file.serves = 'main' and file.state <> 'missing'
"""
"""As grouping tells whose a track is: the artist of its album goes before its own, and what its tags say before its
name."""
_BELOW = """
    select work.id from entry as work where work.parent_id = artist.id and work.kind = 'track'
    union all
    select track.id from entry as work join entry as track on track.parent_id = work.id
    where work.parent_id = artist.id and work.kind = 'album'
"""
_GIVEN = text(
    f"""
    select artist.id from unnest(cast(:ids as integer[]), cast(:spelled as text[])) as artist (id, name)
    where exists (
        select 1 from ({_BELOW}) as below cross join lateral ({_TOLD}) as told where told.name = artist.name
    )
    """
)
_NAMES = text(
    f"""
    select distinct artist.id, told.name from unnest(cast(:ids as integer[])) as artist (id)
    cross join lateral ({_BELOW}) as below cross join lateral ({_TOLD}) as told
    """
)
