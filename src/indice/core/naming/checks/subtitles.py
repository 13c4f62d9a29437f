"""Checks of subtitles: whom they belong to, and in which language they are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from ...phrase import phrase
from ...reading.reader import family_of
from ...reading.scan import without_accents
from ...reading.work import folder_role
from ..likeness import is_same_title, letters
from .model import Hit, Item, Listing, check, shared

__all__ = ["subtitle_language_missing", "subtitle_stray"]

_LIBRARIES = ("movies", "series", "home-videos", "photos")


def _videos_by_folder(listing: Listing) -> dict[str, list[Item]]:
    videos: dict[str, list[Item]] = defaultdict(list)
    for item in listing.items:
        if item.kind in ("movie", "episode", "clip", "extra") and family_of(item.name) == "video":
            videos[item.folder].append(item)
    return videos


def _beside(item: Item, videos: dict[str, list[Item]]) -> tuple[list[Item], str]:
    """The videos that a subtitle can belong to, and the name of a folder of subtitles made for one of them."""
    folder, inner = item.folder, ""
    if folder in videos:
        return videos[folder], inner
    for _ in range(2):
        name = folder.rpartition("/")[2]
        folder = folder.rpartition("/")[0]
        if folder_role(name) != "subs":
            inner = name
            if not any(folder_role(part) == "subs" for part in folder.split("/")):
                return [], inner
            continue
        discs = [
            v
            for place, found in videos.items()
            if place.startswith(folder + "/") and folder_role(place.rpartition("/")[2]) == "disc"
            for v in found
        ]
        return videos.get(folder, []) + discs, inner
    return [], inner


def _belongs(item: Item, videos: list[Item], inner: str) -> bool:
    stem, facts = item.stem.casefold(), item.reading
    for video in videos:
        name = video.stem.casefold()
        if stem == name or (stem.startswith(name) and not stem[len(name)].isalnum()) or inner.casefold() == name:
            return True
    for mark in ("episodes", "absolute", "date"):
        if facts.get(mark):
            return any(
                video.reading.get(mark) == facts[mark] and video.reading.get("season") == facts.get("season")
                for video in videos
            )
    mains = [video for video in videos if video.kind != "extra"]
    works = {
        (
            letters(str(video.reading.get("series") or video.reading.get("title") or video.stem)),
            str(video.reading.get("episodes") or video.reading.get("date") or video.reading.get("absolute")),
        )
        for video in mains
    }
    own = str(facts.get("title") or "")
    same = [video for video in mains if own and is_same_title(own, str(video.reading.get("title") or video.stem))]
    if own and same:
        years = {video.reading.get("year") for video in same}
        return facts.get("year") is None or years <= {None, facts["year"]} or facts["year"] in years
    return len(works) == 1 and _names_nothing(item, mains)


def _names_nothing(item: Item, mains: list[Item]) -> bool:
    """Whether a subtitle's own name gives at most a number, a language and flags: then it belongs to the only film."""
    stated = without_accents(str(item.reading.get("title") or ""))
    if not stated:
        return True
    words = set(without_accents(item.stem).split())
    return (
        not set(stated.split()) <= words
        or stated.isdigit()
        or any(stated in without_accents(video.stem) for video in mains)
    )


@check(
    slug="subtitle-stray",
    title="Stray subtitle",
    libraries=_LIBRARIES,
    severity="problem",
    why="Players find a subtitle by the name of its video. This one fits no video beside it, so nobody will "
    "ever see it.",
    before="Harbour Glass (1987)/Salt Meridian (1994).en.srt",
    after="Salt Meridian (1994)/Salt Meridian (1994).en.srt",
)
def subtitle_stray(listing: Listing) -> Iterator[Hit]:
    """A subtitle with no video that it belongs to, by name or as the only film of its folder."""
    yield from (Hit(item.path, phrase("No video beside it has this name.")) for item in _strays(listing))


def _strays(listing: Listing) -> list[Item]:
    videos = _videos_by_folder(listing)
    found: list[Item] = []
    for item in listing.of_kind("subtitle"):
        beside, inner = _beside(item, videos)
        if not _belongs(item, beside, inner):
            found.append(item)
    return found


@check(
    slug="subtitle-language-missing",
    title="Subtitle without a language",
    libraries=_LIBRARIES,
    severity="advice",
    why="Without a language in its name a player shows “unknown”, and nobody can choose between two.",
    before="Harbour Glass (1987)/Harbour Glass (1987).srt",
    after="Harbour Glass (1987)/Harbour Glass (1987).en.srt",
)
def subtitle_language_missing(listing: Listing) -> Iterator[Hit]:
    """A subtitle whose name gives no language; a stray one has a greater trouble."""
    nameless = [item for item in listing.of_kind("subtitle") if not item.reading.get("language")]
    if not nameless:
        return
    strays = {item.path for item in _strays(listing)}
    pairs = {item.path[: -len(item.extension)] for item in nameless if item.extension == "idx"}
    hits = {
        item.path: Hit(
            item.path, phrase("The name gives no language. Add its code before the extension, as in .en.srt.")
        )
        for item in nameless
        if item.path not in strays and not (item.extension == "sub" and item.path[:-3] in pairs)
    }
    yield from shared(
        hits,
        listing,
        lambda item: item.kind == "subtitle",
        message="None of the {n} subtitles gives its language.",
        least=3,
    )
