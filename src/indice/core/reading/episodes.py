"""What a segment says of an episode: the marks of season and number, dates, running numbers, its title."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..phrase import term
from .found import Found, Work
from .parts import (
    PART,
    PART_NUMBERS,
    last_match,
    number_of,
    split_aka,
    tail_start,
    take_edition,
    take_technical,
    title_of,
)
from .scan import LATEST_YEAR, Bracket, Scan
from .seriesmarks import (
    ABSOLUTE_DASH,
    DATE,
    DOUBLE_WORD,
    EAST,
    EAST_EPISODE,
    EAST_SEASON,
    EPISODE_WORD,
    MARKS,
    NUMBER_WORD,
    NXNN,
    OF_MANY,
    OF_SO_MANY,
    SPECIAL_MARK,
    iso_date,
    number,
    span_numbers,
)

__all__ = ["read_episode"]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Mark:
    """Where a name says which episode it is, and what it says there."""

    start: int
    end: int
    season: int | None = None
    episodes: Sequence[int] = ()
    absolute: Sequence[int] = ()
    """Numbers that run on through all seasons."""
    date: str | None = None
    part: int | None = None
    is_second: bool = False
    """Whether it is the second version of a release."""


def read_episode(seen: Scan, work: Work, begin: int, folder: bool, in_season: int | None) -> bool:
    """Read marks of season and episode; False when there is none."""
    mark = _find_mark(seen, begin, folder, in_season)
    if mark is None:
        return False
    _state(mark, work)
    text, end = seen.text, mark.end
    if mark.absolute:
        last = _LAST_OF_ALL.match(text, end)
        end = last.end() if last else end
        _group_at_the_end(seen, work)
    if mark.date:
        hour = _HOUR.match(text, end)
        end = hour.end() if hour else end
    head_end = mark.start
    if text[begin:head_end].rstrip().endswith(("#", "№")):
        head_end = begin + len(text[begin:head_end].rstrip()) - 1  # the sign of the number
    _series_head(seen, work, begin, head_end)
    tail = tail_start(seen, end, loose=False)
    title_start, title_end = _title_behind(seen, mark.start, end, tail)
    take_edition(seen, work, end)
    take_technical(seen, work, tail)
    work.subtitle = title_of(seen, title_start, title_end, term("what stands after the mark"))
    if work.subtitle is None:
        work.subtitle = _quoted_title(seen, title_start) or _title_after_brackets(seen, title_start)
    if work.subtitle and mark.date is None and mark.episodes:
        inner_date = DATE.search(text, end, title_end)
        if inner_date and not text[end : inner_date.start()].strip(" ._-"):
            work.date = (iso_date(inner_date), inner_date.start(), inner_date.end(), term("day it was aired"))
            work.subtitle = title_of(seen, inner_date.end(), title_end, term("what stands after the mark"))
    _episode_part(seen, work)
    split_aka(seen, work)
    work.bare = work.title is None
    return True


def _state(mark: _Mark, work: Work) -> None:
    """Write what a mark says into the work."""
    where = (mark.start, mark.end)
    if mark.season is not None:
        work.season = (mark.season, *where, term("season in the mark"))
    if mark.episodes:
        work.episodes = (list(mark.episodes), *where, term("mark of the episode"))
    if mark.absolute:
        work.absolute = (list(mark.absolute), *where, term("bare number, and no season"))
    if mark.date:
        work.date = (mark.date, *where, term("day it was aired"))
    if mark.part:
        work.part = (mark.part, *where, term("letter after the episode's number"))
    if mark.is_second:
        work.technical["proper"] = (True, *where, term("second version of a release"))
    work.mark_end = mark.end


def _title_behind(seen: Scan, mark_start: int, mark_end: int, tail: int) -> tuple[int, int]:
    """Where the episode's title stands: behind the mark, up to the first bracket that is none of it."""
    start, end = mark_end, tail
    around = next((b for b in seen.brackets if b.start < mark_start < b.end), None)
    if around is not None and not around.inner[mark_end - around.start - 1 :].strip(" ._-"):
        start = around.end  # the mark stands in a bracket of its own
    for bracket in seen.brackets:
        if not start <= bracket.start < tail:
            continue
        is_known = bracket.used or bracket.technical or _CHECKSUM.fullmatch(bracket.inner)
        if is_known or not _belongs_to_title(bracket, seen, mark_end):
            end = min(end, bracket.start)
    return start, end


