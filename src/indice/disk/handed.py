"""Files that somebody hands in: written beside what is there, never over it, and
under their name only when they are whole."""

from __future__ import annotations

import contextlib
import os
import re
import secrets
import unicodedata
from collections.abc import Callable

__all__ = ["TooShort", "name_for", "write_handed"]

_CHUNK = 1 << 18
LONGEST_NAME_BYTES = 200
_NOT_IN_NAMES = re.compile(r'[/\\:*?"<>|\x00-\x1f\x7f]')


class TooShort(Exception):
    """What was announced did not all come."""


def name_for(said: str) -> str:
    """A name on disk for what somebody calls a file: no folder, nothing hidden, nothing that another system refuses."""
    name = _NOT_IN_NAMES.sub("_", unicodedata.normalize("NFC", said).replace("\\", "/").rpartition("/")[2])
    name = (
        "".join(c for c in name if unicodedata.category(c) not in ("Cc", "Cf", "Cs")).strip().lstrip(".").rstrip(". ")
    )
    stem, dot, extension = name.rpartition(".")
    stem, extension = (stem, extension) if dot and len(extension) <= 10 else (name, "")
    room = LONGEST_NAME_BYTES - len(extension.encode()) - 1
    stem = stem.encode("utf-8", "ignore")[:room].decode("utf-8", "ignore").rstrip() or "file"
    return f"{stem}.{extension}" if extension else stem


def write_handed(folder: bytes, said: str, read: Callable[[int], bytes], size_bytes: int) -> str:
    """Write a file into a folder as it comes; returns the name that it has there.

    Raises :class:`TooShort` when less comes than was announced, OSError when it
    cannot be written; then nothing is left.
    """
    name = name_for(said)
    part = os.path.join(folder, os.fsencode(f".{secrets.token_hex(8)}.part"))
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o640)
    try:
        with os.fdopen(handle, "wb") as file:
            left = size_bytes
            while left > 0:
                chunk = read(min(_CHUNK, left))
                if not chunk:
                    raise TooShort
                file.write(chunk)
                left -= len(chunk)
            file.flush()
            os.fsync(file.fileno())
        return _settle(folder, part, name)
    finally:
        with contextlib.suppress(FileNotFoundError):
            os.unlink(part)


def _settle(folder: bytes, part: bytes, name: str) -> str:
    """Give what is whole a name that nothing else has."""
    stem, dot, extension = name.rpartition(".")
    stem, extension = (stem, dot + extension) if dot else (name, "")
    for number in range(1, 1000):
        chosen = name if number == 1 else f"{stem} ({number}){extension}"
        try:
            os.link(part, os.path.join(folder, os.fsencode(chosen)))
        except FileExistsError:
            continue
        except PermissionError:  # a file system without links
            target = os.path.join(folder, os.fsencode(chosen))
            os.close(os.open(target, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o640))
            os.replace(part, target)
        return chosen
    raise FileExistsError(name)
