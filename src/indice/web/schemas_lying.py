"""What goes over the wire about folders as they lie."""

from __future__ import annotations

from pydantic import BaseModel, Field

from .schemas import EntryCard, Picture
from .schemas_songs import SongOut

__all__ = ["LyingOut", "LyingQuery", "LyingsOut", "PiecesOut", "PiecesQuery"]


class LyingQuery(BaseModel):
    folder_id: int | None = Field(None, ge=1, le=2**31 - 1)
    path: str = Field("", max_length=4000)
    after: str = Field("", max_length=8000)


class PiecesQuery(BaseModel):
    folder_id: int = Field(ge=1, le=2**31 - 1)
    path: str = Field("", max_length=4000)
    after: str = Field("", max_length=8000)
    below: bool = False
    """Whether the first of all that lies below is asked for, too."""


class LyingOut(BaseModel):
    folder_id: int
    path: str
    name: str
    picture: Picture | None
    """Of the first thing in it."""


class LyingsOut(BaseModel):
    folders: list[LyingOut]
    following: str | None
    root: str
    """What the library's folder that they lie in is called; empty where these are listed."""


class PiecesOut(BaseModel):
    songs: list[SongOut]
    """Of music …"""
    entries: list[EntryCard]
    """… and of photos and clips."""
    following: str | None
