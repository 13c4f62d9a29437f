"""What is installed, reachable, readable, and how much space is free, each with what to do."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import select

from .disk.hardware import working_encoder
from .disk.trial import NAME_BYTES, try_folder
from .errors import IndiceError
from .settings import Settings
from .store.cluster import Cluster
from .store.database import Database
from .store.models import Folder, Source

__all__ = ["Diagnosis", "examine"]

LITTLE_SPACE = 2_000_000_000


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """One thing that was looked at."""

    what: str
    state: str
    fine: bool
    remedy: str = ""


def _encoder(settings: Settings) -> Iterator[Diagnosis]:
    if settings.hardware == "off":
        yield Diagnosis("encoder", "in software; those of the machine are switched off", True)
        return
    found = working_encoder()
    yield Diagnosis(
        "encoder", f"{found.codec} of the machine works" if found else "in software; the machine has none", True
    )


def examine(settings: Settings) -> Iterator[Diagnosis]:
    """Look at everything, one thing after the other."""
    yield _database_program(settings)
    ffmpeg = shutil.which("ffmpeg")
    yield Diagnosis("ffmpeg", ffmpeg or "not installed", ffmpeg is not None, "As root: apt-get install ffmpeg")
    yield from _encoder(settings)
    yield from _space(settings.home)
    cluster = Cluster(settings.home)
    if not settings.database_url and not cluster.is_running():
        yield Diagnosis("database", "not running; it starts with Indice", True)
        return
    try:
        database = Database(settings.database_url or cluster.url)
        with database.begin() as db:
            folders = list(db.scalars(select(Folder).order_by(Folder.id)))
            sources = list(db.scalars(select(Source).order_by(Source.id)))
        yield Diagnosis("database", "answers", True)
    except (IndiceError, OSError, Exception) as error:
        yield Diagnosis(
            "database", f"does not answer ({type(error).__name__})", False, "Try `./indice stop`, then start again."
        )
        return
    for folder in folders:
        yield from _folder(folder.shown, bytes(folder.path))
    for source in sources:
        yield Diagnosis(
            f"source {source.name}",
            source.problem or source.url,
            not source.problem,
            f"Try ./indice source test {source.name}",
        )


_REMEDIES = {
    "not-there": "Plug the drive in, or mount the share.",
    "no-permission": "Give the account that runs Indice access to it.",
    "read-only": "It is mounted read-only: names cannot be mended there. Mount it writable if they should be.",
    "full": "Free some space there.",
    "mount-gone": "The share does not answer. Is the other machine on? Mount it again.",
    "credentials": "The other machine does not take the name or the password. Mount it with the right ones.",
    "slow": "It takes long to list. Is the other machine asleep, or the line bad?",
}


def _folder(shown: str, path: bytes) -> Iterator[Diagnosis]:
    """What a folder is like: mounted how, what can be done in it, which names it takes."""
    found = try_folder(path)
    said = ["reads" if found.reads else "cannot be read"]
    if found.reads:
        said.append("writes" if found.writes else "cannot be written to")
    if found.writes:
        said.append("renames" if found.renames else "does not rename")
        said += [] if found.tells_case else ["A and a are one name"]
        said += [] if found.name_bytes == NAME_BYTES else [f"names of {found.name_bytes} bytes at most"]
        said += [] if found.takes_colons else ['no : " ? in names']
    if found.mount is not None and (found.mount.is_share or found.mount.is_foreign):
        said.append(f"{found.mount.kind}, {found.mount.source}")
    yield Diagnosis(
        f"folder {shown}",
        ", ".join(said),
        found.reads and found.problem in ("", "read-only"),
        _REMEDIES.get(found.problem, f"The system says: {found.problem}.") if found.problem else "",
    )


def _database_program(settings: Settings) -> Diagnosis:
    if settings.database_url:
        return Diagnosis("PostgreSQL", "another server is used (INDICE_DATABASE_URL)", True)
    try:
        return Diagnosis("PostgreSQL", Cluster(settings.home).binary("postgres"), True)
    except IndiceError as error:
        return Diagnosis("PostgreSQL", error.message, False, error.hint)


def _space(home: Path) -> Iterator[Diagnosis]:
    place = home
    while not place.exists():
        place = place.parent
    free = shutil.disk_usage(place).free
    yield Diagnosis(
        "data folder",
        f"{home}, {'writable' if os.access(place, os.W_OK) else 'not writable'}",
        os.access(place, os.W_OK),
        f"Give your account write access to {place}.",
    )
    yield Diagnosis(
        "free space", f"{free / 1e9:.1f} GB", free > LITTLE_SPACE, f"Free some space on the disk of {place}."
    )
