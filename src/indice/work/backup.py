"""Backup and restore: one archive that holds all records and what people chose by hand. Its form: `docs/backup.md`."""

from __future__ import annotations

import hashlib
import io
import json
import os
import re
import shutil
import tomllib
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import select, text
from sqlalchemy.exc import SQLAlchemyError

from ..core.phrase import phrase
from ..disk.thumbnails import SIZES, thumbnail_path
from ..errors import IndiceError
from ..settings import Settings
from ..store.cast import even_cast
from ..store.cluster import Cluster
from ..store.database import Database
from ..store.models import Artwork
from ..store.records import KEPT, is_empty, read_records, settle_numbers, settle_parents, write_records

__all__ = ["back_up", "is_backup_due", "kept_backups", "restore", "scheduled_backup"]

FORMAT = 1
AT_ONCE = 2000
LONGEST_LINE = 64 << 20
_JOURNAL = re.compile(r"journal/[0-9A-Za-z_-]{1,80}\.jsonl")
_PICTURE = re.compile(r"pictures/([0-9a-f]{32})-([0-9]{2,4})\.webp")
_RECORDS = re.compile(r"records/([a-z_]{1,40})\.jsonl")


def back_up(database: Database, settings: Settings, target: Path) -> int:
    """Write an archive of all records, journals, settings and pictures chosen by hand; returns its size in bytes.

    It is written beside its place and moved there when it is whole; only its owner may read it, since it holds the
    keys of sources and the fingerprints of passwords. Raises :class:`IndiceError` when it cannot be written.
    """
    target = target.absolute()
    part = target.with_name(f".{target.name}.{os.getpid()}.part")
    try:
        part.touch(mode=0o600)
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
            _fill(archive, database, settings)
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.replace(target)
        return target.stat().st_size
    except OSError as error:
        raise IndiceError(
            phrase("{target} cannot be written: {why}.", target=target, why=error.strerror or error),
            hint=phrase("Give a place with room that your account may write to."),
            reference="backup-unwritable",
        ) from error
    finally:
        part.unlink(missing_ok=True)


def _fill(archive: zipfile.ZipFile, database: Database, settings: Settings) -> None:
    sums: dict[str, str] = {}
    with database.engine.connect().execution_options(isolation_level="REPEATABLE READ") as link, link.begin():
        revision = link.execute(text("select version_num from alembic_version")).scalar_one()
        for name in KEPT:
            sums[f"records/{name}.jsonl"] = _write_lines(archive, f"records/{name}.jsonl", read_records(link, name))
        digests = sorted(set(link.execute(select(Artwork.digest).where(Artwork.chosen)).scalars()))
    for digest in digests:
        for width in SIZES:
            path = thumbnail_path(settings.home, digest, width)
            if path.is_file():
                sums |= _write_file(archive, f"pictures/{digest}-{width}.webp", path)
    for path in sorted((settings.home / "journal").glob("[!.]*.jsonl")):
        if _JOURNAL.fullmatch(f"journal/{path.name}"):
            sums |= _write_file(archive, f"journal/{path.name}", path)
    if (settings.home / "indice.toml").is_file():
        sums |= _write_file(archive, "indice.toml", settings.home / "indice.toml")
    manifest = [
        f"format = {FORMAT}",
        f'records = "{revision}"',
        f"made = {datetime.now(UTC).isoformat(timespec='seconds')}",
        "",
        "[sums]",
        *(f'"{name}" = "{digest}"' for name, digest in sums.items()),
    ]
    archive.writestr("manifest.toml", "\n".join(manifest) + "\n")


def _write_lines(archive: zipfile.ZipFile, name: str, lines: Iterable[str]) -> str:
    made = hashlib.sha256()
    with archive.open(name, "w", force_zip64=True) as out:
        for line in lines:
            raw = line.encode() + b"\n"
            made.update(raw)
            out.write(raw)
    return made.hexdigest()


def _write_file(archive: zipfile.ZipFile, name: str, path: Path) -> dict[str, str]:
    raw = path.read_bytes()
    archive.writestr(name, raw)
    return {name: hashlib.sha256(raw).hexdigest()}


