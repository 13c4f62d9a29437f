"""What goes over the wire, typed; the OpenAPI description and the front end's client are made from these."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

Kind = Literal["movies", "series", "music", "photos", "home-videos", "mixed"]
JobState = Literal["queued", "running", "done", "failed", "stopped"]


class Asked(BaseModel):
    """Base of request bodies: nothing is guessed."""

    model_config = ConfigDict(strict=True, extra="forbid")


class Problem(BaseModel):
    """An error with words for a person."""

    reference: str
    message: str
    hint: str = ""


class Done(BaseModel):
    """It is done."""

    ok: bool = True


class JobOut(BaseModel):
    id: int
    kind: str
    title: str
    state: JobState
    step: str
    done: int
    total: int
    rate: float
    seconds_left: int | None
    current: str
    message: str
    created_at: str
    finished_at: str | None


class LackOut(BaseModel):
    group: int
    """Its season or disc."""
    number: int
    title: str
    date: str
    is_out: bool
    """Whether it has been aired."""
    is_known: bool
    """Whether a source says that there is one; else it is a hole between numbers."""


class JobLineOut(BaseModel):
    at: str
    level: str
    path: str
    text: str


class JobRef(BaseModel):
    job_id: int


class Picture(BaseModel):
    digest: str
    width: int
    height: int
    blur: str


class MarkOut(BaseModel):
    seen: bool
    favourite: bool
    rating: int | None
    tags: list[str]
    note: str
    share: float
    """How much of it was played where one stopped, from 0 to 1; 0 when one did not."""
    position_seconds: float | None


class EntryCard(BaseModel):
    id: int
    kind: str
    title: str
    subtitle: str
    year: int | None
    state: str
    moment: str | None
    added_at: str
    picture: Picture | None
    count: int
    mark: MarkOut | None = None
    """One's own; None where there is none."""
    seconds: int | None = None
    """Of a film, as the two below: how long it is."""
    lines: int | None = None
    size_bytes: int | None = None
    moves: bool = False
    """Of a photo: whether the moments around it can be played."""


class Mark(BaseModel):
    field: str
    value: Any
    spans: list[list[int]]
    rule: str


class FileOut(BaseModel):
    id: int
    folder_id: int
    path: str
    directory: str
    name: str
    kind: str
    state: str
    size_bytes: int
    serves: str
    marks: list[Mark]
    media: dict[str, Any] | None
    problem: str
    entry_id: int | None
    entry_title: str | None
    tidy: str | None


class Changed(BaseModel):
    count: int
