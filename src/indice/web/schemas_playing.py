"""Playing: tracks, parts, versions and who plays what; contents and frames of files."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from .schemas import Asked, Picture


class SheetOut(BaseModel):
    is_there: bool
    """Else it is being drawn."""
    url: str
    step_seconds: float
    count: int
    columns: int
    width: int
    """Of one picture, in pixels."""
    height: int


class ContentQuery(BaseModel):
    download: bool = False
    """Whether it is to be saved instead of shown."""


class FrameQuery(BaseModel):
    at: float = Field(0, ge=0, le=200_000)


class PlaybackIn(Asked):
    can: list[Annotated[str, Field(max_length=300)]] = Field(max_length=400)
    """What the player says it can play, as RFC 6381 writes it."""
    max_height: int | None = Field(None, ge=1, le=10_000)
    max_kbps: int | None = Field(None, ge=1, le=10_000_000)
    sound: int | None = Field(None, ge=0, le=999)
    text: int | None = Field(None, ge=0, le=999)
    file_id: int | None = Field(None, ge=1, le=2**31 - 1)
    hls: bool = True
    from_seconds: float | None = Field(None, ge=0, le=10_000_000)
    """Where the player will begin: what is made first."""
    list_id: int | None = Field(None, ge=1, le=2**31 - 1)
    """The playlist that is played through; what follows in it is what comes next."""


class SoundTrack(BaseModel):
    index: int
    language: str | None
    label: str
    codec: str
    channels: int
    default: bool


class TextTrack(BaseModel):
    index: int
    language: str | None
    label: str
    flags: list[str]
    url: str | None
    """WebVTT; none for pictures of words, which are drawn in when they are chosen."""


class ChapterOut(BaseModel):
    start_seconds: float
    title: str


class VersionOut(BaseModel):
    file_id: int
    label: str
    width: int
    height: int


class PartOut(BaseModel):
    file_id: int
    start_seconds: float
    duration_seconds: float


PlayMode = Literal["direct", "repackaged", "converted"]


class PassageOut(BaseModel):
    kind: Literal["recap", "opening", "closing"]
    start_seconds: float
    end_seconds: float


class LoudnessOut(BaseModel):
    """What a song's tags say: the gains that bring it and its album to -18
    LUFS, and how far the loudest moment goes."""

    track: float | None = None
    album: float | None = None
    track_peak: float | None = None
    album_peak: float | None = None


class PlaybackOut(BaseModel):
    mode: PlayMode
    reason: str
    reasons: list[str]
    """Words for the front end's own languages."""
    url: str
    mime: str
    entry_id: int
    """What really plays: of a series an episode."""
    kind: str
    title: str
    subtitle: str
    parent_id: int | None
    picture: Picture | None
    file_id: int
    duration_seconds: float
    width: int | None
    height: int | None
    source_height: int | None
    kbps: int | None
    """How much is sent a second, in thousand bits; none where nothing bounds it."""
    sound: int | None
    """Number of the sound track that is heard."""
    sounds: list[SoundTrack]
    texts: list[TextTrack]
    chapters: list[ChapterOut]
    passages: list[PassageOut]
    """What one may want to skip."""
    versions: list[VersionOut]
    position_seconds: float
    keeps_position: bool
    """Not of an extra: that one has looked at it says nothing of the film."""
    next_entry_id: int | None
    parts: list[PartOut]
    loudness: LoudnessOut | None
    key: str
    download: str


class PlayingOut(BaseModel):
    key: str
    person: str
    entry_id: int
    title: str
    mode: PlayMode
    reasons: list[str]
    began_at: str
    device: str
    height: int | None
    machine: str
    """Which other machine converts it; empty: none."""
    speed: float
    """Seconds of the film that are made a second; 0 when nothing is being made."""


class PlayingsOut(BaseModel):
    playings: list[PlayingOut]
    most: int
    """So many may be converted at the same time."""
