"""What a series, an album or a set of films lacks: by what a source says there should
be, else by the holes between its numbers.

Pure functions of numbers and titles.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..titles import sort_title

__all__ = ["Due", "Lack", "SetFilm", "due_of", "films_lacking", "lacks"]

MOST_HOLES = 400
"""So many numbers between the first and the last one are told; with more the last one is no number."""


@dataclass(frozen=True, slots=True)
class Due:
    """An episode or a track that a source knows."""

    title: str = ""
    date: str = ""
    """The day on which it is aired, ISO 8601 as far as it is known."""


@dataclass(frozen=True, slots=True)
class SetFilm:
    """A film of a set, as a source knows it."""

    external_id: str
    title: str
    date: str = ""
    """The day on which it came out, ISO 8601 as far as it is known."""


@dataclass(frozen=True, slots=True)
class Lack:
    """An episode, a track or a film that is not here."""

    group: int
    """Its season or disc."""
    number: int
    title: str = ""
    date: str = ""
    is_out: bool = True
    """Whether it has been aired, or has come out."""
    is_known: bool = True
    """Whether a source says that there is one; else it is a hole between numbers."""


def due_of(expected: Any) -> dict[tuple[int, int], Due]:
    """What a source expects, as it is kept: `[[season or disc, number, title, date], …]`; the date may be wanting."""
    found: dict[tuple[int, int], Due] = {}
    for row in expected if isinstance(expected, list) else []:
        if not isinstance(row, list) or len(row) < 2 or not all(isinstance(one, int) for one in row[:2]):
            continue
        texts = [str(one) if one else "" for one in row[2:4]] + ["", ""]
        found[row[0], row[1]] = Due(texts[0], texts[1])
    return found


def lacks(
    here: Iterable[tuple[int, int]],
    due: Mapping[tuple[int, int], Due],
    *,
    today: str,
    from_one: bool,
) -> list[Lack]:
    """What is not here, in the order of numbers.

    `here` and `due` are numbered by season or disc; `today` is a day in ISO 8601, and what is dated after it is
    not out yet; a date known to the month or year counts from its beginning on. Specials (season 0) are never
    lacking. A season of which nothing is here is lacking as a whole where a source knows it. `from_one`: a hole
    before the first number is one, too, as on a disc.
    """
    there: dict[int, set[int]] = {}
    for group, number in here:
        there.setdefault(group, set()).add(number)
    known = {group for group, _ in due}
    found = [
        Lack(group, number, one.title, one.date, not _is_after(one.date, today))
        for (group, number), one in due.items()
        if group and number > 0 and number not in there.get(group, ())
    ]
    for group, numbers in there.items():
        if not group or group in known or not numbers:
            continue
        first = 1 if from_one else min(numbers)
        if max(numbers) - first > MOST_HOLES:
            continue
        found += [Lack(group, n, is_known=False) for n in range(first, max(numbers)) if n not in numbers]
    return sorted(found, key=lambda one: (one.group, one.number))


def films_lacking(
    films: Sequence[SetFilm], here: Collection[str], titles: Collection[tuple[str, int | None]], *, today: str
) -> list[Lack]:
    """Films of a set that are not here, with their places in it from 1 on.

    `here` are ids of the same source; `titles` are sorted titles and years of films of which that source has not been
    asked, or has not decided: one that is called so, within a year, is taken for it, since to be told to look for
    what one has is worse than not to be told.
    """
    return [
        Lack(1, place, one.title, one.date, not _is_after(one.date, today))
        for place, one in enumerate(films, 1)
        if one.external_id not in here and not _is_called_so(one, titles)
    ]


def _is_called_so(film: SetFilm, titles: Collection[tuple[str, int | None]]) -> bool:
    named = sort_title(film.title)
    year = int(film.date[:4]) if film.date[:4].isdigit() else None
    return any(title == named and (year is None or other is None or abs(year - other) <= 1) for title, other in titles)


def _is_after(date: str, today: str) -> bool:
    """Whether a date lies after today; one without a day only when its whole month or year does."""
    return bool(date) and date > today[: len(date)]
