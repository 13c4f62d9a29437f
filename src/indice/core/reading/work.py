"""What one segment says about a film or a series: title, year, marks of episodes, and the technical rest.

Cached by segment, since folders repeat on every file below them.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from .places import EXTRA_FOLDERS, SUBTITLE_FOLDERS, is_sorting
from .scan import Bracket, Scan, scan, tidy_title
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
    SEASON_FOLDER,
    SPECIAL_FOLDER,
    SPECIAL_MARK,
    number,
    span_numbers,
)

__all__ = ["Found", "Work", "folder_role", "read_work"]

Found = tuple[Any, int, int, str]
"""A value, the start and end of its letters in the segment, and the rule."""

PART = re.compile(
    r"(?<![^\W_])(?:cd|disc|disk|dvd|pt|part|parte|partie|teil|deel|del|část|часть)[\s._-]*(?P<n>[0-9]{1,2}|[a-h]|i{1,3}|iv|v|vi|one|two|three|four)(?:\s?(?:of|von|de)\s?[0-9]{1,2})?(?![^\W_])",
    re.IGNORECASE,
)
AKA = re.compile(r"[\s._(\[]+(?:aka|a\.k\.a\.?|alias)[\s._:]+", re.IGNORECASE)
SITE = re.compile(
    r"^\s*(?:www\.)?[\w-]+(?:\.[\w-]+)*\.(?:com|net|org|info|test|example|tv|to|cc|me|io|co|eu|de|fr|es|ru)\s*$",
    re.IGNORECASE,
)
RELEASE = re.compile(r"(?<=[^\s])-(?P<group>[^\W_][\w@]*)(?P<tail>(?:\s*[\[(][^\])]*[\])])*)$")
_ORDINAL_EDITION = re.compile(
    r"(?<![^\W_])(?:the\s+)?[0-9]{1,3}(?:st|nd|rd|th)[\s._]anniversary(?:[\s._](?:edition|remaster|cut))?",
    re.IGNORECASE,
)
_EDITION_BRACE = re.compile(r"^edition-(?P<words>.+)$", re.IGNORECASE)
_EDITION_WORDS = re.compile(r"(?<![^\W_])(?:[^\W\d_]+['’]?[^\W\d_]*[\s._])?(?:edition|cut)$", re.IGNORECASE)
_PARTS = {
    "a": 1,
    "b": 2,
    "c": 3,
    "d": 4,
    "e": 5,
    "f": 6,
    "g": 7,
    "h": 8,
    "i": 1,
    "ii": 2,
    "iii": 3,
    "iv": 4,
    "v": 5,
    "vi": 6,
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
}
BARE = re.compile(
    r"^(?:movie|film|video|feature|main|main feature|full movie|title[\s_]?t?[0-9]*|[0-9]{1,2}|vts[_ ][0-9_ ]+|video_ts|index|disc|disk|cd[0-9]|play|file|untitled|[0-9a-f]{12,})$",
    re.IGNORECASE,
)
SCRAMBLED = re.compile(
    r"^(?=[^\W_]*[0-9])(?=[^\W_]*[a-z])[a-z0-9]{10,}$|^[a-z0-9]+-[a-z0-9]+(?:[0-9]{3,4}|xvid|x264)[a-z]?$",
    re.IGNORECASE,
)


@dataclass(slots=True)
class Work:
    """What one segment states. Positions are in the segment."""

    text: str
    title: Found | None = None
    alt_title: Found | None = None
    year: Found | None = None
    season: Found | None = None
    episodes: Found | None = None
    absolute: Found | None = None
    date: Found | None = None
    part: Found | None = None
    edition: Found | None = None
    version: Found | None = None
    subtitle: Found | None = None
    """The episode's own title."""
    ids: dict[str, Found] = field(default_factory=dict)
    technical: dict[str, Found] = field(default_factory=dict)
    ignored: list[tuple[int, int]] = field(default_factory=list)
    bare: bool = False
    """Says nothing of its own about the title."""
    mark_end: int = 0


def last_match(pattern: re.Pattern[str], text: str, start: int, end: int) -> re.Match[str] | None:
    """The last place where a pattern matches."""
    matches = list(pattern.finditer(text, start, end))
    return matches[-1] if matches else None


def _number_of(text: str) -> int:
    return int(text) if text.isdigit() else _PARTS[text.lower()]


