"""Checks again what a change reaches, and leaves the other findings alone."""

from __future__ import annotations

import json
import os
from bisect import bisect_left
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field
from itertools import islice, takewhile

from sqlalchemy import Boolean, ColumnElement, Text, cast, delete, false, func, literal_column, or_, select
from sqlalchemy.orm import Session

from ..core.naming.checks import Hit, Listing, find_hits, settle
from ..core.naming.checks.general import is_media
from ..core.naming.checks.units import (
    OF_FOLDERS,
    alike_units,
    shell_above,
    sorted_by_what_is_below,
    unique,
    unit_of,
    with_files_of,
)
from ..core.naming.filmfolders import film_place
from ..disk.names import names_on_disk
from ..disk.walk import shown
from ..store.among import among_words
from ..store.bulk import insert_rows
from ..store.conventions import convention_of
from ..store.database import Database
from ..store.files import is_to_check, settle_stirred
from ..store.models import File, Finding, Folder, Library
from ..store.paths import ODD, exact_path, kept_path
from ..store.plans import excuses_of
from ..store.stages import CHECKED, note_done
from ..store.tallies import freshen
from .checks import check_library, rows_of
from .items import directory_of, files_by_directory, folders_on_disk, is_looked_inside, items_where

__all__ = ["check_changed"]

FEW = 2000


@dataclass(slots=True)
class _Reach:
    """The units that are looked at, and the folders of the shell whose own files are."""

    units: set[str] = field(default_factory=set)
    shells: set[str] = field(default_factory=set)

    directories: list[str] = field(default_factory=list)
    """All directories that hold files, in order …"""
    there: frozenset[str] = frozenset()
    """… the units they make …"""
    alike: list[frozenset[str]] = field(default_factory=list)
    """… those of one series each …"""
    beside: tuple[str, ...] = ()
    """… and the folders of the shell that go with the files in another."""

    def know(self, directories: Collection[str], *, has_series: bool) -> None:
        """Learn what there is, by all directories that hold files."""
        self.directories = sorted(directories)
        self.there = frozenset(unit for directory in directories if (unit := unit_of(directory)) is not None)
        self.alike = alike_units(directories) if has_series else []
        self.beside = tuple(d for d in directories if unit_of(d) is None and with_files_of(d) != d)

    def add(self, directory: str) -> None:
        unit = unit_of(directory)
        if unit is None:
            self.shells |= {directory, with_files_of(directory)}
        else:
            self.units.add(unit)
        for shell in sorted_by_what_is_below(directory):
            self.shells |= {shell, with_files_of(shell)}

    def below(self, places: Iterable[str]) -> list[str]:
        """The directories that hold files and are one of these places, or lie in one."""
        found: set[str] = set()
        for place in places:
            first = bisect_left(self.directories, place)
            inside = takewhile(lambda one, place=place: one.startswith(place), islice(self.directories, first, None))
            found.update(one for one in inside if one == place or one.startswith(f"{place}/"))
        return sorted(found)

    def above(self) -> set[str]:
        """The folders of the shell, but for the top one, that these lie in or are."""
        return {up for place in (*self.units, *self.shells) for up in shell_above(place) if up}

    def holds(self, path: str) -> bool:
        """Whether a finding's path is looked at; that of a folder ends with a slash."""
        if path.endswith("/"):
            place = _place(path)
            return unit_of(place) in self.units or place in self.shells
        directory = path.rpartition("/")[0]
        unit = unit_of(directory)
        return directory in self.shells if unit is None else unit in self.units


def _place(path: str) -> str:
    """The folder of a finding that is about one; the top one is said as `./`."""
    return "" if path == "./" else path.rstrip("/")


def check_changed(database: Database, library_id: int) -> None:
    """Check what has changed since the last time, with what that reaches; everything where it is much."""
    with database.begin() as db:
        if not is_to_check(db, library_id):
            return
        freshen(db, exactly=True)
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id)))
        in_part = all(folder.state == "present" and _check_in_part(db, library, folder) for folder in folders)
        if in_part:
            note_done(db, CHECKED, library_id)
            settle_stirred(db, library_id)
        else:
            db.rollback()
    if not in_part:
        check_library(database, library_id)


