"""What goes along when a main file moves: its subtitles, lyrics, artwork and
sidecars, and all that its folder holds."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping

from ..reading.places import is_sorting
from ..reading.work import folder_role
from .listing import MAINS, Item, Listing

__all__ = ["is_disc_folder", "with_belongings"]

_DISC_FOLDER = re.compile(r"(?:cd|disc|disk|dvd|vinyl|lp|side)[\s._-]*[0-9a-d]+\b.*", re.IGNORECASE)

Move = tuple[str, str]


def is_disc_folder(folder: str) -> bool:
    """Whether a folder is one disc of an album."""
    return _DISC_FOLDER.fullmatch(folder.rpartition("/")[2]) is not None


def with_belongings(listing: Listing, moves: Iterable[Move]) -> tuple[Move, ...]:
    """The moves, and those of every file that goes along.

    A file whose name begins with a moved file's name keeps doing so. When every main file of a folder moves to one
    other folder, the rest of it follows: a poster, the extras, the album's booklet. Moves of files stay in their order.
    """
    chosen = dict(moves)
    found = dict(chosen)
    for folder in {before.rpartition("/")[0] for before in chosen}:
        _by_name(listing.by_folder.get(folder, ()), chosen, found)
    targets: dict[str, str | None] = {}
    folders = {before.rpartition("/")[0] for before in chosen}
    for folder in tuple(folders):
        while "/" in folder:
            folder = folder.rpartition("/")[0]
            folders.add(folder)
    for folder in sorted(folders, key=lambda name: -name.count("/")):
        if folder:
            targets[folder] = _target(listing, folder, chosen, targets)
    for folder, target in targets.items():
        if target is not None and target != folder:
            _rest(listing, folder, target, found, set(targets))
    return tuple(found.items())


def _by_name(items: Iterable[Item], chosen: Mapping[str, str], found: dict[str, str]) -> None:
    """Files that carry the name of a moved file, to the longest such name."""
    mains = [item for item in items if item.kind in MAINS]
    for item in items:
        if item.kind in MAINS or item.path in found:
            continue
        owners = [
            m for m in mains if item.name.startswith(m.stem) and not item.name[len(m.stem) : len(m.stem) + 1].isalnum()
        ]
        owner = max(owners, key=lambda main: len(main.stem), default=None)
        if owner is not None and owner.path in chosen:
            after = chosen[owner.path]
            folder, _, name = after.rpartition("/")
            stem = name.rpartition(".")[0] if "." in name else name
            fresh = stem + item.name[len(owner.stem) :]
            found[item.path] = f"{folder}/{fresh}" if folder else fresh


def _target(listing: Listing, folder: str, chosen: Mapping[str, str], targets: Mapping[str, str | None]) -> str | None:
    """The one folder that all main files of a folder move to, or None."""
    if is_sorting(folder.rpartition("/")[2]):
        return None
    mains = [item for item in listing.by_folder.get(folder, ()) if item.kind in MAINS]
    if any(item.path not in chosen for item in mains):
        return None
    if mains:
        places = {chosen[item.path].rpartition("/")[0] for item in mains}
        return places.pop() if len(places) == 1 else None
    below: set[str | None] = set()
    for child in listing.subfolders.get(folder, ()):
        if not _has_mains(listing, child):
            continue
        target = targets.get(child)
        role = folder_role(child.rpartition("/")[2])
        below.add(target if target is None or role in ("disc", "structure") else target.rpartition("/")[0])
    return below.pop() if len(below) == 1 else None


def _has_mains(listing: Listing, folder: str) -> bool:
    return any(item.kind in MAINS for item in listing.by_folder.get(folder, ())) or any(
        _has_mains(listing, child) for child in listing.subfolders.get(folder, ())
    )


def _rest(listing: Listing, folder: str, target: str, found: dict[str, str], moving: set[str]) -> None:
    """What is left in a folder, and in the folders of extras and subtitles below it, follows to its target."""
    pending = [folder]
    here: dict[str, list[Item]] = defaultdict(list)
    while pending:
        place = pending.pop()
        here[place] = list(listing.by_folder.get(place, ()))
        pending += [
            child
            for child in listing.subfolders.get(place, ())
            if child not in moving and not _has_mains(listing, child)
        ]
    for items in here.values():
        for item in items:
            if item.path not in found:
                found[item.path] = (f"{target}/" if target else "") + item.path[len(folder) + 1 :]
