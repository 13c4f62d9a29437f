"""Checks of films and series."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from ...reading.places import is_sorting
from ...reading.scan import without_accents
from ...reading.work import folder_role, read_work
from ..convention import tidy_path
from .model import Finding, Item, Listing, check

__all__ = ["folder_disagrees", "release_words", "season_folder_missing", "year_missing"]

_CLUTTER = (
    "resolution",
    "source",
    "video_codec",
    "audio_codec",
    "channels",
    "release",
    "remux",
    "hdr",
    "bit_depth",
    "proper",
)


def _work_folder(item: Item, *, series: bool) -> str | None:
    """The folder that names the work, or None when the file lies in no folder of its own."""
    parts = item.folder.split("/") if item.folder else []
    while parts and (folder_role(parts[-1]) not in ("work", "sort") or (series and folder_role(parts[-1]) == "season")):
        parts.pop()
    if not parts or is_sorting(parts[-1]):
        return None
    return "/".join(parts)


@check(
    slug="year-missing",
    title="No year",
    libraries=("movies", "series"),
    severity="advice",
    why="Many films and series share a title. The year tells them apart, for you and for every source of facts.",
    before="Harbour Glass/Harbour Glass.mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987).mkv",
)
def year_missing(listing: Listing) -> Iterator[Finding]:
    """One finding on a folder, however many files it holds."""
    series = listing.library == "series"
    seen: dict[str, list[Item]] = defaultdict(list)
    for item in listing.items:
        if item.kind in ("movie", "episode"):
            folder = _work_folder(item, series=series)
            seen[f"{folder}/" if folder is not None else item.path].append(item)
    for place, items in sorted(seen.items()):
        name = place.rstrip("/").rpartition("/")[2]
        if place.endswith("/"):
            work = read_work(name, episodes=series, folder=True)
            if work.year is not None or any(item.reading.get("year") and work.bare for item in items):
                continue
        elif items[0].reading.get("year") or items[0].kind == "episode":
            continue
        year = next((item.reading["year"] for item in items if item.reading.get("year")), None)
        fix = f"{place.rstrip('/')} ({year})/" if year and place.endswith("/") else None
        yield Finding(
            check="year-missing",
            path=place,
            severity="advice",
            message="The name has no year."
            + (f" Its files say {year}." if fix else " Add it in round brackets after the title."),
            fix=fix,
            fix_kind="safe" if fix else None,
            moves=tuple((item.path, fix + item.path[len(place) :]) for item in items) if fix else (),
        )


@check(
    slug="season-folder-missing",
    title="No season folder",
    libraries=("series",),
    severity="advice",
    why="Players and people find a season faster in a folder of its own, and some players miss episodes that lie loose.",
    before="Lantern Street (2011)/Lantern Street - S02E01.mkv",
    after="Lantern Street (2011)/Season 02/Lantern Street - S02E01.mkv",
)
def season_folder_missing(listing: Listing) -> Iterator[Finding]:
    """Dated shows, running numbers and a single first season that no name mentions are left alone."""
    for folder, items in sorted(listing.by_folder.items()):
        if not folder or folder_role(folder.rpartition("/")[2]) != "work":
            continue
        work = read_work(folder.rpartition("/")[2], episodes=True, folder=True)
        if work.season is not None or (work.episodes is not None):
            continue
        loose = [
            item
            for item in items
            if item.kind == "episode" and item.reading.get("season") is not None and item.reading.get("episodes")
        ]
        if not loose:
            continue
        moves = tuple(
            (
                item.path,
                f"{folder}/{'Specials' if item.reading['season'] == 0 else format(item.reading['season'], 'd').zfill(2).join(('Season ', ''))}/{item.name}",
            )
            for item in loose
        )
        yield Finding(
            check="season-folder-missing",
            path=f"{folder}/",
            severity="advice",
            message=f"{len(loose)} episodes lie in the series' folder. Put them into a folder for each season.",
            fix=moves[0][1].rpartition("/")[0] + "/",
            fix_kind="safe",
            also=tuple(item.path for item in loose),
            moves=moves,
        )


@check(
    slug="folder-disagrees",
    title="Folder and file disagree",
    libraries=("movies", "series"),
    severity="problem",
    why="The folder says one thing, the file another. Software goes by either, so the work shows up twice, or under the wrong name.",
    before="Salt Meridian (1994)/Salt Meridian (1995).mkv",
    after="Salt Meridian (1995)/Salt Meridian (1995).mkv",
)
def folder_disagrees(listing: Listing) -> Iterator[Finding]:
    """Two statements that differ; silence and spelling are no disagreement."""
    series = listing.library == "series"
    for item in sorted(listing.items, key=lambda item: item.path):
        if item.kind not in ("movie", "episode"):
            continue
        folder = _work_folder(item, series=series)
        if folder is None:
            continue
        above = read_work(folder.rpartition("/")[2], episodes=series, folder=True)
        own = read_work(item.name.rpartition(".")[0], episodes=series, folder=False)
        if own.bare or own.title is None or above.title is None or above.bare or (series and not own.episodes):
            continue
        mine, theirs = without_accents(str(own.title[0])), without_accents(str(above.title[0]))
        year = own.year is not None and above.year is not None and own.year[0] != above.year[0]
        title = (
            mine != theirs
            and not mine.startswith(theirs)
            and not theirs.startswith(mine)
            and (own.year is not None or series)
        )
        if not year and not title:
            continue
        said = (
            f"the year {own.year[0]}, the folder {above.year[0]}"
            if year and own.year and above.year
            else f"“{own.title[0]}”, the folder “{above.title[0]}”"
        )
        fix = (
            tidy_path(item.kind, item.reading, item.name.rpartition(".")[2])
            if item.kind == "movie" or not title
            else None
        )
        yield Finding(
            check="folder-disagrees",
            path=item.path,
            severity="problem",
            message=f"The file says {said}.",
            fix=fix,
            fix_kind="look" if fix else None,
            moves=((item.path, fix),) if fix else (),
        )


@check(
    slug="release-words",
    title="Release words in the name",
    libraries=("movies", "series"),
    severity="advice",
    why="Technical words, groups and dots for spaces hide the title. The files themselves know their picture and sound.",
    before="harbour.glass.1987.1080p.web.x264-tern.mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987).mkv",
)
def release_words(listing: Listing) -> Iterator[Finding]:
    """A technical word that alone tells two versions apart is left alone."""
    for _, items in sorted(listing.by_folder.items()):
        films = [item for item in items if item.kind in ("movie", "episode")]
        for item in films:
            own = read_work(item.name.rpartition(".")[0], episodes=listing.library == "series", folder=False)
            dotted = " " not in item.name and (item.name.count(".") > 2 or item.name.count("_") > 1)
            words = [name for name in _CLUTTER if name in own.technical]
            twins = [
                other
                for other in films
                if other is not item
                and other.reading.get("title") == item.reading.get("title")
                and other.reading.get("episodes") == item.reading.get("episodes")
            ]
            if (not words and not dotted) or twins:
                continue
            fix = tidy_path(item.kind, item.reading, item.name.rpartition(".")[2])
            if fix == item.path:
                continue
            said = (
                "Dots stand for spaces."
                if not words
                else f"The name carries {', '.join(str(own.technical[w][0]) if not isinstance(own.technical[w][0], list) else '+'.join(own.technical[w][0]) for w in words[:3])}."
            )
            yield Finding(
                check="release-words",
                path=item.path,
                severity="advice",
                message=said,
                fix=fix,
                fix_kind="safe" if fix else None,
                moves=((item.path, fix),) if fix else (),
            )
