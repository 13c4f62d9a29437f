"""What a whole folder looks like, told by the system's own `find`: of each
directory how many files, and their fingerprint.

To see that nothing has changed each file has to be asked for its size and time, and that is all. `find` does it
several times faster than Python can, on a processor of its own while this one counts. What it says is only ever
used to pass by what looks as it did: any directory in which something is unusual is listed by :mod:`.walk`, which
knows of links and of what cannot be read.
"""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
from collections.abc import Callable
from dataclasses import dataclass

from .walk import BIN, mark_of, signature_of

__all__ = ["Outline", "outline"]

_FORMAT = "%y %m %s %T@ %i %P\\0"
"""Kind, permissions, size, time, inode, path below the folder."""
_CHUNK_BYTES = 1 << 18
_IN_BIN = BIN + b"/"


@dataclass(slots=True)
class Outline:
    """One directory as it looks from afar."""

    count: int = 0
    """How many files lie in it."""
    marks: int = 0
    entries: int = 0
    """How many files and directories."""
    is_plain: bool = True
    """Whether there is nothing in it that has to be looked at more closely, such as links."""

    def signature(self, salt: bytes) -> bytes:
        """As :meth:`.walk.Directory.signature` of the same files."""
        return signature_of(salt, self.count, self.marks)


def outline(root: bytes, tell: Callable[[bytes], None]) -> dict[bytes, Outline] | None:
    """Each directory of a folder, by its path; None where the system has no `find`, or it was ended.

    `tell` hears every now and then how far it is; what it raises ends the work.
    """
    program = shutil.which("find")
    if program is None:
        return None
    asked = [os.fsencode(program), root, b"-printf", _FORMAT.encode()]
    found: dict[bytes, Outline] = {b"": Outline()}
    process = subprocess.Popen(
        asked, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, stdin=subprocess.DEVNULL, env={"LC_ALL": "C"}
    )
    assert process.stdout is not None
    try:
        rest = b""
        while chunk := os.read(process.stdout.fileno(), _CHUNK_BYTES):
            *lines, rest = (rest + chunk).split(b"\0")
            for line in lines:
                _note(found, line)
            if lines:
                tell(lines[-1].rpartition(b" ")[2])
        process.wait()
    finally:
        if process.poll() is None:
            process.kill()
            with contextlib.suppress(OSError):
                process.wait()
        process.stdout.close()
    return found if process.returncode >= 0 else None


def _note(found: dict[bytes, Outline], line: bytes) -> None:
    kind, mode, _, _, _, path = line.split(b" ", 5)
    if path.startswith(_IN_BIN) or (path == BIN and kind == b"d"):
        return
    if kind == b"d":
        here = found.get(path)
        if here is None:
            here = found[path] = Outline()
        if not int(mode, 8) & 0o444:
            here.is_plain = False
        if not path:
            return
    above = path.rpartition(b"/")[0]
    directory = found.get(above)
    if directory is None:
        directory = found[above] = Outline()
    directory.entries += 1
    if kind == b"f":
        directory.count += 1
        directory.marks += mark_of(line[len(kind) + len(mode) + 2 :])
    elif kind != b"d":
        directory.is_plain = False
