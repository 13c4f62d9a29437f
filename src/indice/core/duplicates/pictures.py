"""Tells whether two pictures are the same shot: in another size, format, crop, turn, brightness, or with a border.

Of each picture a *sketch* is kept: its grey values, small, without a border of one colour. A short *vector*
of its lowest frequencies (discrete cosine transform, N. Ahmed et al., 1974) finds what may be alike among
many; then one sketch is laid onto the other, turned and cut in all ways that are allowed for, and what is
left between them decides. Pictures of a burst are alike but for what has moved: there a part of the picture
does not fit, however well the rest does.
"""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import dctn

__all__ = [
    "COARSE",
    "LEAST_LIKE",
    "LIKELY",
    "SKETCH_PIXELS",
    "Picture",
    "Place",
    "is_laid",
    "picture_of",
    "places",
    "same_shot",
    "turned_vectors",
]

Grey = NDArray[np.floating[Any]]
SKETCH_PIXELS = 96
"""The longer side of a sketch."""
FREQUENCIES = 6
"""So many of the lowest frequencies each way make the vector; the mean is none of them."""
LARGEST_CUT = 0.12
"""So much may be cut off at each side."""
COARSE, FINE = 20, 64
"""Points a side of the grids on which two sketches are compared."""
REFINED = ((32, 0.012, 2), (FINE, 0.005, 1))
"""How a place is found more closely: points of the grid, step in parts of a side, and how many of them each way."""
FLAT = 3.0
"""Grey levels by which a border differs in itself at most, in the mean."""
EDGE = 12.0
"""Grey levels by which what follows a border differs from it."""
WIDEST_BORDER = 0.25
"""So much of a side may be border at each end."""
LEAST_LIKE = 0.5
"""Scalar product of two vectors below which nothing more is tried."""
LIKELY = 0.88
"""Correlation on the coarse grid below which nothing more is tried."""
LEVELS = 32.0
"""Steps a standard deviation in which a coarse square is kept."""
TONES = (0.004, 0.015, 0.04, *np.arange(0.1, 0.95, 0.1).tolist(), 0.96, 0.985, 0.996)
"""Shares of the picture, from dark to light, between which the curve between the
greys of two pictures has its points."""
UNEXPLAINED = 0.05
"""Share of a picture's variance that the other does not explain, at most."""
MOVED = 0.6
"""What the worst part of the picture may be off by, in standard deviations of the whole."""
PARTS = 16
"""The fine grid is looked at in so many parts each way."""


@dataclass(frozen=True, slots=True)
class Picture:
    """What is kept of a picture."""

    vector: Grey
    """Of length 1; the lowest frequencies of its grey values."""
    grey: NDArray[np.uint8]
    """The sketch: rows of grey values."""

    def packed(self) -> bytes:
        """As it is kept: the number of columns as a byte, then the greys, all compressed."""
        return zlib.compress(bytes([self.grey.shape[1]]) + self.grey.tobytes(), 6)

    @classmethod
    def unpacked(cls, data: bytes) -> Picture:
        """From what was kept."""
        raw = zlib.decompress(data)
        grey = np.frombuffer(raw[1:], np.uint8).reshape(-1, raw[0])
        return cls(_vector(grey.astype(np.float32)), grey)

    def square(self) -> NDArray[np.int8]:
        """The whole picture on the coarse grid, of mean 0, in :data:`LEVELS` a standard deviation."""
        plain = _normal(_resampled(self.grey, COARSE, COARSE))
        return np.clip(np.rint(plain * LEVELS), -127, 127).astype(np.int8)


Span = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Place:
    """Where in a picture another one seems to lie."""

    score: float
    """Correlation there, on the coarse grid."""
    down: Span
    across: Span


def picture_of(grey: NDArray[np.uint8]) -> Picture:
    """The sketch of a picture from its grey values, of some hundred points a side."""
    bare = _without_border(grey)
    height, width = bare.shape
    scale = SKETCH_PIXELS / max(height, width)
    rows, columns = max(8, round(height * scale)), max(8, round(width * scale))
    small = _resampled(bare.astype(np.float32), rows, columns)
    return Picture(_vector(small), np.clip(np.rint(small), 0, 255).astype(np.uint8))


