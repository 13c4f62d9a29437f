"""Films, episodes, extras, and the side files beside them: the file's own words put together with its folders'."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import pairwise

from .model import Reading, Span
from .places import ARTWORK, EXTRA_FOLDERS, EXTRA_WORDS, FLAGS, SUBTITLE_FOLDERS, is_sorting
from .scan import tidy_title, without_accents
from .seriesmarks import SEASON_FOLDER, SXXEYY, number
from .words import language_in, language_of
from .work import Found, Work, folder_role, read_work

__all__ = ["is_series_like", "plain_extras", "read_extra", "read_side_file", "read_video", "season_of_folder"]

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


def _offsets(parts: list[str]) -> list[int]:
    offsets, place = [], 0
    for part in parts:
        offsets.append(place)
        place += len(part) + 1
    return offsets


def _spaced(folder: str) -> str:
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
        if role == "season" and not series and not re.search(r"[0-9]", folder):
            role = "work"
        if role == "structure":
            place.structure = True
        elif role == "extra" and (place.works or place.season is not None or not series):
            place.extra, place.extra_span = EXTRA_FOLDERS[_spaced(folder)], (offset, offset + len(folder))
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
    is_its = inner.title is None or (above is not None and _same(str(inner.title[0]), str(above[0])))
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


def _put(reading: Reading, name: str, found: Found | None, at: int) -> None:
    if found is not None:
        value, start, end, rule = found
        reading.put(name, value, (at + start, at + end), rule)


def _technical(reading: Reading, work: Work, at: int) -> None:
    for name, found in work.technical.items():
        _put(reading, name, found, at)


def _ids(reading: Reading, *works: tuple[Work, int]) -> None:
    ids: dict[str, str] = {}
    spans: list[Span] = []
    for work, at in works:
        for scheme, (value, start, end, _) in work.ids.items():
            if scheme not in ids:
                ids[scheme] = value
                spans.append((at + start, at + end))
    if ids:
        reading.put("ids", ids, spans[0], "identifier in brackets")
        reading.facts["ids"].spans = tuple(spans)


def _same(one: str, other: str) -> bool:
    return without_accents(one) == without_accents(other)


def _fuller(own: Found, its: Found) -> bool:
    """Whether the folder's spelling of the same title is the fuller one."""
    one, other = str(own[0]), str(its[0])
    if one == other or not _same(one, other):
        return False
    if one.islower() != other.islower():
        return one.islower()  # capitals say more than none
    return (sum(ord(c) > 127 for c in other), len(other)) > (sum(ord(c) > 127 for c in one), len(one))


def _abbreviates(own: str, its: str) -> bool:
    """Whether a name is the initials of the folder's title, with its article or without."""
    short = _BETWEEN_WORDS.sub("", own).casefold()
    if " " in own.strip() or len(short) < 2:
        return False
    whole = _ONE_WORD.findall(its.casefold())
    return any(short == "".join(word[0] for word in words) for words in (whole, without_accents(its).split()))


def _shortens(own: str, its: str) -> bool:
    """Whether a name is only a short form of the folder's title: its initials,
    its words run together, or some of them."""
    short, full = without_accents(own).split(), without_accents(its).split()
    if _abbreviates(own, its):
        return True
    if len(short) == 1 < len(full) and any(
        _squashed(own) == _squashed(said) for said in _with_and_without_article(its)
    ):
        return True
    if not short or len(short) >= len(full) or len("".join(short)) < 2:
        return False
    rest = iter(full)
    return all(word in rest for word in short)


def fill_work(
    reading: Reading, stem: str, at: int, folders: list[str], offsets: list[int], *, series: bool, technical: bool
) -> Work:
    """State all facts of the work: the file's own, and what its folders add. Returns the file's own work."""
    place = read_place(folders, offsets, series=series)
    if place.structure and (place.work is not None):
        own = Work(stem, bare=True)
    else:
        own = read_work(stem, episodes=series, folder=False, in_season=place.season)
    own = _with_number_of_title(own, place.work)
    if series:
        own = _with_number_behind_series(own, place.work)
        own = _with_title_before_mark(_with_series_behind_date(own, place.work), place)
        _fill_series(reading, own, at, place)
    else:
        _fill_movie(reading, own, at, place)
    if technical:
        _technical(reading, own, at)
        for work, where in ([(place.season_work, place.season_at)] if place.season_work else []) + (
            [(place.work, place.work_at)] if place.work else []
        ):
            _technical(reading, work, where)
        own_works = [(own, at)] + ([(place.work, place.work_at)] if place.work else [])
        _ids(reading, *own_works)
    for start, end in own.ignored:
        reading.ignored.append((at + start, at + end))
    return own


