"""The journal of a plan: what is to be done is written down before it is done, so that nothing is ever half done.

A journal is a text file of one JSON object a line (see `docs/journal.md`): first the head with every step and what each
file looks like, then one line before and one after each step. Whoever finds a journal without an end sees from it, and
from the disk, where it was broken off. A journal that is being worked on is locked.
"""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import stat
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from ..errors import IndiceError

__all__ = ["Identity", "Journal", "Line", "PlannedMove", "StepState", "journals"]

VERSION = 1


@dataclass(frozen=True, slots=True)
class Identity:
    """What a file looked like when its move was planned."""

    size_bytes: int
    mtime_ns: int
    inode: int = 0
    device: int = 0

    @classmethod
    def of(cls, status: os.stat_result) -> Identity:
        """From what the system says of a file."""
        return cls(status.st_size, status.st_mtime_ns, status.st_ino, status.st_dev)

    def is_same_content(self, status: os.stat_result) -> bool:
        """Whether size and time are still the same."""
        return (self.size_bytes, self.mtime_ns) == (status.st_size, status.st_mtime_ns)

    def is_same_file(self, status: os.stat_result) -> bool:
        """Whether it is the very file, whatever its name."""
        return (self.inode, self.device) == (status.st_ino, status.st_dev)


@dataclass(frozen=True, slots=True)
class PlannedMove:
    """One step, in absolute paths."""

    before: bytes
    after: bytes
    identity: Identity | None = None
    """What the planner saw; the file as it is now when nothing is given."""


@dataclass(slots=True)
class StepState:
    """A step and how far it has come."""

    before: bytes
    after: bytes
    identity: Identity
    ring: int = 0
    """Steps of one ring are done whole or not at all; 0 is no ring."""
    state: str = "pending"
    """`pending`, `begun`, `copying`, `copied`, `done`, `left` or `back`."""
    copy_inode: int = 0
    why: str = ""


Line = dict[str, Any]


def _text(path: bytes) -> str:
    return os.fsdecode(path)


