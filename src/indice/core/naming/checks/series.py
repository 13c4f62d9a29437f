"""Checks of series: numbers, seasons, specials, holes and doubles."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any

from ...phrase import phrase
from ...reading.places import is_sorting
from ...reading.video_folders import season_of_folder
from ...reading.work import folder_role
from ..filmfolders import said_by_folder
from ..likeness import is_same_title, letters
from .model import Hit, Item, Listing, check, shared
from .names import clashing_pairs

__all__ = [
    "episode_missing",
    "episode_twice",
    "name_of_home",
    "number_unreadable",
    "season_folder_disagrees",
    "season_folder_missing",
    "series_homes",
    "series_split",
    "special_misplaced",
    "split_homes",
]

_LIBRARIES = ("series",)


def _episodes(listing: Listing) -> list[Item]:
    return listing.of_kind("episode")


def _season_of_folder(folder: str) -> int | None:
    """The season that the folder of an episode, or the one above its discs, states."""
    parts = folder.split("/") if folder else []
    while parts and folder_role(parts[-1]) in ("disc", "structure"):
        parts.pop()
    if not parts:
        return None
    return season_of_folder(parts[-1])


def _season_folder(listing: Listing, item: Item, season: int) -> str:
    """Where a season's episodes lie in the series of an item: a folder that is there, else the convention's."""
    home = listing.home(item) or ""
    for folder in listing.subfolders.get(home, ()):
        if _season_of_folder(folder) == season and folder_role(folder.rpartition("/")[2]) in ("season", "special"):
            return folder
    tidy = listing.tidy(item)
    name = tidy.rpartition("/")[0].rpartition("/")[2] if tidy and listing.convention.seasons_have_folders else ""
    return f"{home}/{name}" if name else home


@check(
    slug="number-unreadable",
    title="No number in the name",
    libraries=_LIBRARIES,
    severity="problem",
    why="Without a season and an episode, a date or a running number nobody knows where the file belongs.",
    before="Lantern Street (2011)/Season 01/The Tin Whistle.mkv",
    after="Lantern Street (2011)/Season 01/Lantern Street - S01E02 - The Tin Whistle.mkv",
)
def number_unreadable(listing: Listing) -> Iterator[Hit]:
    """A video with no episode number, no date and no running number; a season alone is not enough."""
    kinds = ("episode",) if listing.library == "mixed" else ("episode", "movie")
    hits = {
        item.path: Hit(item.path, phrase("No season, episode, date or running number can be read from the name."))
        for item in listing.of_kind(*kinds)
        if not any(item.reading.get(name) for name in ("episodes", "absolute", "date"))
        and folder_role(item.folder.rpartition("/")[2]) != "structure"
    }
    yield from shared(
        hits,
        listing,
        lambda item: item.kind in ("episode", "movie"),
        message="None of the {n} files has a number that can be read.",
        least=3,
    )


@check(
    slug="season-folder-missing",
    title="No season folder",
    libraries=_LIBRARIES,
    severity="advice",
    why="Players and people find a season faster in a folder of its own, and some players miss episodes that "
    "lie loose.",
    before="Lantern Street (2011)/Lantern Street - S02E01.mkv",
    after="Lantern Street (2011)/Season 02/Lantern Street - S02E01.mkv",
)
def season_folder_missing(listing: Listing) -> Iterator[Hit]:
    """Episodes with a season in the series' folder; dated shows and running numbers need none."""
    if not listing.convention.seasons_have_folders:
        return
    for folder, items in sorted(listing.by_folder.items()):
        if not folder or folder_role(folder.rpartition("/")[2]) != "work":
            continue
        work = said_by_folder(folder, series=True)
        if work.season is not None or work.episodes is not None:
            continue
        loose = [
            item
            for item in items
            if item.kind == "episode"
            and item.reading.get("season") is not None
            and item.reading.get("episodes")
            and item.reading.get("date") is None
        ]
        if not loose:
            continue
        moves = tuple(
            (item.path, f"{_season_folder(listing, item, item.reading['season'])}/{item.name}") for item in loose
        )
        yield Hit(
            f"{folder}/",
            phrase(
                "{n:episode lies|episodes lie} in the series' folder. Put them into a folder for each season.",
                n=len(loose),
            ),
            moves[0][1].rpartition("/")[0] + "/",
            "safe",
            tuple(item.path for item in loose),
            (),
            moves,
        )


