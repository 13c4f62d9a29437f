"""Where the folders of the catalog lie on this machine: another one that works along may see them at another place.

`Folder.path` is written and asked for as the catalog has it, and read as this
machine sees it. Nothing else knows of it.
"""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import Any

from sqlalchemy import LargeBinary
from sqlalchemy.types import TypeDecorator

__all__ = ["SeenPath", "here_of", "is_elsewhere", "is_told", "is_within", "see_as", "there_of"]

_seen: list[tuple[bytes, bytes]] = []
"""Where it lies for the catalog, and where for this machine; the longest first."""


def see_as(pairs: Sequence[tuple[str, str]]) -> None:
    """From now on what the catalog has below the first of a pair is read as below the second; none: as it is."""
    told = [(os.fsencode(there).rstrip(b"/"), os.fsencode(here).rstrip(b"/")) for there, here in pairs]
    _seen[:] = sorted(told, key=lambda pair: len(pair[0]), reverse=True)


def is_within(path: bytes, folder: bytes) -> bool:
    """Whether a path is a folder, or lies below it."""
    return path == folder or path.startswith(folder + b"/")


def here_of(path: bytes) -> bytes:
    """A path of the catalog as this machine sees it."""
    for there, here in _seen:
        if is_within(path, there):
            return here + path[len(there) :]
    return path


def there_of(path: bytes) -> bytes:
    """A path of this machine as the catalog has it."""
    for there, here in _seen:
        if is_within(path, here):
            return there + path[len(here) :]
    return path


def is_told(path: bytes) -> bool:
    """Whether it was said where a path of the catalog lies on this machine."""
    return any(is_within(path, there) for there, _ in _seen)


def is_elsewhere(path: bytes) -> bool:
    """Whether this machine sees a folder at another place than the catalog has it."""
    return any(is_within(path, here) for _, here in _seen)


class SeenPath(TypeDecorator[bytes]):
    """A path of the catalog, read as this machine sees it."""

    impl = LargeBinary
    cache_ok = True

    def process_bind_param(self, value: bytes | None, dialect: Any) -> bytes | None:
        """As the catalog has it."""
        return None if value is None else there_of(bytes(value))

    def process_result_value(self, value: bytes | None, dialect: Any) -> bytes | None:
        """As this machine sees it."""
        return None if value is None else here_of(bytes(value))