def same_shot(one: Picture, other: Picture) -> bool:
    """Whether two pictures are the same shot."""
    for whole, cut in ((one, other), (other, one)):
        square = cut.square()
        for turns, vector in enumerate(turned_vectors(cut.vector[None])):
            if float(whole.vector @ vector[0]) < LEAST_LIKE:
                continue
            (place,) = places(whole, np.rot90(square, turns)[None])
            if is_laid(whole, cut, turns, place):
                return True
    return False


def turned_vectors(vectors: Grey) -> tuple[Grey, Grey, Grey, Grey]:
    """Vectors (n × 35) of the same pictures after no, one, two and three quarter turns.

    A turn mirrors the picture at its diagonal and then from top to bottom: its frequencies change places,
    and every second one down changes its sign.
    """
    signs = np.where(np.arange(FREQUENCIES) % 2, -1.0, 1.0).astype(np.float32)[:, None]
    here = np.concatenate([np.zeros((len(vectors), 1), np.float32), vectors], axis=1)
    here = here.reshape(-1, FREQUENCIES, FREQUENCIES)
    found = [here]
    for _ in range(3):
        here = here.transpose(0, 2, 1) * signs
        found.append(here)
    first, second, third, fourth = (one.reshape(len(vectors), -1)[:, 1:] for one in found)
    return first, second, third, fourth


def places(whole: Picture, squares: NDArray[np.int8]) -> list[Place]:
    """Where in a picture each of some others (n × :data:`COARSE` × :data:`COARSE`,
    as :meth:`Picture.square`) fits best."""
    targets = squares.reshape(len(squares), -1).astype(np.float32) / LEVELS
    scores = _scores(whole.grey.astype(np.float32), COARSE, _ALL, _ALL, targets)
    best = scores.argmax(axis=0)
    found: list[Place] = []
    for number, place in enumerate(best.tolist()):
        row, column = divmod(place, len(_ALL))
        found.append(Place(float(scores[place, number]), _ALL[row], _ALL[column]))
    return found


def _vector(grey: Grey) -> Grey:
    square = _resampled(grey, 32, 32)
    square = (square - square.mean()) / (square.std() + 1e-3)
    waves = np.asarray(dctn(square, norm="ortho"))[:FREQUENCIES, :FREQUENCIES].ravel()[1:]
    length = float(np.linalg.norm(waves))
    return (waves / length if length > 1e-6 else waves).astype(np.float32)


