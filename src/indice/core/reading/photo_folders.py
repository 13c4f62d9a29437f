"""What folders say of pictures: the day, the occasion, and what kind of pictures they are."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache, lru_cache

from ..phrase import term
from .camera_names import (
    DAY_FIRST,
    EAST_DAY,
    LAST_MONTH_YEAR,
    MONTH_YEAR,
    MONTHS,
    STAMP,
    WORD_DAY,
    WORD_MONTH,
    day_of,
    moment_of,
)
from .model import Reading
from .occasions import Occasion, is_kind_of_occasions, is_occasion, is_trip, leaning_of, marks_of_folder
from .places import is_sorting
from .scan import tidy_title
from .vocabulary import alternation, words_for

__all__ = ["full_day", "month_of_folders", "put_folders"]

_CAMERA_FOLDER = re.compile(
    r"^(?:dcim|[0-9]{3}[_A-Z][A-Z0-9_]{2,7}|[0-9]{3}_[0-9]{4}|[0-9]{3}|private|avchd|bdmv|stream|m4root|clip|mp_root"
    r"|video_ts|audio_ts|certificate|playlist|clipinf)$",
    re.IGNORECASE,
)
_YEAR_TEXT = r"(?:18|19|20)[0-9]{2}"
_DAY_TEXT = (
    rf"(?:{_YEAR_TEXT}[-._]?(?:0[1-9]|1[0-2])[-._]?(?:0[1-9]|[12][0-9]|3[01])"
    rf"|[0-3]?[0-9]\.[01]?[0-9]\.(?:{_YEAR_TEXT})?)"
)
_TILL_WORDS = "and | und | et | en | y | e | og | och | i | to | bis | au | al | a | till | do | по"
"""What stands between the first and the last of several days."""
_TILL = rf"(?: \s* (?: - | – | — | & | \+ ) \s* | \s+ (?: {_TILL_WORDS} ) \s+ )"
_DAY_FIRST = rf"[0-3]?[0-9]\.\s?[01]?[0-9]\.\s?(?:{_YEAR_TEXT}|[0-9]{{2}})(?![0-9])"
_MONTH_AND_DAY_TEXT = r"(?: 0[1-9] | 1[0-2] ) [-.] (?: 0[1-9] | [12][0-9] | 3[01] )"
_RANGE = re.compile(
    rf"""
    (?<![0-9]) (?: (?P<first> {_DAY_TEXT} )
       | ^ {_MONTH_AND_DAY_TEXT} (?= [\s_]* (?: - | – | — | {_TILL_WORDS} ) [\s_]* {_MONTH_AND_DAY_TEXT} (?![0-9]) )
       | (?<![0-9][-._]) (?: [1-9] | [0-3][0-9] ) \.? (?= [\s_]* [-–—&+] [\s_]* {_DAY_FIRST} ) )
    [\s_]* (?: - | – | — | \.\. | _ (?= [0-3]?[0-9] (?: [\s_] | $ ) ) | & | \+ | t/m | {_TILL_WORDS} ) [\s_]*
    (?: {_DAY_TEXT} | {_MONTH_AND_DAY_TEXT} | [0-3]?[0-9]\.? )
    (?![0-9])
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""Several days in a row; it states no day."""
_IN_BRACKET = re.compile(r"[(\[]([^()\[\]]{4,40})[)\]]")
_BETWEEN_DAYS = frozenset((*_TILL_WORDS.split(" | "), "ca", "um", "around", "circa"))
_MONTH_FIRST = re.compile(
    rf"^(?P<m>0?[1-9]|1[0-2])[./-](?P<y>{_YEAR_TEXT})(?=[\s_,–-]+[^\W\d_])"
    rf"|(?<=[^\W\d])[\s_,–-]+(?P<m2>0?[1-9]|1[0-2])[./-](?P<y2>{_YEAR_TEXT})$"
)
"""A month before its year, at either end: `03.2015 Ski day`, `Ski day 03-2015`."""
_WORDED_RANGE = re.compile(
    rf"""
    (?<![^\W_]) (?:
        (?P<d> [0-3]?[0-9] ) \.? (?: \s* (?P<m> [^\W\d_]{{3,12}} ) \.? )? {_TILL}
        [0-3]?[0-9] \.? (?: st | nd | rd | th )? \s+ (?: de \s+ )? (?P<m2> [^\W\d_]{{3,12}} ) \.?,? \s+ (?: de \s+ )? {_YEAR_TEXT}
      | (?P<m3> [^\W\d_]{{3,12}} ) \s+ [0-3]?[0-9] (?: st | nd | rd | th )? {_TILL}
        (?: (?P<m4> [^\W\d_]{{3,12}} ) \s+ )? [0-3]?[0-9] (?: st | nd | rd | th )? ,? \s+ {_YEAR_TEXT}
    ) (?![0-9])
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""Several days in a row, the month in words: `12.-14. Juni 2014`, `June 12-14, 2014`."""
_YEAR_FIRST = re.compile(rf"^(?P<name>[^\W\d_]{{3,12}})\.?\s+{_YEAR_TEXT}\s*[-–—,:_]*\s*(?=[^\W\d_])")
"""`July 2010 - words`."""
_SHORT_DOTTED = re.compile(
    rf"(?<![0-9.])(?P<d>0?[1-9]|[12][0-9]|3[01])\.\s?(?P<m>0?[1-9]|1[0-2])\.\s?(?P<y>{_YEAR_TEXT}|[0-9]{{2}})(?![0-9.])"
)
"""A day as it is written by hand: `7.6.14`, `7. 6. 2014`."""
_MONTH_AND_DAY = re.compile(r"^(?P<m>0[1-9]|1[0-2])[-_.]?(?P<d>0[1-9]|[12][0-9]|3[01])[\s_-]+(?=[^\W\d_])")
"""Month and day before words, below a year's folder: `0607 Zoo`."""
_SHORT_DAY = re.compile(
    r"""
    (?: ^ (?= [0-9]{6} [\s_.-]+ [^\W\d_] ) | (?<= [^\W\d_] ) [\s_-]+ (?= [0-9]{6} $ ) )
    (?P<y> [0-9]{2} ) (?P<m> 0[1-9] | 1[0-2] ) (?P<d> 0[1-9] | [12][0-9] | 3[01] )
    """,
    re.VERBOSE,
)
"""`170402 Heron colony`, `Heron colony 170402`: year, month and day of two digits each, at either end of words."""


