"""Checks a library's folder in parts, so that never more of it is in memory than some units with what lies in them."""

from __future__ import annotations

import os
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from ..core.naming.checks import Hit, Listing
from ..core.naming.checks.parts import Part, hits_of_parts, look_at_shell, look_at_units
from ..core.naming.checks.units import shell_above, unit_of, with_files_of
from ..core.naming.convention import Convention
from ..disk.walk import shown
from ..store.among import among_words
from ..store.conventions import convention_of
from ..store.models import File, Folder, Library
from .items import files_by_directory, folders_on_disk, is_looked_inside, items_where, places_of_loose_films

__all__ = ["hits_of_folder"]

FILES_OF_A_PART = 4000
"""A part holds so many, or what lies in one unit."""


@dataclass(frozen=True, slots=True)
class _Ground:
    """What every part needs to know of the folder."""

    library: Library
    folder: Folder
    convention: Convention
    looked_inside: bool
    on_disk: frozenset[str]
    """Every folder that is there."""


def hits_of_folder(db: Session, library: Library, folder: Folder, *, off: frozenset[str]) -> list[tuple[str, Hit]]:
    """All that the rules find in a folder of a library, but for those that are switched off."""
    files = files_by_directory(db, folder)
    on_disk = frozenset(folders_on_disk(bytes(folder.path)))
    ground = _Ground(library, folder, convention_of(db, library.convention), is_looked_inside(db, folder), on_disk)
    units: dict[str, list[str]] = defaultdict(list)
    shell: set[str] = {""}
    for directory in {*files, *on_disk}:
        unit = unit_of(directory)
        if unit is not None:
            units[unit].append(directory)
        shell.update(shell_above(directory))
    with_films = places_of_loose_films(db, folder, shell)

    def parts() -> Iterator[Part]:
        for some in _bunches(units, files):
            inside = [directory for unit in some for directory in units[unit]]
            outside = frozenset(up for unit in some for up in shell_above(unit))
            part = look_at_units(_listing(db, ground, inside, inside, outside), some, off=off)
            with_films.update(part.with_films)
            yield part
        beside: dict[str, list[str]] = defaultdict(list)
        for directory in shell:
            beside[with_files_of(directory)].append(directory)
        below: dict[str, list[str]] = defaultdict(list)
        for name in {*units, *shell} - {""}:
            below[name.rpartition("/")[0]].append(name)
        for some in _bunches(beside, files):
            inside = [directory for place in some for directory in beside[place]]
            names = [*inside, *(name for directory in inside for name in below[directory])]
            listing = _listing(db, ground, inside, names, frozenset())
            listing.with_films = frozenset(with_films)
            yield look_at_shell(listing, inside, off=off)

    def listing_of(folders: Sequence[str]) -> Listing:
        inside = [d for unit in map(unit_of, folders) if unit is not None for d in units[unit]]
        inside = [d for d in inside if any(d == one or d.startswith(one + "/") for one in folders)]
        return _listing(db, ground, list(dict.fromkeys(inside)), inside, frozenset())

    return hits_of_parts(library.kind, shell - {""}, units, parts(), listing_of, off=off)


def _bunches(places: Mapping[str, Iterable[str]], files: Mapping[str, int]) -> Iterator[list[str]]:
    """Places with what belongs to them, so many at a time that a part is not too large, neighbours together."""
    some: list[str] = []
    held = 0
    for place in sorted(places):
        size = sum(files.get(directory, 0) for directory in places[place])
        if some and held + size > FILES_OF_A_PART:
            yield some
            some, held = [], 0
        some.append(place)
        held += size
    if some:
        yield some


def _listing(
    db: Session, ground: _Ground, directories: Sequence[str], folders: Iterable[str], outside: frozenset[str]
) -> Listing:
    """The files that lie right in these directories, and these folders as far as they are on the disk."""
    wanted = frozenset(directories)
    names = {shown(os.fsencode(directory)) for directory in directories}
    items = items_where(db, ground.folder, among_words(File.directory, names))
    return Listing(
        library=ground.library.kind,
        items=[item for item in items if item.folder in wanted],
        folders=[folder for folder in folders if folder in ground.on_disk],
        looked_inside=ground.looked_inside,
        convention=ground.convention,
        outside=outside,
    )