def _without_border(grey: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Without stripes of one grey at the edges that end at once, as a border does and a sky does not."""
    here = grey
    for _ in range(3):
        top, bottom = _stripe(here), _stripe(here[::-1])
        here = here[top : here.shape[0] - bottom]
        left, right = _stripe(here.T), _stripe(here.T[::-1])
        here = here[:, left : here.shape[1] - right]
        if not top + bottom + left + right:
            break
    return here


def _stripe(grey: NDArray[np.uint8]) -> int:
    """How many rows at the top are of one grey, where what follows is clearly another; else none."""
    most = int(len(grey) * WIDEST_BORDER)
    rows = grey[: most + 3].astype(np.float32)
    level = float(rows[0].mean())
    flat = np.abs(rows - level).mean(axis=1) <= FLAT
    count = int(np.argmin(flat)) if not flat.all() else len(flat)
    if count == 0 or count > most:
        return 0
    # The first row after a border may be half of it.
    ends = np.abs(rows[count + 1] - level).mean() >= EDGE
    return count + 1 if ends and np.abs(rows[count] - rows[count + 1]).mean() > FLAT else count if ends else 0


@lru_cache(maxsize=4096)
def _sampling(length: int, points: int, start: float, end: float) -> Grey:
    """Matrix (points × length) that averages a line from `start` to `end`, parts of its length, into so many points."""
    edges = np.linspace(start * length, end * length, points + 1)
    places = np.arange(length)
    low, high = edges[:-1, None], edges[1:, None]
    covered = np.clip(np.minimum(high, places + 1) - np.maximum(low, places), 0, None)
    weights = covered / covered.sum(axis=1, keepdims=True)
    return weights.astype(np.float32)


def _resampled(grey: NDArray[np.generic], rows: int, columns: int) -> Grey:
    plain = grey.astype(np.float32)
    height, width = plain.shape
    return _sampling(height, rows, 0.0, 1.0) @ plain @ _sampling(width, columns, 0.0, 1.0).T


def _windows(grey: Grey, points: int, across: list[Span], down: list[Span]) -> Grey:
    """Every window of a picture: down × across × points × points."""
    height, width = grey.shape
    rows = np.concatenate([_sampling(height, points, *span) for span in down])
    columns = np.concatenate([_sampling(width, points, *span) for span in across])
    return (rows @ grey @ columns.T).reshape(len(down), points, len(across), points).transpose(0, 2, 1, 3)


def _scores(grey: Grey, points: int, across: list[Span], down: list[Span], targets: Grey) -> Grey:
    """Correlation of each window (down by across, in one row) with each target
    (n × points², of mean 0 and deviation 1).

    The mean of a window falls out, since the targets have none.
    """
    size = points * points
    windows = _windows(grey - grey.mean(), points, across, down).reshape(-1, size)
    deviation = np.sqrt(
        np.maximum(
            np.einsum("ij,ij->i", windows, windows) / size - (windows @ np.full(size, 1 / size, np.float32)) ** 2, 0
        )
    )
    return (windows @ targets.T) / (size * (deviation[:, None] + 1e-3))


def _normal(grey: Grey) -> Grey:
    mean = grey.mean(axis=(-2, -1), keepdims=True)
    return (grey - mean) / (grey.std(axis=(-2, -1), keepdims=True) + 1e-3)


def _spans(start: float, end: float, reach: float, step: float) -> list[Span]:
    """Spans that begin and end near these, within the picture."""
    moves = np.arange(-reach, reach + step / 2, step)
    starts = sorted({round(float(np.clip(start + move, 0.0, LARGEST_CUT)), 4) for move in moves})
    ends = sorted({round(float(np.clip(end + move, 1.0 - LARGEST_CUT, 1.0)), 4) for move in moves})
    return [(one, other) for one in starts for other in ends]


_ALL = _spans(0.0, 1.0, LARGEST_CUT, LARGEST_CUT / 4)


def is_laid(whole: Picture, cut: Picture, turns: int, place: Place) -> bool:
    """Whether the second picture, turned, is the first or a part of it, as it lies at that place or very near."""
    if place.score < LIKELY:
        return False
    plain = whole.grey.astype(np.float32)
    turned = np.ascontiguousarray(np.rot90(cut.grey, turns))
    down, across = place.down, place.across
    for points, step, reach in REFINED:
        target = _normal(_resampled(turned, points, points))
        rows, columns = _spans(*down, step * reach, step), _spans(*across, step * reach, step)
        scores = _scores(plain, points, columns, rows, target.reshape(1, -1))[:, 0]
        best = int(scores.argmax())
        down, across = rows[best // len(columns)], columns[best % len(columns)]
        if scores[best] < LIKELY:
            return False
    fine = _normal(_resampled(turned, FINE, FINE))
    laid = _normal(_windows(plain, FINE, [across], [down])[0, 0])
    return any(_is_near(one, other) for one, other in ((laid, fine), (fine, laid)))


def _is_near(one: Grey, other: Grey) -> bool:
    """Whether the second picture is the first in another tone: whatever curve turns its greys into the other's, also
    one that loses the lightest and the darkest."""
    off = other - _toned(one, other)
    left = float((off**2).mean()) / float(other.var() + 1e-6)
    side = FINE // PARTS
    parts = np.abs(off).reshape(PARTS, side, PARTS, side).mean(axis=(1, 3))
    return left <= UNEXPLAINED and float(parts.max()) <= MOVED


def _toned(one: Grey, other: Grey) -> Grey:
    """The first picture with the second's greys: the mean of those that lie where it has the same grey."""
    order = np.argsort(one, axis=None)
    stretches = np.split(order, [max(1, round(share * order.size)) for share in TONES])
    known = np.array([one.ravel()[stretch].mean() for stretch in stretches])
    means = np.array([other.ravel()[stretch].mean() for stretch in stretches])
    return np.interp(one, known, np.maximum.accumulate(means))
