"""Where specials belong in the story of a series: by the days on which they and the episodes around them were aired."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping

from .lacking import Due

__all__ = ["Place", "specials_behind"]

Place = tuple[int, int]
"""Season and number of an episode; number 0 stands before the first of its season."""
_WHOLE_DAY = len("2019-07-20")


def specials_behind(due: Mapping[Place, Due]) -> dict[int, Place]:
    """Number of a special → the episode behind which it belongs; one that was aired on the same day stands behind it.

    `due` is what a source knows of the series, specials as season 0. A special of which no whole day is known, or whose
    series has none, is not placed: it stays with the others of season 0.
    """
    aired = sorted((one.date, place) for place, one in due.items() if place[0] > 0 and len(one.date) == _WHOLE_DAY)
    if not aired:
        return {}
    days = [day for day, _ in aired]
    found: dict[int, Place] = {}
    for (season, number), one in due.items():
        if season or len(one.date) != _WHOLE_DAY:
            continue
        later = bisect_right(days, one.date)
        found[number] = aired[later - 1][1] if later else (aired[0][1][0], 0)
    return found