@dataclass(frozen=True, slots=True)
class _FolderSays:
    """What a folder's name says, taken apart."""

    words: str = ""
    """Without its date."""
    day: str | None = None
    year: int | None = None
    month: int | None = None
    day_of_month: int | None = None
    is_dated: bool = False
    is_period: bool = False
    """Whether it is a stretch of time that is none of the calendar's months: a quarter, a week."""


_ASIDE = re.compile(r"\s*[(\[](?P<words>[^()\[\]]+)[)\]]$")
_DIGIT = re.compile(r"[0-9]")


_UNDERSCORE_BY_WORD = re.compile(r"(?<=[^\W\d_])_|_(?=[^\W\d_])")


@lru_cache(maxsize=8192)
def _folder(name: str) -> _FolderSays:
    """A folder's date, whole or in part, and its words: the first way of writing one that fits decides."""
    text = name.strip()
    aside = _ASIDE.search(text)
    if aside is not None and aside.start() and _is_of_pictures(aside["words"]):
        text = text[: aside.start()]  # which camera, or whose pictures, of several that were there
    if _CAMERA_FOLDER.match(text):
        return _FolderSays()
    text = text if " " in text else _UNDERSCORE_BY_WORD.sub(" ", text)
    for whole in (_bare_date, _several_days, _date_in_bracket):
        said = whole(text)
        if said is not None:
            return said
    spaced = _SPACED_DAY.match(text)
    text = f"{spaced[1]}-{spaced[2]}-{spaced[3]}{text[spaced.end() :]}" if spaced is not None else text
    return _behind_where_it_waits(_says_day(text) or _says_month(text) or _says_less(text))


