"""What a folder is like: where it is mounted, and what can be done in it. Whatever is tried is taken away again."""

from __future__ import annotations

import errno
import os
import re
import secrets
import time
from dataclasses import dataclass

__all__ = ["NAME_BYTES", "Mount", "Trial", "is_on_share", "mount_of", "try_folder"]

_SHARES = frozenset(
    ("cifs", "smb3", "smbfs", "nfs", "nfs4", "9p", "ceph", "afs", "ncpfs", "glusterfs", "davfs", "sshfs")
)
_FOREIGN = frozenset(("fuse", "fuseblk", "exfat", "vfat", "msdos", "ntfs", "ntfs3"))
_OCTAL = re.compile(rb"\\([0-7]{3})")
SLOW_SECONDS = 0.5
"""A listing of a folder that takes longer is slow."""
NAME_BYTES = 255
"""So many bytes may a name have nearly everywhere (POSIX NAME_MAX of Linux' own file systems)."""
_WHY = {
    errno.EACCES: "no-permission",
    errno.EPERM: "no-permission",
    errno.EROFS: "read-only",
    errno.ENOSPC: "full",
    errno.EDQUOT: "full",
    errno.ESTALE: "mount-gone",
    errno.EHOSTDOWN: "mount-gone",
    errno.EHOSTUNREACH: "mount-gone",
    errno.ENOTCONN: "mount-gone",
    errno.ETIMEDOUT: "mount-gone",
    errno.EKEYEXPIRED: "credentials",
    errno.EKEYREJECTED: "credentials",
    errno.ENOKEY: "credentials",
    errno.ENOENT: "not-there",
    errno.ENOTDIR: "not-there",
}


@dataclass(frozen=True, slots=True)
class Mount:
    """What is mounted where a folder lies."""

    at: bytes
    kind: str
    source: str

    @property
    def is_share(self) -> bool:
        """Whether it is another machine's."""
        return self.kind.removeprefix("fuse.") in _SHARES

    @property
    def is_foreign(self) -> bool:
        """Whether another system's rules for names hold in it."""
        return self.kind in _FOREIGN or self.kind.startswith("fuse.")


@dataclass(slots=True)
class Trial:
    """What came of trying a folder."""

    mount: Mount | None = None
    reads: bool = False
    writes: bool = False
    renames: bool = False
    tells_case: bool = True
    """Whether `A` and `a` are two names."""
    name_bytes: int = NAME_BYTES
    takes_colons: bool = True
    seconds: float = 0.0
    """How long a listing took."""
    problem: str = ""
    """`no-permission`, `read-only`, `full`, `mount-gone`, `credentials`,
    `not-there`, `slow`, or a word of the system."""


def mount_of(path: bytes, table: bytes | None = None) -> Mount | None:
    """What is mounted where a path lies, by the kernel's table
    (`/proc/self/mountinfo`, proc(5)); None when nobody says."""
    if table is None:
        try:
            with open("/proc/self/mountinfo", "rb") as file:
                table = file.read()
        except OSError:
            return None
    real = os.path.realpath(path)
    best: Mount | None = None
    for line in table.splitlines():
        first, _, rest = line.partition(b" - ")
        fields, told = first.split(b" "), rest.split(b" ")
        if len(fields) < 5 or len(told) < 2:
            continue
        at = _plain(fields[4])
        inside = at == b"/" or real == at or real.startswith(at.rstrip(b"/") + b"/")
        if inside and (best is None or len(at) >= len(best.at)):  # the last of several at one place is on top
            best = Mount(at, told[0].decode("ascii", "replace"), os.fsdecode(_plain(told[1])))
    return best


def is_on_share(path: bytes, table: bytes | None = None) -> bool:
    """Whether a path lies on a network share."""
    found = mount_of(path, table)
    return found is not None and found.is_share


def _plain(text: bytes) -> bytes:
    return _OCTAL.sub(lambda match: bytes([int(match[1], 8)]), text)


def try_folder(path: bytes) -> Trial:
    """Read, write and rename in a folder, in a hidden place of its own that is gone afterwards."""
    trial = Trial(mount=mount_of(path))
    began = time.monotonic()
    try:
        with os.scandir(path) as listing:
            for _ in zip(range(500), listing, strict=False):
                pass
        trial.reads = True
    except OSError as error:
        trial.problem = _why(error)
        return trial
    finally:
        trial.seconds = time.monotonic() - began
    place = os.path.join(path, b".indice-trial-" + secrets.token_hex(4).encode())
    made: list[bytes] = []
    try:
        os.mkdir(place, 0o700)
        _try_inside(place, trial, made)
    except OSError as error:
        trial.problem = _why(error)
    finally:
        _take_away(place, made)
    if not trial.problem and trial.seconds > SLOW_SECONDS:
        trial.problem = "slow"
    return trial


def _try_inside(place: bytes, trial: Trial, made: list[bytes]) -> None:
    def write(name: bytes) -> bytes:
        path = os.path.join(place, name)
        made.append(path)
        with open(path, "xb") as file:
            file.write(b"trial")
        return path

    first, second = write(b"a"), os.path.join(place, b"b")
    trial.writes = True
    os.rename(first, second)
    made.append(second)
    trial.renames = os.path.exists(second) and not os.path.exists(first)
    trial.tells_case = not os.path.exists(os.path.join(place, b"B"))
    trial.name_bytes = next((size for size in (NAME_BYTES, 200, 143, 64) if _takes(write, b"n" * size)), 8)
    trial.takes_colons = _takes(write, b'a:b"?')


def _takes(write: object, name: bytes) -> bool:
    try:
        write(name)  # type: ignore[operator]
    except OSError:
        return False
    return True


def _take_away(place: bytes, made: list[bytes]) -> None:
    for path in made:
        try:
            os.unlink(path)
        except OSError:
            continue
    try:
        os.rmdir(place)
    except OSError:
        return


def _why(error: OSError) -> str:
    return _WHY.get(error.errno or 0, "") or os.strerror(error.errno or 0)
