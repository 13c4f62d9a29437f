"""What a segment says of a film: title, year, part, edition, version."""

from __future__ import annotations

import re
from datetime import date

from ..phrase import term
from .found import Work
from .parts import (
    AKA,
    BARE,
    PART,
    SCRAMBLED,
    in_a_label,
    is_loud,
    number_of,
    residue,
    split_aka,
    tail_start,
    take_edition,
    take_technical,
    title_of,
)
from .scan import Scan, Tech, tidy_title
from .seriesmarks import DATE, iso_date

__all__ = ["read_film"]


_ORDER = re.compile(r"0[0-9]\s+(?=\S)|[0-9]{1,2}(?:\.\s+|\s+[-–]\s+)(?=\S)")
"""The place of a film in a set, written before its title."""

_Year = tuple[int, int, int | str, bool]
"""Where it stands, what it says (of a recording its day), and whether in brackets."""
_OF_YEARS = re.compile(r"[0-9\s,–-]")


def read_film(seen: Scan, work: Work, begin: int) -> None:
    """State what the segment says, from `begin` on."""
    seen.techs = [tech for tech in seen.techs if tech.strong or not in_a_label(seen, tech)]
    day = _find_day(seen, begin)
    year = day or _find_year(seen, begin)
    if year is None:
        head_end = after = _end_without_year(seen, begin)
        tail = tail_start(seen, begin + 1, loose=False)
    else:
        begin, head_end, after, tail = _around_year(seen, work, begin, year)
        if day is not None:
            work.date, work.year = work.year, None
        before = _run_before(seen, begin, min(year[0], head_end))
        if not year[3]:
            before = min(before, tail_start(seen, begin + 1, loose=False))
        if before < min(year[0], head_end):
            head_end = tail = before
    order = _ORDER.match(seen.text, begin, head_end) if year is not None and year[0] > begin else None
    begin = order.end() if order else begin
    head_end = _before_brackets(seen, begin, head_end, year is not None)
    head_end = _edition_in_head(seen, work, begin, head_end)
    work.title = title_of(seen, begin, head_end, term("what stands before the year and the technical words"))
    take_edition(seen, work, after)
    take_technical(seen, work, min(tail, after) if year else tail)
    if year is not None and work.edition is None:
        _take_worded_edition(seen, work, after)
    _take_part(seen, work, after, year is not None)
    split_aka(seen, work)
    if year is not None or work.part is None:
        _take_version(seen, work, after)
    title = work.title[0] if work.title else ""
    work.bare = not title or (
        year is None and (BARE.match(title) is not None or SCRAMBLED.match(seen.text) is not None)
    )


def _run_before(seen: Scan, begin: int, end: int) -> int:
    """Where technical words begin that fill all from there to the year: `Title 1080p BluRay (2012)`."""
    run: list[Tech] = []
    start = end
    for tech in reversed(seen.techs):
        if tech.end > end or tech.start <= begin or seen.text[tech.end : start].strip(" ._-([{"):
            continue
        start = tech.start
        run.append(tech)
    return start if _is_surely_technical(seen, run, begin) else end


def _is_surely_technical(seen: Scan, run: list[Tech], begin: int) -> bool:
    """Whether a run of technical words is no end of a title.

    One of them is never a title's, or no title ends in it (`4K`, `HDR`); or several tracks
    of sound are spoken of (`German.DL`), or all are in capitals, as release names write them.
    """
    if not run:
        return False
    facts = {fact for tech in run for fact in tech.facts}
    return (
        any(tech.strong for tech in run)
        or any(name in ("resolution", "hdr") for name, _ in facts)
        or (len({value for name, value in facts if name == "languages"}) > 1)
        or (seen.dotted and is_loud(seen, begin, run[-1].start, run[0].end))
    )


def _find_day(seen: Scan, begin: int) -> _Year | None:
    """The day of a recording, where no year stands in brackets of its own."""
    found = DATE.search(seen.text, begin)
    if found is None or any(y[3] and not found.start() <= y[0] < found.end() for y in seen.years):
        return None
    try:
        date.fromisoformat(iso_date(found))
    except ValueError:
        return None  # the calendar has no such day
    is_inside = any(bracket.start < found.start() < bracket.end for bracket in seen.brackets)
    return found.start(), found.end(), iso_date(found), is_inside


