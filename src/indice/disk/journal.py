"""The journal of a plan: what is to be done is written down before it is done, so that nothing is ever half done.

A journal is a text file of one JSON object a line (see `docs/journal.md`): first the head with every step and what each
file looks like, then one line before and one after each step. Whoever finds a journal without an end sees from it, and
from the disk, where it was broken off. A journal that is being worked on is locked.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import re
import secrets
import stat
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from ..core.phrase import phrase
from ..errors import IndiceError
from ..phrases import kept, revived
from .ledger import Ledger, LedgerFull, sync_folder, write_whole
from .links import link_of, links_beside, mended_target

__all__ = ["Identity", "Journal", "Line", "PlannedMove", "StepState", "journals", "next_name"]

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

    def is_untouched(self, status: os.stat_result) -> bool:
        """Whether it is the very file, and nobody has written to it."""
        return self.is_same_file(status) and self.is_same_content(status)


@dataclass(frozen=True, slots=True)
class PlannedMove:
    """One step, in absolute paths."""

    before: bytes
    after: bytes
    identity: Identity | None = None
    """What the planner saw; the file as it is now when nothing is given."""
    link: bytes | None = None
    """What a link shall say after its move; worked out from the plan when nothing is given."""


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
    copy_digest: str = ""
    """Of the content that was copied, before the old file is removed."""
    link: tuple[bytes, bytes] | None = None
    """What a link says before and after its move; None for a file."""
    why: str = ""
    """Why it was left, or why a person must look at it."""


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
    _ledger: Ledger | None = None

    @property
    def id(self) -> str:
        """Its name."""
        return str(self.head["id"])

    @property
    def is_short(self) -> bool:
        """Whether its disk is so full that nothing new may be begun."""
        return self._ledger is not None and self._ledger.is_short

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

    def relinked(self) -> list[StepState]:
        """Links that stayed where they are and say something else now."""
        return [
            step
            for step in self.steps
            if step.state == "done" and step.before == step.after and step.after not in self.taken_back
        ]

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
        """Write the head of a new journal to the disk; one that takes back
        another gives its folders back as they were."""
        folder.mkdir(parents=True, exist_ok=True)
        now = datetime.now(UTC)
        name = next_name(folder, now)
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
            "steps": [_row(step) for step in steps],
        }
        journal = cls(folder / f"{name}.jsonl", head, steps)
        part = folder / f".{name}.part"
        try:
            handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
            try:
                write_whole(handle, json.dumps(head).encode() + b"\n")
                os.fsync(handle)
            finally:
                os.close(handle)
            part.rename(journal.path)
            sync_folder(folder)
        except OSError as error:
            part.unlink(missing_ok=True)
            raise LedgerFull(journal.path, error) from error
        return journal

    @classmethod
    def read(cls, path: Path) -> Journal:
        """A journal from the disk; a last line that was cut off is as good as not written."""
        try:
            lines = path.read_bytes().split(b"\n")
            head = json.loads(lines[0])
            steps = [_step(row) for row in head["steps"]]
        except (OSError, ValueError, KeyError, TypeError) as error:
            raise IndiceError(
                phrase("The journal {path} cannot be read.", path=path), hint="Nothing was changed."
            ) from error
        journal = cls(path, head, steps)
        journal._follow(lines[1:-1])
        return journal

    def follow(self) -> None:
        """Read again how far it has come: another process may have gone on before it was locked."""
        for step in self.steps:
            step.state, step.why = "pending", ""
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
            step.copy_digest = line.get("digest", step.copy_digest)
            step.why = revived(line.get("why", step.why))
        elif did == "stuck":
            self.steps[line["n"]].why = revived(line["why"])
        elif did in ("made", "making"):
            self.made.append(os.fsencode(line["folder"]))
        elif did == "not made":
            self.made = [made for made in self.made if made != os.fsencode(line["folder"])]
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
        """Take the journal for oneself; False when another process works on it.

        Raises :class:`IndiceError` when its disk has no room for another line.
        """
        if self._ledger is not None:
            return True
        ledger = Ledger(self.path)
        if not ledger.open():
            return False
        self._ledger = ledger
        return True

    def release(self) -> None:
        """Let others have it."""
        if self._ledger is not None:
            self._ledger.close()
            self._ledger = None

    def write(self, did: str, *, sync: bool = False, **more: Any) -> None:
        """Write a line down, whole, and follow it; `sync` before anything that it announces is done."""
        assert self._ledger is not None
        if "why" in more:
            more["why"] = kept(more["why"])
        line: Line = {"did": did, **more}
        self._ledger.append(line, sync=sync)
        self.take(line)


def _row(step: StepState) -> list[Any]:
    link = [_text(text) for text in step.link] if step.link else None
    seen = step.identity
    row: list[Any] = [
        _text(step.before), _text(step.after), seen.size_bytes, seen.mtime_ns, seen.inode, seen.device, step.ring
    ]  # fmt: skip
    return [*row, link] if link else row


def _step(row: list[Any]) -> StepState:
    before, after, size, mtime, inode, device, ring, *more = row
    link = (os.fsencode(more[0][0]), os.fsencode(more[0][1])) if more and more[0] else None
    return StepState(os.fsencode(before), os.fsencode(after), Identity(size, mtime, inode, device), ring, link=link)


_NUMBERED = re.compile(r"j(?P<number>[0-9]{7})-")


def next_name(folder: Path, now: datetime) -> str:
    """A name for a new journal. Names count up, whatever the clock does, so that the newest is always known.

    Journals from before there were numbers begin with their year, and sort before all others.
    """
    with (folder / ".count").open("a+") as counter:
        fcntl.flock(counter, fcntl.LOCK_EX)
        counter.seek(0)
        text = counter.read().strip()
        held = [int(found["number"]) for path in folder.glob("j*") if (found := _NUMBERED.match(path.name))]
        number = 1 + max([*held, int(text) if text.isdigit() else 0])
        with contextlib.suppress(OSError):  # on a full disk the journals themselves are counted
            counter.truncate(0)
            counter.write(str(number))
            counter.flush()
    return f"j{number:07d}-{now:%Y%m%d-%H%M%S}-{secrets.token_hex(3)}"


def _with_identities(moves: Sequence[PlannedMove]) -> list[StepState]:
    """Steps with what each file looks like, followed through the detours of
    rings; links say where their file will be."""
    places: dict[bytes, tuple[Identity, bytes | None]] = {}
    steps: list[StepState] = []
    ring = 0
    open_ring: bytes = b""
    final = _final_places(moves)
    known = {move.before for move in moves}
    beside = [PlannedMove(path, path) for path in links_beside(final) if path not in known]
    for move in (*moves, *beside):
        identity, text = places.pop(move.before, None) or _seen(move)
        is_detour = b"/.indice-aside-" in move.after
        places[move.after] = identity, text
        if is_detour:
            ring += 1
            open_ring = move.after
        link = None
        if text is not None:
            origin = move.before if b"/.indice-aside-" not in move.before else _origin(moves, move.before)
            wanted = move.link if move.link is not None else mended_target(text, origin, move.after, final)
            link = (text, text if is_detour else wanted)
        if move.before != move.after or (link and link[0] != link[1]):
            steps.append(StepState(move.before, move.after, identity, ring if open_ring else 0, link=link))
        if open_ring and move.before == open_ring:
            open_ring = b""
    return steps


def _seen(move: PlannedMove) -> tuple[Identity, bytes | None]:
    """What lies there, and what it says when it is a link."""
    try:
        identity = Identity.of(os.lstat(move.before))
    except OSError:
        return Identity(-1, -1), None
    text = link_of(move.before)
    if move.identity is not None and text is None:
        identity = Identity(move.identity.size_bytes, move.identity.mtime_ns, identity.inode, identity.device)
    return identity, text


def _final_places(moves: Sequence[PlannedMove]) -> dict[bytes, bytes]:
    """Where each file lies → where it will lie when all is done."""
    origin: dict[bytes, bytes] = {}
    for move in moves:
        origin[move.after] = origin.pop(move.before, move.before)
    return {before: after for after, before in origin.items()}


def _origin(moves: Sequence[PlannedMove], aside: bytes) -> bytes:
    return next((move.before for move in moves if move.after == aside), aside)


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
    """Every journal of a data folder that can be read, the newest first, by its number."""
    found: list[Journal] = []
    for path in sorted(folder.glob("*.jsonl"), reverse=True) if folder.is_dir() else ():
        try:
            found.append(Journal.read(path))
        except IndiceError:
            continue
    return found
