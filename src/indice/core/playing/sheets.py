"""How the pictures under a film's time line are laid out on one sheet. Pure."""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = ["Sheet", "plan_sheet"]

COLUMNS = 10
MOST_TILES = 150
LEAST_STEP_SECONDS = 5.0
TILE_WIDTH = 176
MOST_TILE_HEIGHT = 176


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of pictures, row by row: the n-th shows what is seen n steps after the beginning."""

    step_seconds: float
    count: int
    columns: int
    width: int
    """Of one picture, in pixels."""
    height: int


def plan_sheet(seconds: float, width: int, height: int) -> Sheet | None:
    """The sheet of a film of a length and of the shape of its picture; None where there is nothing to lay out.

    A short film has a picture every few seconds, a long one not more than a bounded number of them.
    """
    if not 0 < seconds < math.inf or width <= 0 or height <= 0:
        return None
    step = max(LEAST_STEP_SECONDS, math.ceil(seconds / MOST_TILES))
    count = max(1, min(math.ceil(seconds / step), MOST_TILES))
    tile_height = max(2, min(round(TILE_WIDTH * height / width), MOST_TILE_HEIGHT))
    tile_width = TILE_WIDTH if tile_height < MOST_TILE_HEIGHT else max(2, round(MOST_TILE_HEIGHT * width / height))
    return Sheet(float(step), count, min(COLUMNS, count), min(tile_width, TILE_WIDTH), tile_height)
