"""Files of a library: what is known, what is new, what is gone."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, cast

from sqlalchemy import Table, and_, bindparam, case, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from .among import among
from .models import File, Folder
from .stages import GROUPED, LOOKED, READ, is_due

__all__ = [
    "Known",
    "NewFile",
    "absences",
    "files_to_probe",
    "follow_renamed",
    "known_files",
    "library_files",
    "lower_floor",
    "mark_away",
    "mark_state",
    "raise_floor",
    "save_files",
    "save_probe",
    "settle_away",
    "settle_stirred",
    "stir",
    "stirred",
]


@dataclass(frozen=True, slots=True)
class Known:
    """What the records say of a path."""

    id: int
    size_bytes: int
    mtime_ns: int
    state: str
    inode: int = 0
    read_by: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class NewFile:
    """A file to be recorded."""

    path: bytes
    shown: str
    directory: str
    size_bytes: int
    mtime_ns: int
    inode: int
    kind: str
    reading: dict[str, Any]
    marks: list[Any]


def known_files(db: Session, folder_id: int) -> dict[bytes, Known]:
    """Every recorded path of a folder."""
    rows = db.execute(
        select(File.path, File.id, File.size_bytes, File.mtime_ns, File.state, File.inode, File.read_by).where(
            File.folder_id == folder_id
        )
    )
    return {
        bytes(path): Known(id_, size, mtime, state, inode, read_by)
        for path, id_, size, mtime, state, inode, read_by in rows
    }


def lower_floor(db: Session, folder_id: int) -> int:
    """A scan of a folder begins: files with greater numbers than the one returned are new in it.

    A scan that was broken off has left its floor; the one that takes it up goes by that.
    """
    folder = db.get_one(Folder, folder_id)
    if folder.floor is None:
        folder.floor = db.scalar(select(func.max(File.id)).where(File.folder_id == folder_id)) or 0
    return folder.floor


def raise_floor(db: Session, folder: Folder, device: int) -> None:
    """A scan of a folder is through: what is new has become known. Notes the disk that it lies on."""
    folder.floor, folder.device = None, device


def follow_renamed(db: Session, folder_id: int, gone: Iterable[Known], newer_than: int) -> set[int]:
    """New records that are files known by another name (same inode, size and time) become the old record again.

    What was decided and found of such a file stays. `newer_than` is the floor of the scan. Returns the ids of the old
    records that were found.
    """
    gone = list(gone)
    lost = {(known.inode, known.size_bytes, known.mtime_ns): known.id for known in gone if known.inode}
    vanished = {known.id for known in gone}
    if not lost:
        return set()
    fresh = db.scalars(select(File).where(File.folder_id == folder_id, File.id > newer_than)).all()
    found: set[int] = set()
    left: set[str] = set()
    for new in fresh:
        old = db.get(File, lost.get((new.inode, new.size_bytes, new.mtime_ns), 0))
        if old is None or old.id in found or new.id in vanished:
            continue
        values = {name: getattr(new, name) for name in ("path", "shown", "directory", "kind", "reading", "marks")}
        left.add(old.directory)
        db.delete(new)
        db.flush()
        for name, value in values.items():
            setattr(old, name, value)
        old.state = "present"
        old.read_by, old.grouped_by, old.checked_by = READ.version, 0, 0
        found.add(old.id)
    stir(db, folder_id, left)
    return found


def save_files(db: Session, folder_id: int, files: Sequence[NewFile]) -> None:
    """Record new files, changed ones, and what their names say now.

    What was found inside a file stays while its content is the same; later stages are due again where something changed.
    """
    if not files:
        return
    rows = [
        {name: getattr(file, name) for name in NewFile.__slots__}
        | {"folder_id": folder_id, "state": "present", "media": None, "problem": "", "read_by": READ.version}
        for file in files
    ]
    statement = insert(File)
    new = statement.excluded
    same_content = and_(File.size_bytes == new.size_bytes, File.mtime_ns == new.mtime_ns, File.kind == new.kind)
    same = and_(same_content, File.reading == new.reading, File.state == new.state)
    changed: dict[str, Any] = {
        name: new[name] for name in ("size_bytes", "mtime_ns", "inode", "kind", "reading", "marks", "state", "read_by")
    }
    for name, when, otherwise in (
        ("media", same_content, None),
        ("problem", same_content, ""),
        ("looked_by", same_content, 0),
        ("pictured_by", same_content, 0),
        ("grouped_by", same, 0),
        ("checked_by", same, 0),
    ):
        changed[name] = case((when, getattr(File, name)), else_=otherwise)
    db.execute(statement.on_conflict_do_update(index_elements=["folder_id", "path"], set_=changed), rows)


def mark_state(db: Session, ids: Iterable[int], state: str) -> None:
    """Set the state of files."""
    chosen = list(ids)
    for start in range(0, len(chosen), 5000):
        db.execute(
            update(File)
            .where(File.id.in_(chosen[start : start + 5000]))
            .values(state=state, grouped_by=0, checked_by=0)
            .execution_options(synchronize_session=False)
        )


def mark_away(db: Session, folder: Folder) -> None:
    """The folder's drive is not there: its files are away, and nothing is forgotten."""
    folder.state = "away"
    db.execute(
        update(File)
        .where(File.folder_id == folder.id, File.state == "present")
        .values(state="away", grouped_by=0, checked_by=0)
        .execution_options(synchronize_session=False)
    )


