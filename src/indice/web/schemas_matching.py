"""Matches and the sources that they come from."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from .schemas import Asked, EntryCard, FileOut, Picture


class ScorePart(BaseModel):
    name: str
    likeness: float
    weight: float
    here: str
    there: str
    veto: bool


class CandidateOut(BaseModel):
    id: int
    external_id: str
    source: str
    name: str
    description: str
    score: float
    parts: list[ScorePart]
    fields: dict[str, Any]
    is_looked_at: bool
    """Whether the source was asked for more than its name."""


class ApartOut(BaseModel):
    name: str
    description: str
    type: str
    source: str


class MatchOut(BaseModel):
    entry: EntryCard
    library: str
    note: str
    taken: str | None
    """Identifier of the candidate that was taken."""
    files: list[FileOut]
    here: dict[str, Any]
    picture: Picture | None
    """A picture of the household's own, such as the cover that its tracks carry."""
    frame: int | None
    """A file of which a frame can be shown."""
    candidates: list[CandidateOut]
    apart: list[ApartOut]
    """What sources brought up that is of another type."""


class AgainOut(BaseModel):
    entries: list[EntryCard]


class MatchesQuery(BaseModel):
    after: int | None = None
    """The last entry of the page before."""


class MatchesOut(BaseModel):
    waiting: list[EntryCard]
    total: int
    decided: list[EntryCard]


class TakeIn(Asked):
    candidate_id: int | None


class ChoiceIn(Asked):
    entry_id: int
    candidate_id: int | None
    """The likeliest where it is null."""


class ChoicesIn(Asked):
    choices: list[ChoiceIn] = Field(min_length=1, max_length=200)


class AliasOut(BaseModel):
    id: int
    kind: str
    name: str
    title: str
    source: str
    """Empty where a person said that no source knows it."""
    at: str


class AliasesOut(BaseModel):
    aliases: list[AliasOut]


class WordsIn(Asked):
    words: str = Field(min_length=1, max_length=300)
    source: str | None = Field(None, max_length=200)
    """Only this one; all sources of the library otherwise."""


class SuggestedOut(BaseModel):
    names: list[str]


class SourceOut(BaseModel):
    id: int
    name: str
    url: str
    problem: str
    has_key: bool
    checked_at: str | None
    unknown_fields: list[str]
    profile: str


class SourceIn(Asked):
    profile: str = Field(max_length=100_000)
    key: str | None = Field(None, max_length=500)


class LookIn(Asked):
    url: str = Field(min_length=8, max_length=2000)
    key: str | None = Field(None, max_length=4000)


class NamedOut(BaseModel):
    id: str
    name: str


class LookOut(BaseModel):
    name: str
    versions: list[str]
    batch_size: int
    wants_key: bool
    types: list[NamedOut]
    properties: dict[str, list[NamedOut]]
    profile: str
    """A draft, as TOML."""


class OrderIn(Asked):
    ids: list[int] = Field(max_length=200)


class KeyIn(Asked):
    key: str = Field(max_length=500)


class Said(BaseModel):
    message: str


class SourcesOut(BaseModel):
    sources: list[SourceOut]
