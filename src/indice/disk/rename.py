"""Renames without ever replacing a file, on one file system or across two."""

from __future__ import annotations

import ctypes
import errno
import hashlib
import os
import shutil
import stat
from collections.abc import Callable
from functools import cache

__all__ = ["copy_verified", "digest_of", "rename_without_replacing"]

_NO_REPLACE = 1
_AT_CWD = -100
_CHUNK = 1 << 20


@cache
def _renameat2() -> Callable[..., int] | None:
    try:
        call = ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError):
        return None
    call.argtypes = (ctypes.c_int, ctypes.c_char_p, ctypes.c_int, ctypes.c_char_p, ctypes.c_uint)
    return call


def rename_without_replacing(before: bytes, after: bytes) -> None:
    """Rename a file; raises FileExistsError when the new name is taken, OSError with EXDEV across file systems.

    Uses the system's no-replace rename (Linux `renameat2`), else a hard link and the removal of the old name.
    """
    call = _renameat2()
    if call is not None:
        if call(_AT_CWD, before, _AT_CWD, after, _NO_REPLACE) == 0:
            return
        number = ctypes.get_errno()
        if number not in (errno.EINVAL, errno.ENOSYS, errno.ENOTSUP):
            raise OSError(number, os.strerror(number), os.fsdecode(after))
    try:
        os.link(before, after, follow_symlinks=False)
    except OSError as error:
        if error.errno not in (errno.EPERM, errno.ENOTSUP, errno.EMLINK):
            raise
        # no hard links here either: a look first is the best that such a file system allows
        if os.path.lexists(after):
            raise FileExistsError(errno.EEXIST, os.strerror(errno.EEXIST), os.fsdecode(after)) from error
        os.rename(before, after)
        return
    os.unlink(before)


def digest_of(path: bytes) -> str:
    """Digest (BLAKE2b, 32 bytes, hexadecimal) of a file's content."""
    found = hashlib.blake2b(digest_size=32)
    with open(path, "rb") as file:
        while chunk := file.read(_CHUNK):
            found.update(chunk)
    return found.hexdigest()


def copy_verified(source: bytes, target: bytes) -> tuple[os.stat_result, str]:
    """Copy to a name that is free, write it to the disk, read it back and compare; times and permissions are kept.

    Returns the state of the copy, and the digest of its content. Raises OSError, and leaves no
    copy, when anything is not as it should be.
    """
    try:
        held = hashlib.blake2b(digest_size=32)
        with open(source, "rb") as reader, open(target, "xb") as writer:
            while chunk := reader.read(_CHUNK):
                held.update(chunk)
                writer.write(chunk)
            writer.flush()
            os.fsync(writer.fileno())
        if digest_of(target) != held.hexdigest():
            raise OSError(errno.EIO, "The copy is not like the original", os.fsdecode(target))
        status = os.stat(source)
        if os.geteuid() == 0:
            os.chown(target, status.st_uid, status.st_gid)
        shutil.copystat(source, target)
        os.chmod(target, stat.S_IMODE(status.st_mode))
    except BaseException:
        if os.path.lexists(target):
            os.unlink(target)
        raise
    return os.stat(target), held.hexdigest()
