"""Libraries, their folders, and what is set."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ForeignKey,
)
from sqlalchemy.orm import Mapped, mapped_column

from ..seen import SeenPath
from .base import Base, KeptPhrase, now

__all__ = ["Convention", "Folder", "Library", "Listing", "Setting"]


class Setting(Base):
    """A setting that is kept with the records."""

    __tablename__ = "setting"
    name: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[dict[str, Any]]


class Library(Base):
    """A named set of folders of one kind."""

    __tablename__ = "library"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    kind: Mapped[str]
    language: Mapped[str] = mapped_column(default="en")
    country: Mapped[str] = mapped_column(default="")
    sources: Mapped[list[Any]] = mapped_column(default=list)
    """Names of sources in their order; empty means all."""
    convention: Mapped[str] = mapped_column(default="Roomy")
    """Name of the convention that its names follow."""
    checks: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """Check → `off`, `note` or `advice`, where the owner wants it less loud."""
    own_first: Mapped[list[Any]] = mapped_column(default=list)
    """Fields in which its own files are believed before any source."""
    writes: Mapped[list[Any]] = mapped_column(default=list)
    """What may be written beside or into its files: `facts`, `artwork`, `photos`,
    `tags`; nothing unless the owner says so."""
    schedule: Mapped[str] = mapped_column(default="", server_default="")
    """When it is scanned besides what the watch sees; see :mod:`indice.core.schedule`."""
    created_at: Mapped[datetime] = mapped_column(default=now)
    scanned_at: Mapped[datetime | None]


class Folder(Base):
    """A folder on disk that belongs to a library."""

    __tablename__ = "folder"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"), index=True)
    path: Mapped[bytes] = mapped_column(SeenPath, unique=True)
    shown: Mapped[str]
    state: Mapped[str] = mapped_column(default="present")
    """`present`, or `away` when its drive is not there."""
    problem: Mapped[str] = mapped_column(KeptPhrase, default="")
    device: Mapped[int | None] = mapped_column(BigInteger)
    """The disk that it lay on when it was last scanned whole, as the system numbers it."""
    floor: Mapped[int | None]
    """While a scan is not through: files with greater numbers are new in it, and may be old ones by another name."""
    stirred: Mapped[list[Any]] = mapped_column(default=list)
    """Directories that files were moved out of, and that are to be checked anew."""


class Listing(Base):
    """What a directory looked like when its records were last made to agree with it."""

    __tablename__ = "listing"
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"), primary_key=True)
    path: Mapped[bytes] = mapped_column(primary_key=True)
    signature: Mapped[bytes]


class Convention(Base):
    """A convention of one's own, or one's own version of one that ships."""

    __tablename__ = "convention"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    text: Mapped[str]
    """TOML."""
    at: Mapped[datetime] = mapped_column(default=now)
