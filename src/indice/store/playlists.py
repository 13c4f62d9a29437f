"""Playlists: entries of whatever kinds in an order of one's own; open ones are seen by the whole household."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from sqlalchemy import ColumnElement, Text, delete, func, or_, select, text, type_coerce, update
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .among import among, among_words
from .browse import SHELVES, Sort, Wanted, first_matching, matching_count
from .bulk import insert_rows
from .models import Entry, File, Person, Playlist, PlaylistItem, now
from .viewer import Viewer

__all__ = [
    "Listed",
    "Place",
    "add_to_playlist",
    "change_playlist",
    "drop_items",
    "following_in",
    "make_playlist",
    "must_be_by_hand",
    "order_items",
    "places_of",
    "playlist_at",
    "playlists_of",
    "remove_playlist",
    "resolve_paths",
    "wanted_of",
]

MOST_ITEMS = 5_000
"""So many places a playlist has at most."""
MOST_LISTS = 500
MOST_GATHERED = 600
"""So many entries at most are gathered by a rule, and of music the songs of so many albums."""
_PLAYED = ("movie", "episode", "clip", "track", "photo")
"""Kinds that stand in a playlist themselves; of anything else, what is in it."""
_TAKEN = ("photo", "clip")
_BELOW = text(
    """
    with recursive below as (
        select id, kind, array[row_number() over (order by place)] as path
        from unnest(cast(:ids as integer[])) with ordinality as told (entry_id, place) join entry on entry.id = entry_id
        union all
        select entry.id, entry.kind, below.path || row_number() over (
            partition by entry.parent_id
            order by entry.season = 0, entry.season, entry.disc nulls first, entry.number nulls last,
                     entry.year, entry.moment, entry.id
        )
        from entry join below on entry.parent_id = below.id
        where below.kind not in ('movie', 'episode', 'clip', 'track', 'photo')
    )
    select id from below where kind in ('movie', 'episode', 'clip', 'track', 'photo') order by path
    """
)


@dataclass(frozen=True, slots=True)
class Listed:
    """A playlist as who asks sees it."""

    playlist: Playlist
    by: str
    """Whose it is."""
    is_own: bool
    count: int
    """Of places that they may see."""
    first: tuple[int, ...] = ()
    """Entries at its first places."""
    is_album: bool = False
    """Whether photos and clips stand in it, and nothing else."""


@dataclass(frozen=True, slots=True)
class Place:
    """A place in a playlist."""

    item_id: int
    entry: Entry


def _reached(viewer: Viewer) -> ColumnElement[bool]:
    """Playlists that somebody knows of: their own, and the open ones."""
    return or_(Playlist.person_id == viewer.person_id, Playlist.is_open)


def playlists_of(db: Session, viewer: Viewer) -> list[Listed]:
    """One's own playlists, then the open ones of others in which there is something that one may see."""
    query = (
        select(Playlist, Person.name)
        .join(Person, Person.id == Playlist.person_id)
        .where(_reached(viewer))
        .order_by(Playlist.person_id != viewer.person_id, func.lower(Playlist.name), Playlist.id)
    )
    rows = list(db.execute(query))
    ids = [playlist.id for playlist, _ in rows]
    seen = (
        select(
            PlaylistItem.playlist_id,
            PlaylistItem.entry_id,
            func.count().over(partition_by=PlaylistItem.playlist_id).label("whole"),
            func.bool_and(Entry.kind.in_(_TAKEN)).over(partition_by=PlaylistItem.playlist_id).label("taken"),
            func.row_number()
            .over(partition_by=PlaylistItem.playlist_id, order_by=(PlaylistItem.place, PlaylistItem.id))
            .label("at"),
        )
        .join(Entry, Entry.id == PlaylistItem.entry_id)
        .where(among(PlaylistItem.playlist_id, ids))
        .subquery()
    )
    counts: dict[int, int] = {}
    first: dict[int, list[int]] = {}
    albums: set[int] = {playlist.id for playlist, _ in rows if (playlist.rule or {}).get("shelf") == "photos"}
    shown = select(seen.c.playlist_id, seen.c.entry_id, seen.c.whole, seen.c.taken).where(seen.c["at"] <= 4)
    for playlist_id, entry_id, whole, taken in db.execute(shown.order_by(seen.c.playlist_id, seen.c["at"])):
        counts[playlist_id] = whole
        albums |= {playlist_id} if taken else set()
        first.setdefault(playlist_id, []).append(entry_id)
    for playlist, _ in rows:
        if playlist.rule is not None:
            counts[playlist.id], first[playlist.id] = _told_of_rule(db, playlist)
    listed = [
        Listed(
            playlist,
            by,
            playlist.person_id == viewer.person_id,
            counts.get(playlist.id, 0),
            tuple(first.get(playlist.id, ())),
            playlist.id in albums,
        )
        for playlist, by in rows
    ]
    return [one for one in listed if one.is_own or one.count]


