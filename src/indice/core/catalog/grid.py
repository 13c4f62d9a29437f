"""A series as a grid: seasons by episodes, months by days for what is dated, tens for what is numbered through.

A pure function of what there is and of what a source says there should be.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

__all__ = ["Cell", "Placed", "Row", "rows_of"]

State = Literal["here", "missing", "twice"]
IN_A_ROW = 10
"""So many running numbers stand in a row."""


@dataclass(frozen=True, slots=True)
class Placed:
    """An episode that there is an entry of."""

    entry_id: int
    title: str
    season: int | None
    number: int | None
    moment: str | None
    """The day of a dated one, ISO 8601."""
    files: int
    """How many files hold it, as itself or as a version."""
    is_seen: bool = False


@dataclass(frozen=True, slots=True)
class Cell:
    """A place in the grid."""

    number: int
    """Of the episode; in a month, the day."""
    state: State
    entry_id: int | None
    title: str
    is_seen: bool = False


@dataclass(frozen=True, slots=True)
class Row:
    """A season, a month of a dated season, or some running numbers."""

    season: int | None
    cells: tuple[Cell, ...]
    month: str = ""
    """Year and month of a dated one (`2018-04`)."""
    first: int = 0
    """The first of the running numbers in this row; 0 in others."""


def rows_of(
    episodes: Iterable[Placed],
    expected: Mapping[tuple[int, int], str],
    *,
    seasons: Collection[int | None] = (),
    covered: Collection[int] = (),
) -> list[Row]:
    """The rows of a series, seasons in their order, specials and what is numbered through last.

    `expected` is what a source knows, by season and number; `covered` are numbers that files of several episodes hold.
    """
    by_season: dict[int | None, list[Placed]] = {season: [] for season in seasons}
    for episode in episodes:
        by_season.setdefault(episode.season, []).append(episode)
    if any(season is not None for season in by_season):
        for season, _ in expected:
            by_season.setdefault(season, [])
    ordered = sorted(by_season, key=lambda season: (season is None, season == 0, season or 0))
    return [row for season in ordered for row in _rows(season, by_season[season], expected, covered)]


def _rows(
    season: int | None, here: Sequence[Placed], expected: Mapping[tuple[int, int], str], covered: Collection[int]
) -> Iterator[Row]:
    dated = [one for one in here if one.number is None and one.moment]
    others = [one for one in here if one not in dated]
    cells = _numbered(season, others, expected, covered)
    if season is None and cells:
        yield from _tens(cells)
    elif cells or not dated:
        yield Row(season, tuple(cells))
    yield from _months(season, dated)


def _numbered(
    season: int | None, here: Sequence[Placed], expected: Mapping[tuple[int, int], str], covered: Collection[int]
) -> list[Cell]:
    """Cells in the order of numbers, with the gaps between them; what has no number stands by its place."""
    cells: dict[int, Cell] = {}
    for place, one in enumerate(here, 1):
        number = place if one.number is None else one.number
        cells[number] = _cell(number, one, is_here=bool(one.files) or one.number in covered)
    numbers = [one.number for one in here if one.number is not None]
    wanted = {number for known, number in expected if season and known == season}
    if numbers:
        wanted |= set(range(min(numbers) if season is None else 1, max(numbers) + 1)) if season != 0 else set()
        for number in wanted:
            cells.setdefault(number, Cell(number, "missing", None, expected.get((season or 0, number), "")))
    return [cells[number] for number in sorted(cells)]


def _cell(number: int, one: Placed, *, is_here: bool) -> Cell:
    state: State = "missing" if not is_here else "twice" if one.files > 1 else "here"
    return Cell(number, state, one.entry_id, one.title, one.is_seen)


def _tens(cells: Sequence[Cell]) -> Iterator[Row]:
    rows: dict[int, list[Cell]] = defaultdict(list)
    for cell in cells:
        rows[max(cell.number - 1, 0) // IN_A_ROW * IN_A_ROW + 1].append(cell)
    for first in sorted(rows):
        yield Row(None, tuple(rows[first]), first=first)


def _months(season: int | None, dated: Sequence[Placed]) -> Iterator[Row]:
    months: dict[str, list[Cell]] = defaultdict(list)
    for one in sorted(dated, key=lambda one: (one.moment or "", one.entry_id)):
        day = str(one.moment)
        months[day[:7]].append(_cell(int(day[8:10] or 1), one, is_here=bool(one.files)))
    for month in sorted(months):
        yield Row(season, tuple(months[month]), month=month)