@dataclass(slots=True)
class Journal:
    """A journal, read or being written."""

    path: Path
    head: Line
    steps: list[StepState]
    made: list[bytes] = field(default_factory=list)
    """Folders that were made."""
    removed: list[tuple[bytes, int]] = field(default_factory=list)
    """Folders that fell empty and were removed, with their permissions."""
    ended: str = ""
    """`done` or `stopped`; empty while it runs or when it was broken off."""
    undone_by: str = ""
    """The journal that took it back, whole or in part."""
    taken_back: set[bytes] = field(default_factory=set)
    """Where files lay that were taken back."""
    _file: Any = None

    @property
    def id(self) -> str:
        """Its name."""
        return str(self.head["id"])

    @property
    def title(self) -> str:
        """What it was for."""
        return str(self.head.get("title", ""))

    @property
    def undoes(self) -> str:
        """The journal that this one takes back, or nothing."""
        return str(self.head.get("of") or "")

    @property
    def roots(self) -> list[bytes]:
        """The libraries' folders: never removed, however empty."""
        return [os.fsencode(root) for root in self.head.get("roots", [])]

    @property
    def removable(self) -> set[bytes] | None:
        """Folders that may be removed when they fall empty; None when every folder may."""
        named = self.head.get("removable")
        return None if named is None else {os.fsencode(name) for name in named}

    @property
    def folder_times(self) -> dict[bytes, tuple[int, int, int]]:
        """Folder → access time, change time (ns) and permissions before anything was done."""
        return {os.fsencode(name): (a, m, mode) for name, (a, m, mode) in self.head.get("folders", {}).items()}

    def moves(self) -> dict[bytes, bytes]:
        """Where files lay → where they lie now, by the steps that are done."""
        origin: dict[bytes, bytes] = {}
        for step in self.steps:
            if step.state == "done":
                origin[step.after] = origin.pop(step.before, step.before)
        return {before: after for after, before in origin.items() if before != after and after not in self.taken_back}

    @classmethod
    def create(
        cls,
        folder: Path,
        moves: Sequence[PlannedMove],
        *,
        title: str,
        roots: Sequence[bytes],
        undoes: Journal | None = None,
    ) -> Journal:
        """Write the head of a new journal to the disk; one that takes back another gives its folders back as they were."""
        folder.mkdir(parents=True, exist_ok=True)
        now = datetime.now(UTC)
        name = f"{now:%Y%m%d-%H%M%S}-{secrets.token_hex(3)}"
        steps = _with_identities(moves)
        head: Line = {
            "journal": "indice",
            "version": VERSION,
            "id": name,
            "of": undoes.id if undoes else None,
            "title": title,
            "at": now.isoformat(),
            "roots": [_text(root) for root in roots],
            "folders": {**_folder_times(steps, roots), **(undoes.head["folders"] if undoes else {})},
            "removable": [_text(made) for made in undoes.made] if undoes else None,
            "steps": [
                [_text(s.before), _text(s.after), s.identity.size_bytes, s.identity.mtime_ns, s.identity.inode, s.identity.device, s.ring]
                for s in steps
            ],
        }  # fmt: skip
        journal = cls(folder / f"{name}.jsonl", head, steps)
        part = folder / f".{name}.part"
        with part.open("wb") as file:
            file.write(json.dumps(head).encode() + b"\n")
            file.flush()
            os.fsync(file.fileno())
        part.rename(journal.path)
        _sync_folder(folder)
        return journal

    @classmethod
    def read(cls, path: Path) -> Journal:
        """A journal from the disk; a last line that was cut off is as good as not written."""
        try:
            lines = path.read_bytes().split(b"\n")
            head = json.loads(lines[0])
            steps = [
                StepState(os.fsencode(b), os.fsencode(a), Identity(size, mtime, inode, device), ring)
                for b, a, size, mtime, inode, device, ring in head["steps"]
            ]
        except (OSError, ValueError, KeyError, TypeError) as error:
            raise IndiceError(f"The journal {path} cannot be read.", hint="Nothing was changed.") from error
        journal = cls(path, head, steps)
        journal._follow(lines[1:-1])
        return journal

    def follow(self) -> None:
        """Read again how far it has come: another process may have gone on before it was locked."""
        for step in self.steps:
            step.state = "pending"
        self.made, self.removed, self.ended, self.taken_back = [], [], "", set()
        self._follow(self.path.read_bytes().split(b"\n")[1:-1])

    def _follow(self, lines: Iterable[bytes]) -> None:
        for line in lines:
            try:
                self.take(json.loads(line))
            except (ValueError, KeyError, IndexError, TypeError):
                continue

    def take(self, line: Line) -> None:
        """Follow one line."""
        did = line["did"]
        if did in ("pending", "begun", "copying", "copied", "done", "left", "back"):
            step = self.steps[line["n"]]
            step.state = "pending" if did == "back" else did
            step.copy_inode = line.get("inode", step.copy_inode)
            step.why = line.get("why", step.why)
        elif did == "made":
            self.made.append(os.fsencode(line["folder"]))
        elif did == "removed":
            self.removed.append((os.fsencode(line["folder"]), line["mode"]))
        elif did == "end":
            self.ended = line["state"]
        elif did == "resumed":
            self.ended = ""
        elif did == "back again":
            self.undone_by = line["by"]
            self.taken_back |= {os.fsencode(path) for path in line["paths"]}

    def lock(self) -> bool:
        """Take the journal for oneself; False when another process works on it."""
        if self._file is not None:
            return True
        file = self.path.open("ab", buffering=0)
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            file.close()
            return False
        if file.tell() and not self.path.read_bytes().endswith(b"\n"):
            file.write(b"\n")
        self._file = file
        return True

    def release(self) -> None:
        """Let others have it."""
        if self._file is not None:
            self._file.close()
            self._file = None

    def write(self, did: str, *, sync: bool = False, **more: Any) -> None:
        """Write a line down, and follow it."""
        line: Line = {"did": did, **more}
        self._file.write(json.dumps(line).encode() + b"\n")
        if sync:
            os.fsync(self._file.fileno())
        self.take(line)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _with_identities(moves: Sequence[PlannedMove]) -> list[StepState]:
    """Steps with what each file looks like, followed through the detours of rings."""
    places: dict[bytes, Identity] = {}
    steps: list[StepState] = []
    ring = 0
    open_ring: bytes = b""
    for move in moves:
        identity = places.pop(move.before, None)
        if identity is None:
            try:
                identity = Identity.of(os.lstat(move.before))
            except OSError:
                identity = Identity(-1, -1)
            if move.identity is not None:
                identity = Identity(move.identity.size_bytes, move.identity.mtime_ns, identity.inode, identity.device)
        places[move.after] = identity
        if b"/.indice-aside-" in move.after:
            ring += 1
            open_ring = move.after
        steps.append(StepState(move.before, move.after, identity, ring if open_ring else 0))
        if open_ring and move.before == open_ring:
            open_ring = b""
    return steps


def _folder_times(steps: Iterable[StepState], roots: Sequence[bytes]) -> dict[str, list[int]]:
    """Times and permissions of every folder that the steps touch, up to the libraries' folders."""
    found: dict[str, list[int]] = {}
    seen: set[bytes] = set()
    for path in (path for step in steps for path in (step.before, step.after)):
        folder = os.path.dirname(path)
        while folder not in seen:
            seen.add(folder)
            try:
                status = os.stat(folder)
                found[_text(folder)] = [status.st_atime_ns, status.st_mtime_ns, stat.S_IMODE(status.st_mode)]
            except OSError:
                pass
            if folder in roots or os.path.dirname(folder) == folder:
                break
            folder = os.path.dirname(folder)
    return found


def journals(folder: Path) -> list[Journal]:
    """Every journal of a data folder, the newest first."""
    found: list[Journal] = []
    for path in sorted(folder.glob("*.jsonl"), reverse=True) if folder.is_dir() else ():
        try:
            found.append(Journal.read(path))
        except IndiceError:
            continue
    return found
