"""Checks a plain folder, without server and without database.

A drive falls apart into *units*: folders that do not only sort, each with all that lies below. Rules look at one unit at
a time but for a few, so that units are walked, read and checked by several processes, and only findings come back.
"""

from __future__ import annotations

import gc
import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import get_context

from ..core.naming.checks import (
    Finding,
    Hit,
    Item,
    Listing,
    find_hits,
    is_media,
    is_unexpected,
    series_homes,
    settle,
    split_homes,
    whole_folder_unexpected,
)
from ..core.naming.checks.units import is_shell, unique
from ..core.naming.convention import Convention, shipped
from ..core.reading.siblings import read_listing
from ..disk.names import names_on_disk
from ..disk.walk import Directory, is_closed, list_directory, walk

__all__ = ["check_folder", "list_folder"]

LOOKERS = 4
BATCH = 300
"""So many units at most are one batch of work for a process."""
_HIDDEN = (b".Trash", b"$RECYCLE.BIN", b"System Volume Information", b"lost+found", b"#recycle", b"@eaDir")
_CLOSED = "No permission to read it. Give the account that runs Indice read access."
_EMPTY = "folder-empty"
_STRANGE = "kind-unexpected"

_Slugged = tuple[str, Hit]


@dataclass(frozen=True, slots=True)
class _Task:
    """What every process needs to know."""

    root: bytes
    library: str
    look_inside: bool
    convention: Convention
    outside: frozenset[str]


@dataclass(slots=True)
class _Unit:
    """What a unit holds."""

    path: str
    media: int = 0
    strange: int = 0
    is_empty: bool = False


@dataclass(slots=True)
class _Report:
    """What a batch of units comes to."""

    hits: list[_Slugged]
    units: list[_Unit]
    homes: list[str]
    """Folders of series, for finding one series in two of them."""


def check_folder(
    root: bytes, library: str, *, look_inside: bool, convention: Convention | None = None
) -> list[Finding]:
    """Walk a folder and run the checks of a kind of library over it."""
    gc.disable()  # nothing here makes cycles, and the collector would walk a million facts again and again
    try:
        shell, units = _split(root)
        outside = frozenset(os.fsdecode(here.path) for here in shell)
        task = _Task(root, library, look_inside, convention or shipped("Roomy"), outside)
        reports = _check_units(task, units)
        hits = [hit for report in reports for hit in report.hits]
        hits += _check_shell(task, shell, units, reports)
        return settle(unique(hits), names_on_disk(root))
    finally:
        gc.enable()


def _split(root: bytes) -> tuple[list[Directory], list[bytes]]:
    """The folders of the shell, with the files that lie in them, and the units below."""
    shell: list[Directory] = []
    units: list[bytes] = []
    pending = [b""]
    while pending:
        here, below = list_directory(root, pending.pop())
        shell.append(here)
        for path in below:
            if _is_hidden(path):
                continue
            belongs = is_shell(os.fsdecode(path.rpartition(b"/")[2]))
            (pending if belongs else units).append(path)
    return shell, sorted(units)