def folder_role(name: str) -> str:
    """`sort`, `extra`, `subs`, `special`, `season`, `disc`, `structure` or `work`."""
    return _folder_role(name.strip())


@lru_cache(maxsize=8192)
def _folder_role(name: str) -> str:
    lowered = name.lower()
    spaced = lowered.replace("_", " ").replace(".", " ")
    if lowered in ("video_ts", "bdmv", "stream", "certificate", "playlist", "hvdvd_ts", "audio_ts"):
        return "structure"
    if lowered in EXTRA_FOLDERS or spaced in EXTRA_FOLDERS:
        return "extra"
    if lowered in SUBTITLE_FOLDERS:
        return "subs"
    if SPECIAL_FOLDER.match(lowered):
        return "special"
    if re.fullmatch(r"(?:cd|disc|disk|dvd|part|pt)[\s._-]*[0-9a-d]", lowered):
        return "disc"
    found = SEASON_FOLDER.match(name)
    if found and not found["title"]:
        return "season"
    return "sort" if is_sorting(name) else "work"


def read_work(segment: str, *, episodes: bool, folder: bool, in_season: int | None = None) -> Work:
    """What a segment says; `episodes` allows marks of episodes, `in_season` is the season its folder gives."""
    return (_read_folder if folder else _read_file)(segment, episodes, folder, in_season)


def _read(segment: str, episodes: bool, folder: bool, in_season: int | None) -> Work:
    seen = scan(segment)
    work = Work(segment)
    for scheme, value, start, end in seen.ids:
        work.ids.setdefault(scheme, (value, start, end, "identifier in brackets"))
    begin = _leading_bracket(seen, work)
    if episodes and _episode(seen, work, begin, folder, in_season):
        return work
    _movie(seen, work, begin)
    return work


_read_folder = lru_cache(maxsize=8192)(_read)
_read_file = lru_cache(maxsize=4)(_read)
"""A file's own name is asked for twice at most, one question after the other."""


# --- the parts that films and episodes share ---


def _leading_bracket(seen: Scan, work: Work) -> int:
    """Skip a site or take a group that stands in brackets before everything; returns where the name begins."""
    begin = 0
    while seen.brackets and seen.text[begin:].lstrip(" .-_").startswith(("[", "(", "{")):
        bracket = next((b for b in seen.brackets if b.start >= begin), None)
        if bracket is None or seen.text[begin : bracket.start].strip(" .-_"):
            break
        inner = bracket.inner.strip()
        if SITE.match(inner) or inner.lower().startswith("www"):
            work.ignored.append((bracket.start, bracket.end))
        elif (
            bracket.technical
            or bracket.used
            or not inner
            or inner.isdigit()
            or seen.text[bracket.start] != "["
            or "release" in work.technical
            or not seen.text[bracket.end :].strip()
        ):
            break
        else:
            work.technical["release"] = (inner, bracket.start, bracket.end, "group in brackets at the start")
        bracket.used = True
        begin = bracket.end
    return begin


def _tail_start(seen: Scan, anchor: int, *, loose: bool) -> int:
    """Where the technical part begins, at or after `anchor`; `loose` lets weak words begin it."""
    size = len(seen.text)
    closing = [b for b in seen.brackets if b.technical]
    first = next(
        (
            t
            for t in seen.techs
            if t.start >= anchor and (t.strong or loose or any(b.start < t.start < b.end for b in closing))
        ),
        None,
    )
    if first is None:
        last = _trailing_run(seen, anchor)
        after_dash = (
            last is not None and seen.text[:last].endswith(" - ") and any(c.isalnum() for c in seen.text[anchor:last])
        )
        return last if last is not None and (seen.dotted or after_dash) else size
    place = seen.techs.index(first)
    start, token = first.start, first.first
    while place > 0:
        earlier = seen.techs[place - 1]
        if (
            earlier.start < anchor
            or earlier.last != token - 1
            or any(b.start < first.start < b.end for b in seen.brackets)
        ):
            break
        if earlier.first == 0 or (" - " in seen.text[earlier.end : start]):
            break
        place, start, token = place - 1, earlier.start, earlier.first
    around = next((b for b in seen.brackets if b.start < start < b.end), None)
    if around is not None:
        return around.start
    return start


def _trailing_run(seen: Scan, anchor: int) -> int | None:
    start, index = None, len(seen.tokens)
    for tech in reversed(seen.techs):
        if tech.last != index - 1 or tech.start < anchor or tech.first == 0:
            break
        start, index = tech.start, tech.first
    return start


