"""What goes over the wire about services of subtitles, what they offer, and texts beside films."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from .schemas import Asked
from .schemas_names import PlanOut

__all__ = [
    "OfferedTextOut", "OfferedTextsOut", "TextDraftIn", "TextDraftOut", "TextFileOut", "TextFilesOut", "TextLine",
    "TextSearchIn", "TextServiceOut", "TextServicesOut", "TimesIn", "TimesOut", "TimesProposeIn",
]  # fmt: skip


class TextServiceOut(BaseModel):
    id: int
    name: str
    url: str
    problem: str
    has_key: bool
    checked_at: str | None
    languages: list[str]
    profile: str


class TextServicesOut(BaseModel):
    services: list[TextServiceOut]


class TextSearchIn(Asked):
    languages: list[str] = Field(min_length=1, max_length=8)
    """Tags such as `en`, the dearest first."""
    file_id: int | None = Field(None, ge=1, le=2**31 - 1)


class OfferedTextOut(BaseModel):
    service_id: int
    service: str
    id: str
    language: str
    title: str | None
    release: str
    form: Literal["srt", "vtt", "ass"]
    for_deaf: bool
    forced: bool
    seconds: float | None
    grounds: list[str]
    """Why it may fit or not, as references whose words the screen has."""
    weight: float
    stretch: float


class OfferedTextsOut(BaseModel):
    texts: list[OfferedTextOut]
    problems: list[str]


class TextDraftIn(Asked):
    service_id: int = Field(ge=1, le=2**31 - 1)
    id: str = Field(min_length=1, max_length=300)
    language: str = Field(min_length=2, max_length=20)
    form: Literal["srt", "vtt", "ass"]
    for_deaf: bool = False
    forced: bool = False
    stretch: float = Field(1.0, ge=0.5, le=2.0)
    """Its times are multiplied by this before it is laid down."""
    file_id: int | None = Field(None, ge=1, le=2**31 - 1)


class TextLine(BaseModel):
    seconds: float
    words: str


class TextDraftOut(BaseModel):
    plan: PlanOut
    path: str
    replaces: bool
    lines: list[TextLine]


class TextFileOut(BaseModel):
    file_id: int
    name: str
    language: str | None
    flags: list[str]


class TextFilesOut(BaseModel):
    texts: list[TextFileOut]


class TimesProposeIn(Asked):
    file_id: int | None = Field(None, ge=1, le=2**31 - 1)


class TimesIn(Asked):
    offset_seconds: float = Field(ge=-36_000, le=36_000, allow_inf_nan=False)
    stretch: float = Field(ge=0.5, le=2.0, allow_inf_nan=False)


class TimesOut(BaseModel):
    offset_seconds: float
    stretch: float
    is_sure: bool
