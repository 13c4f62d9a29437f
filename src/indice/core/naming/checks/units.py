"""How a library falls apart for its checks: rules look at one unit at a time, but for a few.

A *unit* is a folder that does not only sort, with all that lies below; the folders above, which only sort, are the
*shell*, and so are those of subtitles and extras that lie right in it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import lru_cache

from ...reading.places import is_sorting
from ...reading.work import folder_role
from .model import Hit
from .series import name_of_home

__all__ = [
    "OF_FOLDERS",
    "alike_units",
    "is_shell",
    "shell_above",
    "sorted_by_what_is_below",
    "unique",
    "unit_of",
    "with_files_of",
]

OF_FOLDERS = ("folder-empty", "kind-unexpected")
"""Checks that say something of a whole folder with all below; what the outer one says is not said again."""


def unit_of(directory: str) -> str | None:
    """The unit that a folder lies in; None when it belongs to the shell."""
    parts = directory.split("/") if directory else []
    for count, part in enumerate(parts, 1):
        if not is_shell(part):
            return "/".join(parts[:count])
    return None


_BESIDE = ("subs", "extra")


@lru_cache(maxsize=1 << 16)
def is_shell(name: str) -> bool:
    """Whether a folder below one of the shell belongs to it, too: it only sorts, or
    holds what goes with the files beside it."""
    return is_sorting(name) or folder_role(name) in _BESIDE


def with_files_of(directory: str) -> str:
    """The folder of the shell whose files those in this one go with: `Drama/Subs`
    holds what goes with the films in `Drama`."""
    while directory and folder_role(directory.rpartition("/")[2]) in _BESIDE:
        directory = directory.rpartition("/")[0]
    return directory


def shell_above(directory: str) -> Iterator[str]:
    """The folders of the shell that a folder lies in or is, the top one last."""
    unit = unit_of(directory)
    above = directory if unit is None else unit.rpartition("/")[0]
    yield above
    while above:
        above = above.rpartition("/")[0]
        yield above


def sorted_by_what_is_below(directory: str) -> Iterator[str]:
    """Folders of the shell above one which sort by what lies below, not by their name: `Extras` with films in it."""
    return (up for up in shell_above(directory) if up and not is_sorting(up.rpartition("/")[2]))


def alike_units(directories: Iterable[str]) -> list[frozenset[str]]:
    """Units of which each holds a folder that names the same series; `directories`: all that hold files."""
    named: dict[tuple[str, int | None], set[str]] = defaultdict(set)
    for directory in directories:
        unit = unit_of(directory)
        while unit is not None and len(directory) >= len(unit):
            above, _, last = directory.rpartition("/")
            name = name_of_home(last)
            if name is not None:
                named[name].add(unit)
            directory = above
    return [frozenset(units) for units in named.values() if len(units) > 1]


def unique(hits: Iterable[tuple[str, Hit]]) -> list[tuple[str, Hit]]:
    """Each finding once, the one that knows its moves; what an outer folder says is not said again below it."""
    best: dict[tuple[str, str], Hit] = {}
    for slug, hit in hits:
        known = best.get((slug, hit.path))
        if known is None or (hit.moves and not known.moves):
            best[slug, hit.path] = hit
    outer = [(slug, path) for slug, path in best if slug in OF_FOLDERS and path.endswith("/")]
    return [
        (slug, hit)
        for (slug, path), hit in best.items()
        if slug not in OF_FOLDERS or not any(s == slug and path != p and path.startswith(p) for s, p in outer)
    ]
