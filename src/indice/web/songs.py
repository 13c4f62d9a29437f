"""All songs in one list."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..store.catalog import artwork_of, main_picture
from ..store.songs import count_songs, songs_page
from .common import begin, picture_out
from .schemas_songs import SongOut, SongsOut, SongsQuery

__all__ = ["bp"]

bp = APIBlueprint("songs", __name__, url_prefix="/api/songs", tag="Catalog")


@bp.get("")
@bp.input(SongsQuery, location="query", arg_name="query")
@bp.output(SongsOut)
def read_songs(query: SongsQuery) -> SongsOut:
    """A page of all songs, by title or the newest first; words are looked for in songs, albums and artists."""
    with begin() as db:
        songs, following = songs_page(db, query.words, query.sort, query.after)
        albums = {song.album.id for song in songs if song.album is not None}
        pictures = artwork_of(db, list(albums))
        return SongsOut(
            songs=[
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
            ],
            following=following,
            total=count_songs(db, query.words) if not query.after else None,
        )
