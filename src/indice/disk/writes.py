"""Writes files beside and into a collection, so that every one can be taken back byte for byte.

As with moves, what is to be done is written down before it is done. A new content is made
under a hidden name, written to the disk and compared; of a file that is changed the bytes that
differ are kept first. See `docs/journal.md`.
"""

from __future__ import annotations

import json
import os
import shutil
import stat
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from ..core.phrase import joined, phrase
from ..errors import IndiceError
from .journal import next_name
from .ledger import Ledger, LedgerFull, sync_folder, write_whole
from .moves import Outcome
from .rename import digest_of, rename_without_replacing
from .walk import shown

__all__ = ["PlannedWrite", "WriteJournal", "carry_out_writes", "mend_writes", "undo_writes"]

_CHUNK = 1 << 20
Tell = Callable[[int, int, bytes], None]
Edit = Callable[[Path], None]
"""Changes a copy of the file that lies at this path, or fills the empty file there; raises ValueError in words."""


@dataclass(frozen=True, slots=True)
class PlannedWrite:
    """One file to be written."""

    path: bytes
    edit: Edit
    seen: tuple[int, int] | None
    """Size and change time (ns) when it was planned; None for a file that is not there yet."""


@dataclass(slots=True)
class WriteStep:
    """A file that was written, and how to take it back."""

    path: bytes
    state: str = "begun"
    """`begun`, `done`, `undoing` or `back`."""
    old: str = ""
    """Digest before; empty where there was no file."""
    new: str = ""
    prefix: int = 0
    """So many bytes at the beginning are as before."""
    suffix: int = 0
    """So many bytes at the end are as before."""
    times: tuple[int, int] = (0, 0)
    """Access and change time (ns) before."""


