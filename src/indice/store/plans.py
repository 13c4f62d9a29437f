"""Plans and excuses, and files that follow their moves."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence

from sqlalchemy import delete, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..disk.walk import BIN, shown
from ..errors import IndiceError
from .files import mark_state, stir
from .gone import remove_empty
from .listings import forget_listings
from .models import Excuse, File, Folder, Plan, Taught

__all__ = ["excuse", "excuses_of", "follow_moves", "plan_at", "recent_plans"]


def plan_at(db: Session, plan_id: int) -> Plan:
    """A plan; raises :class:`IndiceError` when there is none of this number."""
    plan = db.get(Plan, plan_id)
    if plan is None:
        raise IndiceError("There is no such plan.", reference="plan-unknown", status=404)
    return plan


def recent_plans(db: Session, *, limit: int) -> list[Plan]:
    """Plans that were carried out, the newest first."""
    return list(db.scalars(select(Plan).where(Plan.state != "draft").order_by(Plan.id.desc()).limit(limit)))


def excuse(db: Session, library_id: int, check: str, path: str) -> None:
    """From now on a check says nothing of a path."""
    db.execute(insert(Excuse).values(library_id=library_id, check=check, path=path).on_conflict_do_nothing())


def excuses_of(db: Session, library_id: int) -> frozenset[tuple[str, str]]:
    """Check and path of everything that is excused in a library."""
    return frozenset(
        (check, path)
        for check, path in db.execute(select(Excuse.check, Excuse.path).where(Excuse.library_id == library_id))
    )


def follow_moves(db: Session, moves: Mapping[bytes, bytes]) -> set[int]:
    """Files that were moved (absolute paths) are known by their new names; returns the libraries concerned.

    A file that left every library's folder is forgotten; its new place is found by the next scan.
    """
    folders = [(bytes(folder.path), folder) for folder in db.scalars(select(Folder))]
    targets: list[tuple[File, Folder, bytes]] = []
    touched: set[int] = set()
    for before, after in moves.items():
        old, new = _folder_of(before, folders), _folder_of(after, folders)
        if old is not None:
            touched.add(old.library_id)
        if new is not None:
            touched.add(new.library_id)
        if old is None or new is None or old.library_id != new.library_id:
            continue
        path = before[len(bytes(old.path).rstrip(b"/")) + 1 :]
        target = after[len(bytes(new.path).rstrip(b"/")) + 1 :]
        out, back = (one.startswith(BIN + b"/") for one in (target, path))
        known = target if back else path
        file = db.scalars(select(File).where(File.folder_id == old.id, File.path == known)).first()
        stir(db, old.id, [shown(known).rpartition("/")[0]])
        if file is not None and out:
            mark_state(db, [file.id], "missing")
        elif file is not None:
            targets.append((file, new, target))
    for file, _, _ in targets:
        file.path = b"\0" + str(file.id).encode()
    db.flush()
    for folder in db.scalars(select(Folder).where(Folder.library_id.in_(touched))):
        forget_listings(db, folder.id)
    for file, folder, path in targets:
        beside = delete(File).where(File.folder_id == folder.id, File.path == path, File.id != file.id)
        served = [entry_id for entry_id in db.scalars(beside.returning(File.entry_id)) if entry_id is not None]
        if served:
            remove_empty(db, folder.library_id, served)
        was = file.shown
        file.folder_id, file.path, file.shown = folder.id, path, shown(path)
        file.directory = file.shown.rpartition("/")[0]
        file.state, file.gone_at = "present", None
        file.grouped_by = file.checked_by = 0
        status = _status(bytes(folder.path), path)
        if status is not None:
            file.inode, file.mtime_ns = status.st_ino, status.st_mtime_ns
        db.execute(update(Taught).where(Taught.folder_id == folder.id, Taught.path == was).values(path=file.shown))
        db.flush()
    return touched


def _status(root: bytes, path: bytes) -> os.stat_result | None:
    try:
        return os.lstat(os.path.join(root, path))
    except OSError:
        return None


def _folder_of(path: bytes, folders: Sequence[tuple[bytes, Folder]]) -> Folder | None:
    """The innermost folder of a library that a path lies in."""
    holding = [(root, folder) for root, folder in folders if path.startswith(root.rstrip(b"/") + b"/")]
    return max(holding, key=lambda pair: len(pair[0]))[1] if holding else None
