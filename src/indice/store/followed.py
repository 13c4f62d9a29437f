"""Entries follow their files: what was decided of them stays theirs, whatever names and folders the files get."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Mapping
from dataclasses import dataclass

from sqlalchemy import delete, select, text, update
from sqlalchemy.orm import Session

from ..core.grouping import Grouped
from .among import among
from .gone import put_aside
from .joined import hand_over
from .models import Entry, File

__all__ = ["Before", "Was", "follow", "who_served"]


@dataclass(frozen=True, slots=True)
class Was:
    """An entry that files served before a grouping."""

    parent: int | None
    kind: str
    key: str
    library_id: int
    is_decided: bool


@dataclass(frozen=True, slots=True)
class Before:
    """Which entries the files of each key served before, how many did, and what those entries were."""

    votes: Mapping[str, Counter[int]]
    entries: Mapping[int, Was]

    def joined(self) -> dict[int, str]:
        """Entry that files served before → the key that most of them serve now."""
        most: dict[int, tuple[int, str]] = {}
        for key, counted in self.votes.items():
            for id_, count in counted.items():
                most[id_] = max(most.get(id_, (0, "")), (count, key))
        return {id_: key for id_, (_, key) in most.items()}

    def is_as_ever(self, library_id: int) -> bool:
        """Whether the files of each key served the entry of this very key, in this library."""
        return all(
            (self.entries[id_].key, self.entries[id_].library_id) == (key, library_id)
            for key, counted in self.votes.items()
            for id_ in counted
        )


def follow(
    db: Session, library_id: int, before: Before, old: Mapping[str, int], known: Mapping[str, int]
) -> set[int] | None:
    """Entries whose files got other names, or swapped them, keep what was decided
    of them: each takes the key of its files.

    `old` are the entries that were seen, `known` all that have one of the keys now. Returns those that came from other
    libraries; None when nothing changed.
    """
    if before.is_as_ever(library_id):
        return None
    foreign = {id_ for id_, was in before.entries.items() if was.library_id != library_id}
    foreign -= _still_held(db, library_id, foreign)
    chosen, taken = _choose(before, set(old.values()), foreign, known)
    moving = set(chosen)
    replaced = [known[key] for key in chosen.values() if key in known and known[key] not in moving | taken]
    if replaced:
        put_aside(db, library_id, replaced)
        goes = set(replaced)
        hand_over(db, {known[key]: id_ for id_, key in chosen.items() if known.get(key, 0) in goes})
        db.execute(update(Entry).where(among(Entry.parent_id, replaced)).values(parent_id=None))
        db.execute(delete(Entry).where(among(Entry.id, replaced)))
    if not chosen:
        return None
    db.execute(_ASIDE, {"ids": list(chosen)})
    db.execute(_RENAME, {"ids": list(chosen), "keys": list(chosen.values()), "library": library_id})
    if foreign & moving:
        db.execute(_TAKE_ALONG, {"ids": sorted(foreign & moving), "library": library_id})
    db.expire_all()
    return foreign & moving


def _choose(
    before: Before, seen: Collection[int], foreign: Collection[int], known: Mapping[str, int]
) -> tuple[dict[int, str], set[int]]:
    """Which entry takes which other key, and all that hold one.

    Who has most of its files takes it, decided entries before others.
    """
    staying = _staying(before, known)
    taken: set[int] = set(staying.values())
    chosen: dict[int, str] = {}
    pairs = sorted(
        (-count, not before.entries[id_].is_decided, id_, key)
        for key, counted in before.votes.items()
        if key not in staying
        for id_, count in counted.items()
    )
    settled: set[str] = set()
    for _, _, id_, key in pairs:
        if key in settled or id_ in taken or not (id_ in seen or id_ in foreign):
            continue
        if key in known and known[key] not in seen and known[key] != id_:
            continue  # it holds things that were not seen, and stays what it is
        taken.add(id_)
        settled.add(key)
        if before.entries[id_].key != key or id_ in foreign:
            chosen[id_] = key
    return chosen, taken


def who_served(db: Session, grouped: Grouped) -> Before:
    """Which entries the files of each key served before, and what those were."""
    rows = db.execute(
        select(File.id, File.entry_id).where(among(File.id, grouped.serves), File.entry_id.is_not(None))
    ).all()
    before: dict[int, Was] = {}
    wanted: set[int] = {entry_id for _, entry_id in rows if entry_id is not None}
    while wanted:
        query = select(Entry.id, Entry.parent_id, Entry.kind, Entry.key, Entry.library_id, Entry.state != "unseen")
        found = {row[0]: Was(*row[1:]) for row in db.execute(query.where(among(Entry.id, wanted)))}
        before |= found
        wanted = {was.parent for was in found.values() if was.parent is not None} - before.keys()
    votes: dict[str, Counter[int]] = defaultdict(Counter)
    for file_id, entry_id in rows:
        served = grouped.serves[file_id]
        new: str | None = served[0] if served[0] in grouped.entries else None
        was: int | None = entry_id
        while new is not None and was in before and grouped.entries[new].kind == before[was].kind:
            votes[new][was] += 1
            new, was = grouped.entries[new].parent, before[was].parent
    return Before(votes, before)


def _staying(before: Before, known: Mapping[str, int]) -> dict[str, int]:
    """Keys whose own entry still has files there: it stays, unless nobody decided it
    and it is a decided one that joins it."""
    found: dict[str, int] = {}
    own = {key: known[key] for key, counted in before.votes.items() if key in known and known[key] in counted}
    for key, id_ in own.items():
        joins = (
            one
            for one in before.votes[key]
            if one != id_ and before.entries[one].is_decided and before.entries[one].key not in own
        )
        if before.entries[id_].is_decided or next(joins, None) is None:
            found[key] = id_
    return found


def _still_held(db: Session, library_id: int, entry_ids: Collection[int]) -> set[int]:
    """Entries that hold files in other libraries than this, themselves or below."""
    if not entry_ids:
        return set()
    return set(db.scalars(_HELD_ELSEWHERE, {"ids": sorted(entry_ids), "library": library_id}))


_HELD_ELSEWHERE = text(
    """
    with recursive below as (
        select id as top, id from entry where id = any(:ids)
        union
        select below.top, entry.id from entry join below on entry.parent_id = below.id
    )
    select distinct below.top from below join file on file.entry_id = below.id
    join folder on folder.id = file.folder_id
    where folder.library_id <> :library and file.state <> 'missing'
    """
)
_ASIDE = text("update entry set key = 'moves:' || id where id = any(:ids)")
"""Two entries may swap their keys, and none may have the same for a moment."""
_TAKE_ALONG = text(
    """
    with recursive below as (
        select id from entry where id = any(:ids)
        union
        select entry.id from entry join below on entry.parent_id = below.id
    )
    update entry set library_id = :library
    where id in (select id from below) and library_id <> :library
      and not exists (select 1 from entry other where other.library_id = :library and other.key = entry.key)
    """
)


_RENAME = text(
    """
    update entry set key = told.key, library_id = :library
    from unnest(cast(:ids as integer[]), cast(:keys as text[])) as told (id, key)
    where entry.id = told.id
    """
)
