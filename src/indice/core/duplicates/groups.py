"""Pairs that may be alike among many, and groups of pairs that are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Iterable, Iterator
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

__all__ = ["Pairs", "alike_pairs", "grouped"]

Pairs = Iterator[tuple[int, int]]
Floats = NDArray[np.floating[Any]]
AT_ONCE = 512
MOST_ALIKE = 24
"""So many that look likest are looked at of each thing."""
_Thing = TypeVar("_Thing", bound=Hashable)


def alike_pairs(vectors: Floats, lengths: Floats, *, least: float, within: float) -> Pairs:
    """Pairs of rows (the lesser number first) whose lengths are `within` apart at most, and whose
    vectors of length 1 have a scalar product of `least` or more; of each row at most :data:`MOST_ALIKE`
    with longer ones, those that look likest.

    What is compared grows with how many are of about one length, not with the square of all.
    """
    order = np.argsort(lengths, kind="stable")
    long, sorted_vectors = lengths[order], vectors[order]
    ends = np.searchsorted(long, long + within, side="right")
    for start in range(0, len(order), AT_ONCE):
        stop = min(start + AT_ONCE, len(order))
        products = sorted_vectors[start:stop] @ sorted_vectors[start : ends[stop - 1]].T
        for offset, row in enumerate(products):
            one = start + offset
            longer = row[offset + 1 : ends[one] - start]
            near = np.nonzero(longer >= least)[0]
            if near.size > MOST_ALIKE:
                near = near[np.argpartition(-longer[near], MOST_ALIKE)[:MOST_ALIKE]]
            for other in (near + one + 1).tolist():
                first, second = int(order[one]), int(order[other])
                yield min(first, second), max(first, second)


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