def _check_in_part(db: Session, library: Library, folder: Folder) -> bool:
    """Check what has changed in a folder; False when that is better done for all of it."""
    reach = _reached(db, library, folder)
    if reach is None:
        return False
    off = frozenset(slug for slug, loudness in library.checks.items() if loudness == "off")
    while True:
        hits = [(slug, hit) for slug, hit in _hits(db, library, folder, reach, off) if reach.holds(hit.path)]
        known = [row for row in _findings(db, folder, reach) if reach.holds(row[1])]
        names = {hit.fix for _, hit in hits if hit.fix} | {name for _, _, others in known for name in others}
        if not _take_rivals(db, folder, reach, names):
            break
        _widen(db, folder, reach)
        if _is_of_more(db, folder, reach):
            return False
    above = {up for unit in reach.units for up in shell_above(unit) if up}
    if any(slug == "kind-unexpected" for slug, _ in hits) and above:
        return False
    excused = excuses_of(db, library.id)
    found = settle(unique(hits), names_on_disk(bytes(folder.path)))
    rows = rows_of([f for f in found if (f.check, kept_path(f.path)) not in excused], library, folder.id)
    db.execute(delete(Finding).where(Finding.id.in_([id_ for id_, _, _ in known])))
    insert_rows(db, Finding, rows)
    return True


def _findings(db: Session, folder: Folder, reach: _Reach) -> list[tuple[int, str, list[str]]]:
    """Number and path of every finding that is about something here, and what other paths it is about."""
    query = select(Finding.id, Finding.path, Finding.fix, Finding.also, Finding.wanted)
    query = query.where(Finding.folder_id == folder.id)
    if "" not in reach.shells:
        names = [kept_path(f"{place}/") for place in (*reach.units, *reach.shells)]
        query = query.where(or_(false(), *(_speaks_of(name) for name in names)))
    return [
        (id_, exact_path(path), [exact_path(n) for n in (fix, wanted, *(n for m in also for n in m.values())) if n])
        for id_, path, fix, also, wanted in db.execute(query)
    ]


def _speaks_of(name: str) -> ColumnElement[bool]:
    """Whether a finding names something below a folder, in words that its indexes know."""
    past = name[:-1] + chr(ord("/") + 1)  # who is called just so is told apart later
    also = cast(Finding.also, Text).contains(_in_json(name), autoescape=True)
    return or_(
        _path.between(name, past),
        _HAS_FIX & _fix.between(name, past),
        _IS_WANTED & _wanted.between(name, past),
        literal_column("finding.also <> '[]'", Boolean) & also,
    )


_path, _fix, _wanted = (literal_column(f'(finding.{name} collate "C")', Text) for name in ("path", "fix", "wanted"))
_HAS_FIX = literal_column("finding.fix is not null", Boolean)
_IS_WANTED = literal_column("finding.wanted <> ''", Boolean)


def _take_rivals(db: Session, folder: Folder, reach: _Reach, wanted: Collection[str]) -> bool:
    """Take in findings elsewhere whose fix is one of the names that are wanted here,
    or were; returns whether there was any."""
    names = list(map(kept_path, wanted))
    query = select(Finding.path).where(
        Finding.folder_id == folder.id,
        or_(
            _HAS_FIX & among_words(_fix, names),
            _IS_WANTED & among_words(_wanted, names),
        ),
    )
    rivals = [path for path in map(exact_path, db.scalars(query)) if not reach.holds(path)]
    for path in rivals:
        reach.add(_place(path) if path.endswith("/") else path.rpartition("/")[0])
    return bool(rivals)


def _in_json(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)[:-1]