def _find_year(seen: Scan, begin: int) -> _Year | None:
    """In brackets, else the last number before the technical words that can be one, unless it is all there is."""
    text = seen.text
    in_brackets = [y for y in seen.years if y[3] and _year_bracket(seen, y) and y[0] >= begin]
    if len(in_brackets) > 1 and re.fullmatch(r"\s?[-–]\s?", text[in_brackets[-2][1] : in_brackets[-1][0]]):
        return in_brackets[-2]
    if in_brackets:
        return in_brackets[-1]
    worded = [y for y in seen.years if y[3] and y[0] >= begin and _is_year_with_words(seen, y)]
    if worded:
        return worded[-1]
    strong_tail = next((t.start for t in seen.techs if t.strong and t.start > begin), len(text))
    bare = [y for y in seen.years if not y[3] and begin <= y[0] < max(strong_tail, begin + 1)]
    if not bare:
        return _year_behind(seen, begin, strong_tail)
    candidate = bare[-1]
    around = text[begin : candidate[0]] + text[candidate[1] : strong_tail]
    return candidate if any(letter.isalnum() for letter in around) else None


def _year_behind(seen: Scan, begin: int, tail: int) -> _Year | None:
    """`Title.3D.HSBS.2012`: no year before the technical words, and one that stands right behind their first run."""
    if not any(letter.isalnum() for letter in seen.text[begin:tail]):
        return None
    run = [tech for tech in seen.techs if tech.start >= tail]
    ends = [tech.end for place, tech in enumerate(run) if tech.first == run[0].first + place or place == 0]
    return next((y for y in seen.years if not y[3] and any(y[0] == end + 1 for end in ends)), None)


def _around_year(seen: Scan, work: Work, begin: int, year: _Year) -> tuple[int, int, int, int]:
    """State the year; where the title begins and ends, where the rest begins, and where the technical words do."""
    bracket = next((b for b in seen.brackets if b.start < year[0] < b.end), None)
    left, right = (bracket.start, bracket.end) if bracket else (year[0], year[1])
    if bracket:
        bracket.used = True
    rule = term("year in brackets") if year[3] else term("last year before the technical words")
    work.year = (year[2], year[0], year[1], rule)
    if seen.text[begin:left].strip(" ._-"):
        return begin, left, right, tail_start(seen, right, loose=True)
    tail = tail_start(seen, right, loose=False)
    head_end = min([tail, *(b.start for b in seen.brackets if b.start > right)])
    return right, head_end, head_end, tail


def _end_without_year(seen: Scan, begin: int) -> int:
    brackets = (b.start for b in seen.brackets if b.start > begin and seen.text[begin : b.start].strip(" ._-"))
    return min(tail_start(seen, begin + 1, loose=False), next(brackets, len(seen.text)))


def _before_brackets(seen: Scan, begin: int, head_end: int, has_year: bool) -> int:
    """A title ends before the first bracket that states something, or that nothing but brackets follows."""
    text = seen.text
    inside = [b for b in seen.brackets if begin < b.start < head_end and text[begin : b.start].strip(" ._-")]
    head_end = min([head_end, *(b.start for b in inside if b.technical or b.used or not has_year)])
    first = next((b for b in inside if b.start < head_end and not b.used), None)
    if first is not None and not text[first.end : head_end].strip(" ._-[]()") and not AKA.match(text, first.start):
        return first.start
    return head_end


def _edition_in_head(seen: Scan, work: Work, begin: int, head_end: int) -> int:
    """`Title - Special Edition (1990)`: a cut of several words that ends the title is none of it.

    Nor is a single one behind a dash, or in capitals, as release names write it (`Title.EXTENDED.2018.1080p`).
    """
    for tech in seen.techs:
        if tech.start <= begin or not tech.facts or tech.facts[0][0] != "edition":
            continue
        loud = seen.dotted and is_loud(seen, begin, tech.start, tech.end)
        is_apart = seen.text[: tech.start].endswith((" - ", " – "))
        if tech.last == tech.first and not loud and not is_apart:
            continue
        if tech.end <= head_end and not seen.text[tech.end : head_end].strip(" ._-([:"):
            shown = tidy_title(seen.text[tech.start : tech.end], dotted=seen.dotted)
            work.edition = (shown, tech.start, tech.end, term("cut or issue at the end of the title"))
            return tech.start
    return head_end


def _year_bracket(seen: Scan, year: tuple[int, int, int, bool]) -> bool:
    """Whether the bracket says the year alone, or the year with technical words."""
    bracket = next(b for b in seen.brackets if b.start < year[0] < b.end)
    return bracket.technical or not _OF_YEARS.sub("", bracket.inner) or bracket.inner.strip().startswith(str(year[2]))


_OF_AN_ISSUE = re.compile(
    r"restor|remaster|edi[tcz]|cut\b|version|re-?release|re-?issue|fassung|anniversary|transfer|aka\b", re.IGNORECASE
)