def playlist_at(db: Session, viewer: Viewer, playlist_id: int, *, to_change: bool = False) -> Playlist:
    """A playlist; raises :class:`IndiceError` (404) when it is none that somebody knows of, or may change."""
    found = db.scalars(select(Playlist).where(Playlist.id == playlist_id, _reached(viewer))).first()
    if found is not None and found.person_id != viewer.person_id and found.rule is not None:
        found = None if to_change or not _told_of_rule(db, found)[0] else found
    elif found is not None and found.person_id != viewer.person_id:
        seen = select(PlaylistItem.id).join(Entry, Entry.id == PlaylistItem.entry_id)
        if to_change or db.scalar(seen.where(PlaylistItem.playlist_id == playlist_id).limit(1)) is None:
            found = None
    if found is None:
        raise IndiceError(
            "There is no such list.", hint="It may have been removed.", reference="playlist-unknown", status=404
        )
    return found


def places_of(db: Session, playlist: Playlist) -> list[Place]:
    """What stands in a playlist and may be seen, in its order; of one that fills itself, what its rule gathers now."""
    if playlist.rule is not None:
        return [Place(entry.id, entry) for entry in _gathered(db, playlist)]
    query = (
        select(PlaylistItem.id, Entry)
        .join(Entry, Entry.id == PlaylistItem.entry_id)
        .where(PlaylistItem.playlist_id == playlist.id)
        .order_by(PlaylistItem.place, PlaylistItem.id)
    )
    return [Place(item_id, entry) for item_id, entry in db.execute(query)]


def wanted_of(rule: Mapping[str, str], person_id: int) -> Wanted:
    """What a rule asks a shelf for; marks are those of a person."""
    return Wanted(
        rule["shelf"],
        rule.get("year", ""),
        words=rule.get("words", ""),
        traits=tuple(one for one in rule.get("traits", "").split("|") if one),
        sort=cast(Sort, rule.get("sort", "title")),
        person_id=person_id,
    )


def _gathered(db: Session, playlist: Playlist) -> list[Entry]:
    """What a rule gathers now; of albums their songs. A rule of a shelf that is no more gathers nothing."""
    rule = playlist.rule or {}
    if rule.get("shelf") not in SHELVES:
        return []
    entries = first_matching(db, wanted_of(rule, playlist.person_id), limit=MOST_GATHERED)
    if rule["shelf"] != "music":
        return entries
    ids = list(db.scalars(_BELOW, {"ids": [entry.id for entry in entries]}))[:MOST_ITEMS]
    songs = {entry.id: entry for entry in db.scalars(select(Entry).where(among(Entry.id, ids)))}
    return [songs[id_] for id_ in ids if id_ in songs]


def _told_of_rule(db: Session, playlist: Playlist) -> tuple[int, list[int]]:
    """How much a rule gathers now, and the first four entries, for lists of lists."""
    rule = playlist.rule or {}
    if rule.get("shelf") not in SHELVES:
        return 0, []
    wanted = wanted_of(rule, playlist.person_id)
    count = matching_count(db, wanted, limit=MOST_GATHERED)
    return count, [entry.id for entry in first_matching(db, wanted, limit=4)] if count else []


def must_be_by_hand(playlist: Playlist) -> None:
    """Raises :class:`IndiceError` when a playlist fills itself: nothing is put into it, ordered or taken out."""
    if playlist.rule is not None:
        raise IndiceError(
            "This list fills itself.",
            hint="Make a list by hand for what is to be chosen one by one.",
            reference="playlist-by-rule",
            status=409,
        )


def make_playlist(db: Session, viewer: Viewer, name: str, *, rule: Mapping[str, str] | None = None) -> Playlist:
    """A new playlist; raises :class:`IndiceError` when one of one's own has this name already."""
    own = list(db.scalars(select(Playlist.name).where(Playlist.person_id == viewer.person_id)))
    if len(own) >= MOST_LISTS:
        raise IndiceError(
            phrase("There are {most} lists already.", most=MOST_LISTS),
            hint="Remove one first.",
            reference="lists-full",
        )
    _refuse_taken(db, viewer, name)
    made = Playlist(person_id=viewer.person_id, name=name.strip(), rule=dict(rule) if rule is not None else None)
    db.add(made)
    db.flush()
    return made


def _refuse_taken(db: Session, viewer: Viewer, name: str, *, but: int = 0) -> None:
    same = (Playlist.person_id == viewer.person_id, func.lower(Playlist.name) == name.strip().lower())
    if db.scalar(select(Playlist.id).where(*same, Playlist.id != but)) is not None:
        raise IndiceError(
            phrase("You have a list called {name} already.", name=name.strip()),
            reference="playlist-name-taken",
            status=409,
        )


def change_playlist(db: Session, viewer: Viewer, playlist: Playlist, *, name: str | None, is_open: bool | None) -> None:
    """Another name, or open to the household or not; what is None stays."""
    if name is not None:
        _refuse_taken(db, viewer, name, but=playlist.id)
        playlist.name = name.strip()
    if is_open is not None:
        playlist.is_open = is_open
    playlist.changed_at = now()