def _take_technical(seen: Scan, work: Work, start: int) -> None:
    """State the technical words from `start` on, and those in brackets of their own."""
    many: dict[str, list[Any]] = {"audio_codec": [], "hdr": [], "languages": []}
    places: dict[str, list[int]] = {}
    closed = [b for b in seen.brackets if b.technical]
    for tech in seen.techs:
        if tech.start < start and not any(b.start < tech.start < b.end for b in closed):
            continue
        if not tech.facts:
            work.ignored.append((tech.start, tech.end))
        for name, value in tech.facts:
            if name == "edition":
                if work.edition is None:
                    work.edition = (
                        tidy_title(seen.text[tech.start : tech.end], dotted=seen.dotted),
                        tech.start,
                        tech.end,
                        "word for a cut or an issue",
                    )
            elif name in many:
                if value not in many[name]:
                    many[name].append(value)
                places.setdefault(name, []).extend((tech.start, tech.end))
            elif name not in work.technical:
                work.technical[name] = (value, tech.start, tech.end, f"technical word for {name.replace('_', ' ')}")
    for name, values in many.items():
        if values and name not in work.technical:
            shown = values if name == "audio_codec" else sorted(values)
            work.technical[name] = (
                shown,
                min(places[name]),
                max(places[name]),
                f"technical word for {name.replace('_', ' ')}",
            )
    if (
        work.technical.get("bit_depth", (0,))[0] in (16, 24)
        and "audio_codec" not in work.technical
        and "sample_rate" not in work.technical
    ):
        pass
    _take_release(seen, work, start)


def _take_release(seen: Scan, work: Work, start: int) -> None:
    if "release" in work.technical:
        return
    match = RELEASE.search(seen.text)
    if match is None or match.start() < start or not (seen.techs or seen.dotted):
        return
    if seen.text[: match.start()].endswith(" ") or any(
        tech.end > match.start("group") >= tech.start for tech in seen.techs
    ):
        return
    if not any(tech.end <= match.start() for tech in seen.techs if tech.start >= start) and not (
        seen.dotted and start < len(seen.text)
    ):
        return
    if match["group"].isdigit() and len(match["group"]) < 3:
        return
    work.technical["release"] = (match["group"], match.start("group"), match.end("group"), "group after the last dash")


def _take_edition(seen: Scan, work: Work, start: int) -> None:
    """Editions that are no fixed word: `{edition-…}`, `40th Anniversary Edition`, `[Collector's Edition]`."""
    for bracket in seen.brackets:
        if bracket.used:
            continue
        brace = _EDITION_BRACE.match(bracket.inner.strip())
        words = (
            brace["words"]
            if brace
            else bracket.inner.strip()
            if _EDITION_WORDS.search(bracket.inner.strip()) and bracket.start >= start
            else None
        )
        if words:
            at = bracket.start + 1 + (len("edition-") if brace else 0)
            work.edition = (tidy_title(words, dotted=seen.dotted), at, bracket.end - 1, "edition in brackets")
            bracket.used = True
            return
    match = _ORDINAL_EDITION.search(seen.text, start)
    if match:
        work.edition = (
            tidy_title(match.group(), dotted=seen.dotted),
            match.start(),
            match.end(),
            "anniversary edition",
        )


def _residue(seen: Scan, work: Work, start: int, end: int) -> list[tuple[int, int]]:
    """The stretches between `start` and `end` that no fact, bracket or technical word has taken."""
    taken = sorted(
        [(t.start, t.end) for t in seen.techs if t.end > start]
        + [(b.start, b.end) for b in seen.brackets if b.end > start]
        + [(f[1], f[2]) for f in (work.part, work.edition) if f]
        + [(f[1], f[2]) for f in work.technical.values()]
    )
    rest: list[tuple[int, int]] = []
    place = start
    for left, right in [*taken, (end, end)]:
        if left > place and any(c.isalnum() for c in seen.text[place : min(left, end)]):
            rest.append((place, min(left, end)))
        place = max(place, right)
    return rest


def _title(seen: Scan, start: int, end: int, rule: str) -> Found | None:
    raw = seen.text[start:end]
    here = raw.strip(" -–_")
    text = tidy_title(raw, dotted=seen.dotted or (here.count(".") > 1 and " " not in here))
    if not text or not any(c.isalnum() or ord(c) > 0x2000 for c in text):
        return None
    while start < end and seen.text[start] in " ._-–([":
        start += 1
    while end > start and seen.text[end - 1] in " ._-–([":
        end -= 1
    return (text, start, end, rule)


