"""Checks of music: numbers, tags, covers, lyrics."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Mapping
from functools import lru_cache
from typing import Any

from ...phrase import phrase
from ...reading.places import is_sorting
from ...reading.scan import without_accents
from ...reading.work import folder_role
from ..belongings import is_disc_folder
from ..likeness import letters
from .model import Hit, Item, Listing, check, shared

__all__ = [
    "albums_mixed",
    "cover_missing",
    "lyrics_stray",
    "tags_disagree",
    "tags_missing",
    "track_missing",
    "track_number_missing",
    "track_twice",
]

_LIBRARIES = ("music",)
_COVERS = frozenset(("cover", "folder", "front", "album"))
_PICTURES = frozenset(("jpg", "jpeg", "png", "webp"))
_TAGLESS = frozenset(("aac", "ac3", "amr", "dsf", "dff", "tta"))
RUNNING = 30
"""An album's first number is no higher; a row that begins later counts episodes of a show."""


def _tracks(items: list[Item]) -> list[Item]:
    return [item for item in items if item.kind == "track"]


def _is_usable(item: Item) -> bool:
    """Whether what was said of its content can be believed."""
    return item.size_bytes > 0 and item.wrong_format is None and not item.problem and item.tags is not None


def _tag(item: Item, name: str) -> Any:
    return (item.tags or {}).get(name) if item.wrong_format is None else None


def _number(item: Item) -> int | None:
    number = item.reading.get("track")
    return number if number is not None else _tag(item, "track")


def _disc(item: Item) -> int:
    return int(item.reading.get("disc") or _tag(item, "disc") or 1)


@check(
    slug="track-number-missing",
    title="Track number missing",
    libraries=_LIBRARIES,
    severity="advice",
    why="Without a number an album plays in the order of the alphabet.",
    before="Wren Calloway/Tidewrack (2004)/Low Lamps.flac",
    after="Wren Calloway/Tidewrack (2004)/03 - Low Lamps.flac",
)
def track_number_missing(listing: Listing) -> Iterator[Hit]:
    """No number, neither in the name nor in the tags; a single song is no album."""
    hits: dict[str, Hit] = {}
    for items in listing.by_folder.values():
        tracks = [item for item in _tracks(items) if item.reading.get("album")]
        if len(tracks) < 2:
            continue
        for item in tracks:
            if _number(item) is None and item.reading.get("date") is None:
                hits[item.path] = Hit(item.path, phrase("Neither the name nor the tags give a track number."))
    yield from shared(hits, listing, lambda item: item.kind == "track", message="None of the {n} tracks has a number.")


def _by_disc(listing: Listing) -> Iterator[tuple[str, list[Item]]]:
    """Folder and tracks of each disc of each album that lies in one folder.

    Names and folders say which album it is; tags do where names are silent, or where numbers come again and again: then
    several albums lie here, and each counts for itself.
    """
    for folder, items in sorted(listing.by_folder.items()):
        tracks = [item for item in _tracks(items) if item.reading.get("album") or _tag(item, "album")]
        stated = _discs(tracks, lambda item: item.reading.get("album") or _tag(item, "album"))
        tagged = _discs(tracks, lambda item: _tag(item, "album") or item.reading.get("album"))
        chosen = tagged if _repeats(tagged) < _repeats(stated) - 1 else stated
        for _, tracks in sorted(chosen.items()):
            yield folder, tracks


_Discs = dict[tuple[str, int], list[Item]]


def _discs(tracks: list[Item], album: Callable[[Item], Any]) -> _Discs:
    discs: _Discs = defaultdict(list)
    for item in tracks:
        discs[_plain(str(album(item))), _disc(item)].append(item)
    return discs


def _repeats(discs: _Discs) -> int:
    """How many tracks have a number that another of their disc has."""
    numbers = [[_number(item) for item in tracks] for tracks in discs.values()]
    return sum(len(row) - len({*row}) for row in numbers)