_CHECKSUM = re.compile(r"[0-9A-Fa-f]{8}")


def _quoted_title(seen: Scan, start: int) -> Found | None:
    """A title in corner brackets, which quote what stands in them: `第07話「霧」`."""
    for bracket in seen.brackets:
        if bracket.start >= start and seen.raw[bracket.start] == "「" and not bracket.used and bracket.inner.strip():
            return title_of(seen, bracket.start + 1, bracket.end - 1, term("title in quotation marks"))
    return None


def _title_after_brackets(seen: Scan, start: int) -> Found | None:
    """A title behind the technical words, where those stand in brackets: `Show - S01E04 [1080p] Weir`."""
    closed = [bracket for bracket in seen.brackets if bracket.start >= start and bracket.technical]
    if not closed or any(tech.start >= closed[-1].end for tech in seen.techs):
        return None
    begin = closed[-1].end
    end = next((bracket.start for bracket in seen.brackets if bracket.start >= begin), len(seen.text))
    words = seen.text[begin:end]
    is_group = words.strip(" ._-").isupper() and " " not in words.strip()
    if is_group or not re.match(r"(?:[\s._]+|\s+-\s+)[^\W\d_]", words):
        return None
    return title_of(seen, begin, end, term("what stands behind the technical words"))


_LAST_OF_ALL = re.compile(r"[\s._]+(?:END|FIN|FINAL)(?=\s*$|\s*[\[(])")
"""Said of the last episode of a show with running numbers."""
_HOUR = re.compile(r"[\s_.T-]+(?:[01]?[0-9]|2[0-3])[-_.:h]?[0-5][0-9](?:[-_.:]?[0-5][0-9])?(?=$|[\s_.-])")
"""The hour of a recording, behind its day."""


def _group_at_the_end(seen: Scan, work: Work) -> None:
    """`Show - 07 (1080p) [Group]`: a group in a bracket at the end, in shows with running numbers only."""
    last = seen.brackets[-1] if seen.brackets else None
    if last is None or last.used or last.technical or "release" in work.technical or seen.text[last.start] != "[":
        return
    if seen.text[last.end :].strip() or re.fullmatch(r"[0-9A-Fa-f]{8}|[0-9\s]*", last.inner):
        return
    work.technical["release"] = (last.inner.strip(), last.start + 1, last.end - 1, term("group in brackets at the end"))
    last.used = True


def _belongs_to_title(bracket: Bracket, seen: Scan, mark_end: int) -> bool:
    """A bracket between the mark and the technical words is left out of the title, unless words follow it."""
    if PART.fullmatch(bracket.inner.strip()):
        return True
    after = seen.text[bracket.end :].strip(" ._-")
    return bool(after) and after[0].isalpha() and not any(t.start >= bracket.end for t in seen.techs)


def _episode_part(seen: Scan, work: Work) -> None:
    if work.subtitle is None:
        return
    _, start, end, rule = work.subtitle
    match = last_match(PART, seen.text, start, end)
    if match is None or match.end() < end - 1 or seen.text[match.start() - 1 : match.start()] in ("(", "["):
        return
    if match.start() == start or re.match(r"(?:pt|cd|disc|disk)", match.group(), re.IGNORECASE):
        work.part = (number_of(match["n"]), match.start(), match.end(), term("word for a part"))
        work.subtitle = title_of(seen, start, match.start(), rule)


_BEFORE_A_DAY = re.compile(
    r"[\s._-]+(?:vom|von|am|of|from|on|du|le|del|dal|de|van|op|fra|från|den|z|ze|от|за)[\s._]*$", re.IGNORECASE
)
"""A word between a show's title and its day: `Evening News of 03.05.2020`."""


