"""A track's name as columns: artist, album, year, disc, number and title, between separators that repeat.

Every separator that occurs gives a hypothesis; each of its parts is looked at alone. What repeats what the folders
say, and what is a number or a year, is explained; words that are left are the title. The hypothesis that explains
most wins, and where nothing is explained none is taken.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import NamedTuple

from .scan import fold, names_of
from .vocabulary import alternation

__all__ = ["Column", "Columns", "Known", "all_columns", "read_columns"]

_SEPARATORS: tuple[tuple[str, re.Pattern[str]], ...] = (
    ("spaced dash", re.compile(r"\s+[-–—~]\s+")),
    ("underscored dash", re.compile(r"_[-–—]_")),
    ("dotted dash", re.compile(r"\.[-–—]\.")),
    ("long dash", re.compile(r"\s*[—–]\s*")),
    ("dash", re.compile(r"(?<=\S)-(?=\S)")),
    ("underscore", re.compile(r"_")),
    ("comma", re.compile(r",\s+")),
)
_NUMBER = re.compile(
    rf"""
    [\[(\#\s]*
    (?: (?: {alternation("track")} | {alternation("chapter", least=4)} ) [\s._]* )?
    (?P<number> [0-9]{{1,3}} )
    (?: \s* (?: of | von | de | di | van | av | af | / ) \s* [0-9]{{1,3}} )?
    [\])\s.]*
    """,
    re.VERBOSE | re.IGNORECASE,
)
_DISC = re.compile(rf"[\[(\s]*(?:{alternation('disc')})[\s._]*(?P<disc>[0-9]{{1,2}})[\])\s]*", re.IGNORECASE)
_BOTH = re.compile(
    r"[\[(\s]*(?:cd|d|disc)?[\s._]*(?P<disc>[0-9]{1,2})[-.x](?P<number>[0-9]{2,3})[\])\s]*", re.IGNORECASE
)
_SIDE = re.compile(r"[\[(\s]*(?P<side>[A-H])(?P<number>[0-9]{1,2})[\])\s]*")
_YEAR = re.compile(r"[\[({\s]*(?P<year>(?:18|19|20)[0-9]{2})[\])}\s]*")
_LEAD = re.compile(r"[\[(#\s]*(?P<number>[0-9]{1,3})[\])]*(?:[\s_]+|\.\s*)(?=[^\W\d_])")
"""A number at the head of the first part."""
_BRACKET = re.compile(r"\[[^\[\]]*\]|\([^()]*\)|\{[^{}]*\}")
_COUNTED = re.compile(r"^[0-9]{1,4}\s*[-–._]+\s*(?=[^\W\d_])")
_TAIL = re.compile(r"\s*[(\[{][^()\[\]{}]*[)\]}]\s*$")
_YEAR_AHEAD = re.compile(r"^[(\[{]?(?:18|19|20)[0-9]{2}[)\]}]?[\s_]*[-–.]?[\s_]*(?=\S)")
"""An album's year before its name: `[2003] Glass Orchard`."""
_SERIES_AHEAD = re.compile(r"^.*\S\s+[-–—]\s+(?=\S)")
"""A series and a number before the name of its part: `Customs 2 - The Ferry Tax`."""


_COUNTING = (("year", _YEAR), ("number", _NUMBER), ("disc", _DISC), ("both", _BOTH), ("side", _SIDE))


@dataclass(frozen=True, slots=True)
class Known:
    """What the folders say of a track."""

    artist: str | None = None
    album: str | None = None
    year: int | None = None
    is_compilation: bool = False


@dataclass(frozen=True, slots=True)
class Column:
    """One part of a name, and what it is: `artist`, `album`, `year`, `disc`, `number`, `side`, `both` or `words`."""

    label: str
    text: str
    start: int
    end: int
    numbers: tuple[int, ...] = ()


class _Score(NamedTuple):
    """How much a hypothesis explains; the first field that differs decides, greater is better."""

    repeats: int
    """Parts that say again what the folders say."""
    numbers: int
    """Parts that are a number, a disc or a year, at most three."""
    few_words: int
    """Minus the parts of which nothing is explained."""
    rank: int
    """Minus the separator's place: those that people mean as one come first."""


@dataclass(frozen=True, slots=True)
class Columns:
    """A hypothesis: what each part of a name is if this separator parts them."""

    columns: tuple[Column, ...]
    separator: str
    score: _Score
    is_meant: bool
    """Whether the separator parts here, and is no part of words."""

    def words(self) -> list[Column]:
        """Parts of which nothing is known."""
        return [column for column in self.columns if column.label == "words"]


def _same(text: str, known: str | None) -> bool:
    """Whether a part says what a folder says, with or without a bracket at the end of
    either, or a number at the folder's head."""
    if known is None:
        return False
    said = _forms(text) | _forms(_YEAR_AHEAD.sub("", text))
    return not said.isdisjoint(
        _forms(known)
        | _forms(_COUNTED.sub("", known))
        | (_forms(_SERIES_AHEAD.sub("", known)) if " " in text else said - said)
    )


@lru_cache(maxsize=8192)
def _forms(text: str) -> frozenset[str]:
    """A text folded, with and without what stands in brackets at its end."""
    names = names_of(text)
    return names | {fold(_TAIL.sub("", text))} - {""} if text[-1:] in ")]}" else names


def _label(text: str, start: int, known: Known) -> Column:
    end = start + len(text)
    if _same(text, known.artist):
        return Column("artist", text, start, end)
    if _same(text, known.album):
        return Column("album", text, start, end)
    has_digits = any(letter.isdigit() for letter in text)
    for label, pattern in _COUNTING if has_digits else ():
        found = pattern.fullmatch(text)
        if found is None:
            continue
        groups = found.groupdict()
        if label == "side":
            return Column(label, text, start, end, (ord(groups["side"]) - 64, int(groups["number"])))
        return Column(label, text, start, end, tuple(int(value) for value in groups.values()))
    return Column("words", text, start, end)


def _split(text: str, pattern: re.Pattern[str], known: Known) -> list[Column]:
    columns: list[Column] = []
    place = 0
    closed = [found.span() for found in _BRACKET.finditer(text)] if "(" in text or "[" in text or "{" in text else []
    cuts = [found for found in pattern.finditer(text) if not any(a < found.start() < b for a, b in closed)]
    for found in (*cuts, None):
        end = found.start() if found else len(text)
        piece = text[place:end]
        if piece.strip(" ._"):
            start = place + len(piece) - len(piece.lstrip())
            is_next = all(column.label in ("artist", "album", "year") for column in columns)
            lead = _LEAD.match(piece.strip()) if is_next else None
            if lead is not None and _label(piece.strip(), start, known).label == "words":
                columns.append(_label(lead["number"], start, known))
                start += lead.end()
                piece = piece.strip()[lead.end() :]
            columns.append(_label(piece.strip(), start, known))
        place = found.end() if found else end
    if [column.label for column in columns[:2]] == ["number", "number"] and columns[0].numbers[0] < 30:
        columns[0] = replace(columns[0], label="disc")
    return columns


def _score(columns: Sequence[Column], rank: int, known: Known) -> _Score:
    labels = [column.label for column in columns]
    repeats = labels.count("artist") + labels.count("album")
    repeats += sum(column.label == "year" and column.numbers == (known.year,) for column in columns)
    return _Score(repeats, min(sum(label in _COUNTS for label in labels), 3), -labels.count("words"), -rank)


_COUNTS = frozenset(("number", "disc", "both", "side", "year"))


def _is_meant(name: str, columns: Sequence[Column], score: _Score, text: str) -> bool:
    """Whether a separator is one here, and not a part of words."""
    words = [column for column in columns if column.label == "words"]
    if name in ("spaced dash", "underscored dash", "dotted dash"):
        return True
    if name == "comma":
        return score.repeats > 1 or (score.numbers == 1 and len(words) == 3)
    if name == "dash" and "_" in text and " " not in text and len(words) == len(columns) == 2:
        return True  # where underscores stand for spaces, the one dash parts
    if name == "underscore":
        if [column.label for column in columns] == ["number", "album", "words"]:
            return False  # `07_Drift_VII` of the album `Drift` is called `Drift VII`
        return (
            score.repeats > 1
            or (bool(score.repeats) and bool(score.numbers))
            or (" " in text and (score.numbers > 1 or (len(words) == 3 and columns[2].label == "number")))
        )
    return bool(score.repeats) or (bool(score.numbers) and len(words) < 4) or (name == "long dash" and len(columns) > 1)


def all_columns(text: str, known: Known) -> list[Columns]:
    """Every way of parting a name (without its extension) into columns, each with its score."""
    found: list[Columns] = []
    for rank, (name, pattern) in enumerate(_SEPARATORS):
        if pattern.search(text) is None:
            continue
        columns = _split(text, pattern, known)
        if len(columns) < 2:
            continue
        score = _score(columns, rank, known)
        found.append(Columns(tuple(columns), name, score, _is_meant(name, columns, score, text)))
    return found


def read_columns(text: str, known: Known) -> Columns | None:
    """The columns of a name (without its extension), or None where no separator explains anything."""
    meant = [one for one in all_columns(text, known) if one.is_meant]
    return max(meant, key=lambda one: one.score, default=None)
