"""Which folder a film counts for, which films are one, and which folders only sort."""

from __future__ import annotations

from collections import defaultdict

from ..reading.places import is_sorting
from ..reading.work import Work, folder_role, read_work
from .likeness import is_same_title, letters
from .listing import Item, Listing

__all__ = ["film_place", "films_by_place", "is_own", "is_same_film", "said_by_folder", "several", "sorting_folders"]


def said_by_folder(folder: str, *, series: bool) -> Work:
    """What the name of a work's folder states."""
    return read_work(folder.rpartition("/")[2], episodes=series, folder=True)


def film_place(folder: str) -> str:
    """The folder that a file of a film counts for: folders of discs and structures count for the one above."""
    parts = folder.split("/") if folder else []
    while parts and folder_role(parts[-1]) in ("disc", "structure", "extra", "subs"):
        parts.pop()
    return "/".join(parts)


def films_by_place(listing: Listing) -> dict[str, list[Item]]:
    """Folder that films count for → the films; kept as :attr:`.Listing.films_by_place`."""
    places: dict[str, list[Item]] = defaultdict(list)
    for item in listing.items:
        if item.kind == "movie" and listing.library in ("movies", "mixed"):
            places[film_place(item.folder)].append(item)
    return places


def is_same_film(one: Item, other: Item) -> bool:
    years = one.reading.get("year"), other.reading.get("year")
    if years[0] is not None and years[1] is not None and years[0] != years[1]:
        return False
    titles = [str(item.reading.get("title") or "") for item in (one, other)]
    known = [
        alt
        for item in (one, other)
        if (alt := item.reading.get("alt_title")) is not None and letters(str(alt)) in map(letters, titles)
    ]
    return not all(titles) or bool(known) or is_same_title(*titles)


def several(films: list[Item]) -> list[Item]:
    """One file of each different film, in the order of their paths."""
    found: list[Item] = []
    for item in films:
        if not any(is_same_film(item, other) for other in found):
            found.append(item)
    return found


def is_own(item: Item, folder: str) -> bool:
    """Whether a film is the one that its folder names."""
    if f"{item.reading.get('title')} ({item.reading.get('year')})" == folder.rpartition("/")[2]:
        return True  # letter for letter: nobody need read the folder's name
    above = said_by_folder(folder, series=False)
    if above.title is None or not item.reading.get("title"):
        return True
    return letters(str(above.title[0])) == letters(str(item.reading["title"])) or (
        above.alt_title is not None and letters(str(above.alt_title[0])) == letters(str(item.reading["title"]))
    )


def sorting_folders(listing: Listing) -> frozenset[str]:
    """Folders that hold several films, loose or in folders of their own, but none that they are named after."""
    places = listing.films_by_place
    below: dict[str, set[str]] = defaultdict(set)
    for place in (*places, *listing.with_films):
        while place:
            above = place.rpartition("/")[0]
            below[above].add(place)
            place = above
    found: set[str] = set()
    for folder in {*places, *below}:
        if not folder or is_sorting(folder.rpartition("/")[2]):
            continue
        loose = places.get(folder, [])
        if any(is_own(item, folder) for item in loose):
            continue
        if len(several(loose)) + len(below.get(folder, ())) > 1:
            found.add(folder)
    return frozenset(found)
