"""Libraries and their folders."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from .schemas import Asked, Kind


class BrowsedFolder(BaseModel):
    name: str
    path: str
    readable: bool


class Browsed(BaseModel):
    path: str
    parent: str | None
    folders: list[BrowsedFolder]


class BrowseQuery(BaseModel):
    path: str = Field("/", max_length=4096)


class FolderPreview(BaseModel):
    path: str
    counts: dict[str, int]
    suggestion: Kind
    complete: bool


class FolderOut(BaseModel):
    id: int
    path: str
    state: str
    problem: str


class LibraryOut(BaseModel):
    id: int
    name: str
    kind: Kind
    language: str
    country: str
    sources: list[str]
    own_first: list[str]
    writes: list[str]
    convention: str
    schedule: str
    checks: dict[str, str]
    folders: list[FolderOut]
    scanned_at: str | None
    states: dict[str, int]
    size_bytes: int


class LibraryIn(Asked):
    name: str = Field(min_length=1, max_length=80)
    kind: Kind
    folders: list[str] = Field(min_length=1, max_length=50)
    language: str = Field("en", pattern="^[a-z]{2}$")
    country: str = Field("", pattern="^([A-Z]{2})?$")
    sure: bool = False


Writable = Literal["facts", "artwork", "photos", "tags"]


class LibraryEdit(Asked):
    name: str = Field(min_length=1, max_length=80)
    language: str = Field(pattern="^[a-z]{2}$")
    country: str = Field(pattern="^([A-Z]{2})?$")
    sources: list[str] = Field(max_length=50)
    """Names in their order; empty means all."""
    own_first: list[str] = Field(max_length=60)
    """Fields in which the library's own files are believed before any source."""
    writes: list[Writable] = Field(max_length=4)
    schedule: str | None = Field(None, max_length=40)
    """Such as `nightly at 3` or `every 6 hours`; empty: only when something changes."""


class SettleIn(Asked):
    gone: bool


class LibrariesOut(BaseModel):
    libraries: list[LibraryOut]
