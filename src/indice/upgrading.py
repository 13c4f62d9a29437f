"""Brings the records to the version of the program, with a way back: what was
before is kept, and put back when it fails."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, text

from .errors import IndiceError
from .service import running
from .settings import Settings
from .store.cluster import Cluster
from .store.database import Database, head_version, version_of

__all__ = ["KEPT", "upgrade"]

KEPT = 3
"""So many of the states before an upgrade are kept."""


def upgrade(settings: Settings, say: Callable[[str], None]) -> None:
    """Keep the records as they are, bring them to this version, and look whether all are there.

    Raises :class:`IndiceError` when something runs, or when it failed; then the records are as they were.
    """
    if running(settings) is not None:
        raise IndiceError("Indice runs.", hint="./indice stop, then ./indice upgrade.", reference="running")
    cluster = None if settings.database_url else Cluster(settings.home)
    was_running = cluster is not None and cluster.is_running()
    database = Database(settings.database_url if cluster is None else cluster.start())
    try:
        before = version_of(database)
        if before is None or before == head_version():
            say(f"The records are of this version ({head_version()}).")
            return
        kept = _keep(database, settings.home, before)
        say(f"What was before is kept: {kept}")
        counts = _counts(database.engine)
        try:
            database.migrate()
            _must_hold(counts, _counts(database.engine))
        except Exception as error:
            say("It failed; putting back what was before.")
            database.engine.dispose()
            _put_back(database, kept)
            said = (
                error.message if isinstance(error, IndiceError) else f"{type(error).__name__}: {error}".splitlines()[0]
            )
            raise IndiceError(
                f"The records could not be brought from {before} to {head_version()}: {said}",
                hint="They are as they were. Take the program of before until this one is mended.",
            ) from error
        say(f"The records went from {before} to {head_version()}.")
        _forget_old(settings.home)
    finally:
        database.engine.dispose()
        if cluster is not None and not was_running:
            cluster.stop()


def _folder(home: Path) -> Path:
    return home / "before-upgrades"


def _program(name: str) -> str:
    return Cluster(Path("/nonexistent")).binary(name)


def _keep(database: Database, home: Path, version: str) -> Path:
    """The whole database as PostgreSQL itself writes it down."""
    folder = _folder(home)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    target = folder / f"{version}-{datetime.now(UTC):%Y%m%d%H%M%S}.dump"
    part = target.with_suffix(".part")
    done = _run([_program("pg_dump"), "--format=custom", f"--file={part}", database.plain_url])
    if done.returncode:
        part.unlink(missing_ok=True)
        raise IndiceError(f"What is there could not be kept: {_last(done)}", hint="Nothing was changed. Is there room?")
    os.replace(part, target)
    return target


def _put_back(database: Database, kept: Path) -> None:
    with database.engine.begin() as link:
        link.execute(text("drop schema public cascade"))
        link.execute(text("create schema public"))
    done = _run([_program("pg_restore"), "--no-owner", f"--dbname={database.plain_url}", str(kept)])
    if done.returncode and "errors ignored" not in done.stderr:
        raise IndiceError(f"What was before could not be put back: {_last(done)}", hint=f"It is kept in {kept}.")


def _run(command: list[str]) -> subprocess.CompletedProcess[str]:
    return subprocess.run(command, capture_output=True, text=True, check=False)


def _last(done: subprocess.CompletedProcess[str]) -> str:
    return (done.stderr.strip().splitlines() or ["nobody says why"])[-1]


_COUNTED = ("library", "folder", "file", "entry", "fact", "decision", "person", "mark", "playlist")
"""What an upgrade loses none of."""


def _counts(engine: Engine) -> dict[str, int]:
    with engine.connect() as link:
        there = {name for name in _COUNTED if link.execute(text(f"select to_regclass('{name}')")).scalar() is not None}
        return {name: int(link.execute(text(f'select count(*) from "{name}"')).scalar() or 0) for name in sorted(there)}


def _must_hold(before: dict[str, int], after: dict[str, int]) -> None:
    lost = [name for name, count in before.items() if after.get(name, 0) < count]
    if lost:
        raise IndiceError(f"{', '.join(lost)} would have lost rows.")


def _forget_old(home: Path) -> None:
    for old in sorted(_folder(home).glob("*.dump"), key=lambda path: path.stat().st_mtime)[:-KEPT]:
        old.unlink(missing_ok=True)
