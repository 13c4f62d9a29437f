"""What goes over the wire about all songs in one list."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from .schemas import Asked, Picture

__all__ = ["LyricLineOut", "LyricsOut", "SongOut", "SongsOut", "SongsQuery"]


class SongsQuery(Asked):
    words: str = Field("", max_length=200)
    sort: Literal["title", "added"] = "title"
    after: str = Field("", max_length=2000)


class SongOut(BaseModel):
    id: int
    title: str
    album_id: int | None
    album: str
    artist: str
    year: int | None
    seconds: float | None
    file_id: int | None
    """What plays; none where it is away."""
    picture: Picture | None


class SongsOut(BaseModel):
    songs: list[SongOut]
    following: str | None
    total: int | None
    """Of the first page only."""
    is_more: bool = False
    """Whether there are more than were counted."""


class LyricLineOut(BaseModel):
    text: str
    """Empty between two verses."""
    at_seconds: float | None


class LyricsOut(BaseModel):
    lines: list[LyricLineOut]
    is_timed: bool
    text: str
    """As it is kept, for who may write it."""
    origin: str
    """`hand`, `tags` or `sidecar`; empty where there are none."""
    may_write: bool