@check(
    slug="track-missing",
    title="Tracks missing",
    libraries=_LIBRARIES,
    severity="advice",
    why="A song was lost in a copy, or two tracks share a number.",
    before="Wren Calloway/Tidewrack (2004)/: 1, 2, 4",
)
def track_missing(listing: Listing) -> Iterator[Hit]:
    """A hole before the last track, from 1 on where three are there; a total in the tags counts."""
    last_of: dict[tuple[str, int], int] = {}
    rows = list(_by_disc(listing))
    for folder, tracks in rows:
        there = {number for item in tracks if (number := _number(item)) is not None and number > 0}
        if there:
            home = folder.rpartition("/")[0] if is_disc_folder(folder) else folder
            last_of[home, _disc(tracks[0])] = max(there)
    for folder, tracks in rows:
        there = {number for item in tracks if (number := _number(item)) is not None and number > 0}
        if len(tracks) < 2 or not there or any(item.reading.get("date") for item in tracks):
            continue
        home = folder.rpartition("/")[0] if is_disc_folder(folder) else folder
        before = last_of.get((home, _disc(tracks[0]) - 1))
        holes = _holes(there, before, _total(tracks, [last for (at, _), last in last_of.items() if at == home]))
        if holes:
            numbers = ", ".join(map(str, holes[:12])) + (" …" if len(holes) > 12 else "")
            yield Hit(
                f"{folder}/" if folder else "./",
                phrase("Track {numbers} is not there.", numbers=numbers)
                if len(holes) == 1
                else phrase("Tracks {numbers} are not there.", numbers=numbers),
                missing=holes,
            )


def _total(tracks: list[Item], lasts: list[int]) -> int | None:
    """How many tracks the tags say the disc has; not what they say of all discs together."""
    totals = [total for item in tracks if isinstance(total := _tag(item, "track_total"), int) and total < 400]
    if not totals or (len(lasts) > 1 and max(totals) > max(lasts) + 2):
        return None
    return max(totals)


def _holes(there: set[int], before: int | None, total: int | None) -> tuple[int, ...]:
    """Numbers that lack; `before` is the last one of the disc before, from which a disc may count on."""
    counts_on = before is not None and before < min(there) <= before + 2
    first = min(there)
    if counts_on and before is not None:
        first = before + 1
    elif len(there) >= 3 and first <= RUNNING:
        first = 1
    last = max(max(there), total or 0 if min(there) <= RUNNING else 0)
    return tuple(number for number in range(first, last + 1) if number not in there) if last < 1000 else ()


@check(
    slug="track-twice",
    title="Track number twice",
    libraries=_LIBRARIES,
    severity="problem",
    why="Two tracks of one number: one of them is a copy, or has another track's number.",
    before="03 - Ebb.flac beside 03 - Low Lamps.flac",
)
def track_twice(listing: Listing) -> Iterator[Hit]:
    """The same number twice on one disc of an album."""
    for _, tracks in _by_disc(listing):
        seen: dict[int, Item] = {}
        for item in tracks:
            number = _number(item)
            if number is None or item.reading.get("date") or item.reading.get("part"):
                continue
            if number in seen:
                first = seen[number]
                twice = phrase("{name} has number {number} as well.", name=first.name, number=number)
                yield Hit(item.path, twice, also=(first.path,))
            else:
                seen[number] = item


_FEATURING = re.compile(r"[\s(\[]+(?:feat\.?|ft\.?|featuring)\s.*$", re.IGNORECASE)
_EDITION = re.compile(
    r"\s*[(\[][^)\]]*\b(?:edition|remaster(?:ed)?|deluxe|expanded|anniversary|version|bonus|reissue"
    r"|explicit|mono|stereo|disc|cd|disk)\b[^)\]]*[)\]]"
    r"|\s+-\s+(?:[0-9]{4}\s+)?(?:remaster(?:ed)?|deluxe edition|special edition|expanded edition)(?:\s+[0-9]{4})?$"
    r"|\s*[(\[](?:ep|lp|single)[)\]]|[\s,]+(?:disc|cd|disk)\s*[0-9]+$",
    re.IGNORECASE,
)


@lru_cache(maxsize=16384)
def _plain(text: str) -> str:
    """A name of music for comparing: no guest, no edition, no disc, no accents, articles or punctuation."""
    return letters(_EDITION.sub("", _FEATURING.sub("", text))) or letters(text)


def _contradictions(item: Item) -> list[tuple[str, str, str]]:
    """Field, the name's value and the tags' value, where both speak and differ."""
    names, tags = item.reading, item.tags or {}
    found: list[tuple[str, str, str]] = []
    stated = [str(names[field]) for field in ("artist", "album_artist") if names.get(field)]
    tagged = [str(tags[field]) for field in ("artist", "album_artist") if tags.get(field)]
    if stated and tagged and not _is_one_artist(stated, tagged):
        found.append(("artist", stated[0], tagged[0]))
    for field in ("album", "title"):
        if names.get(field) and tags.get(field) and not _is_one_name(str(names[field]), str(tags[field])):
            found.append((field, str(names[field]), str(tags[field])))
    numbers = names.get("track"), tags.get("track")
    if None not in numbers and numbers[0] != numbers[1] and not _counts_with_disc(names, tags):
        found.append(("number", str(numbers[0]), str(numbers[1])))
    return found