def _misplaced(listing: Listing, *, specials: bool) -> Iterator[Hit]:
    hits: dict[str, Hit] = {}
    for item in _episodes(listing):
        own = item.reading.get("season")
        if own is None or not item.reading.get("episodes"):
            continue
        place = _season_of_folder(item.folder)
        if place is None or place == own or ((0 in (own, place)) != specials):
            continue
        fix = f"{_season_folder(listing, item, own)}/{item.name}"
        said = (
            phrase("The name says season {own}, the folder {place}.", own=own, place=place)
            if not specials
            else phrase("A special lies in an ordinary season.")
            if own == 0
            else phrase("An episode of season {own} lies among the specials.", own=own)
        )
        moves = ((item.path, fix),) if fix != item.path else ()
        hits[item.path] = Hit(item.path, said, fix if moves else None, "safe", (), (), moves)
    yield from shared(
        hits,
        listing,
        lambda item: item.kind == "episode",
        message="All {n} files are of another season than the folder says.",
    )


@check(
    slug="season-folder-disagrees",
    title="Wrong season folder",
    libraries=_LIBRARIES,
    severity="problem",
    why="Some players go by the folder, some by the name. The episode shows up in two seasons, or in the wrong one.",
    before="Lantern Street (2011)/Season 01/Lantern Street - S02E01.mkv",
    after="Lantern Street (2011)/Season 02/Lantern Street - S02E01.mkv",
)
def season_folder_disagrees(listing: Listing) -> Iterator[Hit]:
    """The file's season is not its folder's."""
    yield from _misplaced(listing, specials=False)


@check(
    slug="special-misplaced",
    title="Special in the wrong place",
    libraries=_LIBRARIES,
    severity="problem",
    why="Specials are counted apart. Among ordinary episodes they push the numbers out of step.",
    before="Lantern Street (2011)/Season 01/Lantern Street - S00E01.mkv",
    after="Lantern Street (2011)/Specials/Lantern Street - S00E01.mkv",
)
def special_misplaced(listing: Listing) -> Iterator[Hit]:
    """A season-0 episode in an ordinary season's folder, or the reverse."""
    yield from _misplaced(listing, specials=True)


def _series_place(listing: Listing, item: Item) -> str:
    home = listing.home(item)
    return home if home is not None else item.folder


@check(
    slug="episode-missing",
    title="Episodes missing",
    libraries=_LIBRARIES,
    severity="advice",
    why="A hole in a season is noticed on the evening you reach it. Now is better.",
    before="Lantern Street (2011)/Season 01/: 1, 2, 4",
)
def episode_missing(listing: Listing) -> Iterator[Hit]:
    """A hole between the first and the last episode of a season; not for specials, dates and running numbers."""
    seasons: dict[tuple[str, str, int | None], list[Item]] = defaultdict(list)
    for item in _episodes(listing):
        season, numbers = item.reading.get("season"), item.reading.get("episodes")
        if season == 0 or not numbers or item.reading.get("date"):
            continue
        place = _series_place(listing, item)
        loose = letters(str(item.reading.get("series") or "")) if listing.home(item) is None else ""
        seasons[place, loose, season].append(item)
    for (_, _, season), items in sorted(seasons.items(), key=lambda pair: (pair[0][:2], pair[0][2] or 0)):
        there = {number for item in items for number in item.reading["episodes"]}
        holes = tuple(number for number in range(min(there), max(there)) if number not in there)
        if not holes:
            continue
        folders = [item.folder for item in items]
        right = [folder for folder in folders if _season_of_folder(folder) == season] or folders
        folder = max(sorted(set(right)), key=right.count)
        numbers = ", ".join(map(str, holes[:12])) + (" …" if len(holes) > 12 else "")
        season = 1 if season is None else season
        yield Hit(
            f"{folder}/" if folder else "./",
            phrase("Episode {numbers} of season {season} is not there.", numbers=numbers, season=season)
            if len(holes) == 1
            else phrase("Episodes {numbers} of season {season} are not there.", numbers=numbers, season=season),
            missing=holes,
        )


_TELLING = (
    "version",
    "edition",
    "part",
    "resolution",
    "source",
    "video_codec",
    "audio_codec",
    "hdr",
    "languages",
    "remux",
    "release",
    "three_d",
    "bit_depth",
    "channels",
    "proper",
)


