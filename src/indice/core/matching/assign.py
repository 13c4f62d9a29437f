"""Which episode of a series, or track of an album, a file is: by number, by date, by running number, by title."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .decide import likeness

__all__ = ["Mine", "Theirs", "assign"]

SAME_TITLE = 0.86
OTHER_TITLE = 0.6
"""Titles less like than this are two stories."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mine:
    """What the household's file says of itself."""

    season: int | None
    """Of an episode; the disc of a track."""
    number: int | None
    date: str | None
    title: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Theirs:
    """An episode or a track as a source has it."""

    id: str
    season: int
    number: int | None
    running: int | None
    date: str | None
    titles: tuple[str, ...]


def assign(mine: Mine, theirs: Sequence[Theirs]) -> str | None:
    """The id of the one that a file is, or None when the source lacks it or
    when number and title contradict each other.

    Among specials a title weighs more than a number, since every list counts specials its own way.
    """
    by_number = next((part for part in theirs if _is_numbered(mine, part)), None)
    by_title = _by_title(mine, theirs)
    if by_number is None:
        by_date = next((part for part in theirs if mine.date is not None and part.date == mine.date), None)
        chosen = by_date or by_title
        return chosen.id if chosen is not None else None
    if by_title is None or by_title is by_number:
        told = _likeness(mine, by_number)
        contradicts = told is not None and told < OTHER_TITLE and mine.season == 0
        return None if contradicts else by_number.id
    if mine.season == 0:
        return by_title.id
    told = _likeness(mine, by_number)
    return by_number.id if told is not None and told >= SAME_TITLE else None


def _is_numbered(mine: Mine, part: Theirs) -> bool:
    if mine.number is None:
        return False
    if mine.season is None:
        return part.running == mine.number
    return (part.season, part.number) == (mine.season, mine.number)


def _likeness(mine: Mine, part: Theirs) -> float | None:
    """How like the titles are; None when one side gives none."""
    if mine.title is None or not part.titles:
        return None
    return max(likeness(mine.title, title) for title in part.titles)


def _by_title(mine: Mine, theirs: Sequence[Theirs]) -> Theirs | None:
    """The only one whose title is the same: in the same season if it is there, else anywhere."""
    if mine.title is None:
        return None
    alike = [part for part in theirs if (_likeness(mine, part) or 0.0) >= SAME_TITLE]
    near = [part for part in alike if mine.season is None or part.season == mine.season] or alike
    best = sorted(near, key=lambda part: -(_likeness(mine, part) or 0.0))
    if not best or (len(best) > 1 and _likeness(mine, best[0]) == _likeness(mine, best[1])):
        return None
    return best[0]