def restore(settings: Settings, source: Path) -> dict[str, int]:
    """Bring an archive into an empty data folder; returns how many rows of each table there are.

    Everything is checked before anything is written, and the records come in one transaction. Raises
    :class:`IndiceError` when the archive is damaged, newer than this program, or the data folder is in use.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            manifest = _checked(archive, source)
            database = _empty_database(settings, str(manifest["records"]))
            counts = _load(archive, database)
            _unpack(archive, settings.home)
    except (OSError, zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise _damaged(source, str(error)) from error
    database.migrate()
    with database.begin() as db:
        even_cast(db)
    database.engine.dispose()
    return counts


def _damaged(source: Path, why: str) -> IndiceError:
    return IndiceError(
        phrase("{source} cannot be restored: {why}", source=source, why=why),
        hint=phrase("Take another archive."),
        reference="backup-damaged",
    )


def _checked(archive: zipfile.ZipFile, source: Path) -> dict[str, object]:
    """The manifest, when all that it names is there and whole."""
    try:
        manifest = tomllib.loads(archive.read("manifest.toml").decode())
        sums = dict(manifest["sums"])
        if manifest["format"] != FORMAT:
            raise _damaged(source, f"its form is {manifest['format']}, and this program knows {FORMAT}.")
    except (KeyError, TypeError, UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise _damaged(source, "it has no manifest that can be read.") from error
    for name, wanted in sums.items():
        try:
            with archive.open(name) as held:
                found = hashlib.file_digest(held, "sha256").hexdigest()  # pyright: ignore[reportArgumentType]
        except KeyError as error:
            raise _damaged(source, phrase("{name} is not in it.", name=name)) from error
        if found != wanted:
            raise _damaged(source, phrase("{name} is not what it was when the archive was made.", name=name))
        records = _RECORDS.fullmatch(name)
        is_known = (records and records[1] in KEPT) or _JOURNAL.fullmatch(name) or _PICTURE.fullmatch(name)
        if not is_known and name != "indice.toml":
            raise _damaged(source, f"nobody knows what {name} is.")
    return {**manifest, "sums": sums}


def _empty_database(settings: Settings, revision: str) -> Database:
    """A database without records, with the tables as they were when the archive was made."""
    database = Database(settings.database_url or Cluster(settings.home).start())
    database.migrate(to=revision)
    with database.engine.connect() as link:
        if is_empty(link):
            return database
    raise IndiceError(
        phrase("{home} is in use: there are people or libraries in it.", home=settings.home),
        hint=phrase("Give an empty data folder: INDICE_HOME=/some/where/else ./indice restore FILE"),
        reference="restore-not-empty",
    )


def _load(archive: zipfile.ZipFile, database: Database) -> dict[str, int]:
    counts: dict[str, int] = {}
    names = set(archive.namelist())
    try:
        with database.engine.begin() as link:
            for name in KEPT:
                if f"records/{name}.jsonl" not in names:
                    continue
                counts[name] = 0
                for lines in _batches(archive, f"records/{name}.jsonl"):
                    write_records(link, name, lines)
                    counts[name] += len(lines)
            for lines in _batches(archive, "records/entry.jsonl"):
                settle_parents(link, lines)
            settle_numbers(link)
            # Pictures that were not chosen by hand are not in it: the next scan makes
            # them again, the next match asks for them.
            link.execute(text("delete from artwork where not chosen"))
            link.execute(text("update file set pictured_by = 0"))
    except SQLAlchemyError as error:
        reason = str(getattr(error, "orig", error)).strip().splitlines()
        raise _damaged(Path(archive.filename or ""), f"the database refuses a record: {reason[0]}") from error
    return counts


def _batches(archive: zipfile.ZipFile, name: str) -> Iterator[list[str]]:
    with archive.open(name) as raw:
        batch: list[str] = []
        while line := raw.readline(LONGEST_LINE):
            json.loads(line)
            batch.append(line.decode())
            if len(batch) >= AT_ONCE:
                yield batch
                batch = []
        if batch:
            yield batch


def _unpack(archive: zipfile.ZipFile, home: Path) -> None:
    """Files go where their names say, and no name can say another place."""
    for name in archive.namelist():
        picture = _PICTURE.fullmatch(name)
        if picture:
            target = thumbnail_path(home, picture[1], int(picture[2]))
        elif _JOURNAL.fullmatch(name) or name == "indice.toml":
            target = home / name
        else:
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        with (
            archive.open(name) as held,
            io.FileIO(os.open(target, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out,
        ):
            shutil.copyfileobj(held, out)


_MADE = re.compile(r"indice-[0-9]{4}-[0-9]{2}-[0-9]{2}-[0-9]{6}\.zip")


def kept_backups(folder: Path) -> list[Path]:
    """Archives in a folder that were written by themselves, the oldest first."""
    return sorted(path for path in folder.glob("indice-*.zip") if _MADE.fullmatch(path.name))


def is_backup_due(settings: Settings) -> bool:
    """Whether a backup is wanted, and the last one is older than it may be."""
    if not settings.backup_folder:
        return False
    made = kept_backups(Path(settings.backup_folder))
    if not made:
        return True
    age = datetime.now(UTC) - datetime.fromtimestamp(made[-1].stat().st_mtime, UTC)
    return age >= timedelta(hours=settings.backup_every_hours)


def scheduled_backup(database: Database, settings: Settings) -> str:
    """Write a backup into the folder for them, and remove the oldest of those
    that it wrote itself; says what was done."""
    folder = Path(settings.backup_folder)
    if not folder.is_dir():
        raise IndiceError(
            phrase("{folder}, where backups go, is not there.", folder=folder),
            hint=phrase("Plug the drive in, or change backup_folder."),
        )
    target = folder / f"indice-{datetime.now(UTC):%Y-%m-%d-%H%M%S}.zip"
    size = back_up(database, settings, target)
    for old in kept_backups(folder)[: -max(1, settings.backup_keep)]:
        old.unlink(missing_ok=True)
    return phrase("{name} was written, {size:.1f} MB.", name=target.name, size=size / 1e6)
