"""Tells whether two pictures are the same shot: in another size, format, crop, turn, brightness, or with a border.

Of each picture a *sketch* is kept: its grey values, small, without a border of one colour. A short *vector* of its lowest
frequencies (discrete cosine transform, N. Ahmed et al., 1974) finds what may be alike among many; then one sketch is laid
onto the other, turned and cut in all ways that are allowed for, and what is left between them decides. Pictures of a burst
are alike but for what has moved: there a part of the picture does not fit, however well the rest does.
"""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import dctn

__all__ = ["SKETCH_PIXELS", "Picture", "picture_of", "same_shot"]

Grey = NDArray[np.floating[Any]]
SKETCH_PIXELS = 96
"""The longer side of a sketch."""
FREQUENCIES = 6
"""So many of the lowest frequencies each way make the vector; the mean is none of them."""
LARGEST_CUT = 0.12
"""So much may be cut off at each side."""
COARSE, FINE = 20, 64
"""Points a side of the grids on which two sketches are compared."""
FLAT = 3.0
"""Grey levels by which a border differs in itself at most, in the mean."""
EDGE = 12.0
"""Grey levels by which what follows a border differs from it."""
WIDEST_BORDER = 0.25
"""So much of a side may be border at each end."""
LIKELY = 0.88
"""Correlation on the coarse grid below which nothing more is tried."""
TONES = (0.004, 0.015, 0.04, *np.arange(0.1, 0.95, 0.1).tolist(), 0.96, 0.985, 0.996)
"""Shares of the picture, from dark to light, between which the curve between the greys of two pictures has its points."""
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

    def turned(self, turns: int) -> Grey:
        """The vector of the same picture after so many quarter turns."""
        return _vector(np.rot90(self.grey, turns).astype(np.float32))


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
    for turns in _turns(one.vector, other):
        turned = np.rot90(other.grey, turns)
        first, second = one.grey.astype(np.float32), np.ascontiguousarray(turned).astype(np.float32)
        if _fits(first, second) or _fits(second, first):
            return True
    return False


def _turns(vector: Grey, other: Picture) -> list[int]:
    """Quarter turns that may make the other alike, the likeliest first."""
    likely: list[tuple[float, int]] = []
    for turns in range(4):
        turned = _vector(np.rot90(other.grey, turns).astype(np.float32))
        likely.append((-float(vector @ turned), turns))
    return [turns for score, turns in sorted(likely) if score < -0.5]


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


def _windows(grey: Grey, points: int, across: list[tuple[float, float]], down: list[tuple[float, float]]) -> Grey:
    """Every window of a picture: down × across × points × points, each of mean 0 and deviation 1."""
    height, width = grey.shape
    rows = np.concatenate([_sampling(height, points, *span) for span in down])
    columns = np.concatenate([_sampling(width, points, *span) for span in across])
    found = (rows @ grey @ columns.T).reshape(len(down), points, len(across), points).transpose(0, 2, 1, 3)
    return _normal(found)


def _normal(grey: Grey) -> Grey:
    mean = grey.mean(axis=(-2, -1), keepdims=True)
    return (grey - mean) / (grey.std(axis=(-2, -1), keepdims=True) + 1e-3)


def _spans(start: float, end: float, reach: float, step: float) -> list[tuple[float, float]]:
    """Spans that begin and end near these, within the picture."""
    moves = np.arange(-reach, reach + step / 2, step)
    starts = sorted({round(float(np.clip(start + move, 0.0, LARGEST_CUT)), 4) for move in moves})
    ends = sorted({round(float(np.clip(end + move, 1.0 - LARGEST_CUT, 1.0)), 4) for move in moves})
    return [(one, other) for one in starts for other in ends]


_ALL = _spans(0.0, 1.0, LARGEST_CUT, LARGEST_CUT / 4)


def _fits(whole: Grey, cut: Grey) -> bool:
    """Whether the second picture is the first, or a part of it."""
    target = _normal(_resampled(cut, COARSE, COARSE))
    down, across, score = _best(_windows(whole, COARSE, _ALL, _ALL), target, _ALL, _ALL)
    if score < LIKELY:
        return False
    fine = _normal(_resampled(cut, FINE, FINE))
    for step in (0.012, 0.005):
        rows, columns = _spans(*down, step * 2, step), _spans(*across, step * 2, step)
        down, across, score = _best(_windows(whole, FINE, columns, rows), fine, rows, columns)
    if score < LIKELY:
        return False
    laid = _windows(whole, FINE, [across], [down])[0, 0]
    return any(_is_near(one, other) for one, other in ((laid, fine), (fine, laid)))


def _best(
    windows: Grey, target: Grey, down: list[tuple[float, float]], across: list[tuple[float, float]]
) -> tuple[tuple[float, float], tuple[float, float], float]:
    scores = np.tensordot(windows, target, axes=([2, 3], [0, 1])) / target.size
    row, column = np.unravel_index(int(np.argmax(scores)), scores.shape)
    return down[row], across[column], float(scores[row, column])


def _is_near(one: Grey, other: Grey) -> bool:
    """Whether the second picture is the first in another tone: whatever curve turns its greys into the other's, also one
    that loses the lightest and the darkest."""
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
