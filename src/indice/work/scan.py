"""Scans a library: walk, read the names, show entries at once, then look inside, make thumbnails and check."""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from sqlalchemy import select

from ..core.reading import Correction, Reading, apply_corrections, read_listing
from ..disk.probe import Probe, probe
from ..disk.walk import Seen, is_away, shown, walk
from ..settings import Settings
from ..store.database import Database
from ..store.files import (
    NewFile,
    files_to_probe,
    follow_renamed,
    known_files,
    mark_away,
    mark_state,
    save_files,
    save_probe,
)
from ..store.models import File, Folder, Library, now
from ..store.taught import corrections_of
from .artwork import local_artwork
from .checks import check_library
from .grouping import regroup
from .progress import Progress

__all__ = ["new_file", "scan_library"]

BATCH = 400
PROBERS = 4


def marks_of(reading: Reading) -> list[dict[str, Any]]:
    """Facts with their spans and rules, as they are kept."""
    marks = [
        {"field": name, "value": _plain(fact.value), "spans": [list(span) for span in fact.spans], "rule": fact.rule}
        for name, fact in reading.facts.items()
    ]
    return [
        *marks,
        *({"field": "", "value": None, "spans": [list(span)], "rule": "left out"} for span in reading.ignored),
    ]


def _plain(value: Any) -> Any:
    """A value without lone surrogates, which no database takes."""
    if isinstance(value, str):
        return "".join("\ufffd" if 0xD800 <= ord(c) <= 0xDFFF or c == "\0" else c for c in value)
    if isinstance(value, list):
        return [_plain(item) for item in value]
    if isinstance(value, dict):
        return {str(_plain(key)): _plain(item) for key, item in value.items()}
    return value


def new_file(seen: Seen, reading: Reading, corrections: Sequence[Correction]) -> NewFile:
    """What is recorded of a file that the walk saw; its reading is mended as people have taught."""
    readable = shown(seen.path)
    reading = apply_corrections(readable, reading, corrections)
    return NewFile(
        path=seen.path,
        shown=readable,
        directory=readable.rpartition("/")[0],
        size_bytes=seen.size_bytes,
        mtime_ns=seen.mtime_ns,
        inode=seen.inode,
        kind=reading.kind,
        reading={name: _plain(fact.value) for name, fact in reading.facts.items()},
        marks=marks_of(reading),
    )


def scan_library(database: Database, settings: Settings, library_id: int, progress: Progress) -> str:
    """Scan all folders of a library; returns what came of it, in words."""
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id).order_by(Folder.id)))
    totals = {"new": 0, "changed": 0, "renamed": 0, "back": 0, "missing": 0, "away": 0}
    for folder in folders:
        _scan_folder(database, library, folder, progress, totals)
    if any(totals.values()):
        progress.step("Putting entries together")
        regroup(database, library_id)
    looked = _look_inside(database, library_id, progress)
    if looked:
        regroup(database, library_id)
    if looked or any(totals.values()):
        local_artwork(database, settings, library_id, progress)
        progress.step("Checking names")
        check_library(database, library_id)
        progress.changed("findings")
    with database.begin() as db:
        db.get_one(Library, library_id).scanned_at = now()
    return _summary(totals)


def _summary(totals: dict[str, int]) -> str:
    words = [f"{count} {name}" for name, count in totals.items() if count]
    return ", ".join(words) if words else "Nothing has changed."


