"""Tells whether two sounds are the same recording: in another format, at another rate
or level, with other silence at its ends.

Of each sound a *sketch* is kept: how loud some bands are, a few times a second, from the first to the last
moment that is heard. A short *vector* of it finds what may be alike among many; then the sketches are laid
onto each other, moved by fractions of a step, and what is left between them decides. Another take has
other moments, another level here and there.
"""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["RATE", "Sound", "same_recording", "sound_of"]

Floats = NDArray[np.floating[Any]]
RATE = 8000
"""Samples a second of what is listened to."""
HOP = RATE // 16
FRAME = 1024
BANDS = 16
STEPS_A_SECOND = RATE // HOP
LONGEST_SECONDS = 40
"""So much of the beginning is sketched."""
LOWEST_HZ, HIGHEST_HZ = 120.0, 3600.0
FLOOR_DB = 60.0
"""What is so much softer than the loudest is as good as silent."""
SILENT_DB = 48.0
"""What is so much softer than the loudest, at either end, is not part of the recording."""
SECONDS_APART = 1.2
"""So much may the lengths of the same recording differ: encoders pad."""
SHIFTS = np.arange(-6.0, 6.01, 0.25)
"""Steps by which one sketch is moved against the other: where a sound begins to be heard is not told exactly."""
LOUD_DB = 24.0
"""What is softer, above the floor, is left to the encoders: they drop it where louder things cover it."""
MOST_DB = 3.3
"""What two sketches of the same recording are apart in the mean …"""
MOST_DB_AT_WORST = 4.6
"""… and in the worst of their stretches of some seconds."""
LEAST_SECONDS = 2.0


@dataclass(frozen=True, slots=True)
class Sound:
    """What is kept of a sound."""

    vector: Floats
    """Of length 1."""
    seconds: float
    """From the first to the last moment that is heard."""
    levels: NDArray[np.uint8]
    """The sketch: steps × bands, decibels above the floor, twice."""

    def packed(self) -> bytes:
        """As it is kept: the length as a number of 64 bits, then the levels, all compressed."""
        return zlib.compress(np.float64(self.seconds).tobytes() + self.levels.tobytes(), 6)

    @classmethod
    def unpacked(cls, data: bytes) -> Sound:
        """From what was kept."""
        raw = zlib.decompress(data)
        levels = np.frombuffer(raw[8:], np.uint8).reshape(-1, BANDS)
        return cls(_vector(levels.astype(np.float32) / 2), float(np.frombuffer(raw[:8], np.float64)[0]), levels)


def sound_of(samples: NDArray[np.float32]) -> Sound | None:
    """The sketch of a sound of one channel at :data:`RATE`; None when there is too little to be told again."""
    heard = _heard(samples)
    if heard.size < LEAST_SECONDS * RATE:
        return None
    powers = _powers(heard[: LONGEST_SECONDS * RATE])
    decibels = 10 * np.log10(powers + 1e-12)
    levels = np.clip(decibels - (np.percentile(decibels, 99.5) - FLOOR_DB), 0, FLOOR_DB + 10)
    return Sound(_vector(levels), heard.size / RATE, np.rint(levels * 2).astype(np.uint8))


def same_recording(one: Sound, other: Sound) -> bool:
    """Whether two sounds are the same recording."""
    if abs(one.seconds - other.seconds) > SECONDS_APART:
        return False
    first, second = one.levels.astype(np.float32) / 2, other.levels.astype(np.float32) / 2
    return any(_is_near(first, _moved(second, shift)) for shift in SHIFTS)


def _heard(samples: NDArray[np.float32]) -> NDArray[np.float32]:
    """Without what is silent at its ends."""
    size = RATE // 50
    count = samples.size // size
    if count == 0:
        return samples[:0]
    loud = np.sqrt((samples[: count * size].reshape(count, size) ** 2).mean(axis=1))
    loudest = float(np.percentile(loud, 99)) if count > 100 else float(loud.max())
    if loudest < 1e-5:
        return samples[:0]
    above = np.nonzero(loud > loudest * 10 ** (-SILENT_DB / 20))[0]
    return samples[above[0] * size : (above[-1] + 1) * size]


def _powers(samples: NDArray[np.float32]) -> Floats:
    """Power of each band, frame by frame."""
    if samples.size < FRAME:
        samples = np.pad(samples, (0, FRAME - samples.size))
    frames = np.lib.stride_tricks.sliding_window_view(samples, FRAME)[::HOP]
    spectrum = np.abs(np.fft.rfft(frames * np.hanning(FRAME).astype(np.float32), axis=1)) ** 2
    edges = np.geomspace(LOWEST_HZ, HIGHEST_HZ, BANDS + 1) * FRAME / RATE
    bins = np.arange(spectrum.shape[1])
    share = np.clip(np.minimum(edges[1:, None], bins + 0.5) - np.maximum(edges[:-1, None], bins - 0.5), 0, None)
    return (spectrum @ share.T).astype(np.float32)


def _vector(levels: Floats) -> Floats:
    """Mean levels of eight stretches of the beginning in all bands, without what all have in common."""
    stretches = np.array_split(levels, 8)
    means = np.stack([stretch.mean(axis=0) for stretch in stretches]).ravel()
    means = means - means.mean()
    length = float(np.linalg.norm(means))
    return (means / length if length > 1e-6 else means).astype(np.float32)


def _moved(levels: Floats, steps: float) -> Floats:
    """A sketch that begins so many steps later; what lies between two steps is between their levels."""
    places = np.arange(len(levels)) + steps
    low = np.floor(places).astype(int)
    part = (places - low)[:, None].astype(np.float32)
    last = len(levels) - 1
    return (1 - part) * levels[np.clip(low, 0, last)] + part * levels[np.clip(low + 1, 0, last)]


def _is_near(one: Floats, other: Floats) -> bool:
    length = min(len(one), len(other))
    inner = slice(2, length - 2) if length > 12 else slice(0, length)
    first, second = one[inner], other[inner]
    told = np.maximum(first, second) > LOUD_DB
    off = np.where(told, np.abs(first - second), 0.0)
    weight = told.sum()
    if weight == 0 or off.sum() / weight > MOST_DB:
        return False
    stretch = 4 * STEPS_A_SECOND
    worst = 0.0
    for start in range(0, len(off) - stretch // 2, stretch):
        counted = told[start : start + stretch].sum()
        if counted >= stretch:
            worst = max(worst, float(off[start : start + stretch].sum() / counted))
    return worst <= MOST_DB_AT_WORST
