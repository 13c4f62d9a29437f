"""Paths as text in the records.

A database takes no lone surrogates, with which Python writes bytes that are no UTF-8. They are kept as characters of a
private range instead (U+EF80 to U+EFFF, one for each byte), so that no path is lost and each can be turned back.
"""

from __future__ import annotations

from collections.abc import Iterator

__all__ = ["ODD", "ancestors", "exact_path", "kept_path", "shown_path"]

ODD = "\ufffd"
"""Stands for a byte that is no UTF-8 in a path as it is shown, which does not tell which byte it is."""

_OUT = {code: code - 0xDC80 + 0xEF80 for code in range(0xDC80, 0xDD00)}
_BACK = {kept: code for code, kept in _OUT.items()}
_SHOWN = dict.fromkeys(_BACK, 0xFFFD)


def ancestors(directory: str) -> Iterator[str]:
    """A directory and all above it, the top one, which is empty, last."""
    yield directory
    while directory:
        directory = directory.rpartition("/")[0]
        yield directory


def kept_path(path: str) -> str:
    """A path from `os.fsdecode` as it is kept."""
    return path if path.isascii() else path.translate(_OUT)


def exact_path(path: str) -> str:
    """A kept path as `os.fsencode` takes it."""
    return path if path.isascii() else path.translate(_BACK)


def shown_path(path: str) -> str:
    """A kept path for people: bytes that are no UTF-8 are shown as U+FFFD."""
    return path if path.isascii() else path.translate(_SHOWN)
