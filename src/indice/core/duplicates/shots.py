"""Finds pictures of one shot among very many.

Three looks, each at what the one before has left. The vectors of all are multiplied with each other: cheap, and it
keeps a few in a hundred. Then all places at which the other may lie in a picture are laid under those few at once, on
a coarse grid. What fits there is laid on finely. A picture that says when it was taken is only compared with those of
the same moment and with those that do not say: of a household's photos that leaves a small part of all pairs.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .pictures import COARSE, LEAST_LIKE, LIKELY, Picture, Place, is_laid, places, turned_vectors

__all__ = ["Looks", "pairs_of_shots"]

AT_ONCE = 256
"""So many pictures are looked at in one go, at most."""
PRODUCTS_AT_ONCE = 8_000_000
"""So many are compared with so many others that there are no more products than these in memory."""
MOST_PLACED = 96
"""So many that look likest are laid onto a picture."""


@dataclass(frozen=True, slots=True)
class Looks:
    """What is kept in memory of many pictures, in one order: some 550 bytes each."""

    vectors: NDArray[np.float32]
    """n × 35, each of length 1."""
    squares: NDArray[np.int8]
    """n × :data:`COARSE` × :data:`COARSE`."""
    moments: Sequence[str | None]
    """When they were taken, as they say themselves."""

    @classmethod
    def of(cls, pictures: Iterator[tuple[Picture, str | None]], count: int) -> Looks:
        """Of pictures that come one after another, `count` of them at most."""
        vectors = np.zeros((count, 35), np.float32)
        squares = np.zeros((count, COARSE, COARSE), np.int8)
        moments: list[str | None] = []
        for picture, moment in pictures:
            vectors[len(moments)], squares[len(moments)] = picture.vector, picture.square()
            moments.append(moment)
        return cls(vectors[: len(moments)], squares[: len(moments)], moments)


Fetch = Callable[[Sequence[int]], Sequence[Picture]]
"""Gives the pictures with these numbers."""


def pairs_of_shots(
    looks: Looks,
    fetch: Fetch,
    *,
    may_be: Callable[[int, int], bool] = lambda one, other: True,
    looked: Callable[[int], None] = lambda count: None,
) -> Iterator[tuple[int, int]]:
    """Pairs of numbers (the lesser first) of pictures that are the same shot.

    `may_be` says of what seems alike whether it is worth a closer look. `looked` is told how many more are done.
    """
    found: set[tuple[int, int]] = set()
    moment_of = np.array([hash(moment) if moment else 0 for moment in looks.moments], np.int64)
    for block in _blocks(looks.moments):
        whole = fetch(block.rows)
        for number, (one, near) in enumerate(_near(looks, block, moment_of)):
            if not any(map(len, near)):
                continue
            squares = np.concatenate([np.rot90(looks.squares[of], turn, (1, 2)) for turn, of in enumerate(near)])
            laid = zip(np.concatenate(near).tolist(), _turns_of(near), places(whole[number], squares), strict=True)
            likely = [(other, turn, place) for other, turn, place in laid if place.score >= LIKELY]
            yield from _sure(whole[number], one, likely, fetch, may_be, found)
        looked(len(block.rows) if block.is_last else 0)


def _sure(
    whole: Picture,
    one: int,
    likely: Sequence[tuple[int, int, Place]],
    fetch: Fetch,
    may_be: Callable[[int, int], bool],
    found: set[tuple[int, int]],
) -> Iterator[tuple[int, int]]:
    wanted = [
        (other, turn, place)
        for other, turn, place in likely
        if (min(one, other), max(one, other)) not in found and may_be(one, other)
    ]
    if not wanted:
        return
    for cut, (other, turn, place) in zip(fetch([other for other, _, _ in wanted]), wanted, strict=True):
        pair = (min(one, other), max(one, other))
        if pair not in found and is_laid(whole, cut, turn, place):
            found.add(pair)
            yield pair


@dataclass(frozen=True, slots=True)
class _Block:
    """Some pictures, and what they are compared with."""

    rows: Sequence[int]
    columns: NDArray[np.intp]
    of_one_moment: bool = False
    """Only with those of the same moment."""
    is_last: bool = True
    """Nothing more comes with these rows."""


def _blocks(moments: Sequence[str | None]) -> Iterator[_Block]:
    """What is compared with what: those that say no moment with all, the others with these and with their like."""
    unsaid = np.array([number for number, moment in enumerate(moments) if not moment], np.intp)
    everything = np.arange(len(moments))
    several = max(1, min(AT_ONCE, PRODUCTS_AT_ONCE // max(len(moments), 1)))
    for start in range(0, len(unsaid), several):
        yield _Block(unsaid[start : start + several].tolist(), everything)
    at: dict[str, list[int]] = defaultdict(list)
    for number, moment in enumerate(moments):
        if moment:
            at[moment].append(number)
    held: list[int] = []
    for of_one in at.values():
        if len(of_one) > 1:
            held.extend(of_one)
        if len(held) >= AT_ONCE:
            yield from _of_one_moment(held)
            held = []
    yield from _of_one_moment(held)
    said = [number for number, moment in enumerate(moments) if moment]
    for start in range(0, len(said), AT_ONCE):
        yield _Block(said[start : start + AT_ONCE], unsaid)


def _of_one_moment(held: Sequence[int]) -> Iterator[_Block]:
    for start in range(0, len(held), AT_ONCE):
        yield _Block(held[start : start + AT_ONCE], np.array(held, np.intp), of_one_moment=True, is_last=False)


def _turns_of(near: Sequence[NDArray[np.intp]]) -> list[int]:
    return [turn for turn, of in enumerate(near) for _ in range(len(of))]


def _near(looks: Looks, block: _Block, moment_of: NDArray[np.int64]) -> Iterator[tuple[int, list[NDArray[np.intp]]]]:
    """Of each picture of a block: those that look alike as they are, and after one, two and three quarter turns."""
    columns, rows = block.columns, np.array(block.rows, np.intp)
    others = looks.vectors if len(columns) == len(looks.vectors) else looks.vectors[columns]
    back = turned_vectors(looks.vectors[rows])
    alike: list[list[NDArray[Any]]] = [[] for _ in range(3)]
    for turn in range(4):
        # Turned by n quarters the other looks as the one turned back by n does to it as it is.
        products = back[-turn % 4] @ others.T
        at, found = np.nonzero(products >= LEAST_LIKE)
        for kept, part in zip(alike, (at, columns[found], products[at, found]), strict=True):
            kept.append(part)
    turns = np.repeat(np.arange(4), [len(part) for part in alike[0]])
    at, numbers, values = (np.concatenate(parts) for parts in alike)
    kept = numbers != rows[at]
    if block.of_one_moment:
        kept &= moment_of[numbers] == moment_of[rows[at]]
    order = np.nonzero(kept)[0]
    order = order[np.argsort(at[order], kind="stable")]
    ends = np.searchsorted(at[order], np.arange(len(rows) + 1))
    for place, one in enumerate(block.rows):
        mine = order[ends[place] : ends[place + 1]]
        if mine.size > MOST_PLACED:
            mine = mine[np.argpartition(-values[mine], MOST_PLACED)[:MOST_PLACED]]
        yield one, [numbers[mine[turns[mine] == turn]] for turn in range(4)]