def _counts_with_disc(names: Mapping[str, Any], tags: Mapping[str, Any]) -> bool:
    """`203` in the name and disc 2, track 3 in the tags are one."""
    return tags.get("disc") is not None and names["track"] == tags["disc"] * 100 + tags["track"]


_FIELDS = {
    "artist": phrase("artist"),
    "album": phrase("album"),
    "title": phrase("title"),
    "number": phrase("number"),
}


def _is_one_artist(stated: list[str], tagged: list[str]) -> bool:
    some = {_plain(name) for name in stated}
    others = {_plain(name) for name in tagged}
    if some & others or "variousartists" in some | others:
        return True
    return any(
        set(re.split(r"\s*(?:,|&|\+|;|/| and | x )\s*", one.casefold())) & {other.casefold()}
        for one, other in [(a, b) for a in tagged for b in stated] + [(b, a) for a in tagged for b in stated]
    )


def _is_one_name(name: str, tag: str) -> bool:
    return _plain(name) == _plain(tag)


@check(
    slug="tags-disagree",
    title="Tags and name disagree",
    libraries=_LIBRARIES,
    severity="problem",
    content=True,
    why="Some players go by tags, some by names. The same song stands under two names, or under the wrong one.",
    before="03 - Low Lamps.flac, tagged 4, Ebb",
    after="04 - Ebb.flac",
)
def tags_disagree(listing: Listing) -> Iterator[Hit]:
    """Artist, album, title or number differ; spelling, guests, edition words and years are no difference."""
    mixed = {hit.path for hit in albums_mixed.find(listing)}
    hits: dict[str, Hit] = {}
    for item in listing.of_kind("track"):
        if not _is_usable(item):
            continue
        found = _contradictions(item)
        if f"{item.folder}/" in mixed:
            found = [said for said in found if said[0] not in ("album", "artist")]
        if found:
            field, name, tag = found[0]
            said = phrase(
                "The name says {field} “{name}”, the tags say “{tag}”.", field=_FIELDS[field], name=name, tag=tag
            )
            hits[item.path] = Hit(item.path, said)
    yield from shared(
        hits,
        listing,
        lambda item: item.kind == "track",
        message="The tags of all {n} tracks say otherwise than their names.",
    )


@check(
    slug="tags-missing",
    title="Tags missing",
    libraries=_LIBRARIES,
    severity="advice",
    content=True,
    why="Many players know nothing but tags. Without them the song is “unknown” by “unknown”.",
    before="03 - Low Lamps.flac with no title tag",
)
def tags_missing(listing: Listing) -> Iterator[Hit]:
    """The artist, album or title tag is empty."""
    hits: dict[str, Hit] = {}
    for item in listing.of_kind("track"):
        if not _is_usable(item) or item.extension in _TAGLESS:
            continue
        tags = item.tags or {}
        empty = [
            name
            for name in ("artist", "album", "title")
            if not (tags.get(name) or (name == "artist" and tags.get("album_artist")))
        ]
        if empty:
            fields = [_FIELDS[name] for name in empty]
            said = phrase("no {field}", field=fields[-1])
            for field in reversed(fields[:-1]):
                said = phrase("no {field} and {more}", field=field, more=said)
            hits[item.path] = Hit(item.path, phrase("The tags give {none}.", none=said))
    yield from shared(hits, listing, lambda item: item.kind == "track", message="Tags of all {n} tracks are empty.")


@check(
    slug="albums-mixed",
    title="Albums mixed",
    libraries=_LIBRARIES,
    severity="problem",
    content=True,
    why="Players show a folder as one album. Two albums in one folder play through each other.",
    before="Tidewrack (2004)/ with tracks tagged Tidewrack and Low Water",
    after="a folder for each",
)
def albums_mixed(listing: Listing) -> Iterator[Hit]:
    """An album's folder with tracks whose tags name different albums; a single odd one disagrees, and is said so."""
    homes = _homes_of_albums(listing)
    for folder, items in sorted(listing.by_folder.items()):
        if not folder or is_sorting(folder.rpartition("/")[2]):
            continue
        tracks = [item for item in _tracks(items) if _is_usable(item) and _tag(item, "album")]
        albums = Counter(_plain(str(_tag(item, "album"))) for item in tracks)
        named = any(item.reading.get("album") for item in tracks)
        if len(albums) < 2 or not _are_mixed(albums, folder, homes, named=named):
            continue
        titles = sorted({str(_tag(item, "album")) for item in tracks})
        yield Hit(
            f"{folder}/",
            phrase(
                "The tags name {n} albums here: {titles}. Give each a folder of its own.",
                n=len(albums),
                titles=", ".join(titles[:3]),
            ),
            also=tuple(item.path for item in tracks),
        )


