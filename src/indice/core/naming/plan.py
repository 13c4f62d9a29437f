"""Plans of moves: from what should move where to steps that can be done one after the other without harm.

A pure function over names. What cannot be done is a conflict: shown, and left out, never solved by overwriting.
"""

from __future__ import annotations

import unicodedata
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from ..phrase import phrase
from ..reading.work import folder_role
from .belongings import with_belongings
from .listing import MAINS, Item, Listing

__all__ = ["Conflict", "Plan", "Step", "as_it_should_be", "make_plan", "same_name"]

Move = tuple[str, str]
LONGEST_NAME_BYTES = 255


@dataclass(frozen=True, slots=True)
class Step:
    """One rename or move; paths are relative to the library's folder."""

    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Conflict:
    """A move that is left out, and why."""

    before: str
    after: str
    why: str


@dataclass(frozen=True, slots=True)
class Plan:
    """What is to be done, in this order."""

    steps: tuple[Step, ...] = ()
    conflicts: tuple[Conflict, ...] = ()
    moves: tuple[Move, ...] = field(default=())
    """Before → after of every file that moves, without the detours of the steps."""

    @property
    def folders(self) -> tuple[str, ...]:
        """Folders that files move into, without those of the library's top."""
        return tuple(sorted({after.rpartition("/")[0] for _, after in self.moves} - {""}))


def make_plan(
    moves: Iterable[Move], names: Collection[str], folders: Collection[str] = (), *, folds_case: bool = True
) -> Plan:
    """Steps for these moves.

    `names` are the files there are, at least in the directories that moves begin or end in and in those above them;
    `folders` are folders beside those that hold these files. A target may be a name that another move leaves; two
    files that swap go round by a third name, and so does one whose name changes in nothing but case. With
    `folds_case` two names that differ only in case or Unicode form count as one, as they do on many systems.
    """
    key = same_name if folds_case else _same
    wanted: dict[str, str] = {}
    conflicts: list[Conflict] = []
    for before, after in moves:
        if before == after or wanted.get(before) == after:
            continue
        if before in wanted:
            conflicts.append(Conflict(before, after, phrase("Another change moves it to {path}.", path=wanted[before])))
        else:
            wanted[before] = after
    there = set(names)
    folder_names = set(folders)
    for name in there:
        while name := name.rpartition("/")[0]:
            folder_names.add(name)
    conflicts += _refuse(wanted, _bad_targets(wanted, there))
    folder_keys = {key(folder) for folder in folder_names}
    while refused := dict(_collisions(wanted, there, folder_keys, key)):
        conflicts += _refuse(wanted, refused.items())
    steps = tuple(_ordered(wanted, key))
    return Plan(steps, tuple(sorted(conflicts, key=lambda c: c.before)), tuple(wanted.items()))


def same_name(path: str) -> str:
    """What two paths have in common that many systems take for one: they differ in case or Unicode form alone."""
    return unicodedata.normalize("NFC", unicodedata.normalize("NFC", path).casefold())


def _same(path: str) -> str:
    return path


def _refuse(wanted: dict[str, str], refused: Iterable[tuple[str, str]]) -> list[Conflict]:
    found: list[Conflict] = []
    for before, why in list(refused):
        after = wanted.pop(before, None)
        if after is not None:
            found.append(Conflict(before, after, why))
    return found


def _bad_targets(wanted: dict[str, str], there: set[str]) -> Iterator[tuple[str, str]]:
    """Moves that no order could do."""
    for before, after in wanted.items():
        parts = after.split("/")
        if before not in there:
            yield before, "It is not there any more."
        elif not all(parts) or any(part in (".", "..") or "\0" in part for part in parts):
            yield before, phrase("The new name is no path below the library.")
        elif any(len(part.encode("utf-8", "surrogateescape")) > LONGEST_NAME_BYTES for part in parts):
            yield (
                before,
                phrase("The new name has more than {most} bytes.", most=LONGEST_NAME_BYTES),
            )


def _collisions(
    wanted: dict[str, str], there: set[str], folder_keys: set[str], key: Callable[[str], str]
) -> Iterator[tuple[str, str]]:
    """Moves onto a name that stays taken, or that another move wants as well."""
    staying = {key(name): name for name in sorted(there, reverse=True) if name not in wanted}
    targets = Counter(key(after) for after in wanted.values())
    target_folders: set[str] = set()
    for after in wanted.values():
        while after := after.rpartition("/")[0]:
            target_folders.add(key(after))
    for before, after in wanted.items():
        folded = key(after)
        if folded in staying:
            yield before, phrase("{name} is there.", name=staying[folded])
        elif targets[folded] > 1:
            yield before, phrase("Another file would get this name as well.")
        elif folded in folder_keys or folded in target_folders:
            yield before, phrase("A folder has this name.")
        else:
            above = after
            while above := above.rpartition("/")[0]:
                if key(above) in staying:
                    yield before, phrase("{name} is a file, not a folder.", name=staying[key(above)])
                    break