def _with_number_of_title(own: Work, above: Work | None) -> Work:
    """A number that could be a year is title where the folder gives title and year:
    `Gate 1922`, `1922 Gates` in `… (2010)`."""
    if above is None or above.title is None or above.year is None or own.title is None or own.year is None:
        return own
    year, year_start, year_end, _ = own.year
    if year == above.year[0] or own.text[year_start - 1 : year_start] in ("(", "["):
        return own
    said = re.search(_in_any_spelling(str(above.title[0])), own.text, re.IGNORECASE)
    if (
        said is None
        or not said.start() <= year_start < year_end <= said.end()
        or own.text[: said.start()].strip(" ._-")
    ):
        return own
    title = tidy_title(said.group(), dotted=" " not in said.group())
    return replace(own, title=(title, *said.span(), "title of the folder, with its number"), year=None)


@lru_cache(maxsize=4096)
def _in_any_spelling(title: str) -> str:
    """A title as a pattern: its words, with whatever stands between them."""
    return r"[\W_]+".join(re.findall(r"[^\W_]+", title)) + r"(?![^\W_])"


def _with_series_behind_date(own: Work, above: Work | None) -> Work:
    """`2014-02-27 Show - Guest`: a recording whose day stands first, in no series' folder, names its show next."""
    if own.date is None or own.title is not None or own.subtitle is None:
        return own
    text, start, end, _ = own.subtitle
    match = re.match(r"(?P<show>\S.*?)\s+[-–]\s+(?=\S)", str(text))
    show = match["show"] if match else str(text)
    if above is not None and above.title is not None and not _same(show, str(above.title[0])):
        return own
    cut = start + (match.end() if match else len(str(text)))
    rest = (str(text)[match.end() :], min(cut, end), end, "what stands behind the show") if match else None
    return replace(own, title=(show, start, min(start + len(show), end), "the show behind its day"), subtitle=rest)


def _fill_movie(reading: Reading, own: Work, at: int, place: Place) -> None:
    above = place.work
    trusting = above is not None and (own.bare or own.title is None)
    if above is not None and not trusting and own.title and above.title and above.year and own.year is None:
        title = str(own.title[0])
        trusting = _scrambled(title, own, above) or _shortens(title, str(above.title[0]))
    if trusting and above is not None and above.title is not None:
        for name in ("title", *WORK_FIELDS):
            _put(reading, name, getattr(above, name), place.work_at)
        _put(reading, "part", own.part, at)
    else:
        same = (
            above is not None
            and above.title is not None
            and own.title is not None
            and _same(str(above.title[0]), str(own.title[0]))
        )
        if (
            same
            and above is not None
            and above.title is not None
            and own.title is not None
            and _fuller(own.title, above.title)
        ):
            _put(reading, "title", above.title, place.work_at)
        _put(reading, "title", own.title, at)
        for name in ("alt_title", "year", "date", "edition", "part"):
            _put(reading, name, getattr(own, name), at)
        if same and above is not None:
            for name in ("alt_title", "year", "date", "edition", "part"):
                _put(reading, name, getattr(above, name), place.work_at)
    _put(reading, "version", own.version, at)
    if place.disc and "part" not in reading.facts:
        value, start, end = place.disc
        reading.put("part", value, (start, end), "disc folder")


def _scrambled(title: str, own: Work, above: Work) -> bool:
    """A name that is neither words nor the folder's title (`plinth-wickpar720`)."""
    if _is_made_for_release(title, above):
        return True
    if " " in own.text.strip() or _same(title, str(above.title[0]) if above.title else ""):
        return False
    return (
        re.fullmatch(r"[a-z0-9]+-[a-z0-9]*[0-9][a-z0-9]*|[a-z0-9]*[0-9][a-z0-9]*-[a-z0-9]+", own.text, re.IGNORECASE)
        is not None
    )


def _is_made_for_release(title: str, above: Work) -> bool:
    """Whether a name is the group of the folder's release and its title, run
    together or shortened: `kestrel-saltandiron`.

    Both may be shortened to some of their letters, `kst-slt`; behind the whole name of
    the group anything in one word is a code.
    """
    release = above.technical.get("release")
    head, hyphen, rest = title.partition("-")
    if release is None or above.title is None or not hyphen or not rest:
        return False
    group, its = _squashed(str(release[0])), _squashed(str(above.title[0]))
    if _squashed(head) == group:
        return " " not in rest.strip() or _squashed(rest) == its
    return _is_code_of(_squashed(head), group) and _is_code_of(_squashed(rest), its)


def _squashed(name: str) -> str:
    return without_accents(name).replace(" ", "")


def _is_code_of(short: str, full: str) -> bool:
    """Whether a word begins as another does, and has of its letters some, in their order."""
    left = iter(full)
    return 2 <= len(short) <= len(full) and short[0] == full[0] and all(letter in left for letter in short)


_NUMBER_AND_WORDS = re.compile(
    r"""
    [\s._-]+ (?: (?P<season> [0-9]{1,2} ) \. (?P<episode> [0-9]{2} ) | (?P<running> [0-9]{1,3} ) )
    [\s._-]+ (?= [^\W\d_] )
    """,
    re.VERBOSE,
)


