"""Places as numbers that sort: laws of the grid, and what lies where."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog.spots import (
    LEVELS,
    WORLD,
    Box,
    box_of,
    cell_of,
    cells_over,
    level_for,
    middle_of,
    spot_of,
    spots_of,
)

LATITUDES = st.floats(-90, 90)
LONGITUDES = st.floats(-180, 180)
CELLS = st.text("0123", min_size=1, max_size=LEVELS)


@pytest.mark.parametrize(
    ("latitude", "longitude", "cell"),
    [
        (60, -120, "0"),
        (60, 120, "1"),
        (-60, -120, "2"),
        (-60, 120, "3"),
        (40, -170, "02"),
        (80, 100, "11"),
        (90, -180, "0" * LEVELS),
        (-90, 180, "3" * LEVELS),
    ],
)
def test_a_place_lies_in_its_cell(latitude: float, longitude: float, cell: str) -> None:
    spot = spot_of(latitude, longitude)
    assert spot is not None and cell_of(spot, len(cell)) == cell


@pytest.mark.parametrize(
    ("latitude", "longitude"),
    [(0, 0), (90.1, 3), (-91, 3), (5, 180.5), (math.nan, 3), (3, math.nan), (math.inf, 0)],
)
def test_what_is_no_place_has_no_spot(latitude: float, longitude: float) -> None:
    assert spot_of(latitude, longitude) is None


@pytest.mark.parametrize("cell", ["", "4", "01x", "0" * 25, "-1", "٣"])
def test_what_is_no_cell_is_told(cell: str) -> None:
    with pytest.raises(ValueError, match="no cell"):
        spots_of(cell)


@given(LATITUDES, LONGITUDES)
def test_the_middle_of_a_spot_is_near(latitude: float, longitude: float) -> None:
    spot = spot_of(latitude, longitude)
    if spot is not None:
        north, east = middle_of(spot)
        assert abs(north - latitude) < 1.1e-5 and abs(east - longitude) < 2.2e-5
        assert spot_of(north, east) == spot


@given(LATITUDES, LONGITUDES, st.integers(1, LEVELS))
def test_a_spot_lies_between_those_of_its_cell_and_in_its_box(latitude: float, longitude: float, level: int) -> None:
    spot = spot_of(latitude, longitude)
    if spot is not None:
        cell = cell_of(spot, level)
        first, last = spots_of(cell)
        assert first <= spot <= last
        box = box_of(cell)
        assert box.west - 1e-9 <= longitude <= box.east + 1e-9 and box.south - 1e-9 <= latitude <= box.north + 1e-9
        assert spots_of(cell[:-1] or cell)[0] <= first


@given(CELLS)
def test_four_parts_make_a_cell(cell: str) -> None:
    first, last = spots_of(cell)
    if len(cell) < LEVELS:
        parts = [spots_of(f"{cell}{part}") for part in range(4)]
        assert parts[0][0] == first and parts[-1][1] == last
        assert all(before[1] + 1 == after[0] for before, after in itertools.pairwise(parts))
    else:
        assert first == last


@given(st.tuples(LONGITUDES, LONGITUDES), st.tuples(LATITUDES, LATITUDES), st.integers(4, 40), LATITUDES, LONGITUDES)
def test_cells_cover_a_box(
    sides: tuple[float, float], ends: tuple[float, float], most: int, latitude: float, longitude: float
) -> None:
    box = Box(min(sides), min(ends), max(sides), max(ends))
    cells = cells_over(box, most=most)
    assert 1 <= len(cells) <= most and len({len(cell) for cell in cells}) == 1 and len(set(cells)) == len(cells)
    spot = spot_of(latitude, longitude)
    if spot is not None and box.west <= longitude <= box.east and box.south <= latitude <= box.north:
        assert any(spots_of(cell)[0] <= spot <= spots_of(cell)[1] for cell in cells)


@pytest.mark.parametrize(
    ("box", "across", "level"),
    [(WORLD, 8, 3), (WORLD, 15, 3), (Box(0, 0, 90, 45), 8, 5), (Box(8, 50, 8, 50), 8, LEVELS)],
)
def test_a_level_has_so_many_cells_side_by_side(box: Box, across: int, level: int) -> None:
    assert level_for(box, across=across) == level