def absences(db: Session) -> list[tuple[Folder, int]]:
    """Folders that are there but have lost so much at once that a person must say what it means, and how many files."""
    query = (
        select(Folder, func.count(File.id))
        .join(File, File.folder_id == Folder.id)
        .where(Folder.state == "present", Folder.problem != "", File.state == "away")
        .group_by(Folder.id)
        .order_by(Folder.id)
    )
    return [(folder, count) for folder, count in db.execute(query)]


def stir(db: Session, folder_id: int, directories: Iterable[str]) -> None:
    """Files were moved out of these directories: what is left in them is to be looked at again."""
    folder = db.get_one(Folder, folder_id)
    folder.stirred = sorted({*folder.stirred, *directories})


def stirred(db: Session, library_id: int) -> list[str]:
    """Directories of a library that files were moved out of since its names were checked."""
    told = db.scalars(select(Folder.stirred).where(Folder.library_id == library_id))
    return sorted({str(directory) for directories in told for directory in directories})


def settle_stirred(db: Session, library_id: int) -> None:
    """What was left behind has been checked; unless it waits to be put together first."""
    if not is_due(db, GROUPED, library_id):
        db.execute(
            update(Folder)
            .where(Folder.library_id == library_id)
            .values(stirred=[])
            .execution_options(synchronize_session=False)
        )


def settle_away(db: Session, library_id: int, *, gone: bool) -> int:
    """A person says of the files of a library that are away that they are gone for good, or that they stay away.

    Returns how many files it is about.
    """
    folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id)))
    away = list(
        db.scalars(select(File.id).where(File.folder_id.in_([folder.id for folder in folders]), File.state == "away"))
    )
    if gone:
        mark_state(db, away, "missing")
    for folder in folders:
        if folder.state == "present":
            folder.problem = ""
            if gone:
                folder.floor, folder.device = None, None
    return len(away)


def files_to_probe(db: Session, library_id: int) -> list[tuple[int, bytes, bytes, str]]:
    """Id, folder, path and kind of files that nobody has looked into as they are, in the order of paths."""
    query = (
        select(File.id, Folder.path, File.path, File.kind)
        .join(Folder)
        .where(Folder.library_id == library_id, LOOKED.column != LOOKED.version, File.state == "present")
        .order_by(File.shown)
    )
    return [(id_, bytes(root), bytes(path), kind) for id_, root, path, kind in db.execute(query)]


def save_probe(db: Session, results: Sequence[tuple[int, dict[str, Any] | None, str]]) -> None:
    """Record what was found inside files: id, media, problem.

    Without media nobody could look: what is wrong is noted, and the next scan tries again.
    """
    if not results:
        return
    table = cast(Table, File.__table__)
    link = db.connection()
    looked = (
        update(table)
        .where(table.c.id == bindparam("file"))
        .values(
            media=bindparam("found"), problem=bindparam("wrong"), looked_by=LOOKED.version, grouped_by=0, checked_by=0
        )
    )
    seen = [{"file": id_, "found": media, "wrong": problem} for id_, media, problem in results if media is not None]
    if seen:
        link.execute(looked, seen)
    missed = (
        update(table)
        .where(table.c.id == bindparam("file"), table.c.problem != bindparam("wrong"))
        .values(media=None, problem=bindparam("wrong"), grouped_by=0, checked_by=0)
    )
    unseen = [{"file": id_, "wrong": problem} for id_, media, problem in results if media is None]
    if unseen:
        link.execute(missed, unseen)


def library_files(db: Session, library_id: int, *, ids: Sequence[int] | None = None) -> list[File]:
    """Files of a library that are not missing."""
    query = select(File).join(Folder).where(Folder.library_id == library_id, File.state != "missing")
    if ids is not None:
        query = query.where(among(File.id, ids))
    return list(db.scalars(query.order_by(File.shown)))