def _is_year_with_words(seen: Scan, year: tuple[int, int, int, bool]) -> bool:
    """Whether a bracket ends in the year, or a part of it does, and none of it speaks of an issue.

    As in `(Ida Holm, 1956)`, `(NO 1956)`, `[Norway 1956, b/w]`.
    """
    bracket = next(b for b in seen.brackets if b.start < year[0] < b.end)
    behind = seen.text[year[1] : bracket.end - 1].lstrip()
    before = seen.text[bracket.start + 1 : year[0]]
    return (
        bracket.start > 0
        and (not behind or behind[0] in ",;")
        and (before[-1:].isspace() and any(letter.isalpha() for letter in before))
        and _OF_AN_ISSUE.search(bracket.inner) is None
    )


def _take_part(seen: Scan, work: Work, after: int, has_year: bool) -> None:
    taken = {tech.start for tech in seen.techs if any(name == "source" for name, _ in tech.facts)}
    match = next((m for m in PART.finditer(seen.text, after if has_year else 0) if m.start() not in taken), None)
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
        if not ends or (match.start() == 0 and rest):
            return
        if work.title and work.title[2] > match.start():
            work.title = title_of(seen, work.title[1], match.start(), work.title[3])
    work.part = (number_of(match["n"]), match.start(), match.end(), term("word for a part"))


_WORDED_EDITION = re.compile(
    r"(?<![^\W_])(?:[^\W\d_]+(?:['’][^\W\d_]+)?[\s._]){1,2}(?:edition|cut)(?![^\W_])", re.IGNORECASE
)


def _take_worded_edition(seen: Scan, work: Work, after: int) -> None:
    """An issue called by a name of its own, behind the year: `2014.Harbour.Edition.1080p`."""
    for start, end in residue(seen, work, after, len(seen.text)):
        found = _WORDED_EDITION.search(seen.text, start, end)
        if found is not None:
            words = tidy_title(found.group(), dotted=seen.dotted)
            work.edition = (words, found.start(), found.end(), term("issue with a name of its own"))
            return


_LABEL = re.compile(r"(?:^|\s)[-–]\s+(\S.*?)\s*[-–]?\s*$")
_NO_LABEL = re.compile(
    r"audio|subs?|subtitles?|[0-9]{1,2}\s?h(?:\s?[0-9]{1,2})?(?:\s?m(?:in)?)?|[0-9]{2,3}\s?(?:min|mins|minutes|minuten|')"
    r"|(?:fsk|pegi)[\s_-]?[0-9]{1,2}",
    re.IGNORECASE,
)
"""How long it is and for whom, and what stands before languages: no version."""
_DOTTED_LABEL = re.compile(r"(?:^|[\s._])[-–][\s._]+([^\s._].*?)[\s._]*[-–]?[\s._]*$")


def _take_version(seen: Scan, work: Work, after: int) -> None:
    """A label of one's own after ` - `, once year and title are known.

    Where dots or underscores stand for spaces, it must follow the year at once: behind
    technical words it is who made the file.
    """
    if work.year is None:
        return
    for start, end in residue(seen, work, after, len(seen.text)):
        piece = seen.text[start:end]
        if seen.dotted and seen.text[after:start].strip(" ._)]"):
            return
        match = (_DOTTED_LABEL if seen.dotted else _LABEL).search(piece)
        if match and any(c.isalpha() for c in match[1]):
            first, last = start + match.start(1), start + match.end(1)
            if not seen.dotted:
                last = _with_words_of_no_fact(seen, last)
            label = tidy_title(seen.text[first:last], dotted=seen.dotted).strip(" -–")
            if all(_NO_LABEL.fullmatch(piece.strip()) for piece in re.split(r"\s[-–]\s", label)):
                return
            if label.isupper() and label.isalnum() and len(label) > 2 and _follows_technical(seen, after, start):
                work.technical.setdefault("release", (label, first, last, term("group after the last dash")))
                return
            work.version = (label, first, last, term("label after the year"))
            return


def _with_words_of_no_fact(seen: Scan, end: int) -> int:
    """Where a label ends, with the technical words behind it that state nothing:
    somebody's `rip` is what they call it."""
    for tech in seen.techs:
        if tech.start >= end and not tech.facts and seen.text[end : tech.start].isspace():
            end = tech.end
    return end


def _follows_technical(seen: Scan, after: int, place: int) -> bool:
    """Whether several technical words outside of brackets stand right before a place, behind the year."""
    run = [tech for tech in seen.techs if after <= tech.start and tech.end <= place]
    return (
        len(run) > 1
        and run[-2].last + 1 == run[-1].first
        and not seen.text[run[-1].end : place].strip()
        and not any(bracket.start < run[-1].start < bracket.end for bracket in seen.brackets)
    )
