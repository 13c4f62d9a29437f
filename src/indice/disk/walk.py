"""Walks a folder, one directory at a time. Paths stay bytes; what cannot be read is reported and the rest goes on."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterator
from dataclasses import dataclass, field
from hashlib import blake2b
from stat import S_ISDIR, S_ISLNK, S_ISREG
from typing import NamedTuple

from ..core.phrase import phrase
from .links import leads_out

__all__ = [
    "BIN",
    "Directory",
    "Seen",
    "is_away",
    "is_closed",
    "list_directory",
    "mark_of",
    "shown",
    "signature_of",
    "walk",
]


BIN = b".indice-bin"
"""Directory in a library's folder where what a person put aside lies until it is
emptied; it is no part of the library."""


class Seen(NamedTuple):
    """A file as the walk saw it."""

    path: bytes
    """Relative to the walked folder."""
    size_bytes: int
    mtime_ns: int
    inode: int
    mode: int = 0o644
    """Permissions, as the system gives them."""


@dataclass(slots=True)
class Directory:
    """One directory with its files."""

    path: bytes
    files: list[Seen] = field(default_factory=list)
    problem: str = ""
    """Why it could not be listed; empty when it could."""
    outside: list[bytes] = field(default_factory=list)
    """Links that lead out of the walked folder; they are not followed."""

    grows: frozenset[bytes] = frozenset()
    """Files that were still being written when they were looked at twice; nothing is said of them yet."""

    def signature(self, salt: bytes) -> bytes:
        """Fingerprint of all files with their sizes, times and inodes; the same as long as nothing has changed here."""
        return signature_of(salt, len(self.files), sum(mark_of(_record(seen)) for seen in self.files))


def _record(seen: Seen) -> bytes:
    """A file as `find` says it: size, seconds with ten places, inode, path."""
    seconds, rest = divmod(seen.mtime_ns, 10**9)
    return b"%d %d.%09d0 %d %b" % (seen.size_bytes, seconds, rest, seen.inode, seen.path)


def mark_of(record: bytes) -> int:
    """A file's share of the fingerprint of its directory; they are added up, so that their order does not matter."""
    return int.from_bytes(blake2b(record, digest_size=16).digest(), "little")


def signature_of(salt: bytes, count: int, marks: int) -> bytes:
    """The fingerprint of a directory with so many files, and the sum of their marks."""
    return blake2b(b"%b%d %d" % (salt, count, marks), digest_size=16).digest()


def shown(path: bytes) -> str:
    """A path for people: bytes that are no UTF-8 become U+FFFD, one for one, so that positions stay."""
    text = os.fsdecode(path)
    return (
        "".join("\ufffd" if 0xDC80 <= ord(c) <= 0xDCFF else c for c in text).replace("\0", "\ufffd")
        if not text.isascii()
        else text
    )


def _reason(error: OSError) -> str:
    if error.errno in (errno.EACCES, errno.EPERM):
        return phrase("No permission to read it. Give the account that runs Indice read access.")
    if error.errno in (errno.EIO, errno.ESTALE, errno.ENOTCONN, errno.EHOSTDOWN):
        return phrase("The drive or the share does not answer. Check the cable or the network.")
    if error.errno == errno.ENOENT:
        return phrase("It is not there any more.")
    return os.strerror(error.errno) if error.errno else str(error)


def is_away(root: bytes) -> bool:
    """Whether a library's folder has vanished: an unplugged drive leaves no folder, or an empty one."""
    try:
        with os.scandir(root) as listing:
            return next((entry for entry in listing if entry.name != BIN), None) is None
    except (FileNotFoundError, NotADirectoryError):
        return True
    except OSError as error:
        return error.errno in (errno.EIO, errno.ESTALE, errno.ENOTCONN, errno.EHOSTDOWN, errno.ENODEV)


_AS_ROOT = os.geteuid() == 0
"""The administrator reads everything; what nobody else can read is a problem all the same."""


def is_closed(path: bytes, mode: int) -> bool:
    """Whether a file of these permissions cannot be read: by this account, or by anybody but the administrator."""
    if mode & 0o004:
        return False
    return not mode & 0o444 if _AS_ROOT else not os.access(path, os.R_OK)


def list_directory(root: bytes, relative: bytes) -> tuple[Directory, list[bytes]]:
    """One directory with its files, and the directories in it; links to directories are not followed."""
    here = Directory(relative)
    below: list[bytes] = []
    place = os.path.join(root, relative) if relative else root
    try:
        if _AS_ROOT and not os.stat(place).st_mode & 0o444:
            raise PermissionError(errno.EACCES, "")
        with os.scandir(place) as listing:
            for entry in listing:
                path = relative + b"/" + entry.name if relative else entry.name
                try:
                    status = entry.stat(follow_symlinks=False)
                    mode = status.st_mode
                    if S_ISDIR(mode):
                        if path != BIN:
                            below.append(path)
                        continue
                    if S_ISLNK(mode):
                        if leads_out(root, os.path.join(place, entry.name)):
                            here.outside.append(path)
                            continue
                        status = entry.stat()
                    if S_ISREG(status.st_mode):
                        here.files.append(Seen(path, status.st_size, status.st_mtime_ns, status.st_ino, status.st_mode))
                except OSError as error:
                    here.problem = here.problem or phrase(
                        "{name}: {reason}", name=shown(entry.name), reason=_reason(error)
                    )
    except OSError as error:
        here.problem = _reason(error)
    here.files.sort()  # by their paths, of which no two are the same
    below.sort()
    return here, below


def walk(root: bytes, *, below: bytes = b"") -> Iterator[Directory]:
    """Every directory of `root`, or of the directory `below` in it, in the order of names."""
    pending = [below]
    while pending:
        here, inside = list_directory(root, pending.pop())
        yield here
        pending.extend(reversed(inside))
