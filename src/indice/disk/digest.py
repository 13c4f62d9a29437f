"""Fingerprints of what files hold: of some of the bytes, which is quick, and of all of them.

Both are BLAKE2b of 16 bytes. That of a small file's sample is of all its bytes.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from hashlib import blake2b

from .pace import READING

__all__ = ["SMALL_BYTES", "digest_of", "sample_of"]

BLOCK_BYTES = 64 << 10
BLOCKS = 4
"""So many blocks make a sample: the first, the last, and some between them at even distances."""
SMALL_BYTES = BLOCK_BYTES * BLOCKS
"""A file of so many bytes or fewer is read whole for its sample."""
CHUNK_BYTES = 4 << 20
WIDTH = 16


def sample_of(path: bytes) -> bytes:
    """Fingerprint of a file's length and of some of its bytes; raises OSError when it cannot be read."""
    handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC)
    try:
        size = os.fstat(handle).st_size
        made = blake2b(size.to_bytes(8, "big"), digest_size=WIDTH)
        if size <= SMALL_BYTES:
            made.update(os.read(handle, SMALL_BYTES))
        else:
            for place in range(BLOCKS):
                made.update(os.pread(handle, BLOCK_BYTES, place * (size - BLOCK_BYTES) // (BLOCKS - 1)))
        return made.digest()
    finally:
        os.close(handle)


def digest_of(path: bytes, read: Callable[[int], None] | None = None) -> bytes:
    """Fingerprint of all bytes of a file; `read` is told how many were read, and may raise to stop it.

    Raises OSError when it cannot be read. What is read is not kept in memory by the system: a whole library
    would push out all that is needed there.
    """
    made = blake2b(digest_size=WIDTH)
    handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC)
    try:
        place = 0
        while chunk := os.read(handle, CHUNK_BYTES):
            made.update(chunk)
            if place >= CHUNK_BYTES:
                os.posix_fadvise(handle, place, len(chunk), os.POSIX_FADV_DONTNEED)
            place += len(chunk)
            READING.took(len(chunk))
            if read is not None:
                read(len(chunk))
        return made.digest()
    finally:
        os.close(handle)
