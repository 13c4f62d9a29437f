"""Checks a plain folder, without server and without database.

A drive falls apart into *units*: folders that do not only sort, each with all that lies below. Rules look at one unit
at a time but for a few, so that units are walked, read and checked by several processes, and only findings come back.
"""

from __future__ import annotations

import gc
import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import get_context

from ..core.naming.checks import Finding, Item, Listing, settle
from ..core.naming.checks.parts import Part, hits_of_parts, look_at_shell, look_at_units
from ..core.naming.checks.units import is_shell
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


@dataclass(frozen=True, slots=True)
class _Task:
    """What every process needs to know."""

    root: bytes
    library: str
    look_inside: bool
    convention: Convention
    outside: frozenset[str]


def check_folder(
    root: bytes, library: str, *, look_inside: bool, convention: Convention | None = None
) -> list[Finding]:
    """Walk a folder and run the checks of a kind of library over it."""
    gc.disable()  # nothing here makes cycles, and the collector would walk a million facts again and again
    try:
        shell, units = _split(root)
        outside = frozenset(os.fsdecode(here.path) for here in shell)
        task = _Task(root, library, look_inside, convention or shipped("Roomy"), outside)
        parts = _check_units(task, units)
        above = _listing(replace(task, outside=frozenset()), shell)
        above.folders = [*above.folders, *map(os.fsdecode, units)]
        above.with_films = frozenset(unit for part in parts for unit in part.with_films)
        parts.append(look_at_shell(above, outside))
        hits = hits_of_parts(library, outside, list(map(os.fsdecode, units)), parts, partial(_listing_of, task))
        return list(settle(hits, names_on_disk(root)))
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


def _check_units(task: _Task, units: Sequence[bytes]) -> list[Part]:
    processes = min(os.cpu_count() or 1, len(units), 8)
    size = max(1, min(BATCH, len(units) // (processes * 4 or 1)))
    batches = [units[start : start + size] for start in range(0, len(units), size)]
    if processes < 2:
        return [_check_batch(task, batch) for batch in batches]
    with get_context("fork").Pool(processes) as pool:
        return pool.map(partial(_check_batch, task), batches, chunksize=1)


def _check_batch(task: _Task, units: Sequence[bytes]) -> Part:
    walked = [here for unit in units for here in walk(task.root, below=unit) if not _is_hidden(here.path)]
    return look_at_units(_listing(task, walked), list(map(os.fsdecode, units)))


def _listing_of(task: _Task, folders: Sequence[str]) -> Listing:
    """Folders with all below, listed again to be looked at together, which is rare and small."""
    directories = [here for folder in folders for here in walk(task.root, below=os.fsencode(folder))]
    return _listing(replace(task, outside=frozenset(), look_inside=False), directories)


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