def _reached(db: Session, library: Library, folder: Folder) -> _Reach | None:
    """What is to be looked at; None when that is better everything."""
    waits = (File.folder_id == folder.id) & CHECKED.is_due()
    directories = files_by_directory(db, folder)
    total = sum(directories.values())
    count = db.scalar(select(func.count()).select_from(File).where(waits)) or 0
    if count >= total or count > max(FEW, total // 4):
        return None
    due = [directory_of(path) for path in db.scalars(select(File.path).where(waits))]
    if any(ODD in str(directory) for directory in folder.stirred):
        return None  # what is shown does not tell which folder it is
    reach = _Reach()
    for directory in {*due, *map(str, folder.stirred)}:
        reach.add(directory)
    if any(not any(d == shell or d.startswith(shell + "/") for d in directories) for shell in reach.above()):
        return None  # a folder that only sorts is left empty
    reach.know(directories, has_series=library.kind in ("series", "mixed"))
    _widen(db, folder, reach)
    return None if _is_of_more(db, folder, reach) else reach


def _is_of_more(db: Session, folder: Folder, reach: _Reach) -> bool:
    """Whether something was said of a folder that holds more than what is looked at."""
    spoken = select(Finding.id).where(
        Finding.folder_id == folder.id,
        Finding.check.in_(OF_FOLDERS),
        among_words(Finding.path, [kept_path(f"{up}/") for up in reach.above()]),
    )
    return db.scalar(spoken.limit(1)) is not None


def _widen(db: Session, folder: Folder, reach: _Reach) -> None:
    """Take in what like names and findings tie to what is looked at, until nothing is added."""
    before = 0
    while (size := len(reach.units) + len(reach.shells)) > before:
        before = size
        reach.shells |= {directory for directory in reach.beside if with_files_of(directory) in reach.shells}
        reach.units |= {unit for units in reach.alike if not reach.units.isdisjoint(units) for unit in units}
        folded = {unit.casefold() for unit in reach.units}
        reach.units |= {unit for unit in reach.there if unit.casefold() in folded}
        for _, path, others in _findings(db, folder, reach):
            paths = [path, *others]
            if any(map(reach.holds, paths)):
                for one in paths:
                    reach.add(_place(one) if one.endswith("/") else one.rpartition("/")[0])


def _hits(
    db: Session, library: Library, folder: Folder, reach: _Reach, off: frozenset[str]
) -> Iterable[tuple[str, Hit]]:
    root = bytes(folder.path)
    looked = is_looked_inside(db, folder)
    convention = convention_of(db, library.convention)
    outside = frozenset(up for place in (*reach.units, *reach.shells) for up in shell_above(place))

    def listing(of: ColumnElement[bool], folders: Collection[str], hidden: frozenset[str]) -> Listing:
        return Listing(
            library=library.kind,
            items=items_where(db, folder, of),
            folders=folders,
            looked_inside=looked,
            convention=convention,
            outside=hidden,
        )

    inside = [name for unit in reach.units for name in folders_on_disk(root, unit)]
    of_units = listing(_in_directories(reach.below(reach.units)), inside, outside)
    yield from find_hits(of_units, off=off)
    beside = [unit for unit in reach.units if os.path.isdir(os.path.join(root, os.fsencode(unit)))]
    of_shells = listing(_in_directories(reach.shells), [*beside, *reach.shells], frozenset())
    of_shells.with_films = _places_with_films(db, folder, reach)
    for slug, hit in find_hits(of_shells, off=off):
        if slug not in OF_FOLDERS or not hit.path.endswith("/"):
            yield slug, hit


def _places_with_films(db: Session, folder: Folder, reach: _Reach) -> frozenset[str]:
    """The units with films, and where films lie loose, in those folders of the shell of which
    what lies below tells whether they sort."""
    asked = {up for shell in reach.shells for up in sorted_by_what_is_below(shell)}
    if not asked:
        return frozenset()
    films = items_where(db, folder, File.kind == "movie", _in_directories(reach.below(asked)))
    places = (unit_of(item.folder) or film_place(item.folder) for item in films if is_media(item))
    return frozenset(filter(None, places))


def _in_directories(directories: Iterable[str]) -> ColumnElement[bool]:
    return among_words(File.directory, [shown(os.fsencode(directory)) for directory in directories])