def _with_number_behind_series(own: Work, above: Work | None) -> Work:
    """`Show 017 Title`, `Show 1.02 Title` in the folder of a show: what the folder
    says again is the series, numbers follow."""
    if above is None or above.title is None or own.title is None or own.episodes or own.absolute or own.date:
        return own
    _, start, end, _ = own.title
    words = r"[\s._-]+".join(re.escape(word) for word in str(above.title[0]).split())
    show = re.match(words, own.text[start:end], re.IGNORECASE)
    found = _NUMBER_AND_WORDS.match(own.text, start + show.end(), end) if show is not None else None
    if found is None:
        return own
    rest = own.text[found.end() : end]
    title = tidy_title(rest, dotted=" " not in rest)
    told = replace(own, title=None, subtitle=(title, found.end(), end, "title behind the number"))
    if found["running"]:
        where = (*found.span("running"), "running number behind the series")
        return replace(told, absolute=([int(found["running"])], *where))
    season = (int(found["season"]), *found.span("season"), "season behind the series")
    return replace(told, season=season, episodes=([int(found["episode"])], *found.span("episode"), "number behind it"))


_MARK_LAST = re.compile(r"[\s._]*[(\[][^()\[\]]*[0-9][^()\[\]]*[)\]][\s._]*$")


def _with_title_before_mark(own: Work, place: Place) -> Work:
    """`Show - Title (S02E05)`, `Title (S02E05)` in the folders of a show: the title
    stands before the number, not behind it."""
    above = place.work
    if above is None or above.title is None or own.title is None or own.subtitle is not None or not own.episodes:
        return own
    text, start, end, _ = own.title
    rule = "title before the number"
    said = re.match(rf"{re.escape(str(above.title[0]))}\s+[-–—]\s+(?=\S)", str(text), re.IGNORECASE)
    if said is not None:
        cut = min(start + said.end(), end)
        return replace(own, title=None, subtitle=(str(text)[said.end() :], cut, end, rule))
    is_last = _MARK_LAST.search(own.text) is not None and place.season is not None
    if is_last and not set(without_accents(str(text)).split()) & set(without_accents(str(above.title[0])).split()):
        return replace(own, title=None, subtitle=(text, start, end, rule))
    return own


def _fill_series(reading: Reading, own: Work, at: int, place: Place) -> None:
    own, at = _with_inner(reading, own, at, place)
    above = place.work
    numbered = bool(own.episodes or own.absolute or own.date)
    series = _own_series(own, above) if numbered else None
    if (
        above is not None
        and above.title is not None
        and (series is None or _is_fuller_there(series, above, above.title))
    ):
        _put(reading, "series", above.title, place.work_at)
    _put(reading, "series", series, at)
    if "series" not in reading.facts and not numbered and place.season is None:
        _put(reading, "series", own.title, at)
    if numbered:
        _put(reading, "year", own.year, at)
    if above is not None and above.title is not None and (series is None or _is_called(series, above, above.title)):
        _put(reading, "year", above.year, place.work_at)
        _put(reading, "alt_title", above.alt_title, place.work_at)
        _put(reading, "edition", above.edition, place.work_at)
    _put(reading, "alt_title", own.alt_title, at)
    _put(reading, "season", own.season, at)
    if place.season is not None and not (own.date and place.is_year):
        reading.put("season", place.season, place.season_span, "folder of the season")
    if place.disc and own.part is None and not numbered:
        reading.put("part", place.disc[0], (place.disc[1], place.disc[2]), "disc folder")
    for name in ("episodes", "absolute", "date", "part", "edition"):
        _put(reading, name, getattr(own, name), at)
    if numbered:
        _put(reading, "title", own.subtitle, at)
        if "season" not in reading.facts and above is not None and above.season is not None:
            _put(reading, "season", above.season, place.work_at)
    elif own.title is not None and (place.season is not None or above is not None):
        title = _without_series(own.title, str(above.title[0]) if above is not None and above.title else "")
        if above is None or above.title is None or not _same(str(title[0]), str(above.title[0])):
            _put(reading, "title", title, at)


def _with_inner(reading: Reading, own: Work, at: int, place: Place) -> tuple[Work, int]:
    """What says which episode it is, and where that stands: the file's own name, or that of the episode's folder."""
    above = place.work
    if place.episode is not None:
        inner, inner_at = place.episode, place.episode_at
    elif above is not None and above.episodes:
        inner, inner_at = above, place.work_at
    else:
        return own, at
    is_numbered = own.date or (own.episodes and (own.season or place.season) is not None)
    if not is_numbered:
        series = str(above.title[0]) if above is not None and above.title is not None else ""
        called = str(own.title[0]) if own.title is not None else ""
        if inner.subtitle is None and " " in called and not _same(called, series):  # a scrambled name has no words
            _put(reading, "title", own.title, at)
        return inner, inner_at
    if inner.subtitle is not None and own.subtitle is None:
        text, start, end, _ = inner.subtitle
        reading.put("title", text, (inner_at + start, inner_at + end), "title in the episode's folder")
    return own, at