def _behind_where_it_waits(said: _FolderSays) -> _FolderSays:
    """The occasion alone of `Shared album - Lake trip`: before it stands where the pictures came from, or wait."""
    first, dash, rest = said.words.partition(" - ")
    where = leaning_of(first)
    if dash and where.of("waits", "device", "kind") and not where.of(*_REASONS) and leaning_of(rest).of(*_REASONS):
        return replace(said, words=rest.strip())
    return said


_REASONS = ("occasion", "season", "trip", "place")
"""Leanings of words for which a folder may be an event."""


def _is_of_pictures(words: str) -> bool:
    """Whether words say with what pictures were taken, or what kind they are, and nothing of an occasion."""
    leaning = leaning_of(words)
    return leaning.of("device", "kind") > 0 and not leaning.of(*_REASONS) and not _DIGIT.search(words)


def _several_days(text: str) -> _FolderSays | None:
    span = _RANGE.search(text) or _worded_range(text)
    return _FolderSays(_words_of(text, *span.span()), is_dated=True) if span is not None else None


def _says_day(text: str) -> _FolderSays | None:
    """A day and words; also one of which nobody knows the year, and one of a trip by its number."""
    unclear = _UNCLEAR_DAY.match(text)
    if unclear is not None:
        return _FolderSays(_words_of(text, 0, unclear.end()), is_dated=True)
    counted = _COUNTED_DAY.match(text)
    if counted is not None:
        return _FolderSays(_tidied((counted["words"] or "").strip("()[] ")))
    day, start, end = full_day(text)
    if day is not None:
        return _FolderSays(_words_of(text, start, end), day, is_dated=True)
    short = _SHORT_DAY.search(text) if EAST_DAY.search(text) is None else None
    if short is None:
        return None
    year = int(short["y"]) + (1900 if int(short["y"]) > 60 else 2000)
    day = day_of(year, int(short["m"]), int(short["d"]))
    return _FolderSays(_words_of(text, *short.span()), day, is_dated=True) if day is not None else None


def _says_month(text: str) -> _FolderSays | None:
    """A year and a month, in either order, and words."""
    east = EAST_DAY.search(text)
    if east is not None:
        words = _words_of(text, *east.span())
        return _FolderSays(
            words, None, int(east["y"] or east["y2"]), int(east["m"] or east["m2"]), is_dated=bool(words)
        )
    turned = _MONTH_FIRST.search(text)
    if turned is not None:
        month, year = (turned["m"], turned["y"]) if turned["m"] else (turned["m2"], turned["y2"])
        return _FolderSays(_words_of(text, *turned.span()), None, int(year), int(month), is_dated=True)
    partial = _YEAR_AND_MONTH.match(text) or _YEAR_AND_MONTH_LAST.search(text)
    if partial is None:
        return None
    return _FolderSays(_words_of(text, *partial.span()), None, int(partial[1]), int(partial[2]), is_dated=True)


_YEAR_AND_MONTH = re.compile(rf"^({_YEAR_TEXT})[-._ ](0[1-9]|1[0-2])(?![0-9])")
_YEAR_AND_MONTH_LAST = re.compile(r"(?<![0-9])((?:19|20)[0-9]{2})[-._](0[1-9]|1[0-2])$")


def _says_less(text: str) -> _FolderSays:
    """A month and a day, a number, or a year; or words alone."""
    split = _MONTH_AND_DAY.match(text)
    if split is not None:
        words = _words_of(text, 0, split.end())
        return _FolderSays(words, month=int(split["m"]), day_of_month=int(split["d"]))
    worded = _worded_day(text)
    if worded is not None:
        return worded
    number = _LEADING_NUMBER.match(text)
    if number and number["dot"] and leaning_of(text[number.end() :].split(" ")[0]).of("occasion"):
        number = None  # `2. Geburtstag`: the second, and no day
    dom = int(number["n"]) if number else 0
    rest = text[number.end() :] if number and 1 <= dom <= 31 else text
    words, dated = _without_year(rest)
    tidy = _tidied(words)
    return _FolderSays(tidy, day_of_month=dom if number and 1 <= dom <= 31 else None, is_dated=dated and bool(tidy))


