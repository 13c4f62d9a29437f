"""Checks of films: where they lie, and whether folder and file tell one story."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace

from ...phrase import phrase
from ...reading.alike import is_plain_folder
from ...reading.places import is_sorting
from ...reading.scan import without_accents
from ...reading.vocabulary import words_for
from ...reading.work import folder_role, read_work
from ..filmfolders import film_place, is_own, is_same_film, said_by_folder, several
from ..likeness import is_same_title, letters
from .model import Hit, Item, Listing, Move, check, shared

__all__ = [
    "folder_disagrees",
    "loose_film",
    "part_missing",
    "release_words",
    "several_films",
    "versions_unlabelled",
    "year_missing",
]

_YEAR = re.compile(r"(?<![0-9])(?:18|19|20)[0-9]{2}(?![0-9])")


def _is_folder_of_one(listing: Listing, folder: str) -> bool:
    return bool(folder) and not is_sorting(folder.rpartition("/")[2]) and folder not in listing.sorting_folders


def _tidied(listing: Listing, items: list[Item]) -> tuple[Move, ...]:
    """Moves of items to where the convention puts them; those that stay, or of which too little is known, have none."""
    targets = ((item.path, listing.tidy(item)) for item in items)
    return tuple((before, after) for before, after in targets if after is not None and after != before)


@check(
    slug="loose-film",
    title="Film without a folder",
    libraries=("movies",),
    severity="advice",
    why="In a folder of its own a film keeps its subtitles, posters and extras together, and no player mixes them up.",
    before="Harbour Glass (1987).mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987).mkv",
)
def loose_film(listing: Listing) -> Iterator[Hit]:
    """A film in the library's top folder or in one that only sorts; its parts and versions are one finding."""
    if not listing.convention.films_have_folders:
        return
    for place, films in sorted(listing.films_by_place.items()):
        if _is_folder_of_one(listing, place):
            continue
        for first in several(films):
            together = [item for item in films if item.folder == place and is_same_film(item, first)]
            if not together:
                continue
            moves = _tidied(listing, together)
            yield Hit(
                together[0].path,
                phrase("The film lies loose. Give it a folder of its own."),
                moves[0][1] if moves else None,
                "safe",
                tuple(item.path for item in together[1:]),
                (),
                moves,
            )


@check(
    slug="year-missing",
    title="No year",
    libraries=("movies", "series"),
    severity="advice",
    why="Many films and series share a title. The year tells them apart, for you and for every source of facts.",
    before="Harbour Glass/Harbour Glass.mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987).mkv",
)
def year_missing(listing: Listing) -> Iterator[Hit]:
    """No year in the name of a film's or a series' folder, or of a film that has none."""
    seen: dict[tuple[str, bool], list[Item]] = defaultdict(list)
    for item in listing.items:
        if item.kind not in ("movie", "episode") or not listing.convention.writes_year(item.kind):
            continue
        if item.kind == "episode" and listing.library == "movies":
            continue
        if item.kind == "movie" and item.reading.get("date"):
            continue  # a recording is known by its day
        folder = listing.home(item)
        if folder is not None:
            seen[f"{folder}/", item.kind == "episode"].append(item)
        elif item.kind == "movie" and not item.reading.get("year") and item.reading.get("title"):
            seen[item.path, False].append(item)
    for (place, series), items in sorted(seen.items()):
        years = {year for item in items if (year := item.reading.get("year") or item.known.get("year"))}
        if not place.endswith("/"):
            yield Hit(place, phrase("The name has no year. Add it in round brackets after the title."))
            continue
        folder = place.rstrip("/")
        if is_plain_folder(folder.rpartition("/")[2]) or said_by_folder(folder, series=series).year is not None:
            continue
        if not years:
            yield Hit(place, phrase("The folder's name has no year. Add it in round brackets after the title."))
            continue
        year = min(years)
        fix, moves = _with_year(listing, folder, items, year) if len(years) == 1 else (None, ())
        said = phrase("The folder's name has no year. It is of {year}.", year=year)
        yield Hit(place, said, fix, "safe", (), (), moves)


def _with_year(listing: Listing, folder: str, items: list[Item], year: int) -> tuple[str | None, tuple[Move, ...]]:
    """The folder with its year, and its files at their tidy places in it, or only
    taken along where too little is known."""
    dated = [replace(item, known={**item.known, "year": year}) for item in items]
    targets = {listing.tidy(item) for item in dated}
    depth = folder.count("/") + 1
    homes = {
        "/".join(target.split("/")[:depth]) for target in targets if target is not None and target.count("/") >= depth
    }
    if None in targets or len(homes) != 1:
        fix = f"{folder} ({year})/"
        return fix, tuple((item.path, fix + item.path[len(folder) + 1 :]) for item in items)
    return f"{homes.pop()}/", tuple((item.path, str(listing.tidy(item))) for item in dated)


