"""What the page of an entry is answered with."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel

from .schemas import EntryCard, FileOut, Picture

__all__ = [
    "ArtworkOut",
    "ChangeOut",
    "Credit",
    "EntryOut",
    "FactOut",
    "FactValue",
    "FrameOut",
    "GridCell",
    "GridRow",
    "KeptOut",
    "OfferOut",
    "Playable",
    "RelatedOut",
    "ShotOut",
    "ShownFact",
    "SoundOut",
    "VersionLine",
]


class FactValue(BaseModel):
    value: Any
    origin: str
    at: str | None
    locked: bool


class FactOut(BaseModel):
    field: str
    shown: FactValue
    others: list[FactValue]


class ArtworkOut(BaseModel):
    id: int
    role: str
    origin: str
    chosen: bool
    picture: Picture


class OfferOut(BaseModel):
    role: str
    source: str
    count: int
    """So many more than are here."""


class FrameOut(BaseModel):
    file_id: int
    seconds: float


class ChangeOut(BaseModel):
    field: str
    before: Any
    after: Any
    by: str
    at: str


class SoundOut(BaseModel):
    codec: str
    channels: int
    language: str
    """As ISO 639; empty where the file says none."""


class VersionLine(BaseModel):
    """A file that plays what a page is of, as the household sees it."""

    file_id: int
    edition: str
    part: int | None
    width: int
    height: int
    codec: str
    hdr: bool
    sounds: list[SoundOut]
    texts: list[str]
    """Languages of subtitles, inside the file and beside it."""
    seconds: float | None
    is_there: bool


class Credit(BaseModel):
    name: str
    field: str
    """What they did, as the field of facts that names them."""


class RelatedOut(BaseModel):
    entry: EntryCard
    why: list[Credit]
    """What it has in common: a value, and the field that holds it."""


class ShotOut(BaseModel):
    """How a photo was taken, and how large it is."""

    file_id: int | None
    """The file itself, where browsers show such files."""
    width: int | None
    height: int | None
    camera: str
    lens: str
    size_bytes: int


class GridCell(BaseModel):
    number: int
    state: Literal["here", "missing", "twice"]
    entry_id: int | None
    title: str
    seen: bool = False
    behind: tuple[int, int] | None = None
    """Of a special: season and number of the episode behind which it belongs; number 0: before the season's first."""


class GridRow(BaseModel):
    season: int | None
    month: str
    """Year and month, where its cells are days."""
    first: int
    """The first of the running numbers that it holds; 0 in others."""
    cells: list[GridCell]


class Playable(BaseModel):
    file_id: int
    label: str
    entry_id: int
    seconds: float | None = None
    extra: bool
    """Whether it lies beside what the page is of, and has no position of its own."""


class ShownFact(BaseModel):
    """The value that is shown of a field."""

    field: str
    value: Any


class EntryOut(BaseModel):
    """The page of an entry as the household sees it."""

    card: EntryCard
    credits: list[Credit]
    versions: list[VersionLine]
    related: list[RelatedOut]
    parents: list[EntryCard]
    children: list[EntryCard]
    grid: list[GridRow]
    facts: list[ShownFact]
    backdrop: Picture | None
    plays: list[Playable]
    shot: ShotOut | None
    """Of a photo; not told to who comes by a link."""
    cell: str
    """Of a photo or clip: where on the map it was taken, as the map is narrowed
    down by it; empty where it does not say."""
    is_kept: bool
    """Whether who asks keeps the catalog, or this library of it, and so may ask for what it is kept by."""


class KeptOut(BaseModel):
    """What there is to keep an entry by."""

    library: str
    facts: list[FactOut]
    files: list[FileOut]
    artworks: list[ArtworkOut]
    offers: list[OfferOut]
    frames: list[FrameOut]
    changes: list[ChangeOut]
    editable: list[str]
    note: str
    score: float | None
    source: str | None
    decided_by: str | None
    candidates: int
