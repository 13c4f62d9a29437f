"""Pairs that may be alike among many, and groups of pairs that are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

__all__ = ["Pairs", "alike_pairs", "grouped"]

Pairs = Iterator[tuple[int, int]]
AT_ONCE = 512
MOST_ALIKE = 24
"""So many that look likest are looked at of each thing."""
_Thing = TypeVar("_Thing", bound=Hashable)


def alike_pairs(
    vectors: NDArray[np.floating[Any]],
    least: float,
    *,
    forms: Sequence[NDArray[np.floating[Any]]] | None = None,
    may_be: Callable[[int, NDArray[np.intp]], NDArray[np.bool_]] | None = None,
) -> Pairs:
    """Pairs of rows (the lesser number first) whose vectors of length 1 have a scalar product of `least` or more.

    `forms` are the same things in other forms (turned), compared with the plain vectors as well. `may_be` says of one row
    and some others which are worth looking at. Memory does not grow with the square of the number.
    """
    seen: set[tuple[int, int]] = set()
    for form in [vectors, *(forms or ())]:
        for start in range(0, len(vectors), AT_ONCE):
            products = form[start : start + AT_ONCE] @ vectors.T
            for offset, row in enumerate(products):
                one = start + offset
                near = np.nonzero(row >= least)[0]
                near = near[near != one]
                if may_be is not None and near.size:
                    near = near[may_be(one, near)]
                if near.size > MOST_ALIKE:
                    near = near[np.argpartition(-row[near], MOST_ALIKE)[:MOST_ALIKE]]
                for other in near.tolist():
                    pair = (min(one, other), max(one, other))
                    if pair not in seen:
                        seen.add(pair)
                        yield pair


def grouped(pairs: Iterable[tuple[_Thing, _Thing]]) -> list[list[_Thing]]:
    """Things that pairs join, directly or by others, in the order in which they are named."""
    above: dict[_Thing, _Thing] = {}

    def top(thing: _Thing) -> _Thing:
        above.setdefault(thing, thing)
        while above[thing] != thing:
            above[thing] = above[above[thing]]
            thing = above[thing]
        return thing

    for one, other in pairs:
        above[top(other)] = top(one)
    groups: dict[_Thing, list[_Thing]] = defaultdict(list)
    for thing in list(above):
        groups[top(thing)].append(thing)
    return list(groups.values())