@check(
    slug="folder-disagrees",
    title="Folder and file disagree",
    libraries=("movies", "series"),
    severity="problem",
    why="The folder says one thing, the file another. Software goes by either, so the work shows up twice, "
    "or under the wrong name.",
    before="Salt Meridian (1994)/Salt Meridian (1995).mkv",
    after="Salt Meridian (1995)/Salt Meridian (1995).mkv",
)
def folder_disagrees(listing: Listing) -> Iterator[Hit]:
    """Two statements of title or year that differ; silence and spelling are no disagreement."""
    crowded = {place for place, films in listing.films_by_place.items() if len(several(films)) > 1}
    hits: dict[str, Hit] = {}
    for item in listing.items:
        if item.kind not in ("movie", "episode") or (item.kind == "episode" and listing.library == "movies"):
            continue
        folder = listing.home(item)
        if folder is None or (item.kind == "movie" and film_place(item.folder) in crowded):
            continue
        said = _disagreement(item, folder)
        if said is not None:
            fix = listing.tidy(item) if item.kind == "movie" else None
            moves = ((item.path, fix),) if fix and fix != item.path else ()
            hits[item.path] = Hit(item.path, said, fix if moves else None, "look", (), (), moves)
    yield from shared(
        hits,
        listing,
        lambda item: item.kind in ("movie", "episode"),
        message="All {n} files say another title or year than the folder.",
    )


def _disagreement(item: Item, folder: str) -> str | None:
    series = item.kind == "episode"
    years = _YEAR.findall(item.name)
    name = folder.rpartition("/")[2]
    if item.stem == name or (item.stem.startswith(f"{name} - ") and len(years) <= 1):
        return None
    above = said_by_folder(folder, series=series)
    if above.title is None:
        return None
    if item.stem.startswith(str(above.title[0])) and (above.year is None or set(years) <= {str(above.year[0])}):
        rest = item.stem[len(str(above.title[0])) :].lstrip()
        if not rest or not rest[0].isdigit():
            return None
    own = read_work(item.stem, episodes=series, folder=False)
    if own.bare or own.title is None or (above.bare and not (series and above.title)):
        return None
    if series and not (own.episodes or own.date or own.absolute):
        return None
    mine, theirs = str(own.title[0]), str(above.title[0])
    read = str(item.reading.get("series" if series else "title") or "")
    if above.year is not None and item.reading.get("year") == above.year[0] and letters(read) == letters(theirs):
        return None  # read together with its folder: a number that could be a year is title there
    if own.year is not None and above.year is not None and own.year[0] != above.year[0]:
        return phrase("The file says the year {own}, the folder {above}.", own=own.year[0], above=above.year[0])
    alternatives = [str(work.alt_title[0]) for work in (own, above) if work.alt_title is not None]
    if is_same_title(mine, theirs) or any(is_same_title(alt, t) for alt in alternatives for t in (mine, theirs)):
        return None
    if letters(read) != letters(mine):
        return None  # the reading did not take the file at its word: scrambled, shortened, or an episode's own title
    return phrase("The file says “{mine}”, the folder “{theirs}”.", mine=mine, theirs=theirs)


@check(
    slug="several-films",
    title="Several films in one folder",
    libraries=("movies",),
    severity="problem",
    why="Software takes the files of a film's folder for versions of one film. All but one of them vanish "
    "from its lists.",
    before="Harbour Glass (1987)/Salt Meridian (1994).mkv",
    after="Salt Meridian (1994)/Salt Meridian (1994).mkv",
)
def several_films(listing: Listing) -> Iterator[Hit]:
    """A film's folder that holds another film as well; folders that only sort are no film's folder."""
    if not listing.convention.films_have_folders:
        return
    for place, films in sorted(listing.films_by_place.items()):
        here = [item for item in films if film_place(item.folder) == place]
        if not _is_folder_of_one(listing, place) or len(several(here)) < 2:
            continue
        strangers = [item for item in here if not is_own(item, place)]
        moves = _tidied(listing, strangers)
        yield Hit(
            f"{place}/",
            phrase("{n} different films lie here. Give each a folder of its own.", n=len(several(here))),
            moves[0][1].rpartition("/")[0] + "/" if moves else None,
            "look",
            tuple(item.path for item in here),
            (),
            moves,
        )