def _split_aka(seen: Scan, work: Work) -> None:
    """`One Title AKA Another` states two."""
    if work.title is None:
        return
    _, start, end, rule = work.title
    match = AKA.search(seen.text, start)
    if match is None:
        return
    if match.start() < end:
        work.title = _title(seen, start, match.start(), rule) or work.title
        alternative = _title(seen, match.end(), max(end, match.end()), "second title after AKA")
    else:
        bracket = next((b for b in seen.brackets if b.start <= match.start() < b.end), None)
        alternative = _title(seen, match.end(), bracket.end - 1, "second title after AKA") if bracket else None
        if bracket:
            bracket.used = True
    if alternative:
        text, left, right, why = alternative
        work.alt_title = (text.rstrip(")]"), left, right, why)


# --- films ---


def _movie(seen: Scan, work: Work, begin: int) -> None:
    text = seen.text
    size = len(text)
    in_brackets = [y for y in seen.years if y[3] and _year_bracket(seen, y) and y[0] >= begin]
    strong_tail = next((t.start for t in seen.techs if t.strong and t.start > begin), size)
    bare = [y for y in seen.years if not y[3] and begin <= y[0] and y[0] < max(strong_tail, begin + 1)]
    year = in_brackets[-1] if in_brackets else None
    if year is not None and len(in_brackets) > 1 and re.fullmatch(r"\s?[-–]\s?", text[in_brackets[-2][1] : year[0]]):
        year = in_brackets[-2]
    if year is None and bare:
        candidate = bare[-1]
        before = text[begin : candidate[0]].strip(" ._-[](){}")
        after_year = text[candidate[1] : min(strong_tail, size)].strip(" ._-[](){}")
        if before or (
            candidate[0] <= begin + 1
            and after_year
            and re.match(r"\s*[-–.)_]", text[candidate[1] :])
            and len(bare) == 1
            and not seen.techs
        ):
            year = candidate
    if year is not None:
        bracket = next((b for b in seen.brackets if b.start < year[0] < b.end), None)
        left, right = (bracket.start, bracket.end) if bracket else (year[0], year[1])
        if bracket:
            bracket.used = True
        work.year = (
            year[2],
            year[0],
            year[1],
            "year in brackets" if year[3] else "last year before the technical words",
        )
        if not text[begin:left].strip(" ._-"):
            begin = right
            tail = _tail_start(seen, begin, loose=False)
            head_end = min([tail, *(b.start for b in seen.brackets if b.start > begin)])
            after = head_end
        else:
            head_end, after = left, right
            tail = _tail_start(seen, right, loose=True)
    else:
        tail = _tail_start(seen, begin + 1, loose=False)
        first_bracket = next(
            (b.start for b in seen.brackets if b.start > begin and text[begin : b.start].strip(" ._-")), size
        )
        head_end = after = min(tail, first_bracket)
    head_end = min(
        [
            head_end,
            *(
                b.start
                for b in seen.brackets
                if begin < b.start < head_end
                and text[begin : b.start].strip(" ._-")
                and (b.technical or b.used or not year)
            ),
        ]
    )
    first = next(
        (b for b in seen.brackets if begin < b.start < head_end and not b.used and text[begin : b.start].strip(" ._-")),
        None,
    )
    if first is not None and not text[first.end : head_end].strip(" ._-[]()") and not AKA.match(text, first.start):
        head_end = first.start
    work.title = _title(seen, begin, head_end, "what stands before the year and the technical words")
    _take_edition(seen, work, after)
    _take_technical(seen, work, min(tail, after) if year else tail)
    _take_part(seen, work, after, year is not None)
    _split_aka(seen, work)
    if year is not None or work.part is None:
        _take_version(seen, work, after)
    title = work.title[0] if work.title else ""
    work.bare = not title or (year is None and (BARE.match(title) is not None or SCRAMBLED.match(text) is not None))


def _year_bracket(seen: Scan, year: tuple[int, int, int, bool]) -> bool:
    """Whether the bracket says the year alone, or the year with technical words."""
    bracket = next(b for b in seen.brackets if b.start < year[0] < b.end)
    return (
        bracket.technical
        or not re.sub(r"[0-9\s,–-]", "", bracket.inner)
        or bracket.inner.strip().startswith(str(year[2]))
    )


