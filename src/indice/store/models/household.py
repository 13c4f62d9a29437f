"""Marks, lists, shares, and what is played."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ForeignKey,
    SmallInteger,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, now

__all__ = ["Hearing", "Mark", "Party", "PartyGuest", "Playing", "Playlist", "PlaylistItem", "Share", "ShareView"]


class Mark(Base):
    """What a person keeps of an entry."""

    __tablename__ = "mark"
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), primary_key=True, index=True)
    seen_at: Mapped[datetime | None]
    favourite: Mapped[bool] = mapped_column(default=False, server_default="false")
    rating: Mapped[int | None] = mapped_column(SmallInteger)
    """From 1 to 10."""
    tags: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    note: Mapped[str] = mapped_column(default="", server_default="")
    """What they wrote of it for themselves."""
    position_seconds: Mapped[float | None]
    """The moment where they stopped."""
    duration_seconds: Mapped[float | None]
    """How long the thing was that the position is in."""
    position_at: Mapped[datetime | None]


class Playlist(Base):
    """Entries that a person has put in an order, of whatever kinds."""

    __tablename__ = "playlist"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    is_open: Mapped[bool] = mapped_column(default=False, server_default="false")
    """Whether the rest of the household sees it, each what they may see of it."""
    rule: Mapped[dict[str, str] | None] = mapped_column(JSONB)
    """Of a list that fills itself: what a shelf is asked for; the marks in it are those of whose list it is."""
    made_at: Mapped[datetime] = mapped_column(default=now)
    changed_at: Mapped[datetime] = mapped_column(default=now)


class PlaylistItem(Base):
    """A place in a playlist; an entry may stand in several."""

    __tablename__ = "playlist_item"
    id: Mapped[int] = mapped_column(primary_key=True)
    playlist_id: Mapped[int] = mapped_column(ForeignKey("playlist.id", ondelete="CASCADE"), index=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    place: Mapped[int]


class Share(Base):
    """A link by which somebody without an account sees one entry with what is in it, or one playlist."""

    __tablename__ = "share"
    id: Mapped[int] = mapped_column(primary_key=True)
    digest: Mapped[str] = mapped_column(unique=True)
    """Of the secret in the link (SHA-256); the secret itself is kept nowhere."""
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    """Who shares; nothing is shown that they may not see themselves."""
    entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    playlist_id: Mapped[int | None] = mapped_column(ForeignKey("playlist.id", ondelete="CASCADE"), index=True)
    password_hash: Mapped[str] = mapped_column(default="", server_default="")
    ends_at: Mapped[datetime]
    most_views: Mapped[int | None]
    views: Mapped[int] = mapped_column(default=0, server_default="0")
    may_download: Mapped[bool] = mapped_column(default=False, server_default="false")
    intake_id: Mapped[int | None] = mapped_column(ForeignKey("intake.id", ondelete="SET NULL"))
    """Where files land that are handed in by the link; None: none may be."""
    upload_bytes: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")
    """So much may be handed in."""
    uploaded_bytes: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")
    made_at: Mapped[datetime] = mapped_column(default=now)
    viewed_at: Mapped[datetime | None]


class ShareView(Base):
    """A browser has opened a share on a day."""

    __tablename__ = "share_view"
    share_id: Mapped[int] = mapped_column(ForeignKey("share.id", ondelete="CASCADE"), primary_key=True)
    browser: Mapped[str] = mapped_column(primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)


class Playing(Base):
    """Somebody plays something at the moment, or did until a moment ago."""

    __tablename__ = "playing"
    key: Mapped[str] = mapped_column(primary_key=True)
    """A secret of who plays: addresses of segments hold it."""
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    """Who plays, or whose share is played from."""
    share_id: Mapped[int | None] = mapped_column(ForeignKey("share.id", ondelete="CASCADE"), index=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    file_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), index=True)
    mode: Mapped[str]
    """`direct`, `repackaged` or `converted`."""
    reasons: Mapped[list[Any]]
    """Why it is not sent as it is."""
    plan: Mapped[dict[str, Any]]
    """Streams, wish and decision, so that a server that was started anew goes on with it."""
    device: Mapped[str] = mapped_column(default="", server_default="")
    began_at: Mapped[datetime] = mapped_column(default=now)
    beat_at: Mapped[datetime] = mapped_column(default=now, index=True)
    """When the player last said that it is there."""


class Party(Base):
    """Something that several watch together, and where it is for all."""

    __tablename__ = "party"
    key: Mapped[str] = mapped_column(primary_key=True)
    host_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"))
    is_paused: Mapped[bool]
    position_seconds: Mapped[float]
    at_seconds: Mapped[float]
    """When it was there, in seconds of the server's clock."""
    changed_by: Mapped[str]
    """Who said so, by name."""
    began_at: Mapped[datetime] = mapped_column(default=now)


class PartyGuest(Base):
    """Somebody who watches along, with one browser."""

    __tablename__ = "party_guest"
    party_key: Mapped[str] = mapped_column(ForeignKey("party.key", ondelete="CASCADE"), primary_key=True)
    device: Mapped[str] = mapped_column(primary_key=True)
    """What the browser calls itself, of this playing only."""
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    came_at: Mapped[datetime] = mapped_column(default=now)
    beat_at: Mapped[datetime] = mapped_column(default=now)


class Hearing(Base):
    """What an episode's beginning and end sound like, and what they have in common with those of its season."""

    __tablename__ = "hearing"
    file_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), primary_key=True)
    size_bytes: Mapped[int] = mapped_column(BigInteger)
    mtime_ns: Mapped[int] = mapped_column(BigInteger)
    """As the file was when it was listened to."""
    version: Mapped[int]
    """Of the way in which it was listened to."""
    first: Mapped[bytes]
    last: Mapped[bytes]
    """Prints of its beginning and its end; empty where nothing can be heard."""
    last_from: Mapped[float]
    """Where the second print begins, in seconds."""
    opening_from: Mapped[float | None]
    opening_to: Mapped[float | None]
    closing_from: Mapped[float | None]
    closing_to: Mapped[float | None]
