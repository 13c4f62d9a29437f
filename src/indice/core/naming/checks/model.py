"""What a check is, what it looks at, and what it finds."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

__all__ = ["Check", "Finding", "Item", "Listing", "Move", "check"]

Move = tuple[str, str]
"""A path as it is, and as it should be."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """A file of the library, as checks see it."""

    path: str
    kind: str
    reading: dict[str, Any]
    size_bytes: int = 0
    tags: dict[str, Any] | None = None
    """Embedded tags; None when nobody has looked inside."""
    has_picture: bool | None = None
    """Whether a cover is embedded; None when nobody has looked inside."""

    @property
    def folder(self) -> str:
        """Its folder, without the last slash; empty for the library's top folder."""
        return self.path.rpartition("/")[0]

    @property
    def name(self) -> str:
        """Its file name."""
        return self.path.rpartition("/")[2]


@dataclass(frozen=True)
class Listing:
    """A library as it lies on disk."""

    library: str
    """Its kind."""
    items: Sequence[Item]

    @cached_property
    def by_folder(self) -> dict[str, list[Item]]:
        """Folder → its files, in the order of their names."""
        folders: dict[str, list[Item]] = defaultdict(list)
        for item in sorted(self.items, key=lambda item: item.path):
            folders[item.folder].append(item)
        return dict(folders)


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something a check found."""

    check: str
    path: str
    """What it is about; a folder's path ends with a slash."""
    severity: str
    message: str
    fix: str | None = None
    fix_kind: str | None = None
    also: tuple[str, ...] = ()
    moves: tuple[Move, ...] = field(default=())
    """Before → after of every file that the fix would move."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """A rule: one place says what it finds, why that matters, and how it looks mended."""

    slug: str
    title: str
    libraries: tuple[str, ...]
    severity: str
    why: str
    before: str
    after: str
    find: Callable[[Listing], Iterator[Finding]]


def check(
    *, slug: str, title: str, libraries: tuple[str, ...], severity: str, why: str, before: str, after: str
) -> Callable[[Callable[[Listing], Iterator[Finding]]], Check]:
    """Build a :class:`Check` around the function that finds."""

    def build(find: Callable[[Listing], Iterator[Finding]]) -> Check:
        return Check(
            slug=slug,
            title=title,
            libraries=libraries,
            severity=severity,
            why=why,
            before=before,
            after=after,
            find=find,
        )

    return build