def _take_part(seen: Scan, work: Work, after: int, has_year: bool) -> None:
    match = next((m for m in PART.finditer(seen.text, after if has_year else 0)), None)
    if match is None:
        return
    if not has_year:
        rest = seen.text[match.end() :].strip(" ._-")
        tail_first = next((t.start for t in seen.techs if t.start >= match.end()), None)
        ends = (
            not rest
            or (tail_first is not None and not seen.text[match.end() : tail_first].strip(" ._-[("))
            or (work.technical.get("release") is not None and "-" in seen.text[match.end() :])
        )
        if not ends or match.start() == 0:
            return
        if work.title and work.title[2] > match.start():
            work.title = _title(seen, work.title[1], match.start(), work.title[3])
    work.part = (_number_of(match["n"]), match.start(), match.end(), "word for a part")


def _take_version(seen: Scan, work: Work, after: int) -> None:
    """A label of one's own after ` - `, once year and title are known."""
    if seen.dotted or work.year is None:
        return
    for start, end in _residue(seen, work, after, len(seen.text)):
        piece = seen.text[start:end]
        match = re.search(r"(?:^|\s)[-–]\s+(\S.*?)\s*[-–]?\s*$", piece)
        if match and any(c.isalpha() for c in match[1]):
            work.version = (match[1].strip(" -–"), start + match.start(1), start + match.end(1), "label after the year")
            return


# --- episodes ---


def _episode(seen: Scan, work: Work, begin: int, folder: bool, in_season: int | None) -> bool:
    """Read marks of season and episode; False when there is none."""
    text = seen.text
    mark = _find_mark(seen, begin, folder, in_season)
    if mark is None:
        return False
    start, end, season, numbers, absolute, date, part, proper = mark
    where = (start, end)
    if season is not None:
        work.season = (season, *where, "season in the mark")
    if numbers:
        work.episodes = (numbers, *where, "mark of the episode")
    if absolute:
        work.absolute = (absolute, *where, "bare number, and no season")
    if date:
        work.date = (date, *where, "day it was aired")
    if part:
        work.part = (part, *where, "letter after the episode's number")
    work.mark_end = end
    head_end = start
    if proper:
        work.technical["proper"] = (True, *where, "second version of a release")
    _series_head(seen, work, begin, head_end)
    tail = _tail_start(seen, end, loose=False)
    title_start, title_end = end, tail
    unused = [b for b in seen.brackets if b.start >= end and b.start < tail]
    for bracket in unused:
        if (
            bracket.used
            or bracket.technical
            or re.fullmatch(r"[0-9A-Fa-f]{8}", bracket.inner)
            or not _belongs_to_title(bracket, seen, end)
        ):
            title_end = min(title_end, bracket.start)
    release = None if tail < len(text) else RELEASE.search(text)
    _take_edition(seen, work, end)
    _take_technical(seen, work, tail)
    if release and seen.dotted and "release" not in work.technical and release.start() > end and not folder:
        pass
    work.subtitle = _title(seen, title_start, title_end, "what stands after the mark")
    if work.subtitle and date is None and numbers:
        inner_date = DATE.search(text, end, title_end)
        if inner_date and not text[end : inner_date.start()].strip(" ._-"):
            work.date = (_iso(inner_date), inner_date.start(), inner_date.end(), "day it was aired")
            work.subtitle = _title(seen, inner_date.end(), title_end, "what stands after the mark")
    _episode_part(seen, work)
    _split_aka(seen, work)
    work.bare = work.title is None
    return True


def _belongs_to_title(bracket: Bracket, seen: Scan, mark_end: int) -> bool:
    """A bracket between the mark and the technical words is left out of the title, unless words follow it."""
    after = seen.text[bracket.end :].strip(" ._-")
    return bool(after) and after[0].isalpha() and not any(t.start >= bracket.end for t in seen.techs)


def _episode_part(seen: Scan, work: Work) -> None:
    if work.subtitle is None:
        return
    _, start, end, rule = work.subtitle
    match = last_match(PART, seen.text, start, end)
    if match is None or match.end() < end - 1:
        return
    if match.start() == start or re.match(r"(?:pt|cd|disc|disk)", match.group(), re.IGNORECASE):
        work.part = (_number_of(match["n"]), match.start(), match.end(), "word for a part")
        work.subtitle = _title(seen, start, match.start(), rule)


