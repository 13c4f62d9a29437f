"""All songs in one list, and what they sing."""

from __future__ import annotations

from collections.abc import Sequence

from apiflask import APIBlueprint
from sqlalchemy.orm import Session

from ..core.lyrics import read_lyrics
from ..store.catalog import artwork_of, main_picture
from ..store.lyrics import lyrics_of
from ..store.songs import MOST_COUNTED, Song, count_songs, songs_page, songs_with
from ..store.viewer import keeps
from .common import begin, entry_at, picture_out, viewer
from .schemas_songs import LyricLineOut, LyricsOut, SongOut, SongsOut, SongsQuery

__all__ = ["bp", "songs_out"]

bp = APIBlueprint("songs", __name__, url_prefix="/api/songs", tag="Catalog")


@bp.get("")
@bp.input(SongsQuery, location="query", arg_name="query")
@bp.output(SongsOut)
def read_songs(query: SongsQuery) -> SongsOut:
    """A page of all songs, by title or the newest first; words are looked for in songs, albums and artists."""
    with begin() as db:
        asked = songs_with(db, query.words)
        songs, following = songs_page(db, asked, query.sort, query.after)
        total = count_songs(db, asked) if not query.after else None
        is_more = total is not None and bool(query.words.split()) and total > MOST_COUNTED
        return SongsOut(
            songs=songs_out(db, songs),
            following=following,
            total=MOST_COUNTED if is_more else total,
            is_more=is_more,
        )


def songs_out(db: Session, songs: Sequence[Song]) -> list[SongOut]:
    """Songs as they go over the wire, with the pictures of their albums."""
    pictures = artwork_of(db, list({song.album.id for song in songs if song.album is not None}))
    return [
        SongOut(
            id=song.entry.id,
            title=song.entry.title,
            album_id=song.album.id if song.album else None,
            album=song.album.title if song.album else "",
            artist=song.artist,
            year=song.album.year if song.album else None,
            seconds=float((song.file.media or {}).get("seconds") or 0) or None if song.file else None,
            file_id=song.file.id if song.file and song.file.state == "present" else None,
            picture=picture_out(main_picture("album", pictures.get(song.album.id, [])) if song.album else None),
        )
        for song in songs
    ]


@bp.get("/<int:entry_id>/lyrics")
@bp.output(LyricsOut)
def read_lyrics_of(entry_id: int) -> LyricsOut:
    """What a song sings: lines, with their moments where these are known."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        text, origin = lyrics_of(db, entry)
        may_write = keeps(viewer(), entry.library_id)
    lines = read_lyrics(text)
    return LyricsOut(
        lines=[LyricLineOut(text=line.text, at_seconds=line.at_seconds) for line in lines],
        is_timed=any(line.at_seconds is not None for line in lines),
        text=text if may_write else "",
        origin=origin,
        may_write=may_write,
    )