def _check_units(task: _Task, units: Sequence[bytes]) -> list[_Report]:
    processes = min(os.cpu_count() or 1, len(units), 8)
    size = max(1, min(BATCH, len(units) // (processes * 4 or 1)))
    batches = [units[start : start + size] for start in range(0, len(units), size)]
    if processes < 2:
        return [_check_batch(task, batch) for batch in batches]
    with get_context("fork").Pool(processes) as pool:
        return pool.map(partial(_check_batch, task), batches, chunksize=1)


def _check_batch(task: _Task, units: Sequence[bytes]) -> _Report:
    walked = [[here for here in walk(task.root, below=unit) if not _is_hidden(here.path)] for unit in units]
    listing = _listing(task, [here for unit in walked for here in unit])
    hits = list(find_hits(listing))
    empty = {hit.path for slug, hit in hits if slug == _EMPTY}
    found = {os.fsdecode(unit): _Unit(os.fsdecode(unit)) for unit in units}
    for unit in found.values():
        unit.is_empty = f"{unit.path}/" in empty
    depth = {path.count("/") + 1 for path in found}
    for item in listing.items:
        if is_media(item):
            parts = item.path.split("/")
            unit = next(found[path] for level in depth if (path := "/".join(parts[:level])) in found)
            unit.media += 1
            unit.strange += is_unexpected(item, task.library)
    return _Report(hits, list(found.values()), series_homes(listing))


def _check_shell(
    task: _Task, shell: Sequence[Directory], units: Sequence[bytes], reports: Sequence[_Report]
) -> list[_Slugged]:
    """What lies in folders that only sort, and what concerns several units."""
    listing = _listing(replace(task, outside=frozenset()), shell)
    listing.folders = [*listing.folders, *(os.fsdecode(unit) for unit in units)]
    found = [(slug, hit) for slug, hit in find_hits(listing) if slug not in (_EMPTY, _STRANGE) or hit.path[-1] != "/"]
    whole: list[_Slugged] = []
    for here in sorted(shell, key=lambda here: here.path):
        folder = os.fsdecode(here.path)
        if not folder or any(hit.path.startswith(folder) for _, hit in whole):
            continue
        below = [unit for report in reports for unit in report.units if unit.path.startswith(folder + "/")]
        loose = [item for item in listing.items if item.path.startswith(folder + "/")]
        media = sum(unit.media for unit in below) + sum(map(is_media, loose))
        strange = sum(unit.strange for unit in below) + sum(is_unexpected(item, task.library) for item in loose)
        if media == strange > 1:
            paths = [
                path
                for report in reports
                for slug, hit in report.hits
                if slug == _STRANGE and hit.path.startswith(folder + "/")
                for path in (hit.also or (hit.path,))
            ]
            whole.append((_STRANGE, whole_folder_unexpected(folder, task.library, paths, loose)))
    empty = [(slug, hit) for slug, hit in find_hits(_with_stand_ins(task, shell, reports), only=frozenset((_EMPTY,)))]
    homes = sorted(home for report in reports for home in report.homes)
    return [*found, *whole, *empty, *_split_series(task, homes)]


def _with_stand_ins(task: _Task, shell: Sequence[Directory], reports: Sequence[_Report]) -> Listing:
    """The shell with one file for every unit that is not empty, for finding folders that are."""
    listing = _listing(replace(task, outside=frozenset(), look_inside=False), shell)
    units = [unit for report in reports for unit in report.units]
    full = [Item(path=f"{unit.path}/full", kind="sidecar", reading={}) for unit in units if not unit.is_empty]
    folders = [*listing.folders, *(unit.path for unit in units)]
    return Listing(library=task.library, items=[*listing.items, *full], folders=folders, closed=listing.closed)


def _split_series(task: _Task, homes: Sequence[str]) -> list[_Slugged]:
    """One series in two units: both are listed again, together, which is rare and small."""
    apart = split_homes(homes)
    if not apart:
        return []
    directories = [here for home in apart for here in walk(task.root, below=os.fsencode(home))]
    listing = _listing(replace(task, outside=frozenset(), look_inside=False), directories)
    return list(find_hits(listing, only=frozenset(("series-split",))))


def list_folder(root: bytes, library: str, *, look_inside: bool, convention: Convention | None = None) -> Listing:
    """A folder as checks and plans see it: every file with what its name states, and with its content if wanted."""
    task = _Task(root, library, look_inside, convention or shipped("Roomy"), frozenset())
    return _listing(task, [here for here in walk(root) if not _is_hidden(here.path)])


def _listing(task: _Task, directories: Sequence[Directory]) -> Listing:
    items = [item for here in directories if here.files for item in _items(task, here)]
    if task.look_inside and items:
        from .look_inside import look  # the readers of containers take half a second to load

        with ThreadPoolExecutor(LOOKERS) as pool:
            list(pool.map(partial(look, task.root), items))
    return Listing(
        library=task.library,
        items=items,
        folders=[os.fsdecode(here.path) for here in directories],
        closed={os.fsdecode(here.path): here.problem for here in directories if here.problem},
        looked_inside=task.look_inside,
        convention=task.convention,
        outside=task.outside,
    )


def _is_hidden(path: bytes) -> bool:
    return path.rpartition(b"/")[2].startswith(_HIDDEN)


def _items(task: _Task, here: Directory) -> list[Item]:
    seen = {os.fsdecode(file.path): file for file in here.files}
    items: list[Item] = []
    for path, reading in read_listing(list(seen), task.library).items():
        file = seen[path]
        closed = not file.mode & 0o004 and is_closed(os.path.join(task.root, file.path), file.mode)
        facts = {name: fact.value for name, fact in reading.facts.items()}
        items.append(
            Item(
                path=path,
                kind=reading.kind,
                reading=facts,
                size_bytes=file.size_bytes,
                problem=_CLOSED if closed else "",
            )
        )
    return items