def _series_head(seen: Scan, work: Work, begin: int, head_end: int) -> None:
    """The series' title and year, which stand before the mark."""
    head = [y for y in seen.years if begin <= y[0] and y[1] <= head_end]
    if head:
        year = head[-1]
        bracket = next((b for b in seen.brackets if b.start < year[0] < b.end), None)
        after = seen.text[bracket.end if bracket else year[1] : head_end].strip(" ._-–([")
        before = seen.text[begin : bracket.start if bracket else year[0]].strip(" ._-–([")
        if before and (bracket is not None or not after):
            work.year = (year[2], year[0], year[1], "year in brackets" if bracket else "year after the series' title")
            head_end = bracket.start if bracket else year[0]
            if bracket:
                bracket.used = True
    season = EAST_SEASON.search(seen.text, begin, head_end) or DOUBLE_WORD.search(seen.text, begin, head_end)
    if season is not None and work.season is None and season.start() > begin:
        digits = next(group for group in season.groups() if group)
        work.season = (number(digits), season.start(), season.end(), "word for a season")
        if work.absolute is not None:
            work.episodes, work.absolute = work.absolute, None
        head_end = season.start()
    brackets = [
        b.start for b in seen.brackets if begin < b.start < head_end and seen.text[begin : b.start].strip(" ._-")
    ]
    alone = next((b for b in seen.brackets if begin <= b.start < head_end), None)
    if (
        alone is not None
        and not alone.technical
        and not seen.text[begin : alone.start].strip(" ._-")
        and not seen.text[alone.end : head_end].strip(" ._-[]")
    ):
        work.title = _title(seen, alone.start + 1, alone.end - 1, "title in brackets of its own")
        return
    work.title = _title(seen, begin, min([head_end, *brackets]), "what stands before the mark of the episode")


_Mark = tuple[int, int, "int | None", "list[int]", "list[int]", "str | None", "int | None", bool]


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
        season = next(number(groups[name]) for name in ("season", "season2", "season3") if groups.get(name))
        numbers = span_numbers(number(groups["first"]), groups.get("more") or "")
        letter = groups.get("letter")
        proper = None if letter else _VERSION.match(text, match.end())
        part = _PARTS[letter.lower()] if letter else None
        return (match.start(), match.end() + (2 if proper else 0), season, numbers, [], None, part, bool(proper))
    return None


def _find_mark(seen: Scan, begin: int, folder: bool, in_season: int | None) -> _Mark | None:
    text = seen.text
    if not _DIGIT.search(text, begin):
        return None
    mark = _season_and_episode(text, begin)
    if mark is not None:
        return mark
    if folder:
        return None
    date = DATE.search(text, begin)
    if date is not None:
        return (date.start(), date.end(), None, [], [], _iso(date), None, False)
    special = SPECIAL_MARK.search(text, begin)
    if special is not None:
        return (special.start(), special.end(), 0, [int(special["first"])], [], None, None, False)
    limit = next((t.start for t in seen.techs if t.strong and t.start > begin), len(text))
    match = NUMBER_WORD.search(text, begin, limit) or EPISODE_WORD.search(text, begin, limit)
    if match is None:
        match = next((m for b in seen.brackets if (m := EPISODE_WORD.search(text, b.start, b.end))), None)
    if match is not None and _reaches(text, match, begin):
        letter = match["letter"]
        numbers = span_numbers(int(match["first"]), match["more"])
        if in_season is not None and len(match["first"]) >= 3 and _fits(match["first"], in_season):
            numbers = [int(match["first"][len(str(in_season)) :])]
        return (match.start(), match.end(), None, numbers, [], None, _PARTS[letter.lower()] if letter else None, False)
    east = EAST_EPISODE.search(text, begin)
    if east is not None:
        return (east.start(), east.end(), None, [number(east["first"] or east["first2"])], [], None, None, False)
    return _bare_number(seen, begin, limit, in_season)


def _reaches(text: str, match: re.Match[str], begin: int) -> bool:
    """`E5 to Nowhere` begins with a mark that is none."""
    return not (match.start() == begin and re.match(r"\s+[a-z]", text[match.end() :]))


