"""Asks the disk whether names are taken."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import lru_cache

__all__ = ["names_on_disk"]


def names_on_disk(root: bytes) -> Callable[[str], bool]:
    """A question to the disk: is this name below a folder taken, in whatever case?
    What was listed last is not listed again."""

    @lru_cache(maxsize=1024)
    def names_in(folder: str) -> frozenset[str]:
        try:
            names = os.listdir(os.path.join(root, os.fsencode(folder)))
        except OSError:
            names = []
        return frozenset(os.fsdecode(name).casefold() for name in names)

    def is_taken(path: str) -> bool:
        folder, _, name = path.rstrip("/").rpartition("/")
        return name.casefold() in names_in(folder)

    return is_taken
