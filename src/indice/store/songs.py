"""All songs in one list, paged by key: by title, or the newest first; by words of
their own, their album or their artist."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import ColumnElement, Select, func, literal, literal_column, or_, select, tuple_
from sqlalchemy.orm import Session, aliased

from .among import among
from .browse import pattern_of
from .catalog import files_of
from .family import entries_at
from .models import CleanText, Entry, File
from .orders import packed, page_unknown, unpacked

__all__ = ["MOST_COUNTED", "SONGS_A_PAGE", "Song", "SongSort", "count_songs", "songs_of", "songs_page", "songs_with"]

SONGS_A_PAGE = 100
MOST_COUNTED = 1000
"""So far are songs counted that hold words."""
MOST_FEW = 300
"""A word that more songs hold is frequent."""
MOST_WORDS = 8
SongSort = Literal["title", "added"]
_IS_TRACK = literal_column("entry.kind = 'track'")
_YEAR = func.coalesce(Entry.year, 0)


@dataclass(frozen=True, slots=True)
class Song:
    """A song as the list shows it."""

    entry: Entry
    album: Entry | None
    artist: str
    file: File | None
    """What plays; None where it is away."""


def _kind(name: Literal["track", "album", "artist"]) -> ColumnElement[str]:
    """A kind written out, so that the indexes of it are used."""
    return literal_column(f"'{name}'")


def _holds(word: str) -> ColumnElement[bool]:
    """Whether a song, its album or its artist holds a word."""
    like = pattern_of(word)
    return or_(Entry.search.like(like, escape="\\"), Entry.parent_id.in_(_albums(like)))


def _albums(like: str) -> Select[int]:
    album, artist = aliased(Entry), aliased(Entry)
    artists = select(artist.id).where(artist.kind == _kind("artist"), artist.search.like(like, escape="\\"))
    return select(album.id).where(
        album.kind == _kind("album"), or_(album.search.like(like, escape="\\"), album.parent_id.in_(artists))
    )


def _few(db: Session, word: str) -> list[int] | None:
    """The songs that hold a word, by the indexes of words; None where there are many of them."""
    like = pattern_of(word)
    song = aliased(Entry)
    own = select(song.id).where(song.kind == _kind("track"), song.search.like(like, escape="\\")).limit(MOST_FEW + 1)
    below = select(song.id).where(song.kind == _kind("track"), song.parent_id.in_(_albums(like))).limit(MOST_FEW + 1)
    found = {*db.scalars(own)}
    if len(found) <= MOST_FEW:
        found |= set(db.scalars(below))
    return sorted(found) if len(found) <= MOST_FEW else None


def songs_with(db: Session, words: str) -> list[ColumnElement[bool]]:
    """What songs are asked for, for a page of them and for their number: a rare word is looked up first; where all are
    frequent, the list is gone through in its order."""
    told = words.split()[:MOST_WORDS]
    found: list[ColumnElement[bool]] = [_IS_TRACK]
    rare = next(
        ((word, ids) for word in sorted(told, key=len, reverse=True) if (ids := _few(db, word)) is not None), None
    )
    if rare is not None:
        found.append(among(Entry.id, rare[1]))
    found += [_holds(word) for word in told if rare is None or word != rare[0]]
    return found


def count_songs(db: Session, asked: Sequence[ColumnElement[bool]]) -> int:
    """How many there are; with words counted up to one more than a limit."""
    most = MOST_COUNTED + 1 if len(asked) > 1 else None
    some = select(Entry.id).where(*asked).limit(most).subquery()
    return db.scalar(select(func.count()).select_from(some)) or 0


def songs_page(
    db: Session, asked: Sequence[ColumnElement[bool]], sort: SongSort, after: str
) -> tuple[list[Song], str | None]:
    """A page of songs, and what the next one is asked with; None after the last.

    Raises :class:`IndiceError` where the page is none that was given out.
    """
    query = select(Entry).where(*asked)
    if sort == "added":
        query = query.order_by(Entry.added_at.desc(), Entry.id.desc())
        if after:
            at, id_ = unpacked(after, str, int)
            query = query.where(tuple_(Entry.added_at, Entry.id) < tuple_(literal(_moment(at)), literal(id_)))
    else:
        query = query.order_by(Entry.sort_title, _YEAR, Entry.id)
        if after:
            title, year, id_ = unpacked(after, str, int, int)
            behind = tuple_(literal(title, CleanText()), literal(year), literal(id_))
            query = query.where(tuple_(Entry.sort_title, _YEAR, Entry.id) > behind)
    entries = list(db.scalars(query.limit(SONGS_A_PAGE + 1)))
    shown, more = entries[:SONGS_A_PAGE], len(entries) > SONGS_A_PAGE
    return songs_of(db, shown), _following(shown[-1], sort) if more else None


def _moment(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError as error:
        raise page_unknown() from error


def _following(last: Entry, sort: SongSort) -> str:
    key: tuple[Any, ...] = (
        (last.added_at.isoformat(), last.id) if sort == "added" else (last.sort_title, last.year or 0, last.id)
    )
    return packed(*key)


def songs_of(db: Session, entries: Sequence[Entry]) -> list[Song]:
    """Tracks as the list shows them, in their order."""
    albums = {one.id: one for one in entries_at(db, {e.parent_id for e in entries if e.parent_id})}
    artists = {one.id: one.title for one in entries_at(db, {a.parent_id for a in albums.values() if a.parent_id})}
    files = files_of(db, [entry.id for entry in entries])
    found: list[Song] = []
    for entry in entries:
        album = albums.get(entry.parent_id or 0)
        file = next((file for file, _ in files.get(entry.id, []) if file.kind == "track"), None)
        found.append(Song(entry, album, artists.get(album.parent_id or 0, "") if album is not None else "", file))
    return found