def _numbers(item: Item) -> list[tuple[Any, ...]]:
    facts = item.reading
    if facts.get("episodes"):
        return [("e", facts.get("season"), number) for number in facts["episodes"]]
    if facts.get("date"):
        return [("d", facts["date"])]
    return [("a", number) for number in facts.get("absolute") or ()]


def _is_told_apart(one: Item, other: Item) -> bool:
    if any(one.reading.get(name) != other.reading.get(name) for name in _TELLING):
        return True
    titles = one.reading.get("title"), other.reading.get("title")
    return all(titles) and not is_same_title(str(titles[0]), str(titles[1]))


@check(
    slug="episode-twice",
    title="Episode twice",
    libraries=_LIBRARIES,
    severity="problem",
    why="Two files of one number: a forgotten copy, or one of them has the wrong number and another episode "
    "is missing.",
    before="Lantern Street - S01E02.avi beside Lantern Street - S01E02.mkv",
)
def episode_twice(listing: Listing) -> Iterator[Hit]:
    """The same number twice with no label, part, cut, technical word or other title to tell the copies apart."""
    known: dict[tuple[Any, ...], list[Item]] = defaultdict(list)
    clashing: frozenset[frozenset[str]] | None = None
    reported: set[str] = set()
    for item in _episodes(listing):
        place = _series_place(listing, item)
        loose = letters(str(item.reading.get("series") or "")) if listing.home(item) is None else ""
        for number in _numbers(item):
            key = (place, loose, *number)
            twin = next((other for other in known[key] if not _is_told_apart(item, other)), None)
            known[key].append(item)
            if twin is None or twin is item or item.path in reported:
                continue
            clashing = clashing_pairs(listing) if clashing is None else clashing
            if frozenset((item.path, twin.path)) in clashing:
                continue
            reported.add(item.path)
            same = phrase("{name} is the same episode, and nothing tells them apart.", name=twin.name)
            yield Hit(item.path, same, also=(twin.path,))


def series_homes(listing: Listing) -> list[str]:
    """Every folder that names a series."""
    return sorted({home for item in _episodes(listing) if (home := listing.home(item)) is not None})


def split_homes(homes: Sequence[str]) -> list[str]:
    """Those folders that name the same series as another."""
    return [home for group in _by_name(homes) if len(group) > 1 for home in group]


def _by_name(homes: Sequence[str]) -> list[list[str]]:
    by_name: dict[tuple[str, int | None], list[str]] = defaultdict(list)
    for home in homes:
        name = name_of_home(home.rpartition("/")[2])
        if name is not None:
            by_name[name].append(home)
    return list(by_name.values())


@lru_cache(maxsize=1 << 16)
def name_of_home(name: str) -> tuple[str, int | None] | None:
    """By what a series' folder is the same as another: its title's letters, and the year that it states.

    None for folders that name no series: such as only sort, and those of seasons.
    """
    work = said_by_folder(name, series=True)
    if is_sorting(name) or folder_role(name) != "work" or work.season is not None:
        return None
    title = str(work.title[0]) if work.title is not None else name
    return letters(title), int(work.year[0]) if work.year is not None else None


@check(
    slug="series-split",
    title="Series in two folders",
    libraries=_LIBRARIES,
    severity="problem",
    why="Two folders that differ in a capital or an accent become two series, each with half of the seasons.",
    before="Lantern Street (2011)/ beside lantern street (2011)/",
    after="Lantern Street (2011)/",
)
def series_split(listing: Listing) -> Iterator[Hit]:
    """Two folders of one series whose names differ only in case, accents, punctuation or article."""
    clashing: frozenset[frozenset[str]] | None = None
    for group in _by_name(series_homes(listing)):
        for later in group[1:]:
            clashing = clashing_pairs(listing) if clashing is None else clashing
            if frozenset((group[0], later)) in clashing:
                continue
            before, after = f"{later}/", f"{group[0]}/"
            moves = tuple(
                (item.path, after + item.path[len(before) :]) for item in listing.items if item.path.startswith(before)
            )
            together = phrase("{after} holds the same series. Put them together.", after=after)
            yield Hit(before, together, after, "look", (after,), (), moves)
