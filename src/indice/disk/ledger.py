"""An append-only file of JSON lines: locked while it is written, and each line is there whole or not at all.

Some room on the disk is kept aside as long as it is open, so that a disk that runs full in the middle still takes the
lines that say how far things have come.
"""

from __future__ import annotations

import contextlib
import errno
import fcntl
import json
import os
from pathlib import Path
from typing import Any

from ..core.phrase import phrase
from ..errors import IndiceError

__all__ = ["Ledger", "LedgerFull", "sync_folder", "write_whole"]

RESERVE_BYTES = 64 * 1024


class LedgerFull(IndiceError):
    """What is to be done could not be written down, so it must not be done."""

    reference = "journal-full"

    def __init__(self, path: Path, error: OSError) -> None:
        reason = "its disk is full" if error.errno in (errno.ENOSPC, errno.EDQUOT) else str(error.strerror or error)
        super().__init__(
            phrase("The journal {path} could not be written: {reason}.", path=path, reason=reason),
            hint=phrase("Nothing more was changed. Free some space there, then go on with the plan or undo it."),
        )


def write_whole(handle: int, data: bytes) -> None:
    """Write all of it: the system may take a part only; raises OSError when it takes no more."""
    view = memoryview(data)
    while view:
        written = os.write(handle, view)
        if not written:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        view = view[written:]


def sync_folder(folder: Path) -> None:
    """Make the names in a folder last."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


class Ledger:
    """The end of a file of lines that is being written."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.reserve = path.with_name(f".{path.name}.reserve")
        self.is_short = False
        """Whether the room that was kept aside had to be used: nothing new may be begun."""
        self._handle: int | None = None

    def open(self) -> bool:
        """Take the file for oneself; False when another process has it. Raises
        :class:`LedgerFull` without room to write."""
        if self._handle is not None:
            return True
        handle = os.open(self.path, os.O_RDWR | os.O_APPEND | os.O_CLOEXEC)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._handle = handle
        try:
            self._keep_room()
            self._close_line()
        except OSError as error:
            self.close()
            raise LedgerFull(self.path, error) from error
        return True

    def close(self) -> None:
        """Let others have it."""
        if self._handle is not None:
            with contextlib.suppress(OSError):
                self.reserve.unlink(missing_ok=True)
            os.close(self._handle)
            self._handle = None
            self.is_short = False

    def append(self, *lines: dict[str, Any], sync: bool = True) -> None:
        """Write lines, whole, and onto the disk; raises :class:`LedgerFull` and leaves the file as it was."""
        assert self._handle is not None
        data = b"".join(json.dumps(line).encode() + b"\n" for line in lines)
        before = os.fstat(self._handle).st_size
        try:
            self._write(data, before, sync)
        except OSError as error:
            if self.is_short or not self.reserve.exists():
                raise LedgerFull(self.path, error) from error
            self.is_short = True
            with contextlib.suppress(OSError):
                self.reserve.unlink()
            try:
                self._write(data, before, sync)
            except OSError as again:
                raise LedgerFull(self.path, again) from again

    def _write(self, data: bytes, before: int, sync: bool) -> None:
        assert self._handle is not None
        try:
            write_whole(self._handle, data)
            if sync:
                os.fdatasync(self._handle)
        except OSError:
            os.ftruncate(self._handle, before)
            raise

    def _keep_room(self) -> None:
        handle = os.open(self.reserve, os.O_WRONLY | os.O_CREAT | os.O_CLOEXEC, 0o600)
        try:
            os.posix_fallocate(handle, 0, RESERVE_BYTES)
        finally:
            os.close(handle)

    def _close_line(self) -> None:
        """End a last line that was cut off, so that the next one stands for itself."""
        assert self._handle is not None
        size = os.fstat(self._handle).st_size
        if size and os.pread(self._handle, 1, size - 1) != b"\n":
            self._write(b"\n", size, True)
