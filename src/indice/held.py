"""A file that one process holds as long as it lives, with what it says of itself in it.
A number of a process proves nothing."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import signal
import time
from pathlib import Path
from typing import Any

__all__ = ["MARK", "HeldFile", "end_marked", "mark_of", "said_by_holder"]

MARK = "INDICE_MARK"
"""The environment variable by which the processes of a data folder are known."""


class HeldFile:
    """A lock on a file; it ends with this process, whatever ends it."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._handle: int | None = None

    def take(self) -> bool:
        """Hold it; False when another process does."""
        self.path.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(self.path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        for _ in range(10):
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                time.sleep(0.05)  # somebody may only be looking
                continue
            self._handle = handle
            os.ftruncate(handle, 0)
            return True
        os.close(handle)
        return False

    def say(self, **facts: Any) -> None:
        """Write down what others may know of the holder."""
        assert self._handle is not None
        data = json.dumps({"pid": os.getpid(), **facts}).encode()
        os.pwrite(self._handle, data + b"\n", 0)
        os.ftruncate(self._handle, len(data) + 1)

    def release(self) -> None:
        """Hold it no longer."""
        if self._handle is not None:
            with contextlib.suppress(OSError):
                os.ftruncate(self._handle, 0)
            os.close(self._handle)
            self._handle = None


def said_by_holder(path: Path) -> dict[str, Any] | None:
    """What the process that holds a file says of itself; None when nobody holds it."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC)
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except OSError:
        try:
            said = json.loads(os.pread(handle, 1 << 20, 0) or b"{}")
        except ValueError:
            said = {}
        return said if isinstance(said, dict) else {}
    finally:
        os.close(handle)
    return None


def mark_of(home: Path) -> str:
    """The mark that processes of a data folder carry."""
    return str(home.absolute())


def _marked(home: Path) -> list[int]:
    """Processes that carry the mark of a data folder, this one aside. Their
    environment says it, not a number in a file."""
    wanted = f"{MARK}={mark_of(home)}".encode()
    found: list[int] = []
    for place in Path("/proc").glob("[0-9]*"):
        try:
            if wanted in (place / "environ").read_bytes().split(b"\0") and int(place.name) != os.getpid():
                found.append(int(place.name))
        except OSError:
            continue
    return found


def end_marked(home: Path, *, seconds: float = 12.0) -> int:
    """End what is left of a data folder's processes, kindly first; returns how many there were."""
    first = _marked(home)
    deadline = time.monotonic() + seconds
    number = signal.SIGTERM
    waiting = first
    while waiting:
        for pid in waiting:
            with contextlib.suppress(OSError):
                os.kill(pid, number)
        time.sleep(0.2)
        waiting = _marked(home)
        if time.monotonic() > deadline:
            number = signal.SIGKILL
        if time.monotonic() > deadline + 5:
            break
    return len(first)