_SEASON_ALONE = re.compile(r"(?:season|staffel|saison)?\s*[0-9]+", re.IGNORECASE)


def _own_series(own: Work, above: Work | None) -> Found | None:
    """The series that a file names; none where it only counts a season of the folder's."""
    series = own.title
    if series is None or above is None or above.title is None or not _SEASON_ALONE.fullmatch(str(series[0])):
        return series
    return series if _same(str(series[0]), str(above.title[0])) else None


def _is_fuller_there(series: Found, above: Work, title: Found) -> bool:
    """Whether the folder says a series' name better than the file does."""
    return _fuller(series, title) or _is_short_there(str(series[0]), above, title)


def _is_called(series: Found, above: Work, title: Found) -> bool:
    return _same(str(series[0]), str(title[0])) or _is_short_there(str(series[0]), above, title)


def _is_short_there(series: str, above: Work, title: Found) -> bool:
    return _abbreviates(series, str(title[0])) or _is_made_for_release(series, above)


def _without_series(title: Found, series: str) -> Found:
    """`Series - Its Special` in the series' own folder is called `Its Special`."""
    text, start, end, rule = title
    match = re.match(re.escape(series) + r"\s+[-–]\s+(?=\S)", str(text), re.IGNORECASE) if series else None
    return (str(text)[match.end() :], min(start + match.end(), end), end, rule) if match else title


def read_video(path: str, folders: list[str], stem: str, *, series: bool) -> Reading:
    """A film's or an episode's main file."""
    offsets = _offsets([*folders, stem])
    reading = Reading("episode" if series else "movie")
    named = stem if stem.upper() not in ("VIDEO_TS", "BDMV") else "movie"
    fill_work(reading, named, offsets[-1], folders, offsets[:-1], series=series, technical=True)
    for folder in folders:
        if folder.lower() in ("video_ts", "bdmv") and "source" not in reading.facts:
            at = offsets[folders.index(folder)]
            reading.put(
                "source", "dvd" if folder.lower() == "video_ts" else "bluray", (at, at + len(folder)), "a disc's folder"
            )
    return reading


_ROLES = "|".join(sorted((re.escape(w).replace(r"\ ", r"[\s._-]?") for w in EXTRA_WORDS), key=len, reverse=True))
"""The words for extras as a pattern's alternatives, a blank being any one separator or none."""
_EXTRA_SUFFIX = re.compile(
    r"[\s._-]*(?:[-._\s(\[])(?P<word>" + _ROLES + r")[)\]]?[\s._-]*#?(?P<n>[0-9]{0,2})$",
    re.IGNORECASE,
)
_STRICT_SUFFIX = re.compile(
    r"(?:-|\s-\s|\.|_)(?P<word>" + _ROLES + r")(?:[\s._-]?#?[0-9]{1,2})?$",
    re.IGNORECASE,
)


_INNER_ROLE = re.compile(
    r"\s-\s(?P<word>" + _ROLES + r")\s-\s(?=\S)",
    re.IGNORECASE,
)
"""A role between a film's title and the extra's own name: `Film - Deleted Scene - The Bog`."""
_BEHIND_YEAR = re.compile(
    r"[(\[](?:19|20)[0-9]{2}[)\]]\s+(?P<word>" + _ROLES + r")(?:\s?#?[0-9]{1,2})?$", re.IGNORECASE
)
"""Behind the year of a film there is nothing but what the file is: `Film (1994) Making Of`."""
LONGEST_ROLE = 24
_ENDINGS = tuple(
    word
    for spelled in EXTRA_WORDS
    for word in {spelled, spelled.replace(" ", "."), spelled.replace(" ", "_"), spelled.replace(" ", "")}
)
_LAST_TWO = frozenset(word[-2:] for word in _ENDINGS)
"""Most names do not end as any of them, which is told soonest by their last two letters."""
_BETWEEN_WORDS = re.compile(r"[\s._-]+")
_ONE_WORD = re.compile(r"[^\W_]+")
_SPACED_SUFFIX = re.compile(r"[\s(\[](trailer|sample|teaser)(?:[\s._-]?#?[0-9]{1,2})?[)\]]?$", re.IGNORECASE)
_ANY_YEAR = re.compile(r"(?:19|20)[0-9]{2}")


def _role_word(word: str) -> str | None:
    spaced = _BETWEEN_WORDS.sub(" ", word.strip().lower())
    return (
        EXTRA_WORDS.get(spaced) or EXTRA_WORDS.get(spaced.replace(" ", "")) or EXTRA_WORDS.get(spaced.replace(" ", "-"))
    )


