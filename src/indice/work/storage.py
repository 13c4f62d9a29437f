"""What Indice keeps takes how much, and where it lies; what can be made again is
cleaned, and little room is said early."""

from __future__ import annotations

import os
import re
import shutil
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import select, text

from ..disk.walk import BIN
from ..settings import Settings
from ..store.catalog import pictures_known
from ..store.database import Database
from ..store.gone import pictures_put_aside
from ..store.models import Folder
from .backup import kept_backups

__all__ = ["LITTLE_BYTES", "Disk", "Held", "clean_pictures", "clean_segments", "disks_of", "held_by", "is_low"]

LITTLE_BYTES = 2_000_000_000
"""With less room on the disk of the data folder a person is told: the database needs some to work at all."""
SAMPLED = 16
"""Of the 256 folders of pictures, whose names are digests, so many are counted: they are alike."""
_PICTURE = re.compile(r"([0-9a-f]{32})-[0-9]+\.webp")
YOUNG_SECONDS = 24 * 3600.0
"""What was made lately may not stand in the records yet."""


@dataclass(frozen=True, slots=True)
class Held:
    """Something that is kept."""

    what: str
    """`database`, `pictures`, `segments`, `logs`, `journal`, `backups`, `bins`."""
    path: str
    size_bytes: int
    is_about: bool = False
    limit_bytes: int | None = None


@dataclass(frozen=True, slots=True)
class Disk:
    """A disk that something of Indice lies on."""

    path: str
    free_bytes: int
    total_bytes: int
    holds: tuple[str, ...]
    """`data`, `backups`, `library`."""


def held_by(database: Database, settings: Settings) -> list[Held]:
    """What is kept, the largest first."""
    home = settings.home
    with database.begin() as db:
        size = int(db.scalar(text("select pg_database_size(current_database())")) or 0)
    pictures, is_about = _pictures(home / "thumbnails")
    found = [
        Held("database", settings.database_url.rpartition("@")[2] or str(home / "database"), size),
        Held("pictures", str(home / "thumbnails"), pictures, is_about),
        Held("segments", str(home / "segments"), _below(home / "segments"), False, settings.segment_cache_mb * 10**6),
        Held("logs", str(home / "logs"), _below(home / "logs")),
        Held("journal", str(home / "journal"), _below(home / "journal")),
    ]
    if settings.backup_folder:
        folder = Path(settings.backup_folder)
        found.append(Held("backups", str(folder), sum(file.stat().st_size for file in kept_backups(folder))))
    found += bins_of(database)
    return sorted(found, key=lambda one: -one.size_bytes)


def bins_of(database: Database) -> list[Held]:
    """What was put aside in the folders of libraries, where something was."""
    with database.begin() as db:
        roots = list(db.scalars(select(Folder.path).order_by(Folder.id)))
    places = [os.fsdecode(os.path.join(root, BIN)) for root in roots]
    return [Held("bins", place, size) for place in places if (size := _below(Path(place)))]


def disks_of(database: Database, settings: Settings) -> list[Disk]:
    """The disks that the data folder, backups and libraries lie on, each once."""
    with database.begin() as db:
        roots = [os.fsdecode(bytes(path)) for path in db.scalars(select(Folder.path).order_by(Folder.id))]
    places = [("data", str(settings.home)), *(("library", root) for root in roots)]
    if settings.backup_folder:
        places.insert(1, ("backups", settings.backup_folder))
    found: dict[int, tuple[str, set[str]]] = {}
    for what, path in places:
        try:
            device = os.stat(path).st_dev
        except OSError:
            continue
        found.setdefault(device, (path, set()))[1].add(what)
    disks: list[Disk] = []
    for path, holds in found.values():
        usage = shutil.disk_usage(path)
        disks.append(Disk(path, usage.free, usage.total, tuple(sorted(holds))))
    return disks


def is_low(settings: Settings) -> int | None:
    """Bytes that are free on the disk of the data folder, where they are few; else None."""
    try:
        free = shutil.disk_usage(settings.home).free
    except OSError:
        return None
    return free if free < LITTLE_BYTES else None


def clean_segments(settings: Settings) -> int:
    """Remove converted segments; who watches gets theirs anew. Returns the bytes that are free again."""
    freed = 0
    for file in _files(settings.home / "segments"):
        if file.name.endswith((".m4s", ".mp4", ".vtt", ".webp")):
            freed += _remove(file)
    return freed


def clean_pictures(database: Database, settings: Settings) -> int:
    """Remove pictures that nothing in the records shows any more; returns the bytes that are free again."""
    root, freed = settings.home / "thumbnails", 0
    before = time.time() - YOUNG_SECONDS
    with database.begin() as db:
        kept = pictures_put_aside(db)
    for folder in sorted(root.glob("??")):
        files = [(match[1], path) for path in folder.iterdir() if (match := _PICTURE.fullmatch(path.name))]
        digests = {digest for digest, _ in files}
        with database.begin() as db:
            known = kept | pictures_known(db, digests)
        for digest, path in files:
            if digest not in known and path.stat().st_mtime < before:
                freed += _remove(path)
    return freed


def _remove(path: Path) -> int:
    try:
        size = path.stat().st_size
        path.unlink()
    except OSError:
        return 0
    return size


def _files(folder: Path) -> Iterator[Path]:
    for where, _, names in os.walk(folder):
        yield from (Path(where) / name for name in names)


def _below(folder: Path) -> int:
    total = 0
    for file in _files(folder):
        try:
            total += file.lstat().st_size
        except OSError:
            continue
    return total


def _pictures(root: Path) -> tuple[int, bool]:
    """Bytes of all pictures, and whether that is an estimate."""
    folders = sorted(root.glob("??"))
    chosen = folders if len(folders) <= SAMPLED else folders[:: len(folders) // SAMPLED]
    counted = sum(_below(folder) for folder in chosen)
    if len(chosen) == len(folders):
        return counted, False
    return counted * len(folders) // len(chosen), True