def _series_head(seen: Scan, work: Work, begin: int, head_end: int) -> None:
    """The series' title and year, which stand before the mark."""
    head = [y for y in seen.years if begin <= y[0] and y[1] <= head_end]
    if head:
        year = head[-1]
        bracket = next((b for b in seen.brackets if b.start < year[0] < b.end), None)
        after = seen.text[bracket.end if bracket else year[1] : head_end].strip(" ._-–([")
        before = seen.text[begin : bracket.start if bracket else year[0]].strip(" ._-–([")
        if before and (bracket is not None or not after):
            work.year = (
                year[2],
                year[0],
                year[1],
                term("year in brackets") if bracket else term("year after the series' title"),
            )
            head_end = bracket.start if bracket else year[0]
            if bracket:
                bracket.used = True
    if work.date is not None:
        before = _BEFORE_A_DAY.search(seen.text, begin, head_end)
        head_end = before.start() if before and seen.text[begin : before.start()].strip(" ._-") else head_end
    season = EAST_SEASON.search(seen.text, begin, head_end) or DOUBLE_WORD.search(seen.text, begin, head_end)
    if season is not None and work.season is None and season.start() > begin:
        digits = next(group for group in season.groups() if group)
        work.season = (number(digits), season.start(), season.end(), term("word for a season"))
        if work.absolute is not None:
            work.episodes, work.absolute = work.absolute, None
        head_end = season.start()
    brackets = [
        b.start for b in seen.brackets if begin < b.start < head_end and seen.text[begin : b.start].strip(" ._-")
    ]
    alone = next((b for b in seen.brackets if begin <= b.start < b.end <= head_end), None)
    if (
        alone is not None
        and not alone.technical
        and not seen.text[begin : alone.start].strip(" ._-")
        and not seen.text[alone.end : head_end].strip(" ._-[]")
    ):
        work.title = title_of(seen, alone.start + 1, alone.end - 1, term("title in brackets of its own"))
        return
    work.title = title_of(seen, begin, min([head_end, *brackets]), term("what stands before the mark of the episode"))


_DIGIT = re.compile(r"[0-9一二三四五六七八九十]")
_VERSION = re.compile(r"v[2-9](?![0-9])", re.IGNORECASE)


def _season_and_episode(text: str, begin: int) -> _Mark | None:
    """The surest mark that gives both."""
    for pattern in MARKS:
        if (pattern is EAST and text.isascii()) or (pattern is NXNN and "x" not in text and "X" not in text):
            continue
        match = pattern.search(text, begin)
        if match is None:
            continue
        groups = match.groupdict()
        season = _season_of(match)
        numbers = span_numbers(number(groups["first"]), groups.get("more") or "")
        letter = groups.get("letter")
        proper = None if letter else _VERSION.match(text, match.end())
        part = PART_NUMBERS[letter.lower()] if letter else None
        end = proper.end() if proper else match.end()
        if part is None and proper is None:
            end = _take_more(text, pattern, end, season, numbers)
        return _Mark(
            start=match.start(), end=end, season=season, episodes=numbers, part=part, is_second=proper is not None
        )
    return None


_BETWEEN = re.compile(r"[\s._]*[-–&+,]?[\s._]*")


def _take_more(text: str, pattern: re.Pattern[str], end: int, season: int, numbers: list[int]) -> int:
    """Take whole marks of the same season that follow at once, `S01E01.S01E02`; returns where the last ends."""
    while True:
        between = _BETWEEN.match(text, end)
        again = pattern.match(text, between.end()) if between is not None else None
        if again is None or _season_of(again) != season:
            return end
        more = span_numbers(number(again["first"]), again.groupdict().get("more") or "")
        if more[0] != numbers[-1] + 1:
            return end
        numbers += more
        end = again.end()


def _season_of(mark: re.Match[str]) -> int:
    groups = mark.groupdict()
    return next(number(groups[name]) for name in ("season", "season2", "season3") if groups.get(name))


def _find_mark(seen: Scan, begin: int, folder: bool, in_season: int | None) -> _Mark | None:
    text = seen.text
    if not _DIGIT.search(text, begin):
        return None
    mark = _season_and_episode(text, begin)
    if mark is not None:
        return mark
    if folder:
        return None
    pointed = _pointed(text, begin, in_season) if in_season is not None and not seen.dotted else None
    if pointed is not None:
        return pointed
    date = DATE.search(text, begin)
    if date is not None:
        return _Mark(start=date.start(), end=date.end(), date=iso_date(date))
    special = SPECIAL_MARK.search(text, begin)
    if special is not None:
        return _Mark(start=special.start(), end=special.end(), season=0, episodes=[int(special["first"])])
    limit = next((t.start for t in seen.techs if t.strong and t.start > begin), len(text))
    return _counted(seen, begin, limit, in_season) or _bare_number(seen, begin, limit, in_season)