_SAMPLE_FIRST = re.compile(r"sample[-_.](?=\S)", re.IGNORECASE)
_CREDITLESS = re.compile(r"(?:(?<=[\s._\]-])|^)NC[\s_-]?(?:OP|ED)[0-9]{0,2}[a-z]?(?![^\W_])", re.IGNORECASE)
"""Opening and ending without credits."""


def extra_role(folders: list[str], stem: str, *, series: bool) -> str | None:
    """The role of an extra, or None when the file is the work itself."""
    if _SAMPLE_FIRST.match(stem):
        return "sample"
    if "nc" in stem.lower() and _CREDITLESS.search(stem):
        return "theme"
    if series and (mark := SXXEYY.search(stem)) and not int(mark["season"] or mark["season2"] or 1):
        folders = []  # a special that counts itself is an episode, wherever it lies
    bare = _role_word(stem.rstrip("0123456789 ")) if len(stem) <= LONGEST_ROLE else None
    end = stem.rstrip("0123456789)]# ._-").lower()
    ending = end[-2:] in _LAST_TWO and end.endswith(_ENDINGS)
    for index in range(len(folders) - 1, -1, -1):
        lowered = _spaced(folders[index])
        if lowered in EXTRA_FOLDERS and index > 0:
            role = EXTRA_FOLDERS[lowered]
            if role == "short" and all(is_sorting(above) for above in folders[:index]):
                continue  # short films among films of other kinds
            if role != "other":
                return role
            suffix = _EXTRA_SUFFIX.search(stem)
            found = bare or (_role_word(suffix["word"]) if suffix else None)
            return found or "other"
        if lowered in ("sample", "samples", "trailers", "trailer") and index == 0 and len(folders) == 1:
            return EXTRA_FOLDERS[lowered]
    if bare is not None and len(stem.split()) <= 3 and bare in ("trailer", "sample", "teaser", "theme"):
        return bare
    if bare is not None and not series and _is_of_another_name(stem, folders):
        return bare
    inside = _INNER_ROLE.search(stem) if folders and not series else None
    if inside is not None and without_accents(stem[: inside.start()]) in without_accents(folders[-1]):
        return _role_word(inside["word"])
    return _role_at_end(stem, series=series) if ending else None


def _role_at_end(stem: str, *, series: bool) -> str | None:
    """The role that the last word of a name says, where it is parted from the title or stands behind a year."""
    strict = _STRICT_SUFFIX.search(stem)
    if strict is not None and series and " " in strict.group() and SXXEYY.search(stem):
        return None
    if strict is not None and strict.start() > 0:
        return _role_word(strict["word"])
    spaced = _SPACED_SUFFIX.search(stem)
    if spaced is not None and _ANY_YEAR.search(stem):
        return _role_word(spaced[1])
    behind = _BEHIND_YEAR.search(stem)
    role = _role_word(behind["word"]) if behind is not None else None
    return role if role not in ("short", "other") else None  # a short film may be said to be one


def _is_of_another_name(stem: str, folders: list[str]) -> bool:
    """Whether a file lies in the folder of one film, in whose name its own words do not stand."""
    if not folders or is_sorting(folders[-1]) or not _ANY_YEAR.search(folders[-1]):
        return False
    return without_accents(stem.rstrip("0123456789 ")) not in without_accents(folders[-1])


def read_extra(path: str, folders: list[str], stem: str, role: str, *, series: bool) -> Reading:
    """A trailer, a scene, a sample …: with the facts of the work it belongs to."""
    offsets = _offsets([*folders, stem])
    at = offsets[-1]
    reading = Reading("extra")
    reading.put("role", role, (at, at + len(stem)), "word or folder of an extra")
    ahead = _role_ahead(stem, role, series=series)
    stem, at = stem[ahead:], at + ahead
    creditless = _CREDITLESS.search(stem)
    whole = read_work(stem, episodes=False, folder=False) if creditless else None
    if creditless is not None:
        stem = stem[: creditless.start()]
    in_folder = any(_spaced(folder) in EXTRA_FOLDERS for folder in folders[1:])
    base = _without_role(stem, role, in_folder=in_folder)
    place = read_place(folders, offsets[:-1], series=series)
    own = read_work(base, episodes=series, folder=False) if base else None
    above = place.work
    label: tuple[str, int] | None = (base, 0) if base.strip(" ._-") else None
    if own is not None and (own.title or above) and _names_its_work(own, above, in_folder=in_folder):
        fill_work(reading, base, at, folders, offsets[:-1], series=series, technical=False)
        cut = _after_work(base, own)
        label = (base[cut:], cut) if base[cut:].strip(" ._-") else None
    elif above is not None or place.season is not None:
        (_fill_series if series else _fill_movie)(reading, Work("", bare=True), at, place)
        title = str(above.title[0]) if above is not None and above.title is not None else ""
        cut = _after_title(base, title) if label is not None and title else 0
        label = (base[cut:], cut) if cut else label
    reading.facts.pop("version", None)
    described = whole or own
    if described is not None:
        _technical(reading, described, at)
    is_told = role == "theme" or (role == "sample" and own is not None and bool(own.technical))
    if label is not None and not is_told:
        _put_label(reading, label, at, above, in_folder=in_folder)
    return reading


