"""A library's records as checks and plans see them."""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from typing import Any

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session, defer

from ..core.naming.checks import Item, Listing
from ..core.naming.checks.units import shell_above, unit_of, with_files_of
from ..core.naming.filmfolders import film_place
from ..disk.walk import shown
from ..store.among import among_words
from ..store.catalog import facts_for_names
from ..store.conventions import convention_of
from ..store.models import File, Folder, Library
from ..store.paths import ODD
from ..store.tallies import files_of_directories

__all__ = [
    "directory_of",
    "files_by_directory",
    "folders_on_disk",
    "is_looked_inside",
    "items_where",
    "listing_around",
    "listing_of",
]


def _item_of(file: File, known: Mapping[str, Any] | None = None) -> Item:
    """A record as checks see it; `known` is what the catalog says of it."""
    media = file.media or {}
    looked = file.media is not None
    moment = media.get("taken")
    return Item(
        path=os.fsdecode(bytes(file.path)),
        kind=file.kind,
        reading=file.reading,
        size_bytes=file.size_bytes,
        tags=media.get("tags") if looked else None,
        has_picture=media.get("has_picture") if looked else None,
        taken=moment,
        original=media.get("original") or (moment if file.kind == "clip" else None),
        wrong_format=tuple(media["wrong_format"]) if media.get("wrong_format") else None,
        problem=file.problem if file.problem.startswith("No permission") else "",
        known=known or {},
    )


def items_where(db: Session, folder: Folder, *where: ColumnElement[bool]) -> list[Item]:
    """The files of a library's folder that are not missing; `where` says which."""
    query = select(File).where(File.folder_id == folder.id, File.state != "missing", *where)
    items: list[Item] = []
    same: dict[str, str] = {}
    for files in db.scalars(query.options(defer(File.marks)).execution_options(yield_per=5000)).partitions():
        known = facts_for_names(db, files)
        for file in files:
            item = _item_of(file, known.get(file.entry_id or 0))
            item.reading, item.folder = _told_once(file.reading, same), same.setdefault(item.folder, item.folder)
            items.append(item)
    return items


def is_looked_inside(db: Session, folder: Folder) -> bool:
    """Whether any file of a library's folder was looked into."""
    looked = select(File.id).where(File.folder_id == folder.id, File.media.is_not(None)).limit(1)
    return db.scalar(looked) is not None


def listing_of(db: Session, library: Library, folder: Folder) -> Listing:
    """A library's folder as plans see it. Folders that hold no file are looked for on the disk."""
    return Listing(
        library=library.kind,
        items=items_where(db, folder),
        folders=folders_on_disk(bytes(folder.path)),
        looked_inside=is_looked_inside(db, folder),
        convention=convention_of(db, library.convention),
    )


def listing_around(db: Session, library: Library, folder: Folder, place: str) -> Listing:
    """The part of a library's folder that tells how the files at a place should be
    called: what lies there, whole units."""
    root = bytes(folder.path)
    unit = {directory: unit_of(directory) for directory in files_by_directory(db, folder)}
    holder = place.rpartition("/")[0]
    inside = {d for d in unit if d in (place, holder) or d.startswith(f"{place}/")}
    units = {own for d in inside if (own := unit[d]) is not None}
    shells = {shell for d in inside if unit[d] is None for shell in (d, with_files_of(d))}
    near = [d for d, own in unit.items() if own in units or (own is None and with_files_of(d) in shells)]
    return Listing(
        library=library.kind,
        items=items_where(db, folder, among_words(File.directory, [shown(os.fsencode(d)) for d in near])),
        folders=[name for own in units for name in folders_on_disk(root, own)],
        looked_inside=is_looked_inside(db, folder),
        convention=convention_of(db, library.convention),
        outside=frozenset(up for d in near for up in shell_above(d)),
    )


def _told_once(reading: Mapping[str, Any], same: dict[str, str]) -> dict[str, Any]:
    """A reading that shares its names of fields, and its texts, with those before: most say the same."""
    return {
        same.setdefault(name, name): same.setdefault(value, value) if isinstance(value, str) else value
        for name, value in reading.items()
    }


def files_by_directory(db: Session, folder: Folder) -> dict[str, int]:
    """Every directory that holds files, and how many, as last counted."""
    counted = files_of_directories(db, folder.id)
    found = {name: count for name, count in counted.items() if ODD not in name}
    odd = among_words(File.directory, [name for name in counted if ODD in name])
    for path in db.scalars(select(File.path).where(File.folder_id == folder.id, File.state != "missing", odd)):
        directory = directory_of(path)
        found[directory] = found.get(directory, 0) + 1
    return found


def places_of_loose_films(db: Session, folder: Folder, directories: Iterable[str]) -> set[str]:
    """Those of the directories, but the root, that films lie in or count for (see :func:`.film_place`)."""
    named = among_words(File.directory, [shown(os.fsencode(directory)) for directory in directories])
    paths = db.scalars(
        select(File.path)
        .distinct(File.directory)
        .where(File.folder_id == folder.id, File.state != "missing", File.kind == "movie", named)
    )
    return {place for path in paths if (place := film_place(directory_of(path)))}


def directory_of(path: bytes) -> str:
    """The directory of a path as the disk has it."""
    return os.fsdecode(os.path.dirname(bytes(path)))


def folders_on_disk(root: bytes, below: str = "") -> list[str]:
    """Every folder below one of a library's folders, the one that it begins with among them, but for hidden ones."""
    start = os.path.join(root, os.fsencode(below)) if below else root
    found = [below] if below and os.path.isdir(start) else []
    for place, names, _ in os.walk(start):
        names[:] = [name for name in names if not name.startswith(b".")]
        found += [os.fsdecode(os.path.relpath(os.path.join(place, name), root)) for name in names]
    return found