def _ordered(wanted: dict[str, str], key: Callable[[str], str]) -> Iterator[Step]:
    """Steps such that each target is free when its turn comes; rings are opened by a detour.

    A move waits for every file that holds its target, or that lies where a folder of its target will: under one key
    there may be several, since names that differ in case only are two on some disks. Depth first, without recursion.
    """
    holders: dict[str, list[str]] = {}
    for before in wanted:
        holders.setdefault(key(before), []).append(before)
    waiting = dict(wanted)
    number = 0
    for first in wanted:
        if first not in waiting:
            continue
        detours: list[Step] = []
        aside: set[str] = set()
        way: dict[str, Iterator[str]] = {first: _in_the_way(first, wanted, holders, key)}
        while way:
            before = next(reversed(way))
            holder = next(way[before], None)
            if holder is None:
                del way[before]
                after = waiting.pop(before)
                if before not in aside:
                    yield Step(before, after)
            elif holder in way:
                if before not in aside:  # a ring: this one goes out of the way, and to its place at the end
                    number += 1
                    folder = before.rpartition("/")[0]
                    place = f"{folder + '/' if folder else ''}.indice-aside-{number}"
                    yield Step(before, place)
                    detours.append(Step(place, wanted[before]))
                    aside.add(before)
            elif holder in waiting:
                way[holder] = _in_the_way(holder, wanted, holders, key)
        yield from detours


def _in_the_way(
    before: str, wanted: dict[str, str], holders: dict[str, list[str]], key: Callable[[str], str]
) -> Iterator[str]:
    """Files that must have moved before a move can be done."""
    place = wanted[before]
    while place:
        yield from holders.get(key(place), ())
        place = place.rpartition("/")[0]


def as_it_should_be(listing: Listing, *, paths: Collection[str] | None = None) -> tuple[Move, ...]:
    """Moves that put a whole library, or the files of these paths, where its
    convention says, with what belongs to them."""
    moves: list[Move] = []
    for item in listing.items:
        if item.kind not in MAINS or (paths is not None and item.path not in paths) or item.problem:
            continue
        after = listing.tidy(item)
        if after is not None:
            moves.append((item.path, after))
    found = dict(with_belongings(listing, moves))
    found |= _beside(listing, found)
    return tuple((before, after) for before, after in found.items() if before != after)


def _beside(listing: Listing, moves: Mapping[str, str]) -> dict[str, str]:
    """Subtitles, extras and pictures of films, and subtitles of episodes, as the convention's own templates call them.

    Where two files would get one name, both keep the ending that they have.
    """
    wanted: dict[str, str] = {}
    for item in listing.items:
        if item.kind not in ("subtitle", "extra", "artwork", "lyrics"):
            continue
        owner = _owner(listing, item)
        if owner is None or owner.path not in moves or (item.kind == "subtitle" and not item.reading.get("language")):
            continue
        if owner.kind != "movie" and item.kind in ("artwork", "extra"):
            continue
        main = moves[owner.path]
        main = main[: len(main) - len(owner.extension) - 1] if owner.extension else main
        path = listing.convention.path(item.kind, {**item.reading, "main": main}, item.extension, original=item.stem)
        if path is not None:
            wanted[item.path] = path
    counts = Counter(same_name(path) for path in wanted.values())
    return {before: after for before, after in wanted.items() if counts[same_name(after)] == 1}


def _owner(listing: Listing, item: Item) -> Item | None:
    """The main file that a side file goes by: the one whose name it carries, else the only film of its folder."""
    folder = item.folder
    mains = [other for other in listing.by_folder.get(folder, ()) if other.kind in MAINS]
    named = [other for other in mains if item.name.startswith(other.stem)]
    if named:
        return max(named, key=lambda other: len(other.stem))
    while folder and folder_role(folder.rpartition("/")[2]) in ("extra", "subs"):
        folder = folder.rpartition("/")[0]
        mains = [other for other in listing.by_folder.get(folder, ()) if other.kind in MAINS]
    films = [other for other in mains if other.kind == "movie"]
    return films[0] if len(films) == len(mains) == 1 and listing.home(films[0]) == folder else None
