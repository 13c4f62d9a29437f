"""Towns by their places, from a list that lies on this machine. To be called in a child of the workshop."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, cast

import reverse_geocoder

__all__ = ["IN_COUNTRY_KM", "IN_TOWN_KM", "towns_at"]

IN_TOWN_KM = 20.0
"""Farther from a town than this one is not in it."""
IN_COUNTRY_KM = 150.0
"""Farther from any town than this one is at sea, as far as the list can tell."""
_EARTH_KM = 6371.0


def towns_at(places: Sequence[tuple[float, float]]) -> list[dict[str, str]]:
    """For each latitude and longitude in degrees: `town`, and `country` by its code
    of two letters (ISO 3166-1), if known."""
    search: Any = cast(Any, reverse_geocoder).search
    nearest = search([tuple(place) for place in places], mode=1, verbose=False) if places else []
    return [_told(place, one) for place, one in zip(places, nearest, strict=True)]


def _told(place: tuple[float, float], nearest: dict[str, str]) -> dict[str, str]:
    far = _distance_km(place, (float(nearest["lat"]), float(nearest["lon"])))
    if far > IN_COUNTRY_KM:
        return {}
    country = {"country": nearest["cc"]}
    return {"town": nearest["name"], **country} if far <= IN_TOWN_KM else country


def _distance_km(one: tuple[float, float], other: tuple[float, float]) -> float:
    """Along the surface of a ball (haversine formula)."""
    north, south = math.radians(one[0]), math.radians(other[0])
    across = math.sin(math.radians(other[1] - one[1]) / 2) ** 2
    part = math.sin((south - north) / 2) ** 2 + math.cos(north) * math.cos(south) * across
    return 2 * _EARTH_KM * math.asin(math.sqrt(min(1.0, part)))
