"""What is known of files by which those that are there twice are found."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import delete, exists, func, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from .among import among
from .bulk import insert_rows
from .found import find
from .models import DistinctFiles, Entry, File, Finding, Folder, Library, Likeness, Twin

__all__ = [
    "MAINS",
    "Sketched",
    "TwiceFile",
    "count_likenesses",
    "count_twins",
    "distinct_pairs",
    "entries_of",
    "keep_twins",
    "likenesses",
    "not_the_same",
    "of_one_size",
    "of_one_work",
    "save_likenesses",
    "sketches_of",
    "twice_files",
    "twin_at",
    "twins",
    "without_likeness",
]

MAINS = ("movie", "episode", "track", "photo", "clip", "extra")
LIKENESS = 1
"""Raise when a sketch is made in another way."""


@dataclass(frozen=True, slots=True)
class TwiceFile:
    """A file that may be there twice."""

    id: int
    library: str
    root: bytes
    path: bytes
    shown: str
    kind: str
    size_bytes: int
    reading: dict[str, Any]
    media: dict[str, Any]
    problem: str
    digest: bytes | None
    is_tidy: bool
    folder_id: int
    entry_id: int | None
    state: str


def _in(library_ids: Collection[int]) -> Any:
    folders = select(Folder.id).where(among(Folder.library_id, library_ids))
    return File.folder_id.in_(folders)


def twice_files(db: Session, ids: Collection[int]) -> dict[int, TwiceFile]:
    """Files by their numbers."""
    found = exists().where(Finding.folder_id == File.folder_id, Finding.path == File.shown)
    query = (
        select(
            File.id,
            Library.name,
            Folder.path,
            File.path,
            File.shown,
            File.kind,
            File.size_bytes,
            File.reading,
            File.media,
            File.problem,
            File.digest,
            ~found,
            File.folder_id,
            File.entry_id,
            File.state,
        )
        .join(Folder, Folder.id == File.folder_id)
        .join(Library, Library.id == Folder.library_id)
        .where(among(File.id, ids))
    )
    return {row[0]: TwiceFile(*row[:8], row[8] or {}, *row[9:]) for row in db.execute(query)}


def entries_of(db: Session, files: Iterable[TwiceFile]) -> list[Entry]:
    """The entries that files serve."""
    return list(db.scalars(select(Entry).where(among(Entry.id, {file.entry_id for file in files if file.entry_id}))))


def of_one_size(db: Session, library_ids: Collection[int]) -> list[list[int]]:
    """Files that are as large as another: groups of numbers, without what is empty."""
    here = (_in(library_ids), File.state == "present", File.kind.in_(MAINS), File.size_bytes > 0)
    sizes = select(File.size_bytes).where(*here).group_by(File.size_bytes).having(func.count() > 1)
    groups: dict[int, list[int]] = defaultdict(list)
    query = select(File.size_bytes, File.id).where(*here, File.size_bytes.in_(sizes)).order_by(File.shown)
    for size, id_ in db.execute(query):
        groups[size].append(id_)
    return list(groups.values())


def of_one_work(db: Session, library_ids: Collection[int]) -> list[list[int]]:
    """Files of one film, episode or track, also where two libraries hold it: groups of numbers."""
    work = func.coalesce(
        func.nullif(
            func.concat(Entry.kind, " ", Entry.source_id, " ", Entry.external_id), func.concat(Entry.kind, "  ")
        ),
        func.concat("entry ", Entry.id),
    )
    query = (
        select(work, File.id)
        .join(Entry, Entry.id == File.entry_id)
        .where(
            _in(library_ids),
            File.state == "present",
            File.serves.in_(("main", "version")),
            Entry.kind.in_(("movie", "episode", "track")),
        )
        .order_by(File.shown)
    )
    groups: dict[str, list[int]] = defaultdict(list)
    for key, id_ in db.execute(query):
        groups[key].append(id_)
    return [ids for ids in groups.values() if len(ids) > 1]


def without_likeness(db: Session, library_ids: Collection[int], *, limit: int) -> list[tuple[int, bytes, bytes, str]]:
    """Photos and tracks that have no likeness as they are: number, folder, path, kind."""
    query = (
        select(File.id, Folder.path, File.path, File.kind)
        .join(Folder, Folder.id == File.folder_id)
        .outerjoin(Likeness, Likeness.file_id == File.id)
        .where(
            among(Folder.library_id, library_ids),
            File.state == "present",
            File.kind.in_(("photo", "track")),
            File.size_bytes > 0,
            or_(Likeness.file_id.is_(None), Likeness.made_by < LIKENESS, Likeness.of.is_distinct_from(File.sample)),
        )
    )
    return [(id_, root, path, kind) for id_, root, path, kind in db.execute(query.order_by(File.id).limit(limit))]


def save_likenesses(db: Session, made: Sequence[tuple[int, bytes | None]]) -> None:
    """Keep sketches: number of the file, the packed sketch."""
    samples = dict(db.execute(select(File.id, File.sample).where(among(File.id, [id_ for id_, _ in made]))).all())
    rows = [
        {"file_id": id_, "made_by": LIKENESS, "of": samples[id_], "data": data} for id_, data in made if id_ in samples
    ]
    tail = "on conflict (file_id) do update set made_by = excluded.made_by, of = excluded.of, data = excluded.data"
    insert_rows(db, Likeness, rows, tail=tail)


@dataclass(frozen=True, slots=True)
class Sketched:
    """A photo or a track that has a sketch."""

    id: int
    folder_id: int
    shown: str
    moment: str | None
    """When it was taken, as it says itself."""


def _sketched(library_ids: Collection[int], kind: str) -> list[Any]:
    return [_in(library_ids), File.state == "present", File.kind == kind, Likeness.data.is_not(None)]


def count_likenesses(db: Session, library_ids: Collection[int], kind: str) -> int:
    """How many photos, or tracks, have a sketch."""
    query = select(func.count()).select_from(File).join(Likeness, Likeness.file_id == File.id)
    return db.scalar(query.where(*_sketched(library_ids, kind))) or 0


def likenesses(db: Session, library_ids: Collection[int], kind: str) -> Iterator[tuple[Sketched, bytes]]:
    """All photos, or all tracks, that have a sketch, with it, one after another:
    they need not be in memory all at once."""
    moment = func.coalesce(File.media["original"].as_string(), File.media["taken"].as_string())
    query = (
        select(File.id, File.folder_id, File.shown, moment, Likeness.data)
        .join(Likeness, Likeness.file_id == File.id)
        .where(*_sketched(library_ids, kind))
        .order_by(File.id)
        .execution_options(yield_per=1000)
    )
    for id_, folder_id, shown, taken, data in db.execute(query):
        yield Sketched(id_, folder_id, shown, taken), data or b""


def sketches_of(db: Session, ids: Sequence[int]) -> list[bytes]:
    """The packed sketches of files, in the order in which they are asked for; empty where one is gone meanwhile."""
    query = select(Likeness.file_id, Likeness.data).where(among(Likeness.file_id, ids))
    found = {id_: data or b"" for id_, data in db.execute(query)}
    return [found.get(id_, b"") for id_ in ids]


def distinct_pairs(db: Session) -> set[tuple[int, int]]:
    """Pairs of which a person said that they are not the same."""
    return {(one, other) for one, other in db.execute(select(DistinctFiles.one_id, DistinctFiles.other_id))}


def not_the_same(db: Session, ids: Iterable[int]) -> None:
    """A person says that none of these files is another of them."""
    ordered = sorted(set(ids))
    rows = [{"one_id": one, "other_id": other} for place, one in enumerate(ordered) for other in ordered[place + 1 :]]
    if rows:
        db.execute(insert(DistinctFiles).on_conflict_do_nothing(), rows)


def keep_twins(db: Session, found: Sequence[tuple[str, str, Sequence[int]]]) -> None:
    """What was found takes the place of what was found before: kind, why, numbers of the files."""
    db.execute(delete(Twin))
    db.add_all(Twin(kind=kind, why=why, files=list(files)) for kind, why, files in found)


def twins(db: Session, *, after: int, limit: int, kind: str = "") -> list[Twin]:
    """Groups of which at least two files are still there, in the order in which they were found."""
    there = select(func.count()).where(File.id == func.any(Twin.files), File.state == "present").correlate(Twin)
    query = select(Twin).where(Twin.id > after, there.scalar_subquery() > 1)
    if kind:
        query = query.where(Twin.kind == kind)
    return list(db.scalars(query.order_by(Twin.id).limit(limit)))


def count_twins(db: Session) -> dict[str, int]:
    """How many groups of each kind there are."""
    there = select(func.count()).where(File.id == func.any(Twin.files), File.state == "present").correlate(Twin)
    query = select(Twin.kind, func.count()).where(there.scalar_subquery() > 1).group_by(Twin.kind)
    return dict(db.execute(query).all())


def twin_at(db: Session, twin_id: int) -> Twin:
    """A group; raises :class:`IndiceError` (404) when there is none of this number."""
    return find(db, Twin, twin_id)