def _homes_of_albums(listing: Listing) -> dict[str, set[str]]:
    """Album, as tags name it → the folders in which at least two of its tracks lie."""
    homes: dict[str, Counter[str]] = defaultdict(Counter)
    for item in listing.of_kind("track"):
        if _is_usable(item) and _tag(item, "album"):
            homes[_plain(str(_tag(item, "album")))][item.folder] += 1
    return {album: {folder for folder, count in places.items() if count > 1} for album, places in homes.items()}


def _are_mixed(albums: Counter[str], folder: str, homes: Mapping[str, set[str]], *, named: bool) -> bool:
    """Whether a folder's tracks are of several albums, and not one of them tagged otherwise than its name says."""
    (_, most), *rest = albums.most_common()
    if not named:  # an artist's folder: its single songs are albums of their own
        return sum(count > 1 for count in albums.values()) > 1
    if sum(count for _, count in rest) > 1 or most == 1:
        return True
    return any(homes.get(album, set()) - {folder} for album, _ in rest)


@check(
    slug="cover-missing",
    title="Cover missing",
    libraries=_LIBRARIES,
    severity="advice",
    why="An album without a cover is a grey square on every screen in the house.",
    before="Wren Calloway/Tidewrack (2004)/01 - Ebb.flac",
    after="Wren Calloway/Tidewrack (2004)/cover.jpg",
)
def cover_missing(listing: Listing) -> Iterator[Hit]:
    """Neither a cover file in the album's folder (or in one of its discs), nor an embedded picture."""
    albums: dict[str, list[Item]] = {}
    for folder, items in listing.by_folder.items():
        tracks = [item for item in _tracks(items) if item.reading.get("album")]
        if tracks:
            home = folder.rpartition("/")[0] if is_disc_folder(folder) and "/" in folder else folder
            albums.setdefault(home, []).extend(tracks)
    for folder, tracks in sorted(albums.items()):
        if len(tracks) < 2 or (not listing.looked_inside and all(track.has_picture is None for track in tracks)):
            continue
        titles = {str(tracks[0].reading.get("album")), *(str(_tag(track, "album")) for track in tracks[:1])}
        wanted = _COVERS | {without_accents(title) for title in titles} | {title.casefold() for title in titles}
        places = {folder, *(track.folder for track in tracks)}
        names = [
            item.stem for place in places for item in listing.by_folder.get(place, ()) if item.extension in _PICTURES
        ]
        if any(name.casefold() in wanted or without_accents(name) in wanted for name in names):
            continue
        if any(track.has_picture for track in tracks):
            continue
        yield Hit(
            f"{folder}/" if folder else "./",
            phrase("No cover file lies here, and no track carries a picture. Put a cover.jpg beside the tracks."),
        )


@check(
    slug="lyrics-stray",
    title="Stray lyrics",
    libraries=_LIBRARIES,
    severity="problem",
    why="Players find lyrics by the name of their track. These fit no track beside them.",
    before="03 - Low Lamps.lrc without 03 - Low Lamps.flac",
)
def lyrics_stray(listing: Listing) -> Iterator[Hit]:
    """Lyrics with no track of the same name, or of the same number and title, beside them."""
    for item in listing.of_kind("lyrics"):
        tracks = _tracks(listing.by_folder.get(item.folder, []))
        if (
            folder_role(item.folder.rpartition("/")[2]) == "work"
            and item.folder.rpartition("/")[2].casefold() == "lyrics"
        ):
            tracks += _tracks(listing.by_folder.get(item.folder.rpartition("/")[0], []))
        if not any(_sings(item, track) for track in tracks):
            yield Hit(item.path, phrase("No track beside it has this name."))


def _sings(lyrics: Item, track: Item) -> bool:
    if lyrics.stem.casefold() == track.stem.casefold():
        return True
    titles = lyrics.reading.get("title"), track.reading.get("title")
    numbers = lyrics.reading.get("track"), track.reading.get("track")
    return (
        all(titles)
        and letters(str(titles[0])) == letters(str(titles[1]))
        and (None in numbers or numbers[0] == numbers[1])
    )