def _role_ahead(stem: str, role: str, *, series: bool) -> int:
    """How much of an extra's name is the word for it, where that stands first or inside."""
    first = _SAMPLE_FIRST.match(stem)
    start = first.end() if first is not None else 0
    inside = _INNER_ROLE.search(stem[start:]) if not series else None
    return start + inside.end() if inside is not None and _role_word(inside["word"]) == role else start


def _without_role(stem: str, role: str, *, in_folder: bool) -> str:
    """What stands before an extra's word; in a folder of extras its number makes it a name of its own."""
    if _role_word(stem.rstrip("0123456789 ")) == role and not (in_folder and stem[-1:].isdigit()):
        return ""
    suffix = _EXTRA_SUFFIX.search(stem)
    if suffix is not None and _role_word(suffix["word"]) == role and not (in_folder and suffix["n"]):
        return stem[: suffix.start()]
    return stem


def _names_its_work(own: Work, above: Work | None, *, in_folder: bool) -> bool:
    """Whether an extra's own name says which work it is of, and not only what it shows."""
    if own.year or (own.episodes and own.season is not None):
        return True
    if in_folder or own.title is None:
        return False
    return above is None or above.title is None or _same(str(own.title[0]), str(above.title[0]))


def _after_title(base: str, title: str) -> int:
    """Where a name goes on that begins with its work's title, the article left aside."""
    for said in _with_and_without_article(title):
        if len(base) > len(said) and re.match(rf"{re.escape(said)}(?![^\W_])", base, re.IGNORECASE):
            return len(said)
    return 0


def _put_label(reading: Reading, label: tuple[str, int], at: int, above: Work | None, *, in_folder: bool) -> None:
    """What an extra is called beside its work's title; a bare number is a name in a folder of extras only."""
    text, cut = label
    probe = read_work(text, episodes=False, folder=False)
    said = str(probe.title[0]) if probe.technical and probe.title else text
    shown = tidy_title(re.sub(r"^[\s._-]+", "", said), dotted="." in text and " " not in text)
    if above is not None and above.title is not None and _same(shown, str(above.title[0])):
        return
    if shown and (in_folder or not shown.isdigit()):
        reading.put("label", shown, (at + cut, at + cut + len(text)), "what is left of the extra's own name")


_ARTICLE = re.compile(r"^(?:the|an?|der|die|das|les?|la|el|los|las|il|lo|de|het)\s+(?=\S)|^l['’]", re.IGNORECASE)


def _with_and_without_article(title: str) -> tuple[str, str]:
    return title, _ARTICLE.sub("", title)


def _after_work(base: str, own: Work) -> int:
    ends = [found[2] for found in (own.title, own.year, own.season, own.episodes, own.edition, own.subtitle) if found]
    ends += [found[2] for found in own.technical.values()]
    cut = max(ends, default=0)
    while cut < len(base) and base[cut] in ")]} ._-":
        cut += 1
    return cut


_SEASON_ART = re.compile(
    r"^season[\s_-]?(?P<n>[0-9]{1,3}|-?specials|-?all)?[\s_-]*(?P<role>poster|banner|landscape|thumb|cover)?$",
    re.IGNORECASE,
)


