"""Films and episodes: what name and folders say, put together."""

from __future__ import annotations

import re
from dataclasses import replace
from functools import lru_cache

from ..phrase import term
from .model import Reading, Span
from .scan import tidy_title, without_accents
from .video_folders import (
    BETWEEN_WORDS,
    ONE_WORD,
    WORK_FIELDS,
    Place,
    is_same_title,
    offsets_of,
    read_place,
    with_and_without_article,
)
from .work import Found, Work, read_work

__all__ = ["fill_movie", "fill_series", "fill_work", "put_technical", "read_video"]


def _put(reading: Reading, name: str, found: Found | None, at: int) -> None:
    if found is not None:
        value, start, end, rule = found
        reading.put(name, value, (at + start, at + end), rule)


def put_technical(reading: Reading, work: Work, at: int) -> None:
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
        reading.put("ids", ids, spans[0], term("identifier in brackets"))
        reading.facts["ids"].spans = tuple(spans)


def _fuller(own: Found, its: Found) -> bool:
    """Whether the folder's spelling of the same title is the fuller one."""
    one, other = str(own[0]), str(its[0])
    if one == other or not is_same_title(one, other):
        return False
    if one.islower() != other.islower():
        return one.islower()  # capitals say more than none
    return (sum(ord(c) > 127 for c in other), len(other)) > (sum(ord(c) > 127 for c in one), len(one))


def _abbreviates(own: str, its: str) -> bool:
    """Whether a name is the initials of the folder's title, with its article or without."""
    short = BETWEEN_WORDS.sub("", own).casefold()
    if " " in own.strip() or len(short) < 2:
        return False
    whole = ONE_WORD.findall(its.casefold())
    return any(short == "".join(word[0] for word in words) for words in (whole, without_accents(its).split()))


def _shortens(own: str, its: str) -> bool:
    """Whether a name is only a short form of the folder's title: its initials,
    its words run together, or some of them."""
    short, full = without_accents(own).split(), without_accents(its).split()
    if _abbreviates(own, its):
        return True
    if len(short) == 1 < len(full) and any(_squashed(own) == _squashed(said) for said in with_and_without_article(its)):
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
    if series and len(place.works) > 1:
        place = _with_the_series_that_is_named(place, stem)
    if place.structure and (place.work is not None):
        own = Work(stem, bare=True)
    else:
        own = read_work(stem, episodes=series, folder=False, in_season=place.season)
    own = _with_number_of_title(own, place.work)
    if series:
        own = _with_number_behind_series(own, place.work)
        own = _with_title_before_mark(_with_series_behind_date(own, place.work), place)
        fill_series(reading, own, at, place)
    else:
        fill_movie(reading, own, at, place)
    if technical:
        put_technical(reading, own, at)
        for work, where in ([(place.season_work, place.season_at)] if place.season_work else []) + (
            [(place.work, place.work_at)] if place.work else []
        ):
            put_technical(reading, work, where)
        own_works = [(own, at)] + ([(place.work, place.work_at)] if place.work else [])
        _ids(reading, *own_works)
    for start, end in own.ignored:
        reading.ignored.append((at + start, at + end))
    return own


def _with_the_series_that_is_named(place: Place, stem: str) -> Place:
    """Of nested folders the nearest whose title the name begins with is the series:
    `Gull Row/Cut anew/Gull Row - …`."""
    nearest = [(place.work, place.work_at), *reversed(place.works)]
    for work, at in nearest:
        if work and work.title and re.match(_in_any_spelling(str(work.title[0])), stem, re.IGNORECASE):
            return place if work is place.work else replace(place, work=work, work_at=at)
    return place


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
    return replace(own, title=(title, *said.span(), term("title of the folder, with its number")), year=None)


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
    if above is not None and above.title is not None and not is_same_title(show, str(above.title[0])):
        return own
    cut = start + (match.end() if match else len(str(text)))
    rest = (str(text)[match.end() :], min(cut, end), end, term("what stands behind the show")) if match else None
    return replace(
        own, title=(show, start, min(start + len(show), end), term("the show behind its day")), subtitle=rest
    )


_ORDER = re.compile(r"[0-9]{1,2}[\s._)-]+(?=\S)")


def _without_order(place: Place, own: Work) -> Work | None:
    """A folder whose number only sorts, since it lies in one of a set and the file has the title without it:
    `Gulls/1 Gull (2010)/Gull.mkv`."""
    above = place.work
    if above is None or above.title is None or own.title is None or own.bare or len(place.works) < 2:
        return above
    text, start, end, rule = above.title
    order = _ORDER.match(str(text))
    if order is None or own.text.casefold() != str(text)[order.end() :].casefold():
        return above
    return replace(above, title=(str(text)[order.end() :], start + order.end(), end, rule))


def fill_movie(reading: Reading, own: Work, at: int, place: Place) -> None:
    above = _without_order(place, own)
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
            and is_same_title(str(above.title[0]), str(own.title[0]))
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
        reading.put("part", value, (start, end), term("disc folder"))


