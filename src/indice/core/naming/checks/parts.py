"""Checks of a library in parts, which find what one look at all of it finds: for drives that no memory holds at once.

Units are looked at in any number of listings, and so are the folders of the shell (:mod:`.units`); what is said of
folders that hold several of them comes from what is counted on the way.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, field

from . import Hit, Listing, find_hits
from .general import empty_of, full_folders, is_media, is_unexpected, whole_folder_unexpected
from .series import series_homes, split_homes
from .units import OF_FOLDERS, unique

__all__ = ["Part", "hits_of_parts", "look_at_shell", "look_at_units"]

_STRANGE, _EMPTY, _SPLIT = "kind-unexpected", "folder-empty", "series-split"
assert {_STRANGE, _EMPTY} == set(OF_FOLDERS)


@dataclass(slots=True)
class Part:
    """What a look at some units, or at some folders of the shell, comes to."""

    hits: list[tuple[str, Hit]]
    media: Counter[str] = field(default_factory=Counter[str])
    """Unit or folder of the shell → how many files of it count …"""
    strange: Counter[str] = field(default_factory=Counter[str])
    """… and how many of these are of another kind than the library's."""
    full: set[str] = field(default_factory=set[str])
    """Those that are not empty."""
    loose: dict[str, list[str]] = field(default_factory=dict[str, list[str]])
    """Folder of the shell in which all is of another kind → the paths of its files."""
    with_films: set[str] = field(default_factory=set[str])
    """Units that hold films, which tell what folders above them are: those are looked at after the units."""
    homes: list[str] = field(default_factory=list[str])
    """Folders of series, for finding one series in two units."""


def look_at_units(listing: Listing, units: Collection[str], *, off: frozenset[str] = frozenset()) -> Part:
    """Look at units, of which the listing holds all files and folders; the folders above are outside of it."""
    full = full_folders(listing)
    part = Part(list(find_hits(listing, off=off | {_SPLIT})), full={unit for unit in units if unit in full})
    depths = {unit.count("/") + 1 for unit in units}
    known = frozenset(units)
    for item in listing.items:
        if is_media(item):
            steps = item.path.split("/")
            unit = next(path for depth in depths if (path := "/".join(steps[:depth])) in known)
            if item.kind == "movie":
                part.with_films.add(unit)
            part.media[unit] += 1
            part.strange[unit] += is_unexpected(item, listing.library)
    if _SPLIT not in off:
        part.homes = series_homes(listing)
    return part


def look_at_shell(listing: Listing, shell: Collection[str], *, off: frozenset[str] = frozenset()) -> Part:
    """Look at folders of the shell, of which the listing holds the files that lie
    right in them, and knows units with films."""
    full = full_folders(listing)
    found = (
        (slug, hit) for slug, hit in find_hits(listing, off=off) if slug not in OF_FOLDERS or not hit.path.endswith("/")
    )
    part = Part(list(found), full={folder for folder in shell if folder in full})
    for item in listing.items:
        if is_media(item):
            part.media[item.folder] += 1
            part.strange[item.folder] += is_unexpected(item, listing.library)
    for folder, count in part.strange.items():
        if count and count == part.media[folder]:
            part.loose[folder] = [item.path for item in listing.by_folder[folder]]
    return part


def hits_of_parts(
    library: str,
    shell: Collection[str],
    units: Collection[str],
    parts: Iterable[Part],
    listing_of: Callable[[Sequence[str]], Listing],
    *,
    off: frozenset[str] = frozenset(),
) -> list[tuple[str, Hit]]:
    """All that was found, each once, with what concerns several units.

    `shell` and `units`: all of them; `listing_of` lists the folders of series that
    lie in two units, with what is below them.
    """
    media, strange = Counter[str](), Counter[str]()
    hits: list[tuple[str, Hit]] = []
    full: set[str] = {""}
    loose: dict[str, list[str]] = {}
    homes: list[str] = []
    for part in parts:
        hits += part.hits
        loose |= part.loose
        homes += part.homes
        for place in part.full:
            full.update(_up(place))
        for place, count in part.media.items():
            for folder in _up(place):
                media[folder] += count
                strange[folder] += part.strange[place]
    if library != "mixed" and _STRANGE not in off:
        hits += _wholly_strange(library, [f for f in shell if media[f] == strange[f] > 1], hits, loose)
    if _EMPTY not in off:
        hits += [(_EMPTY, hit) for hit in empty_of({up for place in (*shell, *units) for up in _up(place)}, full)]
    apart = split_homes(sorted(set(homes)))
    if apart:
        hits += find_hits(listing_of(apart), only=frozenset((_SPLIT,)))
    return unique(hits)


def _up(place: str) -> Iterable[str]:
    """A folder and all that it lies in, but for the top one."""
    while place:
        yield place
        place = place.rpartition("/")[0]


def _wholly_strange(
    library: str, folders: Iterable[str], hits: Sequence[tuple[str, Hit]], loose: dict[str, list[str]]
) -> list[tuple[str, Hit]]:
    """A finding for each of these folders of the shell, but for those in another of which it is said."""
    outermost: list[str] = []
    for folder in sorted(filter(None, folders)):
        if not any(folder.startswith(outer + "/") for outer in outermost):
            outermost.append(folder)
    found: list[tuple[str, Hit]] = []
    for folder in outermost:
        below = f"{folder}/"
        paths = [
            path
            for slug, hit in hits
            if slug == _STRANGE and hit.path.startswith(below)
            for path in (hit.also or (hit.path,))
        ]
        paths += [path for place, there in loose.items() if f"{place}/".startswith(below) for path in there]
        found.append((_STRANGE, whole_folder_unexpected(folder, library, paths, ())))
    return found
