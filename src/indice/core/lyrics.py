"""Words of songs: plain text, or lines with their moments as LRC files have them. Pure."""

from __future__ import annotations

import re
from dataclasses import dataclass

__all__ = ["LyricLine", "holds_lyrics", "line_with", "read_lyrics"]

MOST_LINES = 2000
LONGEST_LINE = 500
_STAMP = re.compile(r"\[\s*(\d{1,3}):(\d{1,2}(?:[.:,]\d{1,3})?)\s*\]")
_OF_WORD = re.compile(r"<\s*\d{1,3}:\d{1,2}(?:[.:,]\d{1,3})?\s*>")
_ABOUT = re.compile(r"\[\s*([A-Za-z#][\w ]{0,20})\s*:([^\]]*)\]\s*")
_GAPS = re.compile(r"[^\S\n]+")


@dataclass(frozen=True, slots=True)
class LyricLine:
    """A line, and when it is sung; an empty one parts two verses."""

    text: str
    at_seconds: float | None = None


def read_lyrics(text: str) -> tuple[LyricLine, ...]:
    """The lines of a song in the order in which they are sung.

    Where any line has a moment those without one go with the line before them. `[offset:+250]` has all
    lines come so many milliseconds earlier; what else stands so at the top (`[ar:…]`) is about the file,
    and moments of single words are left out.
    """
    shift = 0.0
    plain: list[str] = []
    timed: list[tuple[float, int, str]] = []
    last: float | None = None
    for place, raw in enumerate(re.split(r"\r\n|\r|\n", text)[: MOST_LINES * 2]):
        line = raw.strip("\ufeff \t")
        moments: list[float] = []
        while found := _STAMP.match(line):
            moments.append(int(found[1]) * 60 + float(found[2].replace(":", ".").replace(",", ".")))
            line = line[found.end() :].lstrip()
        about = _ABOUT.fullmatch(line) if not moments else None
        if about is not None:
            if about[1].lower() == "offset" and re.fullmatch(r"\s*[+-]?\d{1,7}\s*", about[2]):
                shift = int(about[2]) / 1000
            continue
        words = _GAPS.sub(" ", _OF_WORD.sub("", line)).strip()[:LONGEST_LINE]
        plain.append(words)
        if moments:
            last = moments[-1]
        elif last is not None and words:
            moments = [last]
        timed += [(moment, place, words) for moment in moments]
    if timed:
        lines = [LyricLine(words, round(max(moment - shift, 0.0), 3)) for moment, _, words in sorted(timed)]
    else:
        lines = [LyricLine(words) for words in plain]
    return tuple(_without_gaps(lines))[:MOST_LINES]


def _without_gaps(lines: list[LyricLine]) -> list[LyricLine]:
    """One empty line between verses, none at the beginning and the end."""
    kept: list[LyricLine] = []
    for line in lines:
        if line.text or (kept and kept[-1].text):
            kept.append(line)
    while kept and not kept[-1].text and kept[-1].at_seconds is None:
        kept.pop()
    return kept


def holds_lyrics(text: str) -> bool:
    """Whether there is a word in it that can be sung."""
    return any(letter.isalpha() for line in read_lyrics(text) for letter in line.text)


def line_with(text: str, words: str) -> str:
    """The first line that holds words, whatever the case; empty where none does."""
    wanted = words.casefold()
    return next((line.text for line in read_lyrics(text) if wanted in line.text.casefold()), "")
