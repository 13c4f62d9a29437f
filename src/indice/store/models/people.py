"""Who lives here, how they come in, and what they were seen doing."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ForeignKey,
    Index,
    SmallInteger,
    UniqueConstraint,
)
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, now

__all__ = [
    "AgeLimit",
    "Deed",
    "DeviceSignIn",
    "Grant",
    "Guess",
    "Invitation",
    "Passkey",
    "Person",
    "PersonSession",
    "Token",
]


class Person(Base):
    """Somebody who signs in."""

    __tablename__ = "person"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    password_hash: Mapped[str]
    language: Mapped[str] = mapped_column(default="en")
    role: Mapped[str] = mapped_column(default="member", server_default="member")
    """`owner`, `librarian`, `member` or `guest`."""
    age: Mapped[int | None] = mapped_column(SmallInteger)
    """What they may see is for this age; None: for any."""
    unrated: Mapped[str] = mapped_column(default="hide", server_default="hide")
    """Whether films and series without a certificate are shown to who has an age: `show` or `hide`."""
    pin_hash: Mapped[str] = mapped_column(default="", server_default="")
    picture: Mapped[bytes | None] = mapped_column(deferred=True)
    """A small JPEG."""
    looks: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    """How the application looks for them, whatever browser they use."""
    tells_seen: Mapped[bool] = mapped_column(default=False, server_default="false")
    """Whether the owner may look at what they saw."""
    most_streams: Mapped[int | None]
    """So many things they play at the same time at most; None: any number."""
    away_kbps: Mapped[int | None]
    """So much a second is sent to them at most when they are away from home, in kilobits; None: any amount."""
    created_at: Mapped[datetime] = mapped_column(default=now)
    visited_at: Mapped[datetime | None]
    """When the last visit began."""
    previous_visit_at: Mapped[datetime | None]


class PersonSession(Base):
    """A browser in which somebody is signed in; without its record its cookie is worth nothing."""

    __tablename__ = "person_session"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    digest: Mapped[str] = mapped_column(unique=True)
    """Of the secret in the cookie (SHA-256); the secret itself is kept nowhere."""
    device: Mapped[str] = mapped_column(default="")
    """What the browser says it is."""
    address: Mapped[str] = mapped_column(default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    lifted_until: Mapped[datetime | None]
    """Until then the age of its person does not bind this browser: the PIN was right."""


class Grant(Base):
    """A library that is given to a person."""

    __tablename__ = "grant_"
    __table_args__ = (Index("ix_grant_library_id", "library_id"),)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"), primary_key=True)
    download: Mapped[bool] = mapped_column(default=True, server_default="true")
    share: Mapped[bool] = mapped_column(default=False, server_default="false")
    """Whether they may share what is in it by a link."""
    tidy: Mapped[bool] = mapped_column(default=False, server_default="false")
    """Whether they may keep it: mend its names, and write facts of its entries."""


class Token(Base):
    """A secret by which a script, or a device without a browser, does what its person may, within its scopes."""

    __tablename__ = "token"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    digest: Mapped[str] = mapped_column(unique=True)
    """Of the secret (SHA-256); the secret itself is kept nowhere."""
    scopes: Mapped[list[Any]] = mapped_column(default=list)
    """Of `see`, `mark` and `manage`."""
    ends_at: Mapped[datetime | None]
    made_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime | None]
    address: Mapped[str] = mapped_column(default="", server_default="")
    """From where it was used last."""


class Passkey(Base):
    """A key of a person's device by which they sign in without a password (WebAuthn)."""

    __tablename__ = "passkey"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    credential_id: Mapped[bytes] = mapped_column(unique=True)
    public_key: Mapped[bytes]
    sign_count: Mapped[int] = mapped_column(BigInteger, default=0)
    made_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime | None]


class DeviceSignIn(Base):
    """A device that shows a code and waits for somebody who is signed in to confirm it (RFC 8628)."""

    __tablename__ = "device_sign_in"
    id: Mapped[int] = mapped_column(primary_key=True)
    digest: Mapped[str] = mapped_column(unique=True)
    """Of the secret that the device asks with (SHA-256)."""
    user_code: Mapped[str] = mapped_column(unique=True)
    device: Mapped[str] = mapped_column(default="")
    address: Mapped[str] = mapped_column(default="")
    ends_at: Mapped[datetime]
    asked_at: Mapped[datetime | None]
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    """Who has confirmed it."""
    is_denied: Mapped[bool] = mapped_column(default=False)


class Deed(Base):
    """Something that concerns who may do what: a sign-in, a share, a change of rights, a request that was refused."""

    __tablename__ = "deed"
    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(default=now, index=True)
    kind: Mapped[str]
    person: Mapped[str] = mapped_column(default="")
    """Name of who did it, as it was then."""
    address: Mapped[str] = mapped_column(default="")
    values: Mapped[dict[str, Any]] = mapped_column(default=dict)


class Invitation(Base):
    """A link by which one person comes into the household, once."""

    __tablename__ = "invitation"
    id: Mapped[int] = mapped_column(primary_key=True)
    digest: Mapped[str] = mapped_column(unique=True)
    """Of the secret in the link (SHA-256); the secret itself is kept nowhere."""
    role: Mapped[str]
    libraries: Mapped[list[Any]] = mapped_column(default=list)
    """Names."""
    age: Mapped[int | None] = mapped_column(SmallInteger)
    unrated: Mapped[str] = mapped_column(default="hide")
    downloads: Mapped[bool] = mapped_column(default=True)
    ends_at: Mapped[datetime]
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    used_at: Mapped[datetime | None]
    used_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id", ondelete="SET NULL"))


class AgeLimit(Base):
    """A directory of which all is for an age and above."""

    __tablename__ = "age_limit"
    __table_args__ = (UniqueConstraint("folder_id", "directory"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"))
    directory: Mapped[str]
    """Below the folder; empty for all of it."""
    age: Mapped[int] = mapped_column(SmallInteger)


class Guess(Base):
    """Wrong passwords in a row: of a name from an address, or, with an empty name, of an address whatever the name."""

    __tablename__ = "guess"
    name: Mapped[str] = mapped_column(primary_key=True)
    address: Mapped[str] = mapped_column(primary_key=True)
    wrong: Mapped[int] = mapped_column(default=0)
    at: Mapped[datetime] = mapped_column(default=now, index=True)
    until: Mapped[datetime | None]
    """Until then nothing from there is tried any more."""
