"""Entries, their files and their pictures; what is alike, and what is gone."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    Text,
    UniqueConstraint,
    text,
)
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base, KeptPhrase, now

__all__ = ["GIVES_PICTURES", "Artwork", "DistinctFiles", "Entry", "File", "FileName", "Gone", "Likeness", "Twin"]


WORKS = "kind in ('movie', 'series', 'album', 'event')"
"""What is told of as having come in: not each of its episodes, tracks or pictures."""


class Entry(Base):
    """A thing in the catalog; entries form a tree."""

    __tablename__ = "entry"
    __table_args__ = (
        UniqueConstraint("library_id", "key"),
        Index("ix_entry_library_kind", "library_id", "kind"),
        Index("ix_entry_library_handle", "library_id", "handle"),
        Index("ix_entry_kind_added_at", "kind", "added_at"),
        Index("ix_entry_came", "library_id", "added_at", "sort_title", postgresql_where=text(WORKS)),
        Index(
            "ix_entry_spot",
            "spot",
            postgresql_include=["id", "kind", "library_id", "age", "limit_age"],
            postgresql_where=text("spot is not null"),
        ),
        Index("ix_entry_day", text("substr(moment, 6, 5)"), postgresql_where=text("kind in ('photo', 'clip')")),
        Index(
            "ix_entry_film_of_source",
            "external_id",
            "source_id",
            postgresql_where=text("kind = 'movie' and external_id is not null"),
        ),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    key: Mapped[str]
    """What the names of its files make it; another when they are renamed."""
    handle: Mapped[str] = mapped_column(default="", server_default="")
    """The key by which others know it: the first that it had, and never another."""
    kind: Mapped[str]
    title: Mapped[str]
    sort_title: Mapped[str]
    search: Mapped[str] = mapped_column(default="")
    year: Mapped[int | None]
    season: Mapped[int | None]
    number: Mapped[int | None]
    disc: Mapped[int | None]
    moment: Mapped[str | None]
    """Day or moment it was taken or aired, ISO 8601 as far as it is known."""
    state: Mapped[str] = mapped_column(default="unseen", index=True)
    """`unseen`, `waiting`, `settled` or `none`."""
    decided_by: Mapped[str | None]
    """`automatic` or `hand`."""
    source_id: Mapped[int | None] = mapped_column(ForeignKey("source.id", ondelete="SET NULL"))
    external_id: Mapped[str | None]
    score: Mapped[float | None]
    note: Mapped[str] = mapped_column(KeptPhrase, default="")
    """Why it stands where it stands, in words."""
    age: Mapped[int | None] = mapped_column(SmallInteger)
    """From which age by its certificate, or that of its season or series; None: unrated. See :mod:`.ages`."""
    traits: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list, server_default="{}")
    """What shelves are narrowed down by; see :mod:`indice.core.catalog.traits`."""
    cast_names: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list, server_default="{}")
    """Who is in a film or series; apart from the traits, as nearly every name is of few entries and there are many."""
    limit_age: Mapped[int] = mapped_column(SmallInteger, default=0, server_default="0")
    """From which age by the folder that it lies in."""
    spot: Mapped[int | None] = mapped_column(BigInteger)
    """Where a photo or clip was taken; see :mod:`indice.core.catalog.spots`."""
    seconds: Mapped[int | None]
    """Of a film: how long it is."""
    lines: Mapped[int | None]
    """Of a film: lines of its finest picture, as if that were 16:9 where it is wider."""
    size_bytes: Mapped[int | None] = mapped_column(BigInteger)
    """Of a film: all files that play it."""
    added_at: Mapped[datetime] = mapped_column(default=now, index=True)


GIVES_PICTURES = "file.kind in ('photo', 'artwork', 'track', 'clip', 'episode') and file.problem = ''"
"""Files of which a picture is made or taken, as a condition in SQL."""


class File(Base):
    """One path below a folder."""

    __tablename__ = "file"
    __table_args__ = (
        UniqueConstraint("folder_id", "path"),
        Index("ix_file_folder_directory", "folder_id", "directory", postgresql_include=["state", "kind"]),
        Index("ix_file_size_bytes", "size_bytes"),
        Index("ix_file_digest", "digest", postgresql_where=text("digest is not null")),
        Index("ix_file_undigested", "folder_id", "id", postgresql_where=text("digest is null")),
        Index("ix_file_absent", "folder_id", "state", postgresql_where=text("state <> 'present'")),
        Index("ix_file_unread", "id", postgresql_where=text("problem <> '' and state = 'present'")),
        *(
            Index(f"ix_file_{stage}", "folder_id", "id", postgresql_where=text(f"{stage} < {version}"))
            for stage, version in (("looked_by", 1), ("grouped_by", 3), ("checked_by", 1))
        ),
        Index("ix_file_pictured_by", "folder_id", "id", postgresql_where=text(f"pictured_by < 1 and {GIVES_PICTURES}")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"))
    path: Mapped[bytes]
    shown: Mapped[str]
    """The path as it can be shown: a byte that is no UTF-8 is shown as U+FFFD, one for one."""
    directory: Mapped[str]
    size_bytes: Mapped[int] = mapped_column(BigInteger)
    mtime_ns: Mapped[int] = mapped_column(BigInteger)
    inode: Mapped[int] = mapped_column(BigInteger, default=0)
    state: Mapped[str] = mapped_column(default="present")
    """`present`, `missing` or `away`."""
    kind: Mapped[str]
    reading: Mapped[dict[str, Any]]
    marks: Mapped[list[Any]]
    """Facts of the reading with their spans and rules."""
    media: Mapped[dict[str, Any] | None]
    """What the probe found; None when it has not looked yet."""
    sample: Mapped[bytes | None]
    """Fingerprint of some of its bytes; None when nobody has looked. See :mod:`indice.disk.digest`."""
    digest: Mapped[bytes | None]
    """Fingerprint of all its bytes."""
    rotten_at: Mapped[datetime | None]
    """Since when its bytes are known to be others than they were, although nobody has written to it."""
    gone_at: Mapped[datetime | None]
    """Since when it is `missing`."""
    problem: Mapped[str] = mapped_column(KeptPhrase, default="")
    entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id", ondelete="SET NULL"), index=True)
    serves: Mapped[str] = mapped_column(default="")
    """`main`, `version`, `part`, `beside` (menus of a disc, which nobody plays by themselves), `extra`,
    `subtitle`, `artwork`, `lyrics`, or nothing."""
    read_by: Mapped[int] = mapped_column(SmallInteger, default=0)
    """Which version of a stage has done its work on this file as it is; 0 when none has. See :mod:`.stages`."""
    looked_by: Mapped[int] = mapped_column(SmallInteger, default=0)
    pictured_by: Mapped[int] = mapped_column(SmallInteger, default=0)
    grouped_by: Mapped[int] = mapped_column(SmallInteger, default=0)
    checked_by: Mapped[int] = mapped_column(SmallInteger, default=0)
    added_at: Mapped[datetime] = mapped_column(default=now, index=True)


class FileName(Base):
    """What a file is called, to be searched: apart, as each change of a file would write to the index of letters anew.

    The database keeps it: a file that comes, or gets another name, has its name noted in the same transaction.
    """

    __tablename__ = "file_name"
    __table_args__ = (
        Index("ix_file_name_like", "name", postgresql_using="gin", postgresql_ops={"name": "gin_trgm_ops"}),
    )
    file_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), primary_key=True)
    name: Mapped[str]


class Likeness(Base):
    """By what a picture or a sound is known again in another form. See :mod:`indice.core.duplicates`."""

    __tablename__ = "likeness"
    file_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), primary_key=True)
    made_by: Mapped[int] = mapped_column(SmallInteger)
    """Which version made it."""
    of: Mapped[bytes | None]
    """The file's sample when it was made."""
    data: Mapped[bytes | None]
    """The packed sketch; None where there is none to be had."""


