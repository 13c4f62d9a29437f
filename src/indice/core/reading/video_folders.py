"""What folders say of video: the work, its season, its disc; and whether it is a series."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import pairwise

from .model import Span
from .places import EXTRA_FOLDERS, is_sorting
from .scan import without_accents
from .seriesmarks import SEASON_FOLDER, SOME_SPECIALS, number
from .work import Work, folder_role, read_work

__all__ = [
    "BETWEEN_WORDS",
    "ONE_WORD",
    "WORK_FIELDS",
    "Place",
    "is_same_title",
    "is_series_like",
    "offsets_of",
    "plain_extras",
    "read_place",
    "season_of_folder",
    "spaced_out",
    "with_and_without_article",
]

WORK_FIELDS = ("alt_title", "year", "season", "episodes", "absolute", "date", "part", "edition")


@dataclass(slots=True)
class Place:
    """What the folders above a file say, innermost last."""

    work: Work | None = None
    work_at: int = 0
    """Where the work's folder begins in the path."""
    season: int | None = None
    season_span: Span | None = None
    is_year: bool = False
    """Whether the season's folder is a bare year: of a dated show it states nothing that its days do not."""
    season_work: Work | None = None
    season_at: int = 0
    disc: tuple[int, int, int] | None = None
    extra: str | None = None
    extra_span: Span | None = None
    structure: bool = False
    episode: Work | None = None
    """A folder that names one episode."""
    episode_at: int = 0
    works: list[tuple[Work, int]] = field(default_factory=list)


def offsets_of(parts: list[str]) -> list[int]:
    offsets, place = [], 0
    for part in parts:
        offsets.append(place)
        place += len(part) + 1
    return offsets


def spaced_out(folder: str) -> str:
    lowered = folder.strip().lower()
    return lowered if lowered in EXTRA_FOLDERS else lowered.replace("_", " ").replace(".", " ")


