"""Checks a plain folder, without server and without database."""

from __future__ import annotations

import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from multiprocessing import get_context
from typing import Any

from ..core.naming.checks import Finding, Item, Listing, run_checks
from ..core.naming.convention import Convention, shipped
from ..core.reading import read_listing
from ..disk.probe import probe, xmp_moment
from ..disk.sniff import wrong_format
from ..disk.walk import Directory, is_closed, walk

__all__ = ["check_folder", "list_folder", "look"]

MANY = 4000
"""From so many files on, names are read by several processes."""
CHUNK = 1500
LOOKERS = 4
_HIDDEN = (b".Trash", b"$RECYCLE.BIN", b"System Volume Information", b"lost+found", b"#recycle", b"@eaDir")
_CLOSED = "No permission to read it. Give the account that runs Indice read access."

_Read = list[tuple[str, str, dict[str, Any]]]
"""Path, kind and facts of each file of a chunk."""


def check_folder(
    root: bytes, library: str, *, look_inside: bool, convention: Convention | None = None
) -> list[Finding]:
    """Walk a folder and run the checks of a kind of library over it."""
    return run_checks(list_folder(root, library, look_inside=look_inside, convention=convention))


def list_folder(root: bytes, library: str, *, look_inside: bool, convention: Convention | None = None) -> Listing:
    """A folder as checks and plans see it: every file with what its name states, and with its content if wanted."""
    directories = [here for here in walk(root) if not _is_hidden(here.path)]
    items = _items(root, directories, library)
    if look_inside:
        sidecars = {item.path for item in items if item.path.lower().endswith(".xmp")}
        with ThreadPoolExecutor(LOOKERS) as pool:
            list(pool.map(partial(look, root, sidecars=sidecars), items))
    return Listing(
        library=library,
        items=items,
        folders=[os.fsdecode(here.path) for here in directories],
        closed={os.fsdecode(here.path): here.problem for here in directories if here.problem},
        looked_inside=look_inside,
        convention=convention or shipped("Roomy"),
    )


def _is_hidden(path: bytes) -> bool:
    return any(part.startswith(_HIDDEN) for part in path.split(b"/"))


def _items(root: bytes, directories: Sequence[Directory], library: str) -> list[Item]:
    chunks: list[list[list[str]]] = [[]]
    size = 0
    for here in directories:
        if not here.files:
            continue
        chunks[-1].append([os.fsdecode(seen.path) for seen in here.files])
        size += len(here.files)
        if size >= CHUNK:
            chunks.append([])
            size = 0
    sizes = {os.fsdecode(seen.path): seen for here in directories for seen in here.files}
    if len(sizes) < MANY:
        read = [_read_chunk((chunk, library)) for chunk in chunks]
    else:
        with get_context("fork").Pool(min(os.cpu_count() or 1, 8)) as pool:
            read = pool.map(_read_chunk, [(chunk, library) for chunk in chunks], chunksize=1)
    items: list[Item] = []
    for path, kind, facts in (row for chunk in read for row in chunk):
        seen = sizes[path]
        closed = not seen.mode & 0o004 and is_closed(os.path.join(root, seen.path), seen.mode)
        items.append(
            Item(path=path, kind=kind, reading=facts, size_bytes=seen.size_bytes, problem=_CLOSED if closed else "")
        )
    return items


def _read_chunk(task: tuple[list[list[str]], str]) -> _Read:
    folders, library = task
    return [
        (path, reading.kind, {name: fact.value for name, fact in reading.facts.items()})
        for names in folders
        for path, reading in read_listing(names, library).items()
    ]


def look(root: bytes, item: Item, sidecars: set[str]) -> None:
    """Fill in what stands inside a file: format, tags, picture, moment."""
    path = os.path.join(root, os.fsencode(item.path))
    if item.size_bytes == 0 or item.problem:
        return
    try:
        item.wrong_format = wrong_format(path)
    except OSError:
        item.problem = _CLOSED
        return
    if item.wrong_format is not None:
        return
    if item.kind == "track":
        media = probe(path, "track").media
        item.tags, item.has_picture = media.get("tags"), media.get("has_picture")
    elif item.kind in ("photo", "clip"):
        media = probe(path, item.kind).media
        item.original = media.get("original") or (media.get("taken") if item.kind == "clip" else None)
        item.taken = media.get("taken") or _sidecar_moment(root, item, sidecars)


def _sidecar_moment(root: bytes, item: Item, sidecars: set[str]) -> str | None:
    stem = item.path[: len(item.path) - len(item.extension) - 1]
    for name in (f"{item.path}.xmp", f"{stem}.xmp", f"{item.path}.XMP", f"{stem}.XMP"):
        if name in sidecars:
            return xmp_moment(os.path.join(root, os.fsencode(name)))
    return None