_COPY_WORDS = frozenset(without_accents(word) for word in words_for("copy"))


def _rest_words(item: Item) -> frozenset[str]:
    """The words of a name that are not its title or year: what can tell copies apart."""
    title = set(without_accents(str(item.reading.get("title") or "")).split())
    bare = re.sub(r"\s*\([0-9]{1,2}\)$", "", item.stem)
    words = set(without_accents(bare).split()) - title
    return frozenset(words - {str(item.reading.get("year"))} - _COPY_WORDS)


@check(
    slug="versions-unlabelled",
    title="Copies that nothing tells apart",
    libraries=("movies",),
    severity="advice",
    why="Two files of one film: a colour version, a longer cut, or a forgotten copy? Without a label nobody "
    "can choose the right one.",
    before="Harbour Glass (1987)/Harbour Glass (1987).avi beside Harbour Glass (1987).mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987) - from tape.avi",
)
def versions_unlabelled(listing: Listing) -> Iterator[Hit]:
    """Two files of one film in one folder with no label, part or technical word to tell them apart."""
    for place, films in sorted(listing.films_by_place.items()):
        if not _is_folder_of_one(listing, place):
            continue
        alike: dict[tuple[frozenset[str], int | None], list[Item]] = defaultdict(list)
        for item in films:
            if item.folder == place:
                alike[_rest_words(item), item.reading.get("part")].append(item)
        twins = [
            item
            for group in alike.values()
            for item in group
            if any(other is not item and is_same_film(item, other) for other in group)
        ]
        if twins:
            yield Hit(
                f"{place}/",
                phrase("Nothing in their names tells these files apart. Add a label after ` - `, or delete the copy."),
                also=tuple(item.path for item in twins),
            )


@check(
    slug="part-missing",
    title="A part is missing",
    libraries=("movies", "series"),
    severity="problem",
    why="The film stops in the middle. A part was lost in a copy, or its number is wrong.",
    before="Harbour Glass (1987)/Harbour Glass (1987) - part 1.mkv, … part 3.mkv",
)
def part_missing(listing: Listing) -> Iterator[Hit]:
    """Parts with a hole before the last one; part 2 alone lacks part 1."""
    works: dict[tuple[object, ...], list[Item]] = defaultdict(list)
    for item in listing.items:
        part = item.reading.get("part")
        if part is None or item.kind not in ("movie", "episode"):
            continue
        facts = item.reading
        name = letters(str(facts.get("series") or facts.get("title") or ""))
        works[
            film_place(item.folder), item.kind, name, facts.get("season"),
            tuple(facts.get("episodes") or facts.get("absolute") or ()),
            facts.get("date"), facts.get("edition"), facts.get("version"), facts.get("resolution"),
        ].append(item)  # fmt: skip
    for items in works.values():
        there = {int(item.reading["part"]) for item in items}
        holes = tuple(sorted(set(range(1, max(there))) - there))
        if holes and max(there) < 100:
            numbers = ", ".join(map(str, holes))
            yield Hit(
                items[0].path,
                phrase("Part {numbers} is not there.", numbers=numbers)
                if len(holes) == 1
                else phrase("Parts {numbers} are not there.", numbers=numbers),
                also=tuple(item.path for item in items[1:]),
                missing=holes,
            )


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
    "languages",
    "three_d",
)
_DOTTED = re.compile(r"[^\W_]{2,}[._]+[^\W_]{2,}|[^\W_]{2,}[._][^\W_][._]")


def _is_dotted(stem: str) -> bool:
    return " " not in stem and _DOTTED.search(stem) is not None


def _clutter_of(item: Item, allowed: frozenset[str]) -> dict[str, object]:
    """Technical words that an item's own name carries and the convention does
    not write; those that state nothing too."""
    if item.stem == f"{item.reading.get('title')} ({item.reading.get('year')})":
        return {}
    work = read_work(item.stem, episodes=item.kind == "episode", folder=False)
    found: dict[str, object] = {
        name: work.technical[name][0] for name in _CLUTTER if name in work.technical and name not in allowed
    }
    words = [item.stem[start:end] for start, end in work.ignored if not item.stem[start:end].startswith(("[", "("))]
    if words:
        found["words"] = " ".join(words)
    return found


