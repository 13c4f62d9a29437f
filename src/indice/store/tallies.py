"""How many files of each directory stand where: counted once, and again for the
directories where something has changed.

Triggers note the directory of every file whose state may have changed, with its own row, its entry or a finding;
whoever asks next counts those anew. While much changes on a large catalog what was counted a moment ago is shown,
since counting takes its time; a scan, which goes by these counts, asks for them as they are.
"""

from __future__ import annotations

import time
from collections import defaultdict
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import ColumnElement, Integer, Text, bindparam, case, column, func, insert, or_, select, table, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.dialects.postgresql import insert as pg_insert
from sqlalchemy.orm import Session, aliased

from ..core.facts.clean import clean_text
from .models import Entry, File, Finding, Folder, Library

__all__ = [
    "FolderCount",
    "count_files",
    "directories_of",
    "file_state",
    "files_of_directories",
    "freshen",
    "known_directories",
    "library_states",
    "tree_level",
    "with_state",
]

_COLUMNS = ("folder_id", "directory", "state", "files", "others", "bytes")
_TALLY = table("tally", *map(column, _COLUMNS))
_SUM = table("tally_sum", *map(column, ("folder_id", "state", "files", "bytes")))
"""Of a whole folder, so that nobody adds up all of its directories who asks how it stands."""
_LOCK = 727_003
SLOW_SECONDS = 0.25
"""Counting that takes longer than this is not done again at once."""
REST = 3
"""So many times as long as counting took, it is let be."""
_PARENT = aliased(Entry)
_ABOVE = aliased(Entry)


@dataclass(slots=True)
class FolderCount:
    """A directory with how many files in it and below it stand where."""

    folder_id: int
    path: str
    states: dict[str, int] = field(default_factory=dict)
    has_children: bool = False


def with_state(query: Any) -> Any:
    """Files joined with what decides their state."""
    return (
        query.outerjoin(Entry, Entry.id == File.entry_id)
        .outerjoin(_PARENT, _PARENT.id == Entry.parent_id)
        .outerjoin(_ABOVE, _ABOVE.id == _PARENT.parent_id)
    )


def file_state() -> ColumnElement[str]:
    """A file's state for people: settled, waiting, name (to be mended), unseen, away or other."""
    found = select(Finding.id).where(Finding.folder_id == File.folder_id, Finding.path == File.shown).exists()
    settled = or_(
        File.kind.in_(("photo", "clip")),
        Entry.state == "settled",
        _PARENT.state == "settled",
        _ABOVE.state == "settled",
    )
    waiting = or_(Entry.state == "waiting", _PARENT.state == "waiting", _ABOVE.state == "waiting")
    return case(
        (File.state == "away", "away"),
        (found, "name"),
        (File.entry_id.is_(None), "other"),
        (settled, "settled"),
        (waiting, "waiting"),
        else_="unseen",
    )


def freshen(db: Session, *, exactly: bool = False) -> None:
    """Count the files of those directories anew where something has changed since.

    `exactly` waits for whoever is at it, and counts even where that was done a moment ago and took long.
    """
    done = db.execute(text("select extract(epoch from now() - at), seconds from tally_done")).first()
    if done is not None:
        if not db.scalar(text("select exists (select 1 from tally_change)")):
            return
        since, seconds = float(done[0]), float(done[1])
        if not exactly and seconds > SLOW_SECONDS and since < REST * seconds:
            return
        if not exactly and not db.scalar(text("select pg_try_advisory_xact_lock(:lock)"), {"lock": _LOCK}):
            return  # somebody is at it; what was counted before is shown meanwhile
    if exactly or done is None:
        db.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
        done = db.execute(text("select 1 from tally_done")).first()
    began = time.perf_counter()
    if done is None:
        db.execute(text("insert into tally_change select distinct folder_id, directory from file"))
    _count(db)
    db.execute(text("delete from tally_done"))
    db.execute(
        text("insert into tally_done (at, seconds) values (clock_timestamp(), :seconds)"),
        {"seconds": time.perf_counter() - began},
    )


def _count(db: Session) -> None:
    """Count what has changed. A change that is noted meanwhile is counted by the
    next, whether it is seen here or not."""
    changed = db.execute(
        text(
            "with noted as (delete from tally_change returning folder_id, directory)"
            " select distinct folder_id, directory from noted"
        )
    ).all()
    places = {"folders": [folder for folder, _ in changed], "directories": [directory for _, directory in changed]}
    db.execute(_TAKE_OUT, places)
    due = (
        func.unnest(
            bindparam("folders", places["folders"], ARRAY(Integer)),
            bindparam("directories", places["directories"], ARRAY(Text)),
        )
        .table_valued("folder", "name", name="due")
        .render_derived()
    )
    is_other = case((File.kind == "other", 1), else_=0).label("other")
    files = with_state(
        select(File.folder_id, File.directory, file_state().label("state"), is_other, File.size_bytes).join(
            due, (File.folder_id == due.c.folder) & (File.directory == due.c.name)
        )
    ).where(File.state != "missing")
    rows = files.subquery()
    place = (rows.c.folder_id, rows.c.directory, rows.c.state)
    summed = select(*place, func.count(), func.sum(rows.c.other), func.sum(rows.c.size_bytes)).group_by(*place)
    made = insert(_TALLY).from_select(list(_COLUMNS), summed).returning(*_TALLY.c).cte("made")
    each = select(made.c.folder_id, made.c.state, func.sum(made.c.files), func.sum(made.c.bytes))
    more = pg_insert(_SUM).from_select(["folder_id", "state", "files", "bytes"], each.group_by("folder_id", "state"))
    added = {name: _SUM.c[name] + more.excluded[name] for name in ("files", "bytes")}
    db.execute(more.on_conflict_do_update(index_elements=["folder_id", "state"], set_=added))


