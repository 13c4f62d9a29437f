"""Asks the disk whether names are taken."""

from __future__ import annotations

import os
from collections.abc import Callable

__all__ = ["names_on_disk"]


def names_on_disk(root: bytes) -> Callable[[str], bool]:
    """A question to the disk: is this name below a folder taken, in whatever case? Each folder is listed once."""
    listed: dict[str, frozenset[str]] = {}

    def is_taken(path: str) -> bool:
        folder, _, name = path.rstrip("/").rpartition("/")
        if folder not in listed:
            try:
                names = os.listdir(os.path.join(root, os.fsencode(folder)))
            except OSError:
                names = []
            listed[folder] = frozenset(os.fsdecode(name).casefold() for name in names)
        return name.casefold() in listed[folder]

    return is_taken