def _scrambled(title: str, own: Work, above: Work) -> bool:
    """A name that is neither words nor the folder's title (`plinth-wickpar720`)."""
    if _is_made_for_release(title, above):
        return True
    if " " in own.text.strip() or is_same_title(title, str(above.title[0]) if above.title else ""):
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
    told = replace(own, title=None, subtitle=(title, found.end(), end, term("title behind the number")))
    if found["running"]:
        where = (*found.span("running"), term("running number behind the series"))
        return replace(told, absolute=([int(found["running"])], *where))
    season = (int(found["season"]), *found.span("season"), term("season behind the series"))
    return replace(
        told, season=season, episodes=([int(found["episode"])], *found.span("episode"), term("number behind it"))
    )


_MARK_LAST = re.compile(r"[\s._]*[(\[][^()\[\]]*[0-9][^()\[\]]*[)\]][\s._]*$")


def _with_title_before_mark(own: Work, place: Place) -> Work:
    """`Show - Title (S02E05)`, `Title (S02E05)` in the folders of a show: the title
    stands before the number, not behind it."""
    above = place.work
    if above is None or above.title is None or own.title is None or own.subtitle is not None or not own.episodes:
        return own
    text, start, end, _ = own.title
    rule = term("title before the number")
    said = re.match(rf"{re.escape(str(above.title[0]))}\s+[-–—]\s+(?=\S)", str(text), re.IGNORECASE)
    if said is not None:
        cut = min(start + said.end(), end)
        return replace(own, title=None, subtitle=(str(text)[said.end() :], cut, end, rule))
    is_last = _MARK_LAST.search(own.text) is not None and place.season is not None
    if is_last and not set(without_accents(str(text)).split()) & set(without_accents(str(above.title[0])).split()):
        return replace(own, title=None, subtitle=(text, start, end, rule))
    return own


def fill_series(reading: Reading, own: Work, at: int, place: Place) -> None:
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
        reading.put("season", place.season, place.season_span, term("folder of the season"))
    if place.disc and own.part is None and not numbered:
        reading.put("part", place.disc[0], (place.disc[1], place.disc[2]), term("disc folder"))
    for name in ("episodes", "absolute", "date", "part", "edition"):
        _put(reading, name, getattr(own, name), at)
    if numbered:
        _put(reading, "title", own.subtitle, at)
        if "season" not in reading.facts and above is not None and above.season is not None:
            _put(reading, "season", above.season, place.work_at)
    elif own.title is not None and (place.season is not None or above is not None):
        title = _without_series(own.title, str(above.title[0]) if above is not None and above.title else "")
        if above is None or above.title is None or not is_same_title(str(title[0]), str(above.title[0])):
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
        if (
            inner.subtitle is None and " " in called and not is_same_title(called, series)
        ):  # a scrambled name has no words
            _put(reading, "title", own.title, at)
        return inner, inner_at
    if inner.subtitle is not None and own.subtitle is None:
        text, start, end, _ = inner.subtitle
        reading.put("title", text, (inner_at + start, inner_at + end), term("title in the episode's folder"))
    return own, at


_SEASON_ALONE = re.compile(r"(?:season|staffel|saison)?\s*[0-9]+", re.IGNORECASE)


def _own_series(own: Work, above: Work | None) -> Found | None:
    """The series that a file names; none where it only counts a season of the folder's."""
    series = own.title
    if series is None or above is None or above.title is None or not _SEASON_ALONE.fullmatch(str(series[0])):
        return series
    return series if is_same_title(str(series[0]), str(above.title[0])) else None


def _is_fuller_there(series: Found, above: Work, title: Found) -> bool:
    """Whether the folder says a series' name better than the file does."""
    return _fuller(series, title) or _is_short_there(str(series[0]), above, title)


def _is_called(series: Found, above: Work, title: Found) -> bool:
    return is_same_title(str(series[0]), str(title[0])) or _is_short_there(str(series[0]), above, title)


def _is_short_there(series: str, above: Work, title: Found) -> bool:
    return _abbreviates(series, str(title[0])) or _is_made_for_release(series, above)


def _without_series(title: Found, series: str) -> Found:
    """`Series - Its Special` in the series' own folder is called `Its Special`."""
    text, start, end, rule = title
    match = re.match(re.escape(series) + r"\s+[-–]\s+(?=\S)", str(text), re.IGNORECASE) if series else None
    return (str(text)[match.end() :], min(start + match.end(), end), end, rule) if match else title


def read_video(path: str, folders: list[str], stem: str, *, series: bool) -> Reading:
    """A film's or an episode's main file."""
    offsets = offsets_of([*folders, stem])
    reading = Reading("episode" if series else "movie")
    named = stem if stem.upper() not in ("VIDEO_TS", "BDMV") else "movie"
    fill_work(reading, named, offsets[-1], folders, offsets[:-1], series=series, technical=True)
    for folder in folders:
        if folder.lower() in ("video_ts", "bdmv") and "source" not in reading.facts:
            at = offsets[folders.index(folder)]
            reading.put(
                "source",
                "dvd" if folder.lower() == "video_ts" else "bluray",
                (at, at + len(folder)),
                term("a disc's folder"),
            )
    return reading
