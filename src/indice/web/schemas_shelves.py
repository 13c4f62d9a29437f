"""Shelves, search, marks, and what a person writes by hand."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ..store.orders import Sort
from .schemas import Asked, EntryCard, LackOut, Picture


class MarksIn(BaseModel):
    entry_ids: list[int] = Field(min_length=1, max_length=100_000)
    seen: bool | None = None
    favourite: bool | None = None
    rating: int | None = Field(None, ge=0, le=10)
    """From 1 to 10; 0 takes it back."""
    tags: list[Annotated[str, Field(max_length=60)]] | None = Field(None, max_length=50)
    note: Annotated[str, Field(max_length=4000)] | None = None
    """For oneself; an empty one takes it back."""


class MarksQuery(BaseModel):
    form: Literal["csv", "jsonld"] = "csv"


class PositionIn(BaseModel):
    seconds: float = Field(ge=0, le=10_000_000)
    duration_seconds: float = Field(gt=0, le=10_000_000)


class PositionOut(BaseModel):
    came: Literal["left", "kept", "seen"]


class FrontRow(BaseModel):
    name: str
    """`going-on`, `next`, `new-films`, `new-series`, `new-albums`, `this-day`, `favourites` or `seen`."""
    entries: list[EntryCard]


class FrontOut(BaseModel):
    rows: list[FrontRow]


class GoingOn(BaseModel):
    entries: list[EntryCard]


class FactIn(Asked):
    value: Any = None


class ShelfQuery(BaseModel):
    after: str = Field("", max_length=600)
    """What the page before said of the following one."""
    year: str = Field("", max_length=7, pattern=r"^(\?|[0-9]{4}(-[0-9]{2})?)?$")
    until: str = Field("", max_length=7, pattern=r"^([0-9]{4}(-[0-9]{2})?)?$")
    """Of photos: the list begins at this month, and goes on to older ones."""
    words: str = Field("", max_length=200)
    traits: str = Field("", max_length=2000)
    """What it is narrowed down by, parted by `|`: `genre:Drama|genre:Comedy|resolution:1080p`."""
    sort: Sort = "title"
    """Of films and series; length, resolution and size are of films."""


class TraitQuery(ShelfQuery):
    like: str = Field("", max_length=80)
    """Letters that stand in what is looked for."""


class GroupOut(BaseModel):
    value: str
    count: int
    entries: list[EntryCard]
    """The first of them."""
    lacks: list[LackOut]
    """Of a set of films what is not here, for who keeps the catalog."""


class GroupsOut(BaseModel):
    groups: list[GroupOut]
    total: int
    """How many groups there are in all."""
    following: str | None


class TraitOut(BaseModel):
    value: str
    label: str
    """Empty where the words of the page say it."""
    count: int


class TraitGroup(BaseModel):
    name: str
    traits: list[TraitOut]
    has_more: bool
    """Whether there are more of them, which one looks for by their letters."""


class TraitsOut(BaseModel):
    groups: list[TraitGroup]
    is_settled: bool
    """Whether all that was read lately is counted already."""


class Shelf(BaseModel):
    entries: list[EntryCard]
    following: str | None
    """What the next page is asked with; null after the last."""


class MapQuery(ShelfQuery):
    """What of the photos is asked for, and what is seen of the earth, in degrees."""

    west: float = Field(-180, ge=-180, le=180)
    south: float = Field(-90, ge=-90, le=90)
    east: float = Field(180, ge=-180, le=180)
    north: float = Field(90, ge=-90, le=90)


class HeapOut(BaseModel):
    """Photos that were taken near each other, and one of them."""

    cell: str
    """Its name, as photos are narrowed down by it: `near:1203`."""
    count: int
    entry: EntryCard
    latitude: float
    longitude: float
    town: str
    country: str


class MapOut(BaseModel):
    heaps: list[HeapOut]


class Ruler(BaseModel):
    steps: dict[str, int]
    """Year, of photos month → how many."""
    total: int


class MatchingIds(BaseModel):
    ids: list[int]


class SearchQuery(BaseModel):
    q: str = Field("", max_length=300)


class ManyFactsIn(Asked):
    entry_ids: list[int] = Field(min_length=1, max_length=50_000)
    field: str = Field(max_length=40)
    value: Any
    how: Literal["set", "add", "drop"]
    """`add` and `drop` change single values of a list."""


class FrameIn(Asked):
    file_id: int
    seconds: float = Field(ge=0, le=200_000)
    role: Literal["poster", "backdrop", "thumb"]


class WithQuery(BaseModel):
    field: str = Field(max_length=40)
    value: str = Field(max_length=400)


class RoleOut(BaseModel):
    field: str
    """What the value is of these: `directors`, `cast`, `genres` …"""
    entries: list[EntryCard]


class WithOut(BaseModel):
    value: str
    roles: list[RoleOut]
    more: int
    """So many things more than are listed."""
    portrait: Picture | None
    lacks: list[LackOut]
    """Of a set of films what is not here, for who keeps the catalog."""


class FoundNameOut(BaseModel):
    group: str
    """`credit` for who made something or is in it, else a group of traits."""
    value: str
    shelf: str
    """Where to look for it."""
    count: int


class FoundOut(BaseModel):
    entries: list[EntryCard]
    named: list[FoundNameOut] = Field(default_factory=list)
    """Names that are no entries: people, places, genres, collections."""
    lines: dict[int, str] = Field(default_factory=dict)
    """What is sung in those that were found by their words."""