_TAKE_OUT = text(
    """
    with gone as (
        delete from tally using unnest(cast(:folders as integer[]), cast(:directories as text[])) as due (folder, name)
        where tally.folder_id = due.folder and tally.directory = due.name
        returning tally.folder_id, tally.state, tally.files, tally.bytes
    ), less as (
        select folder_id, state, sum(files) as files, sum(bytes) as bytes from gone group by 1, 2
    )
    update tally_sum set files = tally_sum.files - less.files, bytes = tally_sum.bytes - less.bytes
    from less where tally_sum.folder_id = less.folder_id and tally_sum.state = less.state
    """
)


def known_directories(db: Session, folder_id: int) -> dict[str, tuple[int, int]]:
    """Directories of a folder that hold present files: of how many, and how many of them count. As they are now."""
    freshen(db, exactly=True)
    query = text(
        "select directory, sum(files), sum(files - others) from tally"
        " where folder_id = :folder and state <> 'away' group by directory"
    )
    return {
        directory: (int(files), int(counted)) for directory, files, counted in db.execute(query, {"folder": folder_id})
    }


def files_of_directories(db: Session, folder_id: int) -> dict[str, int]:
    """Directories of a folder, and how many files each holds that are not missing, as last counted."""
    query = text("select directory, sum(files) from tally where folder_id = :folder group by directory")
    return {directory: int(files) for directory, files in db.execute(query, {"folder": folder_id})}


def directories_of(db: Session, library_id: int) -> list[str]:
    """All directories of a library that hold files by the records, missing ones too, as last counted; in order."""
    query = text(
        "select directory from tally where folder_id = any(:folders)"
        " union select directory from file where folder_id = any(:folders) and state = 'missing'"
    )
    return sorted(db.scalars(query, {"folders": _folders_of(db, library_id)}))


def count_files(db: Session, library_id: int) -> int:
    """How many files a library has by the records, missing ones too, as last counted."""
    query = text(
        "select (select coalesce(sum(files), 0) from tally_sum where folder_id = any(:folders))"
        " + (select count(*) from file where folder_id = any(:folders) and state = 'missing')"
    )
    return int(db.scalar(query, {"folders": _folders_of(db, library_id)}) or 0)


def _folders_of(db: Session, library_id: int) -> list[int]:
    return list(db.scalars(select(Folder.id).where(Folder.library_id == library_id)))


def library_states(db: Session) -> list[tuple[Library, dict[str, int], int]]:
    """Libraries with the states of their files, and their size in bytes."""
    freshen(db)
    states: dict[int, dict[str, int]] = defaultdict(dict)
    sizes: dict[int, int] = defaultdict(int)
    query = text(
        "select library_id, tally_sum.state, sum(files), sum(bytes) from tally_sum"
        " join folder on folder.id = folder_id where files > 0 group by 1, 2"
    )
    for library_id, state, files, size in db.execute(query):
        states[library_id][state] = int(files)
        sizes[library_id] += int(size)
    return [
        (library, states[library.id], sizes[library.id]) for library in db.scalars(select(Library).order_by(Library.id))
    ]


def tree_level(db: Session, folder_id: int | None, path: str = "") -> list[FolderCount]:
    """The directories directly below one, with the states of all files in and below
    each; the roots where no folder is given."""
    freshen(db)
    if folder_id is None:
        return _roots(db)
    path = clean_text(path)
    start = len(path) + 2 if path else 1
    query = text(
        "select split_part(substr(directory, :start), '/', 1) as child, state, sum(files),"
        " bool_or(strpos(substr(directory, :start), '/') > 0)"
        " from tally where folder_id = :folder and directory <> :path and (:path = '' or directory like :below)"
        " group by 1, 2"
    )
    escaped = path.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    asked = {"start": start, "folder": folder_id, "path": path, "below": f"{escaped}/%"}
    found: dict[str, FolderCount] = {}
    for child, state, files, deeper in db.execute(query, asked):
        whole = f"{path}/{child}" if path else str(child)
        node = found.setdefault(whole, FolderCount(folder_id, whole))
        node.states[state] = int(files)
        node.has_children = node.has_children or bool(deeper)
    return sorted(found.values(), key=lambda node: node.path)


def _roots(db: Session) -> list[FolderCount]:
    found = {id_: FolderCount(id_, "") for id_ in db.scalars(select(Folder.id).order_by(Folder.library_id, Folder.id))}
    query = text(
        "select folder_id, state, files, exists ("
        "select 1 from tally where tally.folder_id = tally_sum.folder_id and directory ~>~ ''"
        ") from tally_sum where files > 0"
    )
    for folder_id, state, files, deeper in db.execute(query):
        if folder_id in found:
            found[folder_id].states[state] = int(files)
            found[folder_id].has_children = found[folder_id].has_children or bool(deeper)
    return [node for node in found.values() if node.states]