_LEADING_NUMBER = re.compile(
    r"[\s#]*(?P<first>[0-9]{1,4})(?P<letter>[a-d])?(?:\.(?P<half>5))?(?:[-–&+](?P<last>[0-9]{1,4}))?(?P<proper>v[2-9])?(?=$|[\s._)\]\-–])"
)
_NUMBER = r"(?<=[^\W\d_][\s._])(?P<first>[0-9]{2,4})(?P<half>)(?P<last>)(?P<letter>)(?P<proper>v[2-9])?"
_LAST_NUMBER = re.compile(_NUMBER + r"(?=[\s._-]*$|[\s._]*[\[(])")
_MIDDLE_NUMBER = re.compile(_NUMBER + r"(?=\s+[-–]\s)")
_DOTTED_NUMBER = re.compile(_NUMBER.replace("{2,4}", "{3}") + r"(?=[._][^\W\d_])")


def _bare_number(seen: Scan, begin: int, limit: int, in_season: int | None) -> _Mark | None:
    text = seen.text
    lead = _LEADING_NUMBER.match(text[begin:])
    later = lead is not None and re.match(r"\s+[^\W\d_]", text[begin + lead.end() :]) is not None and not lead["last"]
    if later and not any(ABSOLUTE_DASH.finditer(text, begin + 1, limit)):
        later = False
    boxed = _boxed_number(seen, begin) if lead is None else None
    if boxed is not None:
        return boxed
    if lead is not None and not later:
        match, offset = lead, begin
    else:
        found = [
            m
            for m in ABSOLUTE_DASH.finditer(text, begin, limit)
            if not (later and m.start("first") <= begin)
            and not any(b.start < m.start("first") < b.end for b in seen.brackets)
        ]
        plain = None
        if in_season is not None and not found:
            plain = next(
                (
                    m
                    for m in re.finditer(
                        r"(?<=[\s._-])(?P<first>[0-9]{2,4})(?P<letter>[a-d])?(?P<half>)(?P<last>)(?P<proper>)(?=$|[\s._-])",
                        text[:limit],
                    )
                    if _fits(m["first"], in_season)
                ),
                None,
            )
        if not found and plain is None:
            limited = text[begin:limit]
            plain = _LAST_NUMBER.search(limited) or (_DOTTED_NUMBER if seen.dotted else _MIDDLE_NUMBER).search(limited)
            if plain is not None and 1888 <= int(plain["first"]) <= 2028:
                plain = None
            if plain is not None:
                match, offset = plain, begin
                return _as_number(match, offset, in_season)
        if not found and plain is None:
            return None
        match, offset = (found[-1] if plain is None and len(found) == 1 else found[0] if found else plain), 0
        assert match is not None
    return _as_number(match, offset, in_season)


def _boxed_number(seen: Scan, begin: int) -> _Mark | None:
    """`[Group][Title][04][1080p]`: everything stands in brackets of its own."""
    outside = re.sub(r"\[[^\]]*\]|\([^)]*\)", "", seen.text[begin:]).strip(" ._-")
    for place, bracket in enumerate(seen.brackets):
        digits = re.fullmatch(r"\s*(?:ep?)?(?P<first>[0-9]{1,3})(?P<proper>v[2-9])?\s*", bracket.inner, re.IGNORECASE)
        if digits and bracket.start >= begin and (place > 0 or outside) and (not outside or bracket.start > begin):
            return (bracket.start, bracket.end, None, [], [int(digits["first"])], None, None, bool(digits["proper"]))
    return None


def _as_number(match: re.Match[str], offset: int, in_season: int | None) -> _Mark:
    value = int(match["first"])
    start, end = offset + match.start("first"), offset + match.end()
    letter = match["letter"]
    part = _PARTS[letter.lower()] if letter else None
    last = int(match["last"]) if match["last"] else value
    numbers = list(range(value, last + 1)) if value <= last < value + 100 else [value]
    proper = bool(match["proper"])
    if in_season is None:
        return (start, end, None, [], numbers, None, part, proper)
    digits = match["first"]
    if len(digits) >= 3 and _fits(digits, in_season):
        numbers = [int(digits[len(str(in_season)) :])]
    return (start, end, None, numbers, [], None, part, proper)


def _fits(digits: str, season: int) -> bool:
    return (
        len(digits) < 3
        or (digits.startswith(str(season)) and len(digits) - len(str(season)) == 2)
        or (digits.startswith(f"{season:02d}") and len(digits) == 4)
    )


def _iso(match: re.Match[str]) -> str:
    year, month, day = (match[k] or match[f"{k}2"] or match[f"{k}3"] for k in ("y", "m", "d"))
    return f"{year}-{int(month):02d}-{int(day):02d}"
