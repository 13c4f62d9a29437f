"""Who lives here: sessions, people, invitations, and folders that are for an age."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from .schemas import Asked, Kind


class DemoFolder(BaseModel):
    name: str
    path: str
    kind: Kind


class LooksOut(BaseModel):
    theme: Literal["system", "light", "dark"]
    cards: Literal["small", "medium", "large"]
    hides: list[Literal["year", "marks", "state"]]
    """What cards do not show."""


class Status(BaseModel):
    version: str
    has_owner: bool
    needs_code: bool
    """Whether the first run asks for the code that the start command prints."""
    has_library: bool
    person: str | None
    role: Literal["owner", "librarian", "member", "guest"] | None
    manages: bool
    """Whether who is signed in keeps the catalog, and does not only look at it."""
    tidies: list[int]
    """Libraries that they may keep, who do not keep the whole catalog."""
    age: int | None
    has_pin: bool
    is_lifted: bool
    """Whether their age limit is lifted in this browser at the moment."""
    language: str
    looks: LooksOut
    person_id: int | None
    tells_seen: bool
    """Whether the owner may look at what they saw."""
    csrf: str
    demo_folders: list[DemoFolder]
    waiting: dict[str, int]


class SetupIn(Asked):
    language: str = Field(pattern="^[a-z]{2}$")
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    code: str = Field(default="", max_length=40)


class PinIn(Asked):
    pin: str = Field("", max_length=12)


class PersonIn(Asked):
    name: str | None = Field(None, min_length=1, max_length=60, pattern=r"\S")
    password: str | None = Field(None, min_length=8, max_length=200)
    role: Literal["owner", "librarian", "member", "guest"] | None = None
    libraries: list[Annotated[str, Field(max_length=80)]] | None = Field(None, max_length=500)
    """Names; the list takes the place of the one before."""
    downloads: bool | None = None
    shares: bool | None = None
    tidies: bool | None = None
    most_streams: int | None = Field(None, ge=1, le=50)
    """So many things at a time; None, where it is said: any number."""
    away_kbps: int | None = Field(None, ge=200, le=1_000_000)
    """So much a second when away from home; None, where it is said: any amount."""
    age: int | None = Field(None, ge=0, le=21)
    """None, where it is said: any age."""
    unrated: Literal["show", "hide"] | None = None
    pin: str | None = Field(None, max_length=12, pattern=r"^([0-9]{4,12})?$")
    """Empty: none any more."""


class InvitationIn(Asked):
    role: Literal["librarian", "member", "guest"] = "member"
    libraries: list[Annotated[str, Field(max_length=80)]] = Field(default_factory=list, max_length=500)
    """Names."""
    age: int | None = Field(None, ge=0, le=21)
    unrated: Literal["show", "hide"] = "hide"
    downloads: bool = True
    days: int = Field(7, ge=1, le=90)
    """For so many days it can be used."""


class InvitationOut(BaseModel):
    id: int
    role: str
    libraries: list[str]
    age: int | None
    ends_at: str
    made_at: str
    used_at: str | None
    used_by: str | None


class InvitationsOut(BaseModel):
    invitations: list[InvitationOut]


class InvitationMade(BaseModel):
    id: int
    link: str
    """The whole address; shown this once."""
    picture: str
    """The same as a QR code: SVG in a data URL."""


class InvitedOut(BaseModel):
    by: str
    role: str
    libraries: list[str]
    age: int | None
    ends_at: str


class InvitedIn(Asked):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    language: Literal["en", "de"] = "en"


class PersonOut(BaseModel):
    id: int
    name: str
    role: str
    libraries: list[int]
    downloads: bool
    shares: bool
    tidies: bool
    most_streams: int | None
    away_kbps: int | None
    tells_seen: bool
    has_picture: bool
    age: int | None
    unrated: str
    has_pin: bool
    seen_at: str | None


class PeopleOut(BaseModel):
    people: list[PersonOut]


class LimitIn(Asked):
    path: str = Field(min_length=1, max_length=4000)
    age: int | None = Field(None, ge=0, le=21)


class LimitOut(BaseModel):
    id: int
    path: str
    age: int


class LimitsOut(BaseModel):
    limits: list[LimitOut]


class PasswordIn(Asked):
    old: str = Field(max_length=200)
    new: str = Field(min_length=8, max_length=200)


class SessionOut(BaseModel):
    id: int
    device: str
    address: str
    created_at: str
    seen_at: str
    is_this: bool


class SessionsOut(BaseModel):
    sessions: list[SessionOut]


class SignIn(Asked):
    name: str = Field(max_length=200)
    password: str = Field(max_length=200)
