"""Playlists, shares, tokens and sign-in by a code, as they go over the wire."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ..store.orders import Sort
from .schemas import Asked, EntryCard, Picture

Ids = Annotated[list[Annotated[int, Field(ge=1, le=2**31 - 1)]], Field(max_length=20_000)]
Name = Annotated[str, Field(min_length=1, max_length=120, pattern=r"\S")]


class Rule(Asked):
    """What a list that fills itself asks a shelf for; as the shelf itself is asked."""

    shelf: Literal["films", "series", "music", "photos"]
    year: str = Field("", max_length=7, pattern=r"^(\?|[0-9]{4}(-[0-9]{2})?)?$")
    words: str = Field("", max_length=200)
    traits: str = Field("", max_length=2000)
    sort: Sort = "title"


class PlaylistOut(BaseModel):
    id: int
    name: str
    by: str
    is_own: bool
    is_open: bool
    """Whether the household sees it."""
    is_album: bool
    """Whether photos and clips stand in it, and nothing else."""
    count: int
    pictures: list[Picture]
    changed_at: str
    rule: Rule | None
    """Of a list that fills itself."""


class PlaylistsOut(BaseModel):
    lists: list[PlaylistOut]


class PlaylistIn(Asked):
    name: Name
    entry_ids: Ids = Field(default_factory=list)
    rule: Rule | None = None
    """Makes it a list that fills itself; then no entries are named."""


class PlaylistMade(BaseModel):
    id: int
    count: int


class PlaceOut(BaseModel):
    item_id: int
    entry: EntryCard
    file_id: int | None
    """What plays here at once; None for what has no file."""
    seconds: float | None


class PlaylistPage(BaseModel):
    list: PlaylistOut
    places: list[PlaceOut]
    seconds: float
    """Of all that has a length."""


class PlaylistChange(Asked):
    name: Name | None = None
    is_open: bool | None = None
    order: Ids | None = None
    """Places that come first, in this order; the others follow as they were."""


class PlacesIn(Asked):
    entry_ids: Ids


class PlacesGone(Asked):
    item_ids: Ids


class PlaylistFileQuery(BaseModel):
    form: Literal["m3u8", "xspf"] = "m3u8"


class PlaylistFileIn(Asked):
    name: Annotated[str, Field(max_length=120)] = ""
    """Where the file itself says none."""
    content: Annotated[str, Field(max_length=3_000_000)]
    """The file, in base64."""


class PlaylistRead(BaseModel):
    id: int
    count: int
    unknown: list[str]
    """Lines that name no one file of the catalog."""


class ShareIn(Asked):
    entry_id: int | None = Field(None, ge=1, le=2**31 - 1)
    list_id: int | None = Field(None, ge=1, le=2**31 - 1)
    days: int = Field(7, ge=1, le=365)
    password: Annotated[str, Field(max_length=200)] = ""
    most_views: int | None = Field(None, ge=1, le=100_000)
    may_download: bool = False
    intake_id: int | None = Field(None, ge=1, le=2**31 - 1)
    """Where files land that are handed in; None: none may be."""
    upload_megabytes: int = Field(0, ge=0, le=1_000_000)


class ShareMade(BaseModel):
    id: int
    link: str
    """The whole address; shown this once."""
    picture: str
    """The same as a QR code: SVG in a data URL."""


class ShareOut(BaseModel):
    id: int
    title: str
    kind: str
    entry_id: int | None
    list_id: int | None
    by: str
    made_at: str
    ends_at: str
    is_over: bool
    has_password: bool
    views: int
    most_views: int | None
    viewed_at: str | None
    may_download: bool
    takes_files: bool
    uploaded_bytes: int
    upload_bytes: int


class IntakeChoice(BaseModel):
    id: int
    path: str


class SharesOut(BaseModel):
    shares: list[ShareOut]
    may_share: bool
    intakes: list[IntakeChoice]
    """Where files may land; for who keeps the catalog."""


class SharedOut(BaseModel):
    """What the page of a share says at its top."""

    by: str
    needs_password: bool
    """Then nothing else is said."""
    title: str = ""
    kind: str = ""
    entry_id: int | None = None
    ends_at: str = ""
    may_download: bool = False
    takes_files: bool = False
    upload_bytes_left: int = 0
    places: list[PlaceOut] = Field(default_factory=list)
    """Of a playlist."""


class OpenIn(Asked):
    password: Annotated[str, Field(max_length=200)]


class HandedIn(BaseModel):
    name: str
    size_bytes: int


class TokenIn(Asked):
    name: Name
    scopes: list[Literal["see", "mark", "manage"]] = Field(min_length=1, max_length=3)
    days: int | None = Field(None, ge=1, le=3650)
    """None: until it is ended."""


class TokenMade(BaseModel):
    id: int
    secret: str
    """Shown this once."""


class TokenOut(BaseModel):
    id: int
    name: str
    scopes: list[str]
    made_at: str
    ends_at: str | None
    seen_at: str | None
    address: str


class TokensOut(BaseModel):
    tokens: list[TokenOut]


class DeviceIn(Asked):
    device: Annotated[str, Field(max_length=200)] = ""
    """What it is called; else what it says of itself in its requests."""


class DeviceOut(BaseModel):
    """As RFC 8628 names it."""

    device_code: str
    user_code: str
    verification_uri: str
    verification_uri_complete: str
    expires_in: int
    interval: int
    picture: str
    """`verification_uri_complete` as a QR code: SVG in a data URL."""


class DeviceAsk(Asked):
    device_code: Annotated[str, Field(max_length=200)]
    grant_type: Annotated[str, Field(max_length=100)] = "urn:ietf:params:oauth:grant-type:device_code"


class DeviceToken(BaseModel):
    token_type: str = "Bearer"
    access_token: str = ""
    """The secret for `Authorization: Bearer`; empty for a page of Indice, which is signed in by its cookie."""


class DeviceWaiting(BaseModel):
    user_code: str
    device: str
    address: str
    ends_at: str


class DeviceAnswer(Asked):
    user_code: Annotated[str, Field(max_length=20)]
    allow: bool


class DeedOut(BaseModel):
    id: int
    at: str
    kind: str
    person: str
    address: str
    values: dict[str, str | int | None]


class DeedsOut(BaseModel):
    deeds: list[DeedOut]
    following: int | None
    """Number of the line after which the next page begins."""


class DeedsQuery(BaseModel):
    before: int | None = Field(None, ge=1, le=2**31 - 1)


class PasskeyOptions(BaseModel):
    options: dict[str, Any]
    """As `PublicKeyCredential.parseCreationOptionsFromJSON` and `parseRequestOptionsFromJSON` take it."""


class PasskeyIn(Asked):
    name: Name
    credential: dict[str, Any]
    """As `PublicKeyCredential.toJSON` writes it."""


class PasskeyAnswer(Asked):
    credential: dict[str, Any]


class PasskeyOut(BaseModel):
    id: int
    name: str
    made_at: str
    seen_at: str | None


class PasskeysOut(BaseModel):
    passkeys: list[PasskeyOut]


class CertificateOut(BaseModel):
    names: list[str]
    ends_at: str
    days_left: int
    fingerprint: str
    """SHA-256, as browsers show it."""
    is_self_made: bool


class AwayStep(BaseModel):
    name: str
    """What was looked at and how it stands, as a reference."""
    fine: bool
    values: dict[str, str]


class AwayOut(BaseModel):
    address: str
    """By which one asks now."""
    port: int
    """On which this machine listens."""
    steps: list[AwayStep]
    certificate: CertificateOut | None
    announce: bool
    """Whether Indice is to announce itself (mDNS)."""
    announced: str
    """The name under which it does."""
    outside_port: int
    """The port that the router is to open; 0: none."""
    is_settled: bool
    """Whether what is wanted has been done, or has failed."""


class AwayIn(Asked):
    announce: bool
    outside_port: int = Field(ge=0, le=65535)
    """0: none."""


class SeerOut(BaseModel):
    person_id: int
    name: str
    role: str
    hidden_by: str
    """Empty where they see it: else `library`, `folder`, `age` or `unrated`."""


class SeersOut(BaseModel):
    age: int | None
    """From which it is, by its certificate, its series', or none."""
    seers: list[SeerOut]


class LooksIn(Asked):
    theme: Literal["system", "light", "dark"] = "system"
    cards: Literal["small", "medium", "large"] = "medium"
    hides: list[Literal["year", "marks", "state"]] = Field(default_factory=list, max_length=8)
    """What cards do not show."""
    tells_seen: bool = False
    """Whether the owner may look at what one saw."""
    language: Literal["en", "de"] | None = None
    """None: as it is."""


class WatchedLine(BaseModel):
    card: EntryCard
    seen_at: str | None
    position_seconds: float | None
    """Where they stopped, of what they have not finished."""


class WatchedOut(BaseModel):
    seen: list[WatchedLine]
