"""Files of a library: what is known, what is new, what is gone."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, cast

from sqlalchemy import Table, bindparam, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from .models import File, Folder

__all__ = [
    "Known",
    "NewFile",
    "files_to_probe",
    "follow_renamed",
    "known_files",
    "library_files",
    "mark_away",
    "mark_state",
    "save_files",
    "save_probe",
]


@dataclass(frozen=True, slots=True)
class Known:
    """What the records say of a path."""

    id: int
    size_bytes: int
    mtime_ns: int
    state: str
    inode: int = 0


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
        select(File.path, File.id, File.size_bytes, File.mtime_ns, File.state, File.inode).where(
            File.folder_id == folder_id
        )
    )
    return {bytes(path): Known(id_, size, mtime, state, inode) for path, id_, size, mtime, state, inode in rows}


def follow_renamed(db: Session, folder_id: int, gone: Iterable[Known], newer_than: int) -> set[int]:
    """New records that are files known by another name (same inode, size and time) become the old record again.

    What was decided and found of such a file stays. Returns the ids of the old records that were found.
    """
    lost = {(known.inode, known.size_bytes, known.mtime_ns): known.id for known in gone if known.inode}
    if not lost:
        return set()
    fresh = db.scalars(select(File).where(File.folder_id == folder_id, File.id > newer_than)).all()
    found: set[int] = set()
    for new in fresh:
        old = db.get(File, lost.get((new.inode, new.size_bytes, new.mtime_ns), 0))
        if old is None or old.id in found:
            continue
        values = {name: getattr(new, name) for name in ("path", "shown", "directory", "kind", "reading", "marks")}
        db.delete(new)
        db.flush()
        for name, value in values.items():
            setattr(old, name, value)
        old.state = "present"
        found.add(old.id)
    return found


def save_files(db: Session, folder_id: int, files: Sequence[NewFile]) -> None:
    """Record new files, and what changed of known ones; they wait to be looked into."""
    if not files:
        return
    rows = [
        {name: getattr(file, name) for name in NewFile.__slots__}
        | {"folder_id": folder_id, "state": "present", "media": None, "problem": ""}
        for file in files
    ]
    statement = insert(File)
    changed = {
        name: statement.excluded[name]
        for name in ("size_bytes", "mtime_ns", "inode", "kind", "reading", "marks", "state", "media", "problem")
    }
    db.execute(statement.on_conflict_do_update(index_elements=["folder_id", "path"], set_=changed), rows)


def mark_state(db: Session, ids: Iterable[int], state: str) -> None:
    """Set the state of files."""
    chosen = list(ids)
    for start in range(0, len(chosen), 5000):
        db.execute(update(File).where(File.id.in_(chosen[start : start + 5000])).values(state=state))


def mark_away(db: Session, folder: Folder) -> None:
    """The folder's drive is not there: its files are away, and nothing is forgotten."""
    folder.state = "away"
    db.execute(update(File).where(File.folder_id == folder.id, File.state == "present").values(state="away"))


def files_to_probe(db: Session, library_id: int) -> list[tuple[int, bytes, bytes, str]]:
    """Id, folder, path and kind of files that nobody has looked into, in the order of paths."""
    query = (
        select(File.id, Folder.path, File.path, File.kind)
        .join(Folder)
        .where(Folder.library_id == library_id, File.media.is_(None), File.state == "present")
        .order_by(File.shown)
    )
    return [(id_, bytes(root), bytes(path), kind) for id_, root, path, kind in db.execute(query)]


def save_probe(db: Session, results: Sequence[tuple[int, dict[str, Any], str]]) -> None:
    """Record what was found inside files: id, media, problem."""
    if not results:
        return
    table = cast(Table, File.__table__)
    statement = (
        update(table)
        .where(table.c.id == bindparam("file"))
        .values(media=bindparam("found"), problem=bindparam("wrong"))
    )
    db.connection().execute(
        statement, [{"file": id_, "found": media, "wrong": problem} for id_, media, problem in results]
    )


def library_files(db: Session, library_id: int, *, ids: Sequence[int] | None = None) -> list[File]:
    """Files of a library that are not missing."""
    query = select(File).join(Folder).where(Folder.library_id == library_id, File.state != "missing")
    if ids is not None:
        query = query.where(File.id.in_(ids))
    return list(db.scalars(query.order_by(File.shown)))
