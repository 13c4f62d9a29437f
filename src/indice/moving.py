"""Moves the data folder to another disk: copied, looked at, tried, and only then taken away where it was."""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

from .errors import IndiceError
from .held import HeldFile
from .service import running
from .settings import MOVED_TO, Settings
from .store.cluster import Cluster
from .store.database import Database

__all__ = ["move_data"]

SPARE = 1.05
_OF_THE_MOMENT = frozenset(("indice.lock", MOVED_TO))


def move_data(settings: Settings, target: Path, say: Callable[[str], None]) -> None:
    """Move the data folder; where it was, a line says where it is now, which every start follows.

    Until the copy has proved itself nothing is taken away. Raises :class:`IndiceError` when something runs, when
    there is no room, or when the copy is not what was copied.
    """
    home, target = settings.home, target.absolute()
    _must_be_possible(settings, target)
    lock = HeldFile(home / "indice.lock")
    if running(settings) is not None or not lock.take():
        raise IndiceError("Indice runs.", hint="./indice stop, then move the data folder.", reference="running")
    try:
        cluster = None if settings.database_url else Cluster(home)
        if cluster is not None:
            cluster.stop()
        target.mkdir(parents=True, exist_ok=True)
        moved = None if cluster is None else Cluster(target, account=cluster.account)
        say(f"Copying {home} to {target}")
        _copy(home, target, without=None if cluster is None else cluster.folder)
        if cluster is not None and moved is not None and cluster.data.is_dir():
            moved.folder.parent.mkdir(parents=True, exist_ok=True)
            _copy(cluster.folder, moved.folder)
            _must_be_same(cluster.folder, moved.folder)
            say("Trying the copy")
            _must_answer(replace(settings, home=target))
        _must_be_same(home, target, without=None if cluster is None else cluster.folder)
        part = home / f"{MOVED_TO}.part"
        part.write_text(f"{target}\n", "utf-8")
        os.replace(part, home / MOVED_TO)
        say("Taking away what was copied")
        _take_away(home)
        if cluster is not None and not cluster.folder.is_relative_to(home):
            shutil.rmtree(cluster.folder, ignore_errors=True)
    finally:
        lock.release()


def _must_be_possible(settings: Settings, target: Path) -> None:
    home = settings.home
    if not home.is_dir():
        raise IndiceError(f"There is no data folder at {home} yet.", hint="Set INDICE_HOME and start there.")
    if target.resolve().is_relative_to(home.resolve()) or home.resolve().is_relative_to(target.resolve()):
        raise IndiceError(f"{target} lies in the data folder, or the other way round.", hint="Choose another place.")
    if target.is_symlink() or (target.exists() and (not target.is_dir() or any(target.iterdir()))):
        raise IndiceError(f"{target} is not empty.", hint="Name a folder that is empty, or that is not there yet.")
    place = target
    while not place.exists():
        place = place.parent
    if not os.access(place, os.W_OK | os.X_OK):
        raise IndiceError(f"Nothing can be written to {place}.", hint="Give your account write access to it.")
    wanted = sum(path.lstat().st_size for path in _files(home))
    outside = Cluster(home).folder
    if not settings.database_url and not outside.is_relative_to(home):
        wanted += sum(path.lstat().st_size for path in _files(outside))
    free = shutil.disk_usage(place).free
    if free < wanted * SPARE:
        raise IndiceError(
            f"It takes {wanted / 1e9:.1f} GB, and {free / 1e9:.1f} GB are free on the disk of {place}.",
            hint="Free some space there, or clean pictures and segments first (House › Storage).",
        )


def _files(folder: Path) -> Iterator[Path]:
    for where, _, names in os.walk(folder):
        yield from (Path(where) / name for name in names)


def _copy(source: Path, target: Path, *, without: Path | None = None) -> None:
    """Copy with owners, rights and times, as only the system's own program does it whole."""
    target.mkdir(parents=True, exist_ok=True)
    names = [name for name in os.listdir(source) if name not in _OF_THE_MOMENT and source / name != without]
    if names:
        done = subprocess.run(
            ["cp", "-a", "--reflink=auto", "--", *(str(source / name) for name in names), str(target)],
            capture_output=True,
            text=True,
            check=False,
        )
        if done.returncode:
            said = done.stderr.strip().splitlines()
            raise IndiceError(
                f"The copy broke off: {said[-1] if said else 'cp failed'}.",
                hint=f"Nothing was taken away from {source}. Empty {target} before you try again.",
            )
    shutil.copystat(source, target)
    if os.geteuid() == 0:
        stat = source.stat()
        os.chown(target, stat.st_uid, stat.st_gid)


def _must_be_same(source: Path, target: Path, *, without: Path | None = None) -> None:
    for path in _files(source):
        if path.parent == source and path.name in _OF_THE_MOMENT:
            continue
        if without is not None and path.is_relative_to(without):
            continue
        copy = target / path.relative_to(source)
        if path.name in ("postmaster.opts", "server.log", "pg_internal.init") or path.is_socket():
            continue
        if not copy.is_symlink() and not copy.exists():
            raise IndiceError(f"{copy} is missing in the copy.", hint=f"Nothing was taken away from {source}.")


def _must_answer(settings: Settings) -> None:
    """The copied database starts, and holds the records of this version."""
    cluster = Cluster(settings.home)
    try:
        Database(cluster.start()).must_be_current()
    finally:
        cluster.stop()


def _take_away(home: Path) -> None:
    for path in home.iterdir():
        if path.name in _OF_THE_MOMENT:
            continue
        if path.is_dir() and not path.is_symlink():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
