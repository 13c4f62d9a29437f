"""The tables. Every time carries a zone; every path is kept as the bytes on disk, with a readable form beside it."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    Date,
    DateTime,
    Dialect,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    SmallInteger,
    Text,
    TypeDecorator,
    UniqueConstraint,
    text,
)
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from ..core.facts.clean import clean_text
from .seen import SeenPath

__all__ = [
    "Alias",
    "Arrival",
    "Artwork",
    "Base",
    "Candidate",
    "Convention",
    "Decision",
    "Deed",
    "DeviceSignIn",
    "DistinctFiles",
    "Entry",
    "Excuse",
    "Fact",
    "FactChange",
    "File",
    "Finding",
    "Folder",
    "Gone",
    "Guess",
    "Intake",
    "Invitation",
    "Job",
    "JobLine",
    "Library",
    "Likeness",
    "Listing",
    "Machine",
    "Mark",
    "Passkey",
    "Person",
    "PersonSession",
    "Plan",
    "Playlist",
    "PlaylistItem",
    "Secret",
    "Setting",
    "Share",
    "ShareView",
    "Source",
    "SourceAnswer",
    "Taught",
    "Token",
    "Twin",
]


def now() -> datetime:
    """The present moment, with its zone."""
    return datetime.now(UTC)


class CleanText(TypeDecorator[str]):
    """Text without what no database takes: NUL and halves of surrogate pairs."""

    impl = Text
    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        """What is sent."""
        return None if value is None else clean_text(value)


class Base(DeclarativeBase):
    """Base of all tables; every constraint gets a known name."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {
        datetime: DateTime(timezone=True),
        date: Date(),
        dict[str, Any]: JSONB(none_as_null=True),
        list[Any]: JSONB(none_as_null=True),
        str: CleanText,
        bytes: LargeBinary,
    }


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
    problem: Mapped[str] = mapped_column(default="")
    device: Mapped[int | None] = mapped_column(BigInteger)
    """The disk that it lay on when it was last scanned whole, as the system numbers it."""
    floor: Mapped[int | None]
    """While a scan is not through: files with greater numbers are new in it, and may be old ones by another name."""
    stirred: Mapped[list[Any]] = mapped_column(default=list)
    """Directories that files were moved out of, and that are to be checked anew."""


class Entry(Base):
    """A thing in the catalog; entries form a tree."""

    __tablename__ = "entry"
    __table_args__ = (
        UniqueConstraint("library_id", "key"),
        Index("ix_entry_library_kind", "library_id", "kind"),
        Index("ix_entry_library_handle", "library_id", "handle"),
        Index("ix_entry_kind_added_at", "kind", "added_at"),
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
    note: Mapped[str] = mapped_column(default="")
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
    problem: Mapped[str] = mapped_column(default="")
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


class Listing(Base):
    """What a directory looked like when its records were last made to agree with it."""

    __tablename__ = "listing"
    folder_id: Mapped[int] = mapped_column(ForeignKey("folder.id", ondelete="CASCADE"), primary_key=True)
    path: Mapped[bytes] = mapped_column(primary_key=True)
    signature: Mapped[bytes]


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
    why: Mapped[str]
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
    problem: Mapped[str] = mapped_column(default="")
    checked_at: Mapped[datetime | None]


class TextService(Base):
    """A service of subtitles."""

    __tablename__ = "text_service"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    url: Mapped[str]
    profile: Mapped[str]
    """The profile's text, TOML."""
    problem: Mapped[str] = mapped_column(default="")
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
    message: Mapped[str]
    fix: Mapped[str | None]
    fix_kind: Mapped[str | None]
    also: Mapped[list[Any]] = mapped_column(default=list)
    missing: Mapped[list[Any]] = mapped_column(default=list)
    wanted: Mapped[str] = mapped_column(default="", server_default="")
    """The fix that there would be if its name were not taken."""


class Convention(Base):
    """A convention of one's own, or one's own version of one that ships."""

    __tablename__ = "convention"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    text: Mapped[str]
    """TOML."""
    at: Mapped[datetime] = mapped_column(default=now)


class Excuse(Base):
    """A path of which a check shall say nothing."""

    __tablename__ = "excuse"
    __table_args__ = (UniqueConstraint("library_id", "check", "path"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    check: Mapped[str]
    path: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


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


class Plan(Base):
    """Moves that were drafted, and the journal that tells what became of them."""

    __tablename__ = "plan"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int | None] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"), index=True)
    title: Mapped[str]
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


class Intake(Base):
    """A folder where new files land."""

    __tablename__ = "intake"
    id: Mapped[int] = mapped_column(primary_key=True)
    path: Mapped[bytes] = mapped_column(unique=True)
    shown: Mapped[str]
    alone: Mapped[bool] = mapped_column(default=False)
    """Whether what is sure is filed without asking."""
    problem: Mapped[str] = mapped_column(default="")


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
    why: Mapped[str] = mapped_column(default="")
    seen: Mapped[list[Any]] = mapped_column(default=list)
    """Path, size and time of each file when it was last looked at."""
    moves: Mapped[list[Any]] = mapped_column(default=list)
    """`[before, after]`, absolute."""
    still_since: Mapped[datetime] = mapped_column(default=now)
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
    title: Mapped[str]
    library_id: Mapped[int | None] = mapped_column(ForeignKey("library.id", ondelete="CASCADE"))
    subject: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """What it is about besides the library, such as the plan."""
    state: Mapped[str] = mapped_column(default="queued", index=True)
    """`queued`, `running`, `done`, `failed` or `stopped`."""
    step: Mapped[str] = mapped_column(default="")
    done: Mapped[int] = mapped_column(Integer, default=0)
    total: Mapped[int] = mapped_column(Integer, default=0)
    rate: Mapped[float] = mapped_column(default=0.0)
    """Things a second, over the last seconds."""
    current: Mapped[str] = mapped_column(default="")
    message: Mapped[str] = mapped_column(default="")
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
    text: Mapped[str]
