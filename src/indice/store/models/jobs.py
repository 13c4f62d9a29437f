"""Jobs, and the machines that do them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    ForeignKey,
    Integer,
)
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, KeptPhrase, now

__all__ = ["Encoding", "Job", "JobLine", "Machine"]


class Machine(Base):
    """A process that does jobs: the workers of the machine where Indice is at
    home, and those of others that work along."""

    __tablename__ = "machine"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    """As the machine calls itself."""
    pid: Mapped[int]
    is_home: Mapped[bool]
    can: Mapped[list[Any]]
    """What it does: `scan`, `inside`, `match`."""
    sees: Mapped[list[Any]]
    """Where the catalog has a folder, and where that lies for it."""
    began_at: Mapped[datetime] = mapped_column(default=now)
    beat_at: Mapped[datetime] = mapped_column(default=now)
    """When it last said that it lives."""
    helps_id: Mapped[int | None]
    """The job of another that it helps with."""
    done: Mapped[int] = mapped_column(default=0)
    """Files that it has looked into."""
    converts: Mapped[int] = mapped_column(default=0)
    """So many films it converts at a time for players at home."""
    ffmpeg: Mapped[str] = mapped_column(default="")
    """Its encoder, since segments of two kinds do not go together."""


class Encoding(Base):
    """A conversion that another machine is to carry."""

    __tablename__ = "encoding"
    id: Mapped[int] = mapped_column(primary_key=True)
    playing_key: Mapped[str] = mapped_column(ForeignKey("playing.key", ondelete="CASCADE"), index=True)
    track: Mapped[str]
    folder: Mapped[str]
    """Where segments go, below the folder of all segments."""
    first: Mapped[int]
    place: Mapped[int]
    """The segment that is being made."""
    wanted: Mapped[int]
    """The last one that a player asked for."""
    machine_id: Mapped[int | None] = mapped_column(ForeignKey("machine.id", ondelete="CASCADE"))
    speed: Mapped[float] = mapped_column(default=0.0)
    is_ended: Mapped[bool] = mapped_column(default=False)
    beat_at: Mapped[datetime] = mapped_column(default=now)
    """When it was asked for, or its machine last said something of it."""


class Job(Base):
    """Something that runs in the background."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    title: Mapped[str] = mapped_column(KeptPhrase)
    library_id: Mapped[int | None] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    subject: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """What it is about besides the library, such as the plan."""
    state: Mapped[str] = mapped_column(default="queued", index=True)
    """`queued`, `running`, `done`, `failed` or `stopped`."""
    step: Mapped[str] = mapped_column(KeptPhrase, default="")
    done: Mapped[int] = mapped_column(Integer, default=0)
    total: Mapped[int] = mapped_column(Integer, default=0)
    rate: Mapped[float] = mapped_column(default=0.0)
    """Things a second, over the last seconds."""
    current: Mapped[str] = mapped_column(default="")
    message: Mapped[str] = mapped_column(KeptPhrase, default="")
    stop_wanted: Mapped[bool] = mapped_column(default=False)
    tries: Mapped[int] = mapped_column(default=0)
    """How often it was begun."""
    machine_id: Mapped[int | None]
    """Who is at it, or was last."""
    created_at: Mapped[datetime] = mapped_column(default=now)
    started_at: Mapped[datetime | None]
    beat_at: Mapped[datetime | None]
    """When it last said that it lives."""
    finished_at: Mapped[datetime | None]


class JobLine(Base):
    """A line of a job's log."""

    __tablename__ = "job_line"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    at: Mapped[datetime] = mapped_column(default=now)
    level: Mapped[str]
    path: Mapped[str] = mapped_column(default="")
    text: Mapped[str] = mapped_column(KeptPhrase)