@dataclass(slots=True)
class WriteJournal:
    """The journal of one round of writing: a folder with `steps.jsonl` and the bytes that were replaced."""

    folder: Path
    steps: list[WriteStep] = field(default_factory=list)
    title: str = ""
    making: list[bytes] = field(default_factory=list)
    """Files beside which a hidden copy was begun."""
    _ledger: Ledger | None = None

    @property
    def is_short(self) -> bool:
        """Whether its disk is so full that nothing new may be begun."""
        return self._ledger is not None and self._ledger.is_short

    @property
    def id(self) -> str:
        """Its name."""
        return self.folder.name

    @classmethod
    def create(cls, home: Path, title: str) -> WriteJournal:
        """A new journal below a folder."""
        home.mkdir(parents=True, exist_ok=True)
        name = f"{next_name(home, datetime.now(UTC))}-w"
        folder, part = home / name, home / f".{name}.part"
        head = {"journal": "indice-writes", "version": 1, "title": title}
        try:
            part.mkdir(parents=True)
            handle = os.open(part / "steps.jsonl", os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
            try:
                write_whole(handle, json.dumps(head).encode() + b"\n")
                os.fsync(handle)
            finally:
                os.close(handle)
            part.rename(folder)  # so that a journal is never there without its first line
            sync_folder(home)
        except OSError as error:
            shutil.rmtree(part, ignore_errors=True)
            raise LedgerFull(folder, error) from error
        return cls(folder, [], title)

    @classmethod
    def read(cls, folder: Path) -> WriteJournal:
        """A journal from the disk; a last line that was cut off is as good as not written."""
        try:
            lines = (folder / "steps.jsonl").read_bytes().split(b"\n")
            title = str(json.loads(lines[0])["title"])
        except (OSError, ValueError, KeyError) as error:
            raise IndiceError(
                phrase("The journal {folder} cannot be read.", folder=folder), hint=phrase("Nothing was changed.")
            ) from error
        journal = cls(folder, [], title)
        for line in lines[1:-1]:
            try:
                journal._take(json.loads(line))
            except (ValueError, KeyError, IndexError, TypeError):
                continue
        return journal

    def _take(self, line: dict[str, Any]) -> None:
        if line["did"] == "making":
            self.making.append(os.fsencode(line["path"]))
        elif line["did"] == "begun":
            self.steps.append(
                WriteStep(
                    os.fsencode(line["path"]),
                    "begun",
                    line["old"],
                    line["new"],
                    line["prefix"],
                    line["suffix"],
                    (line["times"][0], line["times"][1]),
                )
            )
        else:
            self.steps[line["n"]].state = line["did"]

    def open(self) -> bool:
        """Take the journal for oneself; False when another process works on it."""
        ledger = Ledger(self.folder / "steps.jsonl")
        if not ledger.open():
            return False
        self._ledger = ledger
        return True

    def close(self) -> None:
        """Let others have it."""
        if self._ledger is not None:
            self._ledger.close()
            self._ledger = None

    def write(self, did: str, **more: Any) -> None:
        """Write a line down to the disk, whole, and follow it."""
        assert self._ledger is not None
        line = {"did": did, **more}
        self._ledger.append(line)
        self._take(line)

    def kept(self, number: int) -> Path:
        """Where the bytes lie that a step replaced."""
        return self.folder / f"{number}.kept"


def _digest(path: bytes) -> str:
    """Digest of a file's content; empty when there is none."""
    try:
        return digest_of(path)
    except OSError:
        return ""


def _sync(path: bytes) -> None:
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _same_ends(one: bytes, other: bytes) -> tuple[int, int]:
    """How many bytes at the beginning and at the end two files share; the two never overlap."""
    sizes = os.path.getsize(one), os.path.getsize(other)
    most = min(sizes)
    with open(one, "rb") as left, open(other, "rb") as right:
        prefix = 0
        while prefix < most:
            a, b = left.read(_CHUNK), right.read(_CHUNK)
            length = min(len(a), len(b))
            if a[:length] != b[:length]:
                prefix += next(i for i in range(length) if a[i] != b[i])
                break
            prefix += length
            if not length:
                break
        prefix = min(prefix, most)
        suffix, rest = 0, most - prefix
        while suffix < rest:
            length = min(_CHUNK, rest - suffix)
            left.seek(sizes[0] - suffix - length)
            right.seek(sizes[1] - suffix - length)
            a, b = left.read(length), right.read(length)
            if a != b:
                suffix += next(i for i in range(length) if a[-1 - i] != b[-1 - i])
                break
            suffix += length
    return prefix, suffix


def _part(journal: WriteJournal, path: bytes) -> bytes:
    """A hidden name beside a file, of the same extension, since writers of tags go by it."""
    directory, name = os.path.split(path)
    extension = name[name.rfind(b".") :] if b"." in name[1:] else b""
    return os.path.join(directory, f".indice-{journal.id}".encode() + extension)


def _never() -> bool:
    return False


_FULL = phrase("The disk of the data folder is full. Free some space there, then go on or take back.")


def carry_out_writes(
    journal: WriteJournal, writes: Sequence[PlannedWrite], *, tell: Tell, should_stop: Callable[[], bool] = _never
) -> Outcome:
    """Write files one after the other. One that has changed, or that is there
    although it should not be, is left alone."""
    if not journal.open():
        raise IndiceError(phrase("Another process is at work on this plan."), hint=phrase("Wait until it is done."))
    outcome = Outcome()
    try:
        for place, planned in enumerate(writes, 1):
            if should_stop() or journal.is_short:
                outcome.stopped = True
                outcome.why = _FULL if journal.is_short else ""
                break
            why = _write(journal, planned)
            if why:
                outcome.left.append((planned.path, why))
            else:
                outcome.done += 1
            tell(place, len(writes), planned.path)
    except LedgerFull as error:
        outcome.stopped, outcome.why = True, joined(error.message, error.hint)
    finally:
        journal.close()
    return outcome


def _write(journal: WriteJournal, planned: PlannedWrite) -> str:
    """Write one file; returns why it was left alone, or nothing."""
    part = _part(journal, planned.path)
    try:
        before = _state(planned.path)
        if obstacle := _in_the_way(planned, before):
            return obstacle
        journal.write("making", path=os.fsdecode(planned.path))
        _make_part(part, planned, before)
        old = _digest(planned.path) if before else ""
        if old and old == _digest(part):
            return ""
        prefix, suffix = _same_ends(planned.path, part) if before else (0, 0)
        number = len(journal.steps)
        if before is not None:
            _keep(journal.kept(number), planned.path, prefix, suffix)
        if before is not None and not _is_as(planned.path, before):
            return phrase("It changed while it was read.")
        journal.write(
            "begun",
            path=os.fsdecode(planned.path),
            old=old,
            new=_digest(part),
            prefix=prefix,
            suffix=suffix,
            times=[before.st_atime_ns, before.st_mtime_ns] if before else [0, 0],
        )
        if before is None:
            rename_without_replacing(part, planned.path)
        elif not _is_as(planned.path, before):
            journal.write("back", n=number)
            return phrase("It changed while it was read.")
        else:
            os.replace(part, planned.path)
        _sync(os.path.dirname(planned.path))
        journal.write("done", n=number)
    except ValueError as error:
        return str(error)
    except FileExistsError:
        if journal.steps and journal.steps[-1].state == "begun":
            journal.write("back", n=len(journal.steps) - 1)
        return phrase("A file of this name is there.")
    except OSError as error:
        return _said(error)
    finally:
        if os.path.lexists(part):
            os.unlink(part)
    return ""


def _in_the_way(planned: PlannedWrite, before: os.stat_result | None) -> str:
    """Why a file may not be written as it is now, or nothing."""
    if (before and (before.st_size, before.st_mtime_ns)) != planned.seen:
        changed, taken = phrase("It has changed since the plan was made."), phrase("A file of this name is there.")
        return changed if planned.seen else taken
    if before is not None and not stat.S_ISREG(before.st_mode):
        return phrase("It is no plain file.")
    return ""


def _said(error: OSError) -> str:
    if isinstance(error, PermissionError) or error.errno == 30:
        return phrase("No permission to write there. Give the account that runs Indice write access to the folder.")
    return phrase("It could not be written: {why}.", why=error.strerror or error)


def _state(path: bytes) -> os.stat_result | None:
    try:
        return os.lstat(path)
    except FileNotFoundError:
        return None


def _is_as(path: bytes, before: os.stat_result) -> bool:
    """Whether a file is still the one that was looked at, unwritten."""
    now = _state(path)
    fields = ("st_ino", "st_dev", "st_size", "st_mtime_ns", "st_ctime_ns")
    return now is not None and all(getattr(now, name) == getattr(before, name) for name in fields)


def _make_part(part: bytes, planned: PlannedWrite, before: os.stat_result | None) -> None:
    """The new content under the hidden name, with the owner and the permissions of the old one, written to the disk."""
    if before is None:
        with open(part, "xb"):
            pass
    else:
        shutil.copy2(os.fsdecode(planned.path), os.fsdecode(part))
    planned.edit(Path(os.fsdecode(part)))
    if before is not None:
        os.chmod(part, stat.S_IMODE(before.st_mode))
        if os.geteuid() == 0:
            os.chown(part, before.st_uid, before.st_gid)
    _sync(part)


def _keep(target: Path, path: bytes, prefix: int, suffix: int) -> None:
    """Keep the bytes between what stays at the beginning and at the end."""
    left = os.path.getsize(path) - prefix - suffix
    with open(path, "rb") as reader, target.open("wb") as writer:
        reader.seek(prefix)
        while left > 0 and (chunk := reader.read(min(_CHUNK, left))):
            writer.write(chunk)
            left -= len(chunk)
        writer.flush()
        os.fsync(writer.fileno())


def undo_writes(journal: WriteJournal, *, tell: Tell, should_stop: Callable[[], bool] = _never) -> Outcome:
    """Take everything back, the last first: new files are removed, changed ones get their old bytes and times again.

    A file that was changed by somebody since is left alone.
    """
    if not journal.open():
        raise IndiceError(phrase("Another process is at work on this plan."), hint=phrase("Wait until it is done."))
    outcome = Outcome()
    try:
        _settle(journal)
        waiting = [number for number, step in enumerate(journal.steps) if step.state == "done"]
        for place, number in enumerate(reversed(waiting), 1):
            if should_stop() or journal.is_short:
                outcome.stopped = True
                outcome.why = _FULL if journal.is_short else ""
                break
            step = journal.steps[number]
            try:
                why = _take_back(journal, number)
            except OSError as error:
                why = _said(error)
            if why:
                outcome.left.append((step.path, why))
            else:
                outcome.done += 1
            tell(place, len(waiting), step.path)
    except LedgerFull as error:
        outcome.stopped, outcome.why = True, joined(error.message, error.hint)
    finally:
        journal.close()
    return outcome


def _take_back(journal: WriteJournal, number: int) -> str:
    step = journal.steps[number]
    status = _state(step.path)
    if status is None or _digest(step.path) != step.new:
        return (
            phrase("It has changed since it was written.")
            if status is not None
            else phrase("It is not there any more.")
        )
    if not step.old:
        journal.write("undoing", n=number)
        if not _is_as(step.path, status):
            journal.write("done", n=number)
            return phrase("It has changed since it was written.")
        os.unlink(step.path)
        journal.write("back", n=number)
        return ""
    part = _part(journal, step.path)
    try:
        with open(step.path, "rb") as now, open(part, "wb") as writer:
            _copy(now, writer, step.prefix)
            with journal.kept(number).open("rb") as kept:
                shutil.copyfileobj(kept, writer)
            now.seek(status.st_size - step.suffix)
            _copy(now, writer, step.suffix)
            writer.flush()
            os.fsync(writer.fileno())
        if _digest(part) != step.old:
            return phrase("Its old content could not be put together again; it stays as it is.")
        os.chmod(part, stat.S_IMODE(status.st_mode))
        if os.geteuid() == 0:
            os.chown(part, status.st_uid, status.st_gid)
        os.utime(part, ns=step.times)
        journal.write("undoing", n=number)
        if not _is_as(step.path, status):
            journal.write("done", n=number)
            return phrase("It has changed since it was written.")
        os.replace(part, step.path)
        _sync(os.path.dirname(step.path))
        journal.write("back", n=number)
    finally:
        if os.path.lexists(part):
            os.unlink(part)
    return ""


def _copy(source: Any, target: Any, count: int) -> None:
    while count > 0 and (chunk := source.read(min(_CHUNK, count))):
        target.write(chunk)
        count -= len(chunk)


def mend_writes(home: Path) -> list[tuple[WriteJournal, str]]:
    """After a crash: see from the disk whether the step each journal was in was done; hidden copies are removed."""
    mended: list[tuple[WriteJournal, str]] = []
    for folder in sorted(home.glob("*-w")) if home.is_dir() else ():
        try:
            journal = WriteJournal.read(folder)
        except IndiceError:
            continue
        try:
            said = _mend_writing(journal)
        except (IndiceError, OSError) as error:
            said = phrase("It could not be mended: {error}", error=error)
        finally:
            journal.close()
        if said:
            mended.append((journal, said))
    return mended


def _settle(journal: WriteJournal) -> None:
    """See from the disk whether steps that have no end were done. Nothing is written or removed."""
    for number, step in enumerate(journal.steps):
        if step.state in ("begun", "undoing"):
            journal.write("done" if _digest(step.path) == step.new else "back", n=number)


def _mend_writing(journal: WriteJournal) -> str:
    """Mend one journal that was broken off; returns what was found, or nothing."""
    open_steps = [number for number, step in enumerate(journal.steps) if step.state in ("begun", "undoing")]
    parts = {_part(journal, path) for path in (*journal.making, *(step.path for step in journal.steps))}
    if (not open_steps and not any(map(os.path.lexists, parts))) or not journal.open():
        return ""
    _settle(journal)
    for part in parts:
        if os.path.lexists(part):
            os.unlink(part)
    if not open_steps:
        return ""
    return phrase("{name}: the file is whole.", name=shown(os.path.basename(journal.steps[open_steps[-1]].path)))