_NTH = r"(?:st|nd|rd|th|\.|º|ª|er)?"
_MONTH_WORDS = "|".join(re.escape(word) for word in sorted(MONTHS, key=len, reverse=True) if word.isalpha())
_YEARLESS = re.compile(
    rf"""
    (?: ^ | (?P<open> [(\[] ) | (?<= [^\W\d_] ) [\s,–—-]+ )
    (?:
        (?P<d> [0-3]?[0-9] ){_NTH} (?P<till> {_TILL} [0-3]?[0-9]{_NTH} )?
            \s+ (?: (?: of | de | di | d’ | d' ) \s+ )? (?P<m> {_MONTH_WORDS} )
      | (?P<m2> {_MONTH_WORDS} )\.? \s+ (?P<d2> [0-3]?[0-9] ){_NTH} (?P<till2> {_TILL} [0-3]?[0-9]{_NTH} )?
    )
    \.? (?(open) [)\]] ) (?= $ | \s*[,–—:-] | \s+ [^\W\d_] )
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""A day, or days, of a month in words, of which a folder above says the year:
`Lake Orra, 3-5 August`, `Fair (12 May)`."""
_MONTH_LAST = re.compile(r"(?:,\s*|\s+(?P<open>[(\[]))(?P<m>[^\W\d_]{3,12})\.?(?(open)[)\]])$")
"""A month alone, behind words: `Lake Orra, August`."""


def _worded_day(text: str) -> _FolderSays | None:
    last = _MONTH_LAST.search(text)
    if last is not None and last["m"].lower() in MONTHS:
        return _FolderSays(_words_of(text, *last.span()), is_dated=True)
    for found in _YEARLESS.finditer(text):
        name = found["m"] or found["m2"]
        month, day = MONTHS[name.lower()], str(found["d"] or found["d2"])
        words = _words_of(text, *found.span())
        if not words or not 1 <= int(day) <= 31:
            continue
        if found["m2"] and found.end() < len(text.rstrip()):
            continue  # `May 5 Kilometres`: behind a month in words stands no more of a date
        if found["till"] or found["till2"]:
            return _FolderSays(words, is_dated=True)
        return _FolderSays(words, month=month, day_of_month=int(day), is_dated=True)
    return None


_COUNTED_DAY = re.compile(
    rf"""
    ^ (?: (?: {alternation("day")} ) [\s_]* [0-9]{{1,2}}
        | [0-9]{{1,2}} (?: \. | st | nd | rd | th | er | e | º | ª ) [\s_]* (?: {alternation("day")} )
          (?= \s* (?: [-–—:,] | $ ) ) )
    (?: (?: [\s_]* [-–—:,.] [\s_]* | [\s_]+ ) (?P<words> [(\[]? [^\W\d] .* ) | [\s_]* ) $
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""A day of a trip by its number: `Day 3`, `Tag 2 - Old Town`, `1. Tag - Arrival`."""


_SPACED_DAY = re.compile(rf"({_YEAR_TEXT}) (0[1-9]|1[0-2]) (0[1-9]|[12][0-9]|3[01])(?=\s|$)")
_UNCLEAR_DAY = re.compile(r"(?:[0-3][0-9]-[0-3][0-9]-[0-9]{2}|[0-3]?[0-9]/[0-3]?[0-9]/[0-9]{2})(?=[\s_]+[^\W\d_])")
"""A day of which nobody can tell what is its year: it states none."""
_LEADING_NUMBER = re.compile(
    r"""
    ^ (?P<n> [0-3]?[0-9] ) (?: (?: st | nd | rd | th | er | e ) (?= \s* [-–:,] ) )?
    (?: \s* [-–_:,]? \s+ | (?P<dot> \. ) \s+ | \s* [-–._:,] \s* ) (?= [^\W\d_] )
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""A day of the month, or a number that sorts, before words: `19th - Kite day`, `07_Fair`."""


def _date_in_bracket(text: str) -> _FolderSays | None:
    """What a folder says whose date, but no full day, stands in a bracket: `Wedding (June 2014)`, `Elba [07.2014]`."""
    for bracket in _IN_BRACKET.finditer(text):
        words = [word.lower() for word in re.findall(r"[^\W_]+", bracket[1])]
        years = [word for word in words if re.fullmatch(_YEAR_TEXT, word)]
        named = [MONTHS[word] for word in words if word in MONTHS]
        counted = [int(word) for word in words if word.isdigit() and len(word) <= 2 and int(word) <= 31]
        if len(counted) == (1 if named else 2):
            continue  # a full day
        others = [w for w in words if w not in years and w not in MONTHS and not w.isdigit() and w not in _BETWEEN_DAYS]
        if others or not years or (len(words) == 1 and bracket.end() == len(text.rstrip())):
            continue  # a year alone at the end is a year, as it is without its bracket
        months_ = named or [one for one in counted if 1 <= one <= 12]
        rest = _words_of(text, bracket.start(), bracket.end())
        if rest:
            month = months_[0] if len(set(months_)) == 1 else None
            return _FolderSays(rest, None, int(years[0]), month, is_dated=True)
    return None


def _worded_range(text: str) -> re.Match[str] | None:
    found = _WORDED_RANGE.search(text)
    named = [found[name] for name in ("m", "m2", "m3", "m4") if found[name]] if found is not None else []
    return found if named and all(name.lower() in MONTHS for name in named) else None


def _bare_date(text: str) -> _FolderSays | None:
    """A folder that is a year, a month or a day, and nothing else."""
    if re.fullmatch(_YEAR_TEXT, text):
        return _FolderSays(year=int(text))
    if re.fullmatch(
        rf"(?:{_YEAR_TEXT}[\s_./-]*)?(?:[QqTt][1-4]|[1-4]\.\s?(?:Quartal|[Tt]rimestre)|(?:KW|W|[Ww]eek|[Ww]oche"
        rf"|[Ss]emaine)[\s_]?[0-9]{{1,2}})"
        rf"(?:[\s_./-]*{_YEAR_TEXT})?",
        text,
    ):
        return _FolderSays(is_period=True)
    month_and_day = re.fullmatch(r"(0[1-9]|1[0-2])[-_.](0[1-9]|[12][0-9]|3[01])", text)
    if month_and_day:
        return _FolderSays(month=int(month_and_day[1]), day_of_month=int(month_and_day[2]), is_dated=True)
    plain = re.fullmatch(r"([0-9]{1,2})(?:\s*[-–._]?\s*([^\W\d_]+)\.?)?", text)
    if plain and (plain[2] is None or plain[2].lower() in MONTHS):
        return _FolderSays(month=int(plain[1]), day_of_month=int(plain[1]))
    counted = re.fullmatch(r"(1[0-2]|0?[1-9])\s?[月월]", text)
    if counted:
        return _FolderSays(month=int(counted[1]))
    if text.lower().rstrip(".") in MONTHS:
        return _FolderSays(month=MONTHS[text.lower().rstrip(".")])
    worded = WORD_MONTH.match(text)
    if worded and (word := (worded["name"] or worded["name2"]).lower()) in MONTHS:
        return _FolderSays(year=int(worded["y"] or worded["y2"]), month=MONTHS[word])
    return None


_YEAR_AND_MONTH_WORD = re.compile(
    rf"^{_YEAR_TEXT}[\s._-]+(?P<name>[^\W\d_]{{3,12}})\.?[\s._-]+(?=(?P<following>[^\W\d_]+))"
)
"""`2011 July Norway`; a month's name may begin an occasion, as in `2011 May Day`."""


def _without_year(text: str) -> tuple[str, bool]:
    """Words without a year, or a month and a year, at their end or a year at their
    beginning; and whether there was one."""
    for pattern in (MONTH_YEAR, LAST_MONTH_YEAR):
        dated = pattern.search(text)
        if dated and dated["name"].lower() in MONTHS and dated.start():
            return text[: dated.start()], True
    short = re.search(r"(?<=[^\W\d_])\s*['’](?P<y>[0-9]{2})$", text)
    if short is not None:
        return text[: short.start()], True
    shorter = _YEARS_LAST.sub("", text)
    if shorter and shorter != text:
        return shorter, True
    glued = _GLUED_YEAR.search(text)
    if glued is not None:
        return text[: glued.start()] + text[glued.end() :], True
    first = _YEAR_FIRST.match(text)
    if first and first["name"].lower() in MONTHS:
        return text[first.end() :], True
    worded = _YEAR_AND_MONTH_WORD.match(text)
    if (
        worded
        and worded["name"].lower() in MONTHS
        and not leaning_of(f"{worded['name']} {worded['following']}").of("occasion")
    ):
        return text[worded.end() :], True
    lead = re.match(rf"^{_YEAR_TEXT}(?:\s?[-–/]\s?{_YEAR_TEXT})?[\s._-]+(?=[^\W\d_])", text)
    return (text[lead.end() :], True) if lead else (text, False)


_YEARS_LAST = re.compile(
    rf"[\s,_(\[–-]+ {_YEAR_TEXT} (?: (?: \s?[-–/]\s? | \s (?: {_TILL_WORDS} ) \s ) {_YEAR_TEXT} )? [)\]]? $",
    re.VERBOSE | re.IGNORECASE,
)
"""A year, or a stretch of years, behind words: `Elba 2014`, `Tapes - 1988 bis 1990`."""
_GLUED_YEAR = re.compile(
    rf"(?<=[^\W\d_a-zà-öø-ÿ]){_YEAR_TEXT}$ | (?<=[^\W\d_]{{4}}){_YEAR_TEXT}$ "
    rf"| ^{_YEAR_TEXT}(?=[^\W\d_]{{4}} | [^\W\d_a-zà-öø-ÿ]{{2}})",
    re.VERBOSE | re.IGNORECASE,
)
"""A year without a blank between it and the words: `Sommer2019`, `夏休み2016`.
Shorter ones may be what a camera writes."""


def _words_of(text: str, start: int, end: int) -> str:
    before = text[:start]
    weekday = _WEEKDAY.search(before)
    if weekday and weekday["name"].lower() in _weekdays():
        before = before[: weekday.start("name")]
    rest = re.sub(r"[\s_,–-]*[(\[]\s*[)\]]", "", before + " " + text[end:])
    return _tidied(rest.strip(" -–—_.,"))


_WEEKDAY = re.compile(r"(?:^|[\s_,(-])(?P<name>[^\W\d_]{2,14})[.,]?[\s_]*$")
"""The day of the week before a date."""


@cache
def _weekdays() -> frozenset[str]:
    return frozenset(words_for("weekday"))


def _tidied(text: str) -> str:
    title = tidy_title(text, dotted="." in text and " " not in text.strip(), articles=False) or ""
    whole = re.fullmatch(r"[(\[]([^()\[\]]+)[)\]]", title)
    title = whole[1].strip() if whole else title
    return title if any(letter.isalpha() for letter in title) else ""


def full_day(text: str) -> tuple[str | None, int, int]:
    """The first full day that a text states, as `YYYY-MM-DD`, and where it stands;
    None and what was found where it is none."""
    for pattern in (STAMP, DAY_FIRST, EAST_DAY, WORD_DAY, _SHORT_DOTTED):
        match = pattern.search(text)
        if match is None:
            continue
        groups = match.groupdict()
        if pattern is _SHORT_DOTTED:
            year = int(groups["y"]) + (0 if len(groups["y"]) == 4 else 1900 if int(groups["y"]) > 60 else 2000)
            day = day_of(year, int(groups["m"]), int(groups["d"]))
            if day is None:
                continue
            return day, match.start(), match.end()
        if pattern is WORD_DAY:
            word = (groups["name"] or groups["name2"]).lower()
            if word not in MONTHS:
                continue
            day = day_of(int(groups["y"] or groups["y2"]), MONTHS[word], int(groups["d"] or groups["d2"]))
            if day is None:
                continue
            return day, match.start(), match.end()
        value = moment_of(match)
        if value:
            return value[:10], match.start(), match.end()
        if pattern is EAST_DAY:
            return None, match.start(), match.end()
    return None, 0, 0


def put_folders(reading: Reading, folders: list[str]) -> None:
    """The day, the occasion and the marks that folders give; of nested occasions the nearest one counts."""
    event: tuple[str, int, int] | None = None
    days = _Days()
    marks: dict[str, tuple[int, int]] = {}
    place = 0
    is_below_date = is_below_sort = is_below_kind = False
    for name in folders:
        says = _folder(name)
        span = (place, place + len(name))
        place += len(name) + 1
        for mark in marks_of_folder(says.words) if says.words else ():
            marks.setdefault(mark, span)
        is_below_trip = is_below_kind or (event is not None and is_trip(event[0]))
        above = Occasion(
            is_dated=False, is_below_date=is_below_date, is_below_sort=is_below_sort, is_below_trip=is_below_trip
        )
        is_below_kind = bool(says.words) and not says.is_dated and is_kind_of_occasions(says.words)
        is_event = bool(says.words) and not is_sorting(name) and not is_below_kind and _is_event(says, days.year, above)
        if is_event:
            event = (says.words, *span)
        if not says.words or is_event:
            days.take(says, span)
        is_below_date = not says.words and (says.is_period or (says.day or says.year or says.month) is not None)
        is_below_sort = bool(says.words) and leaning_of(says.words).of("device", "scan") > 0
    if days.day is not None:
        reading.put("taken", days.day[0], days.day[1:], term("day in the folder's name"))
    if event is not None:
        reading.put("event", event[0], event[1:], term("occasion in the folder's name"))
    _put_marks(reading, marks)


@dataclass(slots=True)
class _Days:
    """The day that folders give, whole or split over several of them (`2019/07/20`)."""

    day: tuple[str, int, int] | None = None
    year: int | None = None
    month: int | None = None

    def take(self, says: _FolderSays, span: tuple[int, int]) -> None:
        """What the next folder adds."""
        if says.day:
            self.day = (says.day, *span)
        elif self.year is not None and (says.words or says.is_dated) and says.month and says.day_of_month:
            self._put(day_of(self.year, says.month, says.day_of_month), span)
        elif says.year is not None:
            self.year, self.month = says.year, says.month
        elif self.year is None:
            return
        elif self.month is None and says.month is not None and says.month <= 12 and not says.words:
            self.month = says.month
        elif self.month is not None and says.day_of_month is not None:
            self._put(day_of(self.year, self.month, says.day_of_month), span)

    def _put(self, day: str | None, span: tuple[int, int]) -> None:
        """A day made of several folders stands in all of them."""
        if day is not None:
            self.day = (day, 0, span[1])


def _put_marks(reading: Reading, marks: Mapping[str, tuple[int, int]]) -> None:
    title = reading.get("title")
    if "screenshot" in marks and title and " " not in title:
        reading.facts.pop("title")  # what a program calls its pictures, not what a person does
    for mark, span in marks.items():
        known = reading.get("marks") or []
        if mark not in known and reading.kind == "photo":
            spans = reading.facts["marks"].spans if known else ()
            reading.facts.pop("marks", None)
            reading.put(
                "marks",
                sorted({*known, mark}),
                spans[0] if spans else span,
                term("kind of picture in the folder's name"),
            )


def _is_event(says: _FolderSays, year: int | None, above: Occasion) -> bool:
    split = says.day_of_month is not None and year is not None
    return is_occasion(says.words, replace(above, is_dated=says.is_dated or split))


def month_of_folders(path: str) -> tuple[int, int] | None:
    """Year and month that a path states, by its name or its folders, where it states no full day; else None."""
    *folders, name = path.split("/")
    year = month = None
    for part in (*folders, name.rpartition(".")[0] or name):
        says = _folder(part)
        if says.day:
            return int(says.day[:4]), int(says.day[5:7])
        if says.year is not None:
            year, month = says.year, says.month
        elif year is not None and month is None and says.month is not None and 1 <= says.month <= 12 and part != name:
            month = says.month
    return (year, month) if year is not None and month is not None else None
