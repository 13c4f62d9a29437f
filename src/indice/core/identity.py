"""Which files are old acquaintances under another name: tells moves from what is new, changed and gone.

A scan finds *bodies*, files as they lie on the disk, and has *records* of files that are not where they were: lost
ones, and displaced ones at whose path something else lies now. :func:`recognise` says which body is which record.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Hashable, Iterable
from dataclasses import dataclass
from typing import TypeVar

__all__ = ["Body", "Record", "Stamp", "recognise", "same_as_found"]


@dataclass(frozen=True, slots=True)
class Stamp:
    """By what a file system knows a file again: the number of its inode alone
    proves nothing, numbers are used again."""

    inode: int
    size_bytes: int
    mtime_ns: int


@dataclass(frozen=True, slots=True)
class Body:
    """A file that was found, and the record that holds it for now."""

    id: int
    stamp: Stamp
    name: str
    """Its path, for people."""
    is_new: bool = True
    """Whether nothing was known at its path; False: something else was."""


@dataclass(frozen=True, slots=True)
class Record:
    """A file that was known, as it was."""

    id: int
    stamp: Stamp
    name: str
    is_lost: bool = True
    """Whether nothing is at its path any more; False: something else is."""
    content: Hashable | None = None
    """What stands for what it held; None when nobody has looked."""
    is_passing: bool = False
    """Whether only a scan that was broken off has seen it: a record that was known before goes first."""


def same_as_found(records: Iterable[Record], found: Collection[int]) -> set[int]:
    """Those of the passing records that are left over and are the same file as one that was found: seen on its way."""
    records = list(records)
    stamps = {record.stamp for record in records if record.id in found and record.stamp.inode}
    return {record.id for record in records if record.is_passing and record.id not in found and record.stamp in stamps}


_Key = TypeVar("_Key", bound=Hashable)
Content = Callable[[Body], Hashable | None]
"""What stands for the content of a body; None when it cannot be read. Asked only where a record has this size."""
Same = Callable[[Record, Body], bool]
"""Confirms that a body holds what a record held, where their contents' stand-ins are equal."""


def recognise(
    records: Iterable[Record], bodies: Iterable[Body], content: Content, same: Same = lambda record, body: True
) -> dict[int, int]:
    """Body's id → id of the record that it is; what is not in it is new, or changed where it lies.

    First by stamp; then by content, those of the same name first. By content a lost record may be a new body or one
    that lies at the path of another; a record whose path holds something else may only be a body that is no new one
    (names that were swapped by copying): a copy of a file that was changed afterwards is a copy.
    """
    bodies = list(bodies)
    found: dict[int, int] = {}
    left = {record.id: record for record in records}

    def take(body: Body, candidates: Iterable[Record], confirm: Same) -> None:
        possible = (one for one in candidates if one.id in left and one.id != body.id)
        for record in sorted(possible, key=lambda record: _far(record, body)):
            if confirm(record, body):
                found[body.id] = left.pop(record.id).id
                return

    by_stamp = _grouped(left.values(), lambda record: record.stamp)
    for body in bodies:
        if body.stamp.inode and body.stamp in by_stamp:
            take(body, by_stamp[body.stamp], lambda record, body: True)
    known = [record for record in left.values() if record.content is not None and record.stamp.size_bytes]
    sizes = {record.stamp.size_bytes for record in known}
    by_content = _grouped(known, lambda record: (record.stamp.size_bytes, record.content))
    for body in bodies:
        if body.id in found or body.stamp.size_bytes not in sizes:
            continue
        holds = content(body)
        alike = by_content.get((body.stamp.size_bytes, holds), []) if holds is not None else []
        take(body, [record for record in alike if record.is_lost or not body.is_new], same)
    return found


def _grouped(records: Iterable[Record], key: Callable[[Record], _Key]) -> dict[_Key, list[Record]]:
    groups: dict[_Key, list[Record]] = defaultdict(list)
    for record in records:
        groups[key(record)].append(record)
    return groups


def _far(record: Record, body: Body) -> tuple[bool, bool, bool, bool, int]:
    """How far a record is from a body: whether it was known before, the same name, the
    same folder, the ending, in this order."""
    theirs, _, mine = record.name.rpartition("/")
    here, _, name = body.name.rpartition("/")
    return (
        record.is_passing,
        mine != name,
        theirs != here,
        mine.rpartition(".")[2] != name.rpartition(".")[2],
        record.id,
    )