def remove_playlist(db: Session, playlist: Playlist) -> None:
    """A playlist goes; what stands in it stays in the catalog."""
    db.execute(delete(Playlist).where(Playlist.id == playlist.id))


def add_to_playlist(db: Session, playlist: Playlist, entry_ids: Sequence[int]) -> int:
    """Put entries at the end, of what holds others what is in it in its order; returns how many places came.

    What may not be seen is left out. Raises :class:`IndiceError` when it would be too long, or fills itself.
    """
    must_be_by_hand(playlist)
    wanted = list(db.scalars(_BELOW, {"ids": list(entry_ids)}))
    seen = set(db.scalars(select(Entry.id).where(among(Entry.id, wanted))))
    wanted = [id_ for id_ in wanted if id_ in seen]
    db.execute(select(Playlist.id).where(Playlist.id == playlist.id).with_for_update())
    last, count = db.execute(
        select(func.coalesce(func.max(PlaylistItem.place), 0), func.count()).where(
            PlaylistItem.playlist_id == playlist.id
        )
    ).one()
    if count + len(wanted) > MOST_ITEMS:
        raise IndiceError(
            phrase("A list has {most} places at most.", most=MOST_ITEMS),
            hint="Begin another list.",
            reference="playlist-full",
        )
    rows = [{"playlist_id": playlist.id, "entry_id": id_, "place": last + at} for at, id_ in enumerate(wanted, 1)]
    insert_rows(db, PlaylistItem, rows)
    playlist.changed_at = now()
    return len(rows)


def drop_items(db: Session, playlist: Playlist, item_ids: Collection[int]) -> int:
    """Take places out; returns how many."""
    must_be_by_hand(playlist)
    gone = delete(PlaylistItem).where(PlaylistItem.playlist_id == playlist.id, among(PlaylistItem.id, item_ids))
    playlist.changed_at = now()
    return len(db.execute(gone.returning(PlaylistItem.id)).all())


def order_items(db: Session, playlist: Playlist, item_ids: Sequence[int]) -> None:
    """Let these places come first, in this order; those that are not named follow as they were."""
    must_be_by_hand(playlist)
    db.execute(select(Playlist.id).where(Playlist.id == playlist.id).with_for_update())
    query = select(PlaylistItem.id).where(PlaylistItem.playlist_id == playlist.id)
    there = list(db.scalars(query.order_by(PlaylistItem.place, PlaylistItem.id)))
    named = [id_ for id_ in dict.fromkeys(item_ids) if id_ in set(there)]
    places = {id_: at for at, id_ in enumerate([*named, *(id_ for id_ in there if id_ not in set(named))], 1)}
    if places:
        db.execute(update(PlaylistItem), [{"id": id_, "place": at} for id_, at in places.items()])
    playlist.changed_at = now()


def following_in(db: Session, playlist: Playlist, entry_id: int) -> Entry | None:
    """What is played after an entry in a playlist; None after the last. Pictures are passed over."""
    row = [place.entry for place in places_of(db, playlist) if place.entry.kind != "photo"]
    ids = [entry.id for entry in row]
    at = ids.index(entry_id) + 1 if entry_id in ids else len(ids)
    return row[at] if at < len(row) else None


def resolve_paths(db: Session, paths: Sequence[str]) -> list[int | None]:
    """The entries of files that a playlist from outside names, by the longest end of each path that only one file has.

    What fits several files alike, or none, is None. All names are looked for in one walk through the files.
    """
    parts = [_parts(path) for path in paths]
    name = type_coerce(func.reverse(func.split_part(func.reverse(File.shown), "/", 1)), Text)
    query = (
        select(File.shown, Entry.id)
        .join(Entry, Entry.id == File.entry_id)
        .where(among_words(name, {told[-1] for told in parts if told}), File.kind.in_(_PLAYED))
    )
    there: dict[str, list[tuple[list[str], int]]] = {}
    for shown, entry_id in db.execute(query):
        there.setdefault(shown.rpartition("/")[2], []).append((shown.split("/"), entry_id))
    return [_the_one(told, there.get(told[-1], [])) if told else None for told in parts]


def _parts(path: str) -> list[str]:
    return [part for part in path.replace("\\", "/").split("/") if part not in ("", ".", "..")]


def _the_one(wanted: list[str], files: list[tuple[list[str], int]]) -> int | None:
    """The file that has most of the end of a path in common with it, where no other has as much."""
    alike = [(_in_common(wanted, parts), entry_id) for parts, entry_id in files]
    most = max((count for count, _ in alike), default=0)
    best = {entry_id for count, entry_id in alike if count == most}
    return best.pop() if len(best) == 1 else None


def _in_common(one: list[str], other: list[str]) -> int:
    pairs = zip(reversed(one), reversed(other), strict=False)
    return next((at for at, (mine, its) in enumerate(pairs) if mine != its), min(len(one), len(other)))
