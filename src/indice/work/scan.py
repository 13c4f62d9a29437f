"""Scans a library: walk, read the names, show entries at once, then look inside, make thumbnails and check."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from sqlalchemy import select

from ..core.facts.clean import clean_value
from ..core.presence import is_away_by_loss
from ..core.reading import Correction, Reading, apply_corrections, read_listing
from ..disk.apart import probe_apart
from ..disk.probe import Probe
from ..disk.walk import Directory, Seen, is_away, shown, walk
from ..errors import IndiceError
from ..settings import Settings
from ..store.database import Database
from ..store.files import (
    Known,
    NewFile,
    files_to_probe,
    follow_renamed,
    known_files,
    lower_floor,
    mark_away,
    mark_state,
    raise_floor,
    save_files,
    save_probe,
)
from ..store.models import Folder, Library, now
from ..store.stages import CHECKED, GROUPED, READ, is_due
from ..store.taught import corrections_of
from .artwork import local_artwork
from .check_changed import check_changed
from .grouping import regroup
from .progress import Progress

__all__ = ["NOTHING_CHANGED", "new_file", "scan_library"]

_Row = tuple[int, bytes, bytes, str]
"""A file to be looked into: its id, its folder, its path, its kind."""
BATCH = 400
PROBERS = 4


def marks_of(reading: Reading) -> list[dict[str, Any]]:
    """Facts with their spans and rules, as they are kept."""
    marks = [
        {
            "field": name,
            "value": clean_value(fact.value),
            "spans": [list(span) for span in fact.spans],
            "rule": fact.rule,
        }
        for name, fact in reading.facts.items()
    ]
    return [
        *marks,
        *({"field": "", "value": None, "spans": [list(span)], "rule": "left out"} for span in reading.ignored),
    ]


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
        reading={name: clean_value(fact.value) for name, fact in reading.facts.items()},
        marks=marks_of(reading),
    )


def scan_library(database: Database, settings: Settings, library_id: int, progress: Progress) -> str:
    """Scan all folders of a library; returns what came of it, in words.

    Each stage takes up what it has not done yet, also of a scan that was broken off. Raises :class:`IndiceError` when a
    drive went away in the middle: what lies on it is away, and the rest is done all the same.
    """
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id).order_by(Folder.id)))
    totals = {"new": 0, "changed": 0, "renamed": 0, "back": 0, "missing": 0, "away": 0, "unchanged": 0}
    vanished: list[str] = []
    for folder in folders:
        if not _scan_folder(database, library, folder, progress, totals):
            vanished.append(folder.shown)
    progress.keep({_NAMED.get(name, name): count for name, count in totals.items()})
    with database.begin() as db:
        takes_long = len(files_to_probe(db, library_id)) > SOON_LOOKED_INTO
    if takes_long:
        _put_together(database, library_id, progress)
    vanished += _look_inside(database, library_id, progress)
    _put_together(database, library_id, progress)
    if not vanished:
        local_artwork(database, settings, library_id, progress)
    with database.begin() as db:
        is_to_check = is_due(db, CHECKED, library_id)
    if is_to_check:
        progress.step("Checking names")
        check_changed(database, library_id)
        progress.changed("findings")
    if vanished:
        raise IndiceError(
            f"{', '.join(vanished)} went away while it was looked at. What lies there is away; nothing is forgotten.",
            hint="Plug the drive in, or check the share, and scan again.",
            reference="drive-gone",
        )
    with database.begin() as db:
        db.get_one(Library, library_id).scanned_at = now()
    return _summary(totals)


_NAMED = {"renamed": "moved", "missing": "gone"}
"""What the command line calls some of the counts."""


def _put_together(database: Database, library_id: int, progress: Progress) -> None:
    with database.begin() as db:
        due = is_due(db, GROUPED, library_id)
    if due:
        progress.step("Putting entries together")
        regroup(database, library_id)


SOON_LOOKED_INTO = 200
"""So few files are looked into at once: entries are put together after it, and not before as well."""
SOON_SHOWN = 20
"""So few new names are shown when they have been looked into."""
NOTHING_CHANGED = "Nothing has changed."


def _summary(totals: dict[str, int]) -> str:
    words = [f"{count} {name}" for name, count in totals.items() if count and name != "unchanged"]
    return ", ".join(words) if words else NOTHING_CHANGED


def _scan_folder(
    database: Database, library: Library, folder: Folder, progress: Progress, totals: dict[str, int]
) -> bool:
    """Walk a folder and compare it with the records; False when its drive went away meanwhile."""
    progress.step("Reading names")
    root = bytes(folder.path)
    device = _device(root)
    if device is None or is_away(root):
        with database.begin() as db:
            had = len(known_files(db, folder.id))
        if had or not os.path.isdir(root):
            totals["away"] += had
            _mark_folder_away(database, folder, had, progress)
            return True
    with database.begin() as db:
        known = known_files(db, folder.id)
        corrections = corrections_of(db, folder.id)
        floor = lower_floor(db, folder.id)
    walked = _Walked(known)
    batch: list[NewFile] = []
    is_long = False
    for directory in walk(root):
        if directory.problem:
            progress.log(directory.problem, path=f"{folder.shown}/{shown(directory.path)}", level="error")
        if directory.outside:
            progress.log(
                f"{len(directory.outside)} links here lead out of the library and are not followed, "
                f"{shown(os.path.basename(directory.outside[0]))} among them.",
                path=f"{folder.shown}/{shown(directory.path)}",
                level="warning",
            )
        if walked.compare(directory):
            readings = read_listing([os.fsdecode(seen.path) for seen in directory.files], library.kind)
            batch += [new_file(seen, readings[os.fsdecode(seen.path)], corrections) for seen in directory.files]
        progress.advance(len(directory.files), shown(directory.path) or folder.shown)
        if len(batch) >= BATCH:
            _save(database, library.id, folder.id, batch, progress)
            batch, is_long = [], True
    _save(database, library.id, folder.id, batch, progress, show=is_long or len(batch) > SOON_SHOWN)
    if _device(root) != device or (is_away(root) and known):
        with database.begin() as db:
            had = len(known_files(db, folder.id))
        totals["away"] += had
        _mark_folder_away(database, folder, had, progress)
        return False
    _settle(database, folder, walked, floor, device or 0, progress, totals)
    return True


class _Walked:
    """What a walk has found so far, compared with what was known."""

    def __init__(self, known: Mapping[bytes, Known]) -> None:
        self.remaining = dict(known)
        self.total = sum(row.state != "missing" for row in known.values())
        self._beside = Counter(os.path.dirname(path) for path, row in known.items() if row.state == "present")
        self.returned: list[int] = []
        self.unreadable: list[bytes] = []
        self.new = self.changed = self.unchanged = 0

    def compare(self, directory: Directory) -> bool:
        """Take a directory in; returns whether its names must be read, all of them, since each is read beside the others."""
        if directory.problem:
            self.unreadable.append(directory.path)
        touched, present = False, 0
        for seen in directory.files:
            before = self.remaining.pop(seen.path, None)
            if before is None:
                self.new += 1
            elif (before.size_bytes, before.mtime_ns) != (seen.size_bytes, seen.mtime_ns):
                self.changed += 1
            else:
                present += before.state == "present"
                self.unchanged += before.state == "present"
                if before.state != "present":
                    self.returned.append(before.id)
                touched = touched or before.state != "present" or before.read_by != READ.version
                continue
            present += before is not None and before.state == "present"
            touched = True
        return touched or (not directory.problem and present != self._beside[directory.path])


def _settle(
    database: Database,
    folder: Folder,
    walked: _Walked,
    floor: int,
    device: int,
    progress: Progress,
    totals: dict[str, int],
) -> None:
    """The walk is through: what was not found is renamed, gone or away."""
    lost = {path: row for path, row in walked.remaining.items() if row.state != "missing"}
    with database.begin() as db:
        renamed = follow_renamed(db, folder.id, lost.values(), floor)
        hidden = [row.id for path, row in lost.items() if row.id not in renamed and _below(path, walked.unreadable)]
        gone = [row.id for path, row in lost.items() if row.id not in renamed and not _below(path, walked.unreadable)]
        here = db.get_one(Folder, folder.id)
        away = is_away_by_loss(walked.total, len(gone), same_device=here.device in (None, device))
        mark_state(db, hidden, "away")
        mark_state(db, gone, "away" if away else "missing")
        mark_state(db, walked.returned, "present")
        here.state = "present"
        here.problem = _problem(len(gone) if away else 0, len(walked.unreadable))
        if not away:
            raise_floor(db, here, device)
    if away:
        progress.log(here.problem, path=folder.shown, level="warning")
    was_there = sum(row.state == "present" for row in lost.values() if row.id in {*gone, *hidden})
    totals["away"] += (was_there if away else 0) + (0 if away else len(hidden))
    totals["missing"] += 0 if away else len(gone)
    totals["renamed"] += len(renamed)
    totals["new"] += walked.new - len(renamed)
    totals["changed"] += walked.changed
    totals["back"] += len(walked.returned)
    totals["unchanged"] += walked.unchanged


def _problem(away: int, unreadable: int) -> str:
    if away:
        return (
            f"{away} files are not there, more than half of all. Is a drive or a share missing? They are away until it "
            "is back, or until you say that they are gone."
        )
    return f"{unreadable} folders could not be read in full; the job's log names them." if unreadable else ""


def _device(root: bytes) -> int | None:
    """The disk that a folder lies on; None when it is not there."""
    try:
        return os.stat(root).st_dev
    except OSError:
        return None


def _mark_folder_away(database: Database, folder: Folder, had: int, progress: Progress) -> None:
    with database.begin() as db:
        here = db.get_one(Folder, folder.id)
        mark_away(db, here)
        here.problem = "The folder is not there. Plug the drive in, or check the share; nothing is forgotten."
    progress.log(
        f"{folder.shown} is not there. Its {had} files are away; nothing is forgotten.",
        path=folder.shown,
        level="warning",
    )


def _below(path: bytes, folders: Sequence[bytes]) -> bool:
    """Whether a path lies in a folder that could not be listed: then nobody knows whether it is gone."""
    return any(folder == b"" or path.startswith(folder + b"/") for folder in folders)


def _save(
    database: Database, library_id: int, folder_id: int, batch: list[NewFile], progress: Progress, *, show: bool = True
) -> None:
    """Record a batch of names, and show its entries at once where the scan goes on for long."""
    if not batch:
        return
    with database.begin() as db:
        ids = save_files(db, folder_id, batch)
    if show:
        regroup(database, library_id, ids=ids)
        progress.tell()


def _look_inside(database: Database, library_id: int, progress: Progress) -> list[str]:
    """Look into all files that nobody has looked into; returns the folders whose drive went away meanwhile."""
    with database.begin() as db:
        waiting = files_to_probe(db, library_id)
        folders = {bytes(f.path): f for f in db.scalars(select(Folder).where(Folder.library_id == library_id))}
    if not waiting:
        return []
    progress.step("Looking inside", len(waiting))
    devices = {root: _device(root) for root in folders}
    vanished: list[bytes] = []
    with ThreadPoolExecutor(PROBERS) as pool:
        for chunk in (waiting[start : start + 48] for start in range(0, len(waiting), 48)):
            wanted = [row for row in chunk if row[1] not in vanished]
            found = list(zip(wanted, pool.map(_probe_row, wanted), strict=True))
            for root in {row[1] for row, result in found if result.out_of_reach} - {*vanished}:
                if is_away(root) or _device(root) != devices[root]:
                    vanished.append(root)
                    with database.begin() as db:
                        had = len(known_files(db, folders[root].id))
                    _mark_folder_away(database, folders[root], had, progress)
            found = [(row, result) for row, result in found if row[1] not in vanished]
            _save_probes(database, found, progress)
            progress.advance(len(chunk), shown(chunk[-1][2]))
    progress.tell()
    return [folders[root].shown for root in vanished]


def _save_probes(database: Database, found: Sequence[tuple[_Row, Probe]], progress: Progress) -> None:
    with database.begin() as db:
        save_probe(
            db,
            [
                (row[0], None if result.out_of_reach else result.media, "" if result.is_missing else result.problem)
                for row, result in found
            ],
        )
    said = [(result.problem, f"{shown(row[1])}/{shown(row[2])}") for row, result in found if result.problem]
    progress.log_all(said, level="warning")


def _probe_row(row: _Row) -> Probe:
    return probe_apart(os.path.join(row[1], row[2]), row[3])