def _pointed(text: str, begin: int, season: int) -> _Mark | None:
    """`1.04` in the folder of that season."""
    found = re.search(rf"(?<![0-9.])0?{season}\.(?P<first>[0-9]{{2}})(?![0-9]|\.[0-9])", text[begin:])
    if found is None:
        return None
    return _Mark(start=begin + found.start(), end=begin + found.end(), season=season, episodes=[int(found["first"])])


def _counted(seen: Scan, begin: int, limit: int, in_season: int | None) -> _Mark | None:
    """A number that a word, or a count of all of them, says to be an episode's."""
    text = seen.text
    of_many = OF_MANY.search(text, begin, limit)
    if of_many is not None and not 1 <= int(of_many["first"]) <= int(of_many["all"]) > 1:
        of_many = None
    if of_many is not None and of_many["word"]:
        return _Mark(start=of_many.start(), end=of_many.end(), episodes=[int(of_many["first"])])
    match = NUMBER_WORD.search(text, begin, limit) or EPISODE_WORD.search(text, begin, limit)
    if match is None:
        match = next((m for b in seen.brackets if (m := EPISODE_WORD.search(text, b.start, b.end))), None)
    if match is not None and _reaches(text, match, begin):
        return _worded(text, match, in_season)
    if of_many is not None and of_many.start() > begin:
        return _Mark(start=of_many.start(), end=of_many.end(), episodes=[int(of_many["first"])])
    east = EAST_EPISODE.search(text, begin)
    if east is not None:
        return _Mark(start=east.start(), end=east.end(), episodes=[number(east["first"] or east["first2"])])
    return None


def _worded(text: str, match: re.Match[str], in_season: int | None) -> _Mark:
    """`Episode 7`, `Folge 103 (von 110)`."""
    letter = match["letter"]
    numbers = span_numbers(int(match["first"]), match["more"])
    if in_season is not None and len(match["first"]) >= 3 and _fits(match["first"], in_season):
        numbers = [int(match["first"][len(str(in_season)) :])]
    of_all = OF_SO_MANY.match(text, match.end())
    return _Mark(
        start=match.start(),
        end=of_all.end() if of_all and int(of_all["all"]) >= numbers[-1] else match.end(),
        episodes=numbers,
        part=PART_NUMBERS[letter.lower()] if letter else None,
    )


def _reaches(text: str, match: re.Match[str], begin: int) -> bool:
    """`E5 to Nowhere` begins with a mark that is none."""
    return not (match.start() == begin and re.match(r"\s+[a-z]", text[match.end() :]))


_LEADING_NUMBER = re.compile(
    r"[\s#]*(?P<first>[0-9]{1,4})(?P<letter>[a-d])?(?:\.(?P<half>5))?(?:(?:[-–&+]"
    r"|\s[&+]\s)(?P<last>[0-9]{1,4}))?(?P<proper>v[2-9])?(?=$|[\s._)\]\-–])"
)
_NUMBER = r"(?<=[^\W\d_][\s._])(?P<first>[0-9]{2,4})(?P<half>)(?P<last>)(?P<letter>)(?P<proper>v[2-9])?"
_LAST_NUMBER = re.compile(_NUMBER + r"(?=[\s._-]*$|[\s._]*[\[(])")
_MIDDLE_NUMBER = re.compile(_NUMBER + r"(?=\s+[-–]\s)")
_DOTTED_NUMBER = re.compile(_NUMBER.replace("{2,4}", "{3}") + r"(?=[._][^\W\d_])")


