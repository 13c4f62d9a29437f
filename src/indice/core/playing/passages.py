"""Openings and closings of a season's episodes, found by what all of them sound like. Pure, numeric.

Of each episode's beginning and end a *print* is kept: eight times a second, for each of sixteen bands,
whether it holds more against its neighbours than a moment before. What two episodes have in common is a
stretch in which, at one lag, these signs agree; other sound agrees in half of them. An opening is what
several neighbours of an episode have in common with it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["RATE", "STEPS_A_SECOND", "Print", "Span", "common_span", "passages_of", "print_of"]

Floats = NDArray[np.floating[Any]]
RATE = 8000
"""Samples a second of what is listened to."""
STEPS_A_SECOND = 8
HOP = RATE // STEPS_A_SECOND
FRAME = 4096
"""Frames overlap by three quarters: where a step falls in an episode says little then."""
BANDS = 17
LOWEST_HZ, HIGHEST_HZ = 150.0, 3600.0
SILENT_DB = 50.0
"""What is so much softer than the loudest agrees with nothing."""
SMOOTH_STEPS = 6 * STEPS_A_SECOND
MOST_WRONG = 0.32
"""Share of signs that may differ, over the mean of some seconds."""
EDGE_STEPS = STEPS_A_SECOND
EDGE_WRONG = 0.33
LEAST_SECONDS, MOST_SECONDS = 8.0, 180.0
NEIGHBOURS = 3
"""With so many episodes on either side is one compared."""
NEAR_SECONDS = 4.0
"""What different neighbours say of one passage may be so far apart."""


@dataclass(frozen=True, slots=True)
class Print:
    """The print of a stretch of sound."""

    bits: NDArray[np.uint16]
    heard: NDArray[np.bool_]
    """Whether there was anything to hear."""

    def packed(self) -> bytes:
        """As it is kept."""
        return self.bits.astype("<u2").tobytes() + np.packbits(self.heard).tobytes()

    @classmethod
    def unpacked(cls, data: bytes) -> Print:
        """From what was kept."""
        count = len(data) * 8 // 17
        bits = np.frombuffer(data[: count * 2], "<u2").astype(np.uint16)
        return cls(bits, np.unpackbits(np.frombuffer(data[count * 2 :], np.uint8), count=count).astype(bool))


@dataclass(frozen=True, slots=True)
class Span:
    """From when to when, in seconds."""

    start_seconds: float
    end_seconds: float


def print_of(samples: NDArray[np.float32]) -> Print:
    """The print of a sound of one channel at :data:`RATE`."""
    if samples.size < FRAME + HOP:
        return Print(np.zeros(0, np.uint16), np.zeros(0, np.bool_))
    frames = np.lib.stride_tricks.sliding_window_view(samples, FRAME)[::HOP]
    edges = np.geomspace(LOWEST_HZ, HIGHEST_HZ, BANDS + 1) * FRAME / RATE
    window = np.hanning(FRAME).astype(np.float32)
    levels = np.empty((len(frames), BANDS), np.float32)
    for first in range(0, len(frames), 512):
        power = np.abs(np.fft.rfft(frames[first : first + 512] * window, axis=1)) ** 2
        sums = np.concatenate([np.zeros((len(power), 1)), np.cumsum(power, axis=1)], axis=1)
        held = sums[:, np.ceil(edges[1:]).astype(int)] - sums[:, np.ceil(edges[:-1]).astype(int)]
        levels[first : first + 512] = 10 * np.log10(held + 1e-9)
    contrast = np.diff(levels, axis=1)
    signs = np.diff(contrast, axis=0, prepend=contrast[:1]) > 0
    bits = (signs * (1 << np.arange(BANDS - 1))).sum(axis=1).astype(np.uint16)
    loud = levels.max(axis=1)
    heard = loud > float(np.percentile(loud, 98)) - SILENT_DB
    # where nothing changes at all, as in a held tone, there is nothing to tell it by
    heard &= np.abs(np.diff(levels, axis=0, prepend=levels[:1])).max(axis=1) > 0.05
    return Print(bits, heard)


_WRONG = np.array([bin(n).count("1") for n in range(1 << 16)], np.uint8)


def common_span(one: Print, other: Print) -> tuple[Span, Span] | None:
    """The longest stretch that two prints have in common, as it lies in either;
    None where there is none of some seconds."""
    least = round(LEAST_SECONDS * STEPS_A_SECOND)
    best: tuple[int, int, int] = (least - 1, 0, 0)
    for lag in range(-(len(other.bits) - least), len(one.bits) - least + 1):
        first, second = max(lag, 0), max(-lag, 0)
        length = min(len(one.bits) - first, len(other.bits) - second)
        mine, theirs = slice(first, first + length), slice(second, second + length)
        wrong = _WRONG[one.bits[mine] ^ other.bits[theirs]].astype(np.float32) / (BANDS - 1)
        wrong[~(one.heard[mine] & other.heard[theirs])] = 0.5
        start, end = _longest_run(wrong)
        if end - start > best[0]:
            best = (end - start, first + start, second + start)
    length, mine_at, theirs_at = best
    if length < least:
        return None
    seconds = length / STEPS_A_SECOND
    spans = [Span(at / STEPS_A_SECOND, at / STEPS_A_SECOND + seconds) for at in (mine_at, theirs_at)]
    return spans[0], spans[1]


def _longest_run(wrong: Floats) -> tuple[int, int]:
    """The longest stretch of steps that agree in the mean, its ends taken in to where they agree more closely."""
    if len(wrong) < SMOOTH_STEPS:
        return 0, 0
    sums = np.concatenate([[0.0], np.cumsum(wrong, dtype=np.float64)])
    mean = (sums[SMOOTH_STEPS:] - sums[:-SMOOTH_STEPS]) / SMOOTH_STEPS
    agrees = mean < MOST_WRONG
    if not agrees.any():
        return 0, 0
    edges = np.flatnonzero(np.diff(np.concatenate([[0], agrees.view(np.int8), [0]])))
    starts, ends = edges[::2], edges[1::2] + SMOOTH_STEPS - 1
    at = int(np.argmax(ends - starts))
    start, end = int(starts[at]), int(ends[at])
    near = (sums[EDGE_STEPS:] - sums[:-EDGE_STEPS]) / EDGE_STEPS
    while start < end and near[min(start, len(near) - 1)] > EDGE_WRONG:
        start += 1
    while end > start and near[max(end - EDGE_STEPS, 0)] > EDGE_WRONG:
        end -= 1
    return start, end


def passages_of(prints: Sequence[Print]) -> list[Span | None]:
    """What each episode of a season, in order, has in common with its neighbours; None where they do not agree on one.

    Of two episodes what both have in common is enough; of three and more, two neighbours must tell of it.
    """
    told: list[list[Span]] = [[] for _ in prints]
    for place, one in enumerate(prints):
        for other in range(place + 1, min(place + 1 + NEIGHBOURS, len(prints))):
            spans = common_span(one, prints[other])
            if spans is not None:
                told[place].append(spans[0])
                told[other].append(spans[1])
    enough = 1 if len(prints) == 2 else 2
    return [_agreed(spans, enough) for spans in told]


def _agreed(spans: Sequence[Span], enough: int) -> Span | None:
    """The passage that most tell of: the median of those that begin and end about where one of them does."""
    groups = [[one for one in spans if _is_near(one, center)] for center in spans]
    best = max(groups, key=len, default=[])
    if len(best) < enough:
        return None
    start = float(np.median([one.start_seconds for one in best]))
    end = float(np.median([one.end_seconds for one in best]))
    return Span(round(start, 2), round(end, 2)) if end - start <= MOST_SECONDS else None


def _is_near(one: Span, other: Span) -> bool:
    return (
        abs(one.start_seconds - other.start_seconds) <= NEAR_SECONDS
        and abs(one.end_seconds - other.end_seconds) <= NEAR_SECONDS
    )
