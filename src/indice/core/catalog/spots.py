"""Places on the earth as numbers that sort: a plain grid of cells, each of which holds four smaller ones.

The whole earth, 360° by 180°, is the one cell of level 0. A cell is cut into a western and an eastern half and a
northern and a southern one; its parts are 0 (north-west), 1 (north-east), 2 (south-west) and 3 (south-east), and the
digits from the whole earth downwards are its name. A *spot* is the number that the digits of the smallest cell make
(Morton, 1966), so that all spots of a cell lie between two numbers, whatever its size.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

__all__ = ["LEVELS", "WORLD", "Box", "box_of", "cell_of", "cells_over", "level_for", "middle_of", "spot_of", "spots_of"]

LEVELS = 24
"""The smallest cells are about 2.4 m wide at the equator; a spot has 48 bits."""
_SIDE = 1 << LEVELS
_CELL = re.compile(r"[0-3]{1,24}")


@dataclass(frozen=True, slots=True)
class Box:
    """What lies between two meridians and two parallels, in degrees."""

    west: float
    south: float
    east: float
    north: float


WORLD = Box(-180.0, -90.0, 180.0, 90.0)


def spot_of(latitude: float, longitude: float) -> int | None:
    """The spot of a place in degrees; None where there is no such place.

    Zero and zero lies in the sea: devices write it that do not know where they are.
    """
    if not (abs(latitude) <= 90 and abs(longitude) <= 180) or (latitude == 0 and longitude == 0):
        return None
    return _woven(_column(longitude), _row(latitude), LEVELS)


def middle_of(spot: int) -> tuple[float, float]:
    """Latitude and longitude of the middle of a smallest cell, in degrees."""
    box = _box(spot, LEVELS)
    return (box.south + box.north) / 2, (box.west + box.east) / 2


def cell_of(spot: int, level: int) -> str:
    """The name of the cell of a level (1 to :data:`LEVELS`) in which a spot lies."""
    return _name(spot >> 2 * (LEVELS - level), level)


def spots_of(cell: str) -> tuple[int, int]:
    """The first and the last spot of a cell; raises :class:`ValueError` where it is no name of one."""
    if not _CELL.fullmatch(cell):
        raise ValueError(f"{cell!r} is no cell")
    shift = 2 * (LEVELS - len(cell))
    first = int(cell, 4) << shift
    return first, first + (1 << shift) - 1


def box_of(cell: str) -> Box:
    """Where a cell lies; raises :class:`ValueError` where it is no name of one."""
    return _box(spots_of(cell)[0] >> 2 * (LEVELS - len(cell)), len(cell))


def level_for(box: Box, *, across: int) -> int:
    """The finest level of which no more than so many cells lie side by side in a box."""
    wide = max(box.east - box.west, 360 / _SIDE)
    return max(1, min(LEVELS, math.floor(math.log2(360 * across / wide))))


def cells_over(box: Box, *, most: int = 16) -> list[str]:
    """Cells that cover a box, of the finest level of which so many are enough."""
    columns, rows = (_column(box.west), _column(box.east)), (_row(box.north), _row(box.south))
    for level in range(LEVELS, 0, -1):
        shift = LEVELS - level
        across = range(columns[0] >> shift, (columns[1] >> shift) + 1)
        down = range(rows[0] >> shift, (rows[1] >> shift) + 1)
        if len(across) * len(down) <= most or level == 1:
            return [_name(_woven(column, row, level), level) for row in down for column in across]
    return []


def _column(longitude: float) -> int:
    return min(_SIDE - 1, max(0, int((longitude + 180) / 360 * _SIDE)))


def _row(latitude: float) -> int:
    return min(_SIDE - 1, max(0, int((90 - latitude) / 180 * _SIDE)))


def _woven(column: int, row: int, bits: int) -> int:
    return sum(((row >> bit & 1) << 1 | column >> bit & 1) << 2 * bit for bit in range(bits))


def _name(number: int, level: int) -> str:
    return "".join(str(number >> 2 * place & 3) for place in range(level - 1, -1, -1))


def _box(number: int, level: int) -> Box:
    column = sum((number >> 2 * bit & 1) << bit for bit in range(level))
    row = sum((number >> 2 * bit + 1 & 1) << bit for bit in range(level))
    wide, high = 360 / (1 << level), 180 / (1 << level)
    return Box(column * wide - 180, 90 - (row + 1) * high, (column + 1) * wide - 180, 90 - row * high)