@check(
    slug="release-words",
    title="Release words in the name",
    libraries=("movies", "series"),
    severity="advice",
    why="Technical words, groups and dots for spaces hide the title. The files themselves know their picture "
    "and sound.",
    before="harbour.glass.1987.1080p.web.x264-tern.mkv",
    after="Harbour Glass (1987)/Harbour Glass (1987).mkv",
)
def release_words(listing: Listing) -> Iterator[Hit]:
    """Technical or release words, dots or underscores for spaces; a word that alone tells versions apart may stay."""
    hits: dict[str, Hit] = {}
    for folder, items in listing.by_folder.items():
        if folder and folder_role(folder.rpartition("/")[2]) == "structure":
            continue
        films = [item for item in items if item.kind in ("movie", "episode")]
        clutter = {item.path: _clutter_of(item, listing.convention.uses(item.kind)) for item in films}
        for item in films:
            words = _unneeded(item, films, clutter)
            dotted = _is_dotted(item.stem)
            if words or dotted:
                said = (
                    phrase("The name carries {words}.", words=", ".join(map(_worded, words[:3])))
                    if words
                    else phrase("Dots stand for spaces.")
                )
                fix = listing.tidy(item)
                moves = ((item.path, fix),) if fix and fix != item.path else ()
                hits[item.path] = Hit(item.path, said, fix if moves else None, "safe", (), (), moves)
    yield from shared(
        hits,
        listing,
        lambda item: item.kind in ("movie", "episode"),
        message="All {n} names carry release words or dots for spaces.",
    )
    yield from _cluttered_folders(listing, hits)
    yield from _cluttered_seasons(listing, hits)


def _cluttered_seasons(listing: Listing, hits: dict[str, Hit]) -> Iterator[Hit]:
    """A season's folder whose own name carries technical words while its files are clean."""
    for folder, items in sorted(listing.by_folder.items()):
        name = folder.rpartition("/")[2]
        episodes = [item for item in items if item.kind == "episode"]
        if not episodes or folder_role(name) != "season" or any(item.path in hits for item in episodes):
            continue
        work = read_work(name, episodes=False, folder=True)
        words = [work.technical[field][0] for field in _CLUTTER if field in work.technical]
        tidy = listing.tidy(episodes[0]) if words else None
        if tidy is not None and listing.convention.seasons_have_folders:
            fix = f"{folder.rpartition('/')[0]}/{tidy.split('/')[-2]}/".lstrip("/")
            moves = tuple((item.path, fix + item.name) for item in episodes)
            said = phrase("The folder's name carries {words}.", words=", ".join(map(_worded, words[:3])))
            yield Hit(f"{folder}/", said, fix, "safe", (), (), moves)


def _worded(value: object) -> str:
    return "+".join(map(str, value)) if isinstance(value, list) else str(value)


def _unneeded(item: Item, films: list[Item], clutter: dict[str, dict[str, object]]) -> list[object]:
    own = clutter[item.path]
    if not own:
        return []
    twins = [
        other
        for other in films
        if other is not item
        and other.kind == item.kind
        and (
            item.kind == "episode"
            or letters(str(other.reading.get("title"))) == letters(str(item.reading.get("title")))
        )
        and all(other.reading.get(name) == item.reading.get(name) for name in ("season", "episodes", "part", "edition"))
    ]
    if twins and "release" not in own:
        own = {
            name: value for name, value in own.items() if all(clutter[twin.path].get(name) == value for twin in twins)
        }
    return [
        value if name not in ("remux", "proper", "three_d") else name.replace("_", " ") for name, value in own.items()
    ]


def _cluttered_folders(listing: Listing, hits: dict[str, Hit]) -> Iterator[Hit]:
    """A film's or a series' folder whose own name is cluttered while its files are clean."""
    homes: dict[tuple[str, bool], list[Item]] = defaultdict(list)
    for item in listing.items:
        if item.kind in ("movie", "episode") and not (item.kind == "episode" and listing.library == "movies"):
            folder = listing.home(item)
            if folder is not None:
                homes[folder, item.kind == "episode"].append(item)
    for (folder, series), items in sorted(homes.items()):
        if is_plain_folder(folder.rpartition("/")[2]) or any(item.path in hits for item in items):
            continue
        work = said_by_folder(folder, series=series)
        words = [work.technical[name][0] for name in _CLUTTER if name in work.technical]
        name = folder.rpartition("/")[2]
        if words or _is_dotted(name):
            moves = _tidied(listing, items)
            said = (
                phrase("The folder's name carries {words}.", words=", ".join(map(_worded, words[:3])))
                if words
                else phrase("Dots stand for spaces.")
            )
            fix = moves[0][1].split("/") if moves else []
            depth = folder.count("/") + 1
            yield Hit(
                f"{folder}/", said, "/".join(fix[:depth]) + "/" if len(fix) > depth else None, "safe", (), (), moves
            )