class Twin(Base):
    """Files of which one is enough, as they were last found."""

    __tablename__ = "twin"
    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    """`same-bytes`, `same-work`, `near-picture` or `near-sound`."""
    why: Mapped[str] = mapped_column(KeptPhrase)
    """Why the first is the one to keep."""
    files: Mapped[list[int]] = mapped_column(ARRAY(Integer))
    at: Mapped[datetime] = mapped_column(default=now)


class DistinctFiles(Base):
    """Two files of which a person said that they are not the same; the lesser number first."""

    __tablename__ = "distinct_files"
    one_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), primary_key=True)
    other_id: Mapped[int] = mapped_column(ForeignKey("file.id", ondelete="CASCADE"), primary_key=True)


class Gone(Base):
    """An entry whose last file is gone, with all that was kept of it, until a file comes back or its time is over."""

    __tablename__ = "gone"
    __table_args__ = (
        Index("ix_gone_library_id_key", "library_id", "key"),
        Index("ix_gone_files", "files", postgresql_using="gin"),
    )
    entry_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    key: Mapped[str]
    files: Mapped[list[int]] = mapped_column(ARRAY(Integer))
    """Records of its files, all of them `missing`."""
    records: Mapped[dict[str, Any]]
    """Table → rows as they were."""
    at: Mapped[datetime] = mapped_column(default=now)


class Artwork(Base):
    """A picture of an entry, kept as thumbnails in the data folder."""

    __tablename__ = "artwork"
    __table_args__ = (UniqueConstraint("entry_id", "origin", "role", "place"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    role: Mapped[str]
    origin: Mapped[str]
    place: Mapped[int] = mapped_column(default=0)
    """Which of several of one origin: its place among those a source offers, or the second that a frame is from."""
    digest: Mapped[str]
    width: Mapped[int]
    height: Mapped[int]
    blur: Mapped[str]
    """A tiny preview as a data URL, carried in lists."""
    chosen: Mapped[bool] = mapped_column(default=False)
    """Whether a person chose it: then nothing that is fetched later takes its place."""