def _bare_number(seen: Scan, begin: int, limit: int, in_season: int | None) -> _Mark | None:
    """A number without a word: the first of the name, behind a dash, of the folder's season, or the last."""
    text = seen.text
    lead = _LEADING_NUMBER.match(text[begin:])
    if lead is None:
        boxed = _boxed_number(seen, begin, in_season)
        if boxed is not None:
            return boxed
    elif not _is_title_ahead(text, begin, limit, lead):
        return _as_number(lead, begin, in_season)
    for dashed in ABSOLUTE_DASH.finditer(text, begin, limit):
        at = dashed.start("first")
        if not (lead is not None and at <= begin) and not any(b.start < at < b.end for b in seen.brackets):
            return _as_number(dashed, 0, in_season)
    if in_season is not None:
        for plain in _PLAIN_NUMBER.finditer(text[:limit]):
            if _fits(plain["first"], in_season):
                return _as_number(plain, 0, in_season)
    limited = text[begin:limit]
    last = _LAST_NUMBER.search(limited) or (_DOTTED_NUMBER if seen.dotted else _MIDDLE_NUMBER).search(limited)
    if last is None or 1888 <= int(last["first"]) <= LATEST_YEAR:
        return None
    return _as_number(last, begin, in_season)


_PLAIN_NUMBER = re.compile(
    r"""
    (?<= [\s._-] )
    (?P<first> [0-9]{2,4} ) (?P<letter> [a-d] )? (?P<half>) (?P<last>) (?P<proper>)
    (?= $ | [\s._-] )
    """,
    re.VERBOSE,
)
_WORDS_BEHIND = re.compile(r"\s+(?:[^\W\d_]|[-–]\s+[0-9]{2,4}(?![0-9]))")


def _is_title_ahead(text: str, begin: int, limit: int, lead: re.Match[str]) -> bool:
    """Whether the number that a name begins with is its title's: another stands behind a dash, as in `86 - 04`."""
    if lead["last"] or not _WORDS_BEHIND.match(text, begin + lead.end()):
        return False
    return any(ABSOLUTE_DASH.finditer(text, begin + 1, limit))


def _boxed_number(seen: Scan, begin: int, in_season: int | None) -> _Mark | None:
    """`[Group][Title][04][1080p]`: everything stands in brackets of its own; in a
    season's folder it counts that season."""
    outside = re.sub(r"\[[^\]]*\]|\([^)]*\)", "", seen.text[begin:]).strip(" ._-")
    for place, bracket in enumerate(seen.brackets):
        digits = re.fullmatch(r"\s*(?:ep?)?(?P<first>[0-9]{1,3})(?P<proper>v[2-9])?\s*", bracket.inner, re.IGNORECASE)
        is_counted = in_season is not None or bracket.inner.startswith("0")
        ahead = bool(outside) and bracket.start == begin and not is_counted  # `[12] Lanterns` may be called so
        if digits and bracket.start >= begin and (place > 0 or outside or is_counted) and not ahead:
            counted = [int(digits["first"])]
            return _Mark(
                start=bracket.start,
                end=bracket.end,
                episodes=counted if in_season is not None else (),
                absolute=counted if in_season is None else (),
                is_second=bool(digits["proper"]),
            )
    return None


def _as_number(match: re.Match[str], offset: int, in_season: int | None) -> _Mark:
    value = int(match["first"])
    digits, letter, last_digits = match["first"], match["letter"], match["last"]
    mark = _Mark(
        start=offset + match.start("first"),
        end=offset + match.end(),
        part=PART_NUMBERS[letter.lower()] if letter else None,
        is_second=bool(match["proper"]),
    )
    if value == in_season and last_digits and last_digits[0] == "0" and len(last_digits) > len(digits):
        return replace(mark, episodes=[int(last_digits)])  # `1-04` in the first season's folder
    last = int(last_digits) if last_digits else value
    numbers = list(range(value, last + 1)) if value <= last < value + 100 else [value]
    if in_season is None:
        return replace(mark, absolute=numbers)
    if len(digits) >= 3 and _fits(digits, in_season):
        numbers = [int(digits[len(str(in_season)) :])]
    return replace(mark, episodes=numbers)


def _fits(digits: str, season: int) -> bool:
    return (
        len(digits) < 3
        or (digits.startswith(str(season)) and len(digits) - len(str(season)) == 2)
        or (digits.startswith(f"{season:02d}") and len(digits) == 4)
    )
