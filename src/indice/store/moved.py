"""Files that were found under another name or in another library: their records follow them."""

from __future__ import annotations

import os
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import ColumnElement, delete, func, or_, select, text
from sqlalchemy.orm import Session, aliased

from ..core.identity import Body, Record, Stamp
from .among import among, among_sizes
from .files import stir
from .gone import remove_empty
from .models import File, Folder, now
from .stages import READ

__all__ = [
    "Followed",
    "count_fresh",
    "count_moved",
    "digests_of",
    "displaced_bodies",
    "forget_files",
    "fresh_bodies",
    "known_elsewhere",
    "libraries_of",
    "places_of",
    "settle_moves",
    "sizes_of",
]

_PLACE = (
    "folder_id",
    "path",
    "shown",
    "directory",
    "size_bytes",
    "mtime_ns",
    "inode",
    "kind",
    "reading",
    "marks",
)
"""What a record says of where a file lies and of what its name says."""


@dataclass(slots=True)
class Followed:
    """What became of the records that were recognised."""

    records: set[int] = field(default_factory=set)
    """Records that are at another place now."""
    overwritten: set[int] = field(default_factory=set)
    """Records that another file was moved onto; they are missing now."""
    libraries: dict[int, set[int]] = field(default_factory=dict)
    """Another library → entries that files were taken from."""
    gone_since: dict[int, int] = field(default_factory=dict)
    """Another library → how many of the files that are here now its last scan called gone."""


def fresh_bodies(db: Session, folder: Folder, newer_than: int, sizes: Collection[int]) -> list[Body]:
    """Files of a folder whose paths were not known before a scan, and that may have been known under others.

    `newer_than` is the folder's floor; `sizes` those of files that the scan misses. What is as large as nothing else
    that was lost before, or lies in another library, is no other file: all that a first scan finds would be much.
    """
    other = aliased(File)
    lost_or_elsewhere = (
        select(other.size_bytes)
        .join(Folder, Folder.id == other.folder_id)
        .where(other.size_bytes > 0, or_(other.state != "present", Folder.library_id != folder.library_id))
    )
    query = select(File.id, File.inode, File.size_bytes, File.mtime_ns, File.shown).where(
        File.folder_id == folder.id,
        File.id > newer_than,
        File.state == "present",
        or_(among_sizes(File.size_bytes, sizes), File.size_bytes.in_(lost_or_elsewhere)),
    )
    return [Body(id_, Stamp(inode, size, mtime), name) for id_, inode, size, mtime, name in db.execute(query)]


def displaced_bodies(db: Session, ids: Collection[int]) -> list[Body]:
    """Files that lie now where others lay before."""
    query = select(File.id, File.inode, File.size_bytes, File.mtime_ns, File.shown).where(among(File.id, ids))
    return [
        Body(id_, Stamp(inode, size, mtime), name, is_new=False) for id_, inode, size, mtime, name in db.execute(query)
    ]


def places_of(db: Session, ids: Collection[int]) -> dict[int, bytes]:
    """Where files lie, as absolute paths."""
    query = select(File.id, Folder.path, File.path).join(Folder).where(among(File.id, ids))
    return {id_: os.path.join(root, path) for id_, root, path in db.execute(query)}


def digests_of(db: Session, ids: Collection[int]) -> dict[int, bytes | None]:
    """Fingerprints of all bytes of files, where they are known."""
    return dict(db.execute(select(File.id, File.digest).where(among(File.id, ids))).all())


def libraries_of(db: Session, ids: Collection[int]) -> dict[int, int]:
    """The library of each file."""
    query = select(File.id, Folder.library_id).join(Folder).where(among(File.id, ids))
    return dict(db.execute(query).all())


def count_fresh(db: Session, folder_id: int, *, newer_than: int, moved: Collection[int]) -> int:
    """How many files that count are new in a folder."""
    fresh = (File.folder_id == folder_id, File.id > newer_than, File.state == "present", File.kind != "other")
    return _count(db, *fresh) - _count(db, *fresh, among(File.id, moved))


def count_moved(db: Session, folder_id: int, moved: Collection[int]) -> int:
    """How many of these records are in a folder, and count."""
    return _count(db, File.folder_id == folder_id, among(File.id, moved), File.kind != "other")


def _count(db: Session, *where: ColumnElement[bool]) -> int:
    return db.scalar(select(func.count()).select_from(File).where(*where)) or 0


def sizes_of(bodies: Sequence[Body]) -> list[int]:
    """The sizes of files that are not empty, each once."""
    return sorted({body.stamp.size_bytes for body in bodies if body.stamp.size_bytes})


def known_elsewhere(
    db: Session, library_id: int, sizes: Sequence[int], *, beside: Collection[int]
) -> list[tuple[Record, bytes, bytes, str]]:
    """Records that files of these sizes may be: what was missing or away before, here
    or anywhere, and all of other libraries.

    With each its folder's path, its own, and its state: what is said to be present must be looked for by who asks.
    `beside` are records that are known already.
    """
    if not sizes:
        return []
    rows = db.execute(
        select(
            File.id,
            File.inode,
            File.size_bytes,
            File.mtime_ns,
            File.shown,
            File.sample,
            Folder.path,
            File.path,
            File.state,
        )
        .join(Folder)
        .where(
            among_sizes(File.size_bytes, sizes),
            or_(File.state != "present", Folder.library_id != library_id),
        )
    )
    known = set(beside)
    return [
        (Record(id_, Stamp(inode, size, mtime), name, content=sample), root, path, state)
        for id_, inode, size, mtime, name, sample, root, path, state in rows
        if id_ not in known
    ]


