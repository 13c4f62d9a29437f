"""What a segment says of a film: title, year, part, edition, version."""

from __future__ import annotations

import re

from .found import Work
from .parts import (
    AKA,
    BARE,
    PART,
    SCRAMBLED,
    number_of,
    residue,
    split_aka,
    tail_start,
    take_edition,
    take_technical,
    title_of,
)
from .scan import Scan

__all__ = ["read_film"]


def read_film(seen: Scan, work: Work, begin: int) -> None:
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
            tail = tail_start(seen, begin, loose=False)
            head_end = min([tail, *(b.start for b in seen.brackets if b.start > begin)])
            after = head_end
        else:
            head_end, after = left, right
            tail = tail_start(seen, right, loose=True)
    else:
        tail = tail_start(seen, begin + 1, loose=False)
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
    work.title = title_of(seen, begin, head_end, "what stands before the year and the technical words")
    take_edition(seen, work, after)
    take_technical(seen, work, min(tail, after) if year else tail)
    _take_part(seen, work, after, year is not None)
    split_aka(seen, work)
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
            work.title = title_of(seen, work.title[1], match.start(), work.title[3])
    work.part = (number_of(match["n"]), match.start(), match.end(), "word for a part")


def _take_version(seen: Scan, work: Work, after: int) -> None:
    """A label of one's own after ` - `, once year and title are known."""
    if seen.dotted or work.year is None:
        return
    for start, end in residue(seen, work, after, len(seen.text)):
        piece = seen.text[start:end]
        match = re.search(r"(?:^|\s)[-–]\s+(\S.*?)\s*[-–]?\s*$", piece)
        if match and any(c.isalpha() for c in match[1]):
            work.version = (match[1].strip(" -–"), start + match.start(1), start + match.end(1), "label after the year")
            return