_ART_WORDS = "|".join(
    re.escape(word).replace(r"\ ", "[ ._-]") for word in sorted(ARTWORK, key=len, reverse=True) if len(word) > 2
)
_ART_TAIL = re.compile(
    rf"""
    (?: [-._] (?P<joined> {_ART_WORDS}
          | clearlogo | clearart | keyart | discart )
      | [ ] (?P<spaced> poster | backdrop | background | clearlogo | logo | banner | landscape | thumb | thumbnail | still | cover
          | front | back | keyart | clearart | discart | booklet )
    ) [-_]? [0-9]{{0,2}} $
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""A picture's role behind the work's name: any word for one behind a sign, behind a blank those that are no title's."""


_ROLE_ASIDE = re.compile(r"[\s._-]*[(\[](?P<word>[^\W\d_][^()\[\]]*)[)\]]$")
"""A picture's role in brackets: `Cover (back)`."""


def artwork_role(stem: str, *, beside_music: bool) -> tuple[str, str] | None:
    """Role of a picture that is artwork by its name, and what stands before the word; None when it is none."""
    aside = _ROLE_ASIDE.search(stem)
    if aside is not None and aside["word"].strip().lower() in ARTWORK:
        before = stem[: aside.start()]
        role = artwork_role(aside["word"], beside_music=beside_music)
        return (role[0], "" if before.strip().lower() in ARTWORK else before) if role is not None else None
    lowered = re.sub(r"[\s_]+", " ", stem.strip().lower())
    lowered = (
        re.sub(r"(?<=[a-z])[\s-]?[0-9]{1,3}(?:-[0-9]+)?$", "", lowered)
        if re.match(r"(?:poster|backdrop|booklet|cover|back|disc|thumb|scan|inlay|background)", lowered)
        else lowered
    )
    if lowered == "folder":
        return ("cover" if beside_music else "poster"), ""
    counted = re.sub(r"(?<=[^\W\d_])[\s-]?[0-9]{1,3}$", "", lowered)
    if lowered in ARTWORK or counted in ARTWORK:
        role = ARTWORK[lowered if lowered in ARTWORK else counted]
        if not beside_music:
            role = {"cover": "poster", "portrait": role, "disc": role}.get(role, role)
        return role, ""
    spoken = re.fullmatch(r"(?P<word>[^\W\d_]+)[-._](?P<tag>[a-z]{2,3}(?:-[a-z]{2})?)", lowered)
    if spoken and spoken["word"] in ARTWORK and language_of(spoken["tag"]):
        return artwork_role(spoken["word"], beside_music=beside_music)  # the words in it are of a language
    match = _ART_TAIL.search(stem)
    if match:
        word = re.sub(r"[._-]", " ", (match["joined"] or match["spaced"]).lower())
        role = ARTWORK.get(word) or ARTWORK.get(word.replace(" ", "-")) or "logo"
        if role == "cover" and not beside_music:
            role = "poster"
        return role, stem[: match.start()]
    return None


def read_side_file(path: str, folders: list[str], stem: str, kind: str, *, series: bool) -> Reading:
    """A subtitle or an artwork with the facts of the work that it belongs to."""
    offsets = _offsets([*folders, stem])
    at = offsets[-1]
    reading = Reading(kind)
    pictures = _role_of_pictures(folders[-1]) if kind == "artwork" and len(folders) > 1 else None
    if kind == "subtitle":
        base = _subtitle_words(reading, stem, at, folders)
        if base.isdigit() and len(base) < 3 and folders and SXXEYY.search(folders[-1]):
            # a count of the texts; the folder says of which episode
            base, at, folders, offsets = folders[-1], offsets[-2], folders[:-1], offsets[:-1]
    elif pictures is not None:
        reading.put("role", pictures, (offsets[-2], at - 1), "folder of pictures")
        folders, offsets, base = folders[:-1], [*offsets[:-2], at], ""
    else:
        base = _artwork_words(reading, stem, at, series=series)
    if base.strip(" ._-"):
        fill_work(
            reading,
            base,
            at,
            [f for f in folders if f.strip().lower() not in SUBTITLE_FOLDERS],
            [o for f, o in zip(folders, offsets, strict=False) if f.strip().lower() not in SUBTITLE_FOLDERS],
            series=series,
            technical=False,
        )
    else:
        place = read_place(folders, offsets[:-1], series=series)
        (_fill_series if series else _fill_movie)(reading, Work("", bare=True), at, place)
        if kind == "artwork":
            reading.facts.pop("edition", None)
    for name in ("version", "ids"):
        reading.facts.pop(name, None)
    return reading


def _artwork_words(reading: Reading, stem: str, at: int, *, series: bool) -> str:
    """Take an artwork's role, and the season that it is of, from its name; returns what is left."""
    whole = (at, at + len(stem))
    season = _SEASON_ART.match(stem)
    if season is None or not (season["n"] or season["role"]):
        found = artwork_role(stem, beside_music=False)
        role, base = found if found else ("thumb" if series and SXXEYY.search(stem) else "poster", stem)
        reading.put("role", role, whole, "name of an artwork")
        return base
    role = (season["role"] or "poster").lower()
    role = {"landscape": "thumb", "cover": "poster"}.get(role, role)
    reading.put("role", role, whole, "name of a season's artwork")
    word = (season["n"] or "").lower().strip("-")
    if word and word != "all":
        number = 0 if word == "specials" else int(word)
        reading.put("season", number, whole, "name of a season's artwork")
    return ""


def _role_of_pictures(folder: str) -> str | None:
    """The role of pictures that lie in a folder of their own: `Backdrops`, `extra posters`."""
    name = _spaced(folder).removeprefix("extra").strip()
    return next((ARTWORK[one] for one in (name, name.removesuffix("s")) if one in ARTWORK and one != "disc"), None)


@dataclass(frozen=True, slots=True)
class _LastWord:
    """The last word of what is left of a subtitle's name."""

    word: str
    start: int
    cut: int
    """Where ends what stands before it."""
    tag: str | None
    """The language that it names."""
    is_apart: bool
    """Whether a dot, a bracket or the like parts it from what stands before, and not a mere space."""


_LAST_WORD = re.compile(r"(?:^|[.\s_\[(-]+)(?P<word>[^\W_]+(?:-[A-Za-z0-9]{2,4})?)[\])]*$")


_WHERE_SPOKEN = re.compile(r"(?:^|[.\s_\[(-]+)([^\W\d_]{4,})$")


def _last_word(base: str, *, in_folder: bool) -> _LastWord | None:
    match = _LAST_WORD.search(base)
    if match is None:
        return None
    word, cut, start = match["word"], match.start(), match.start("word")
    separator = base[cut:start]
    tag = language_of(word)
    where = _WHERE_SPOKEN.search(base[:cut])
    if tag is not None and where is not None and (told := language_of(f"{where[1]} {word}")) is not None:
        word, tag, start, cut = base[where.start(1) : match.end("word")], told, where.start(1), where.start()
        separator = where[0][: where.start(1) - where.start()]
    head, hyphen, tail = word.rpartition("-")
    if tag is None and hyphen and (tail.lower() in FLAGS or language_of(tail)):
        start += len(head) + 1  # `…-forced`: what stands before the hyphen is looked at next
        return _LastWord(tail, start, start - 1, language_of(tail), is_apart=True)
    is_apart = not separator or any(sign in separator for sign in "._[(") or (len(word) > 3 and in_folder)
    return _LastWord(word, start, cut, tag, is_apart)


def _subtitle_words(reading: Reading, stem: str, at: int, folders: list[str]) -> str:
    """Take language and flags from the end of a subtitle's name; returns what is left."""
    flags: list[str] = []
    spans: list[Span] = []
    in_folder = bool(folders) and folders[-1].strip().lower() in SUBTITLE_FOLDERS
    base = stem
    while (last := _last_word(base, in_folder=in_folder)) is not None:
        if in_folder and "language" not in reading.facts and (told := _named_by_language(base)) is not None:
            reading.put("language", told, (at, at + len(base)), "language in the name")
            base = ""
            break
        span = (at + last.start, at + last.start + len(last.word))
        flag = FLAGS.get(last.word.lower()) if last.is_apart else None
        before = base[: last.cut]
        has_language = "language" in reading.facts
        if flag is not None and last.word.lower() == "hi" and not (has_language or _language_before(before)):
            flag = None  # the language of that tag: of a flag a language stands before it
        if flag is not None:
            flags.append(flag)
            spans.append(span)
        elif last.tag is not None and not has_language and _is_a_language_there(base, stem, last, in_folder):
            reading.put("language", last.tag, span, "language in the name")
        else:
            break
        base = before
    if flags:
        reading.put("flags", sorted(set(flags)), spans[0], "flag of a subtitle")
    if in_folder:
        base = re.sub(r"^[0-9]{1,2}[_. ]*$", "", base)
    if "language" not in reading.facts:
        _put_folder_language(reading, folders)
    return base


_NAMED_BY_LANGUAGE = re.compile(
    r"""
    ^ (?: [0-9]{1,3} [\s._-]+ )?
    (?: (?P<where> [^\W\d_]+ (?: \s [^\W\d_]+ )? ) [\s._-]+ (?P<code> [^\W\d_]{2,} )
      | (?P<name> [^\W\d_]+ ) \s* [(\[] (?P<place> [^()\[\]]+ ) [)\]] ) $
    """,
    re.VERBOSE,
)


def _named_by_language(base: str) -> str | None:
    """The tag of a name that is a language and where it is spoken, and nothing
    else: `Brazilian.por`, `3_Spanish (Latin America)`."""
    match = _NAMED_BY_LANGUAGE.match(base)
    if match is None:
        return None
    if match["code"]:
        return language_in(match["where"], match["code"])
    told = language_in(match["place"], match["name"])
    return told or (language_of(match["name"]) if match["place"].strip().lower() not in FLAGS else None)


def _is_a_language_there(base: str, stem: str, last: _LastWord, in_folder: bool) -> bool:
    """Whether a word that may be a language's stands where one is named, and is no word of a title."""
    is_parted = last.is_apart or " - " in base[last.cut : last.start]
    return is_parted and (last.cut > 0 or in_folder or len(stem) == len(base))


def _put_folder_language(reading: Reading, folders: list[str]) -> None:
    """The language that a folder below the subtitles' is called after."""
    held = folders[-2:]
    if not held or held[0].strip().lower() not in SUBTITLE_FOLDERS:
        return
    for folder in reversed(held):
        tag = language_of(folder) if folder.strip().lower() not in SUBTITLE_FOLDERS else None
        if tag:
            reading.put("language", tag, None, "language of the folder")


def _language_before(base: str) -> bool:
    match = re.search(r"[._ -]([^\W_]+)$", base)
    return bool(match and language_of(match[1]))
