"""Facts, the sources that they come from, and what was decided."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    ForeignKey,
    Index,
    UniqueConstraint,
)
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, KeptPhrase, now

__all__ = [
    "Alias",
    "Candidate",
    "Decision",
    "Fact",
    "FactChange",
    "FilmSet",
    "FilmSetFilm",
    "Secret",
    "Source",
    "SourceAnswer",
    "Taught",
    "TextService",
]


class Fact(Base):
    """A value of one field of an entry, with its origin."""

    __tablename__ = "fact"
    __table_args__ = (UniqueConstraint("entry_id", "field", "origin"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"))
    field: Mapped[str]
    origin: Mapped[str]
    """`hand`, `tags`, `sidecar`, `name`, or a source's name after `source:`."""
    value: Mapped[dict[str, Any]]
    """`{"v": …}`."""
    at: Mapped[datetime] = mapped_column(default=now)
    locked: Mapped[bool] = mapped_column(default=False)


class Source(Base):
    """A metadata source."""

    __tablename__ = "source"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    url: Mapped[str]
    profile: Mapped[str]
    """The profile's text, TOML."""
    position: Mapped[int] = mapped_column(default=0)
    problem: Mapped[str] = mapped_column(KeptPhrase, default="")
    checked_at: Mapped[datetime | None]


class TextService(Base):
    """A service of subtitles."""

    __tablename__ = "text_service"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    url: Mapped[str]
    profile: Mapped[str]
    """The profile's text, TOML."""
    problem: Mapped[str] = mapped_column(KeptPhrase, default="")
    checked_at: Mapped[datetime | None]


class Secret(Base):
    """A key, stored apart from everything that is shown or exported."""

    __tablename__ = "secret"
    name: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str]


class SourceAnswer(Base):
    """An answer of a source, kept with its age."""

    __tablename__ = "source_answer"
    source_id: Mapped[int] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"), primary_key=True)
    asked: Mapped[str] = mapped_column(primary_key=True)
    """Fingerprint of the question."""
    answer: Mapped[dict[str, Any]]
    at: Mapped[datetime] = mapped_column(default=now)


class FilmSet(Base):
    """A set of films, as a source knows it."""

    __tablename__ = "film_set"
    __table_args__ = (
        UniqueConstraint("source_id", "external_id"),
        Index("ix_film_set_sort_title", "sort_title", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    source_id: Mapped[int] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"))
    external_id: Mapped[str]
    title: Mapped[str]
    sort_title: Mapped[str]


class FilmSetFilm(Base):
    """A film of a set, whether it is here or not."""

    __tablename__ = "film_set_film"
    __table_args__ = (Index("ix_film_set_film_external_id", "external_id"),)
    set_id: Mapped[int] = mapped_column(ForeignKey("film_set.id", ondelete="CASCADE"), primary_key=True)
    place: Mapped[int] = mapped_column(primary_key=True)
    """From 1 on, in the order in which the source tells them."""
    external_id: Mapped[str]
    title: Mapped[str]
    date: Mapped[str] = mapped_column(default="", server_default="")


class Candidate(Base):
    """Something that a source knows which may be this entry."""

    __tablename__ = "candidate"
    __table_args__ = (UniqueConstraint("entry_id", "source_id", "external_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    source_id: Mapped[int] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"))
    external_id: Mapped[str]
    name: Mapped[str]
    description: Mapped[str] = mapped_column(default="")
    score: Mapped[float]
    parts: Mapped[list[Any]]
    """The parts of the score."""
    fields: Mapped[dict[str, Any]]
    """What the source says of it, as far as it was asked."""
    apart: Mapped[str] = mapped_column(default="", server_default="")
    """Its type's name where that is another than the entry's: then it is shown apart, and cannot be taken."""


class Decision(Base):
    """Who chose what, when; can be taken back."""

    __tablename__ = "decision"
    id: Mapped[int] = mapped_column(primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    by: Mapped[str]
    external_id: Mapped[str | None]
    before: Mapped[dict[str, Any]]
    """State of the entry before, for undo."""
    at: Mapped[datetime] = mapped_column(default=now)
    undone_at: Mapped[datetime | None]


class FactChange(Base):
    """What a person changed of an entry, and what was shown before."""

    __tablename__ = "fact_change"
    id: Mapped[int] = mapped_column(primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    field: Mapped[str]
    before: Mapped[dict[str, Any]]
    """`{"v": …}`."""
    after: Mapped[dict[str, Any]]
    """`{"v": …}`, or nothing when the person's word was taken back."""
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


class Alias(Base):
    """What a person's decision taught: a name that means this thing, however else it
    may read, or nothing any source knows."""

    __tablename__ = "alias"
    __table_args__ = (UniqueConstraint("kind", "said"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    said: Mapped[str]
    """The name, its year and its artist, folded; see :mod:`indice.store.aliases`."""
    name: Mapped[str]
    """The name as it stands, for people."""
    source_id: Mapped[int | None] = mapped_column(ForeignKey("source.id", ondelete="CASCADE"))
    external_id: Mapped[str | None]
    """None: no source knows it."""
    title: Mapped[str]
    """What it means, for people."""
    at: Mapped[datetime] = mapped_column(default=now)


class Taught(Base):
    """A correction of a reading that a person has made; shown and removable."""

    __tablename__ = "taught"
    id: Mapped[int] = mapped_column(primary_key=True)
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"), index=True)
    path: Mapped[str]
    siblings: Mapped[bool]
    field: Mapped[str]
    action: Mapped[str]
    """`drop`, `cut` or `set`."""
    value: Mapped[dict[str, Any]]
    """`{"v": …}`."""
    at: Mapped[datetime] = mapped_column(default=now)