_EXTRAS = "|".join(re.escape(word).replace(r"\ ", r"[\s._-]") for word in sorted(EXTRA_FOLDERS, key=len, reverse=True))
_SAID_AGAIN = re.compile(
    rf"""
    (?P<name>.+?) (?:[\s._]*[-–(\[][\s._]*|[\s._]+) (?P<word>{_EXTRAS}) [)\]]?
    | (?P<first>{_EXTRAS}) [\s._]*[-–(\[][\s._]* (?P<behind>.+?) [)\]]?
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""A folder of extras that says its work before or behind: `Film (1994) - Extras`, `Extras (Film)`."""
_NO_TITLE = re.compile(r"\W|_|(?:19|20)[0-9]{2}")


def plain_extras(folders: list[str]) -> list[str]:
    """The same folders, where one of extras says only that: the work's name, which the folder above gives, is left out.

    What is left is filled up with blanks, so that all else stands where it stood.
    """
    if len(folders) < 2:
        return folders
    return [folders[0], *(_plain(above, folder) for above, folder in pairwise(folders))]


@lru_cache(maxsize=4096)
def _plain(above: str, folder: str) -> str:
    found = _SAID_AGAIN.fullmatch(folder)
    if found is None or is_sorting(above):
        return folder
    word, name = found["word"] or found["first"], found["name"] or found["behind"]
    title = _NO_TITLE.sub("", without_accents(name))
    is_same = bool(title) and title == _NO_TITLE.sub("", without_accents(above))
    return word.ljust(len(folder)) if is_same else folder


def read_place(folders: list[str], offsets: list[int], *, series: bool) -> Place:
    """What the folders above a file say; the same for all files of a folder, and to be left as it is."""
    return _read_place(tuple(folders), tuple(offsets), series)


_PLAIN_SEASON = re.compile(r"[Tt]?0?[0-9]|[1-3][0-9]")
_YEAR_OF_SHOWS = re.compile(r"19[2-9][0-9]|20[0-4][0-9]")
"""Below a series a year is one of its seasons."""


@lru_cache(maxsize=4096)
def _read_place(folders: tuple[str, ...], offsets: tuple[int, ...], series: bool) -> Place:
    place = Place()
    for folder, offset in zip(folders, offsets, strict=True):
        if series and _enter_number(place, folder, offset):
            continue
        role = folder_role(folder)
        if series and role == "work" and place.works and SOME_SPECIALS.match(folder):
            role = "special"
        if role == "season" and not series and not re.search(r"[0-9]", folder):
            role = "work"
        if role == "structure":
            place.structure = True
        elif role == "extra" and (place.works or place.season is not None or not series):
            place.extra, place.extra_span = EXTRA_FOLDERS[spaced_out(folder)], (offset, offset + len(folder))
        elif role in ("special", "season") and (series or role == "season"):
            _enter_season(place, folder, offset, role)
        elif role == "disc" and place.works:
            _enter_disc(place, folder, offset)
        elif role == "work" or (role == "extra" and not place.works):
            _enter_work(place, folder, offset, series=series)
    if place.works:
        place.work, place.work_at = place.works[-1]
        if series and len(place.works) > 1:
            place.work, place.work_at = _series_folder(place)
    return place


def _enter_number(place: Place, folder: str, offset: int) -> bool:
    """Whether a folder of a series is a bare number: a year or a season of it, or a month of that year."""
    is_year = bool(place.works) and _YEAR_OF_SHOWS.fullmatch(folder) is not None
    if not is_year and not _PLAIN_SEASON.fullmatch(folder):
        return False
    if not is_year and place.is_year:
        return True
    if place.works:
        place.season, place.season_span = int(folder.lstrip("Tt")), (offset, offset + len(folder))
        place.is_year = is_year or place.is_year
    return bool(place.works)


def _enter_disc(place: Place, folder: str, offset: int) -> None:
    found = re.search(r"([0-9])|([a-d])$", folder, re.IGNORECASE)
    if found:
        number = int(found[1]) if found[1] else ord(found[2].lower()) - 96
        place.disc = (number, offset, offset + len(folder))


def _enter_work(place: Place, folder: str, offset: int, *, series: bool) -> None:
    """A folder that names a film or a series, one of its episodes, or its season behind its name."""
    work = read_work(folder, episodes=series, folder=True)
    if series and place.works and (inner := _episode_of_folder(work, folder, place)) is not None:
        place.episode, place.episode_at = inner, offset
        return
    if work.bare and work.title is None and not work.ids:
        return
    found = SEASON_FOLDER.match(folder) if series and not work.episodes else None
    if found and found["title"] and re.search(r"[0-9]", folder) and _season_ending(found, folder):
        _season_in_work(place, folder, offset, found)
    else:
        place.works.append((_without_whole(work) if series else work, offset))


def _episode_of_folder(work: Work, folder: str, place: Place) -> Work | None:
    """What a folder below a series says of one of its episodes; in a season's
    folder a number is enough: `03 - The Ice`."""
    if work.episodes and work.season is not None:
        return work
    if place.season is None:
        return None
    inner = read_work(folder, episodes=True, folder=False, in_season=place.season)
    above = place.works[-1][0].title
    is_its = inner.title is None or (above is not None and is_same_title(str(inner.title[0]), str(above[0])))
    return inner if inner.episodes and is_its else None


_WHOLE_SERIES = re.compile(
    r"[\s._]*[-–:(\[]*[\s._]*(?:(?:the|die|la|l['’]|el|a|o|de)\s+)?"
    r"(?:mini-?\s?series|limited\s+series|miniserie|complete\s+(?:tv\s+)?(?:series|collection|run"
    r"|box\s?set|show)|(?:komplette|gesamte)\s+serie"
    r"|(?:série|serie)\s+(?:complète|completa)|intégrale|complete\s+serie|kompletta\s+serien"
    r"|komplette\s+serien)[)\]]*$",
    re.IGNORECASE,
)
"""Said of a folder that holds all of a series."""


def _without_whole(work: Work) -> Work:
    if work.title is None:
        return work
    text, start, _, rule = work.title
    found = _WHOLE_SERIES.search(str(text))
    if found is None or not found.start():
        return work
    return replace(work, title=(str(text)[: found.start()], start, start + found.start(), rule))


def _series_folder(place: Place) -> tuple[Work, int]:
    for work, at in reversed(place.works):
        if work.year or work.ids:
            return work, at
    return place.works[-1]


def _season_ending(found: re.Match[str], folder: str) -> bool:
    word = folder[len(found["title"]) :].strip(" ._-–").lower()
    return not re.match(r"(?:vol|volume|book|chapter)\b", word)


@lru_cache(maxsize=4096)
def season_of_folder(name: str) -> int | None:
    """The season that a folder's name states, 0 for specials, or None."""
    if folder_role(name) == "special":
        return 0
    if _PLAIN_SEASON.fullmatch(name):
        return int(name.lstrip("Tt"))
    found = SEASON_FOLDER.match(name)
    if found is None or not re.search(r"[0-9]", name) or (found["title"] and not _season_ending(found, name)):
        return None
    return _season_number(found)


def _season_number(found: re.Match[str]) -> int:
    return number(
        next(found[name] for name in ("season", "season2", "season3", "season4", "season5", "season6") if found[name])
    )


def _enter_season(place: Place, folder: str, offset: int, role: str) -> None:
    found = SEASON_FOLDER.match(folder)
    place.season = 0 if role == "special" else _season_number(found) if found else None
    place.season_span = (offset, offset + len(folder))
    if found and found["after"]:
        place.season_work, place.season_at = read_work(folder, episodes=False, folder=True), offset


def _season_in_work(place: Place, folder: str, offset: int, found: re.Match[str]) -> None:
    place.season = _season_number(found)
    place.season_span = (offset + len(found["title"]), offset + len(folder))
    head = read_work(found["title"], episodes=False, folder=True)
    rest = read_work(folder, episodes=False, folder=True)
    if head.title is not None:
        whole = Work(
            folder,
            title=head.title,
            year=head.year,
            technical=rest.technical,
            edition=head.edition,
            ids=head.ids or rest.ids,
        )
        place.works.append((whole, offset))


_YEAR_IN_BRACKETS = re.compile(r"[(\[](?:18|19|20)[0-9]{2}[)\]]")
_COUNTS = re.compile(r"[0-9]|episode|special|folge|capitulo|pilot", re.IGNORECASE)
"""A name that counts nothing is no episode's."""


def is_series_like(stem: str, folders: list[str]) -> bool:
    """Whether a video in a mixed library is an episode, by its own mark or a season's folder."""
    for folder in folders:
        lowered = folder.strip().lower()
        if lowered in (
            "series",
            "tv",
            "tv shows",
            "tv series",
            "shows",
            "serien",
            "séries",
            "anime",
            "сериалы",
            "剧集",
        ):
            return True
        if folder_role(folder) == "season":
            return True
    if stem.isascii() and not _COUNTS.search(_YEAR_IN_BRACKETS.sub("", stem)):
        return False
    work = read_work(stem, episodes=True, folder=False)
    if work.date or (work.episodes and (work.season is not None or not work.year)):
        return True
    return bool(work.absolute) and work.title is not None and work.year is None and ("release" in work.technical)


def is_same_title(one: str, other: str) -> bool:
    return without_accents(one) == without_accents(other)


BETWEEN_WORDS = re.compile(r"[\s._-]+")
ONE_WORD = re.compile(r"[^\W_]+")


_ARTICLE = re.compile(r"^(?:the|an?|der|die|das|les?|la|el|los|las|il|lo|de|het)\s+(?=\S)|^l['’]", re.IGNORECASE)


def with_and_without_article(title: str) -> tuple[str, str]:
    return title, _ARTICLE.sub("", title)