def settle_moves(db: Session, library_id: int, found: Mapping[int, int], displaced: Mapping[int, Record]) -> Followed:
    """Give each record the place where its file was found: body's id → record's id.

    Bodies are records themselves. One whose body was taken, and that is no other file itself, is left over: it takes
    the place of a displaced record whose own body nobody recognised; else it is removed when it was new, and missing
    when it was a file that another was moved onto.
    """
    followed = Followed()
    if not found:
        return followed
    rows = {file.id: file for file in db.scalars(select(File).where(among(File.id, {*found, *found.values()})))}
    found = {body: record for body, record in found.items() if body in rows and record in rows}
    places = {id_: {name: getattr(rows[id_], name) for name in _PLACE} for id_ in found}
    untaken = {id_: {name: getattr(rows[id_], name) for name in _PLACE} for id_ in found.values() if id_ not in found}
    left_over = sorted(set(found) - set(found.values()))
    wanted = {record: places[body] for body, record in found.items()}
    orphans = [id_ for id_ in sorted(untaken) if id_ in displaced]
    wanted |= {spare: untaken[id_] for spare, id_ in zip(left_over, orphans, strict=False)}
    _note_left(db, library_id, followed, [rows[record] for record in found.values()])
    spare = left_over[len(orphans) :]
    for id_ in spare:
        if id_ in displaced:
            _overwritten(rows[id_], displaced[id_])
            followed.overwritten.add(id_)
    db.flush()
    forget_files(db, library_id, [id_ for id_ in spare if id_ not in displaced])
    db.execute(_ASIDE, {"ids": sorted(wanted)})
    db.expire_all()
    for file in db.scalars(select(File).where(among(File.id, wanted))):
        _put(file, wanted[file.id], is_same=file.id in untaken and file.id not in displaced)
    db.flush()
    followed.records.update(found.values())
    return followed


def forget_files(db: Session, library_id: int, ids: Collection[int]) -> None:
    """Remove records of files that have another, with the entries that were shown of them while a walk went on.

    What groups anew looks at files, and would never meet these entries again.
    """
    if not ids:
        return
    gone = delete(File).where(among(File.id, ids)).returning(File.entry_id)
    shown = [entry_id for entry_id in db.scalars(gone.execution_options(synchronize_session=False)) if entry_id]
    if shown:
        remove_empty(db, library_id, shown)


_ASIDE = text("update file set path = convert_to('indice moves ' || id, 'UTF8') where id = any(:ids)")
"""No two records may have the same path, not even for a moment."""


def _put(file: File, place: Mapping[str, Any], *, is_same: bool) -> None:
    """A record takes a place; what was found inside stays where it is the same file."""
    is_same = is_same and file.kind == place["kind"]
    if _extension(file.shown) != _extension(place["shown"]):
        file.looked_by = 0  # what stands in it is told by what it is called, too
    for name, value in place.items():
        setattr(file, name, value)
    file.state, file.gone_at = "present", None
    file.read_by, file.grouped_by, file.checked_by = READ.version, 0, 0
    if not is_same:
        file.looked_by = file.pictured_by = 0
        file.media = file.sample = file.digest = file.rotten_at = None


def _extension(path: str) -> str:
    return path.rpartition("/")[2].rpartition(".")[2].casefold()


def _overwritten(file: File, was: Record) -> None:
    """Another file was moved onto this one: it is missing, and its path is one that no file can have."""
    file.path = bytes(file.path) + b"\0" + str(file.id).encode()
    file.inode, file.size_bytes, file.mtime_ns = was.stamp.inode, was.stamp.size_bytes, was.stamp.mtime_ns
    file.sample = was.content if isinstance(was.content, bytes) else None
    file.state, file.gone_at = "missing", now()
    file.grouped_by = file.checked_by = 0


def _note_left(db: Session, library_id: int, followed: Followed, files: Sequence[File]) -> None:
    """Note what the places have lost that files were taken from."""
    owners = {
        id_: (owner, at)
        for id_, owner, at in db.execute(
            text(
                "select folder.id, library_id, (select max(started_at) from job where kind = 'scan'"
                " and job.library_id = folder.library_id) from folder"
            )
        )
    }
    left: dict[int, set[str]] = defaultdict(set)
    for file in files:
        left[file.folder_id].add(file.directory)
        owner, scanned_at = owners[file.folder_id]
        if owner == library_id:
            continue
        entries = followed.libraries.setdefault(owner, set())
        if file.entry_id is not None:
            entries.add(file.entry_id)
        if file.gone_at is not None and scanned_at is not None and file.gone_at >= scanned_at and file.kind != "other":
            followed.gone_since[owner] = followed.gone_since.get(owner, 0) + 1
    for folder_id, directories in left.items():
        stir(db, folder_id, directories)
