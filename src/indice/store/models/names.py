"""Findings, plans, and what waits at the door."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    ForeignKey,
    Index,
    UniqueConstraint,
    text,
)
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, KeptPhrase, now

__all__ = ["Arrival", "Excuse", "Finding", "Intake", "Plan"]


class Finding(Base):
    """What a check found."""

    __tablename__ = "finding"
    __table_args__ = (
        Index("ix_finding_library_check", "library_id", "check"),
        Index("ix_finding_named_path", "folder_id", text('path collate "C"')),
        Index("ix_finding_named_fix", "folder_id", text('fix collate "C"'), postgresql_where=text("fix is not null")),
        Index(
            "ix_finding_named_wanted", "folder_id", text('wanted collate "C"'), postgresql_where=text("wanted <> ''")
        ),
        Index("ix_finding_named_also", "folder_id", postgresql_where=text("also <> '[]'")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"))
    check: Mapped[str]
    severity: Mapped[str]
    path: Mapped[str]
    message: Mapped[str] = mapped_column(KeptPhrase)
    fix: Mapped[str | None]
    fix_kind: Mapped[str | None]
    also: Mapped[list[Any]] = mapped_column(default=list)
    missing: Mapped[list[Any]] = mapped_column(default=list)
    wanted: Mapped[str] = mapped_column(default="", server_default="")
    """The fix that there would be if its name were not taken."""


class Excuse(Base):
    """A path of which a check shall say nothing."""

    __tablename__ = "excuse"
    __table_args__ = (UniqueConstraint("library_id", "check", "path"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    check: Mapped[str]
    path: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


class Plan(Base):
    """Moves that were drafted, and the journal that tells what became of them."""

    __tablename__ = "plan"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int | None] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"), index=True)
    title: Mapped[str] = mapped_column(KeptPhrase)
    kind: Mapped[str] = mapped_column(default="tidy")
    """`tidy` moves files; `write` writes facts, pictures and tags."""
    state: Mapped[str] = mapped_column(default="draft")
    """`draft`, `running`, `done`, `stopped` or `undone`."""
    journal: Mapped[str] = mapped_column(default="")
    """Id of the journal in the data folder."""
    moves: Mapped[list[Any]] = mapped_column(default=list)
    """`[folder's id, before, after]` of every file; see :mod:`.paths` for how a path is kept as text."""
    conflicts: Mapped[list[Any]] = mapped_column(default=list)
    """`[before, after, why]` of what was left out."""
    left: Mapped[list[Any]] = mapped_column(default=list)
    """`[path, why]` of what was left alone when it was carried out or taken back."""
    made_at: Mapped[datetime] = mapped_column(default=now)
    applied_at: Mapped[datetime | None]


class Intake(Base):
    """A folder where new files land."""

    __tablename__ = "intake"
    id: Mapped[int] = mapped_column(primary_key=True)
    path: Mapped[bytes] = mapped_column(unique=True)
    shown: Mapped[str]
    alone: Mapped[bool] = mapped_column(default=False)
    """Whether what is sure is filed without asking."""
    problem: Mapped[str] = mapped_column(KeptPhrase, default="")


class Arrival(Base):
    """Something that landed in an intake folder: a file, or a folder with all that is in it."""

    __tablename__ = "arrival"
    __table_args__ = (UniqueConstraint("intake_id", "path"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    intake_id: Mapped[int] = mapped_column(ForeignKey("intake.id", ondelete="CASCADE"))
    library_id: Mapped[int | None] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    path: Mapped[str]
    state: Mapped[str] = mapped_column(default="growing")
    """`growing`, `proposed`, `filed`, `left` or `unknown`."""
    why: Mapped[str] = mapped_column(KeptPhrase, default="")
    seen: Mapped[list[Any]] = mapped_column(default=list)
    """Path, size and time of each file when it was last looked at."""
    moves: Mapped[list[Any]] = mapped_column(default=list)
    """`[before, after]`, absolute."""
    still_since: Mapped[datetime] = mapped_column(default=now)
    at: Mapped[datetime] = mapped_column(default=now)