def _scan_folder(
    database: Database, library: Library, folder: Folder, progress: Progress, totals: dict[str, int]
) -> None:
    progress.step("Reading names")
    root = bytes(folder.path)
    if is_away(root):
        with database.begin() as db:
            here = db.get_one(Folder, folder.id)
            had = len(known_files(db, folder.id))
            if had or not os.path.isdir(root):
                mark_away(db, here)
                here.problem = "The folder is not there. Plug the drive in, or check the share; nothing is forgotten."
                totals["away"] += had
                progress.log(
                    f"{folder.shown} is not there. Its {had} files are away; nothing is forgotten.",
                    path=folder.shown,
                    level="warning",
                )
            return
    with database.begin() as db:
        known = known_files(db, folder.id)
        corrections = corrections_of(db, folder.id)
    remaining = dict(known)
    returned: list[int] = []
    unreadable: list[bytes] = []
    batch: list[NewFile] = []
    for directory in walk(root):
        if directory.problem:
            unreadable.append(directory.path)
            progress.log(directory.problem, path=f"{folder.shown}/{shown(directory.path)}", level="error")
        changed: list[Seen] = []
        for seen in directory.files:
            before = remaining.pop(seen.path, None)
            if before is not None and (before.size_bytes, before.mtime_ns) == (seen.size_bytes, seen.mtime_ns):
                if before.state != "present":
                    returned.append(before.id)
                continue
            totals["changed" if before else "new"] += 1
            changed.append(seen)
        if changed:
            readings = read_listing([os.fsdecode(seen.path) for seen in directory.files], library.kind)
            batch += [new_file(seen, readings[os.fsdecode(seen.path)], corrections) for seen in changed]
        progress.advance(len(directory.files), shown(directory.path) or folder.shown)
        if len(batch) >= BATCH:
            _save(database, library.id, folder.id, batch, progress)
            batch = []
    _save(database, library.id, folder.id, batch, progress)
    lost = [row for path, row in remaining.items() if row.state != "missing" and not _below(path, unreadable)]
    with database.begin() as db:
        renamed = follow_renamed(db, folder.id, lost, max((row.id for row in known.values()), default=0))
    totals["renamed"] += len(renamed)
    totals["new"] -= len(renamed)
    gone = [row.id for row in lost if row.id not in renamed]
    totals["missing"] += len(gone)
    totals["back"] += len(returned)
    with database.begin() as db:
        mark_state(db, gone, "missing")
        mark_state(db, returned, "present")
        here = db.get_one(Folder, folder.id)
        here.state = "present"
        here.problem = (
            "" if not unreadable else f"{len(unreadable)} folders could not be read in full; the job's log names them."
        )


def _below(path: bytes, folders: Sequence[bytes]) -> bool:
    """Whether a path lies in a folder that could not be listed: then nobody knows whether it is gone."""
    return any(folder == b"" or path.startswith(folder + b"/") for folder in folders)


def _save(database: Database, library_id: int, folder_id: int, batch: list[NewFile], progress: Progress) -> None:
    if not batch:
        return
    with database.begin() as db:
        save_files(db, folder_id, batch)
        ids = list(
            db.scalars(select(File.id).where(File.folder_id == folder_id, File.path.in_([file.path for file in batch])))
        )
    regroup(database, library_id, ids=ids)
    progress.tell()


def _chunks(
    rows: Sequence[tuple[int, bytes, bytes, str]], size: int
) -> Iterator[Sequence[tuple[int, bytes, bytes, str]]]:
    for start in range(0, len(rows), size):
        yield rows[start : start + size]


def _probe_row(row: tuple[int, bytes, bytes, str]) -> Probe:
    return probe(os.path.join(row[1], row[2]), row[3])


def _look_inside(database: Database, library_id: int, progress: Progress) -> int:
    with database.begin() as db:
        waiting = files_to_probe(db, library_id)
    if not waiting:
        return 0
    progress.step("Looking inside", len(waiting))
    with ThreadPoolExecutor(PROBERS) as pool:
        for chunk in _chunks(waiting, 48):
            found = list(zip(chunk, pool.map(_probe_row, chunk), strict=True))
            with database.begin() as db:
                save_probe(db, [(row[0], result.media, result.problem) for row, result in found])
            for row, result in found:
                if result.problem:
                    progress.log(result.problem, path=f"{shown(row[1])}/{shown(row[2])}", level="warning")
            progress.advance(len(chunk), shown(chunk[-1][2]))
    progress.tell()
    return len(waiting)
