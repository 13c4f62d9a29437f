"""Times of a text mended: moved, stretched, and fitted to where voices are heard. Pure, numeric.

The fit is a correlation: where a text says that somebody speaks, the sound should be louder than around it. For each
ratio of two rates of pictures (and none) the correlation over all offsets comes from one Fourier transform.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pysubs2
from numpy.typing import NDArray
from pysubs2.exceptions import Pysubs2Error

from ..phrase import phrase
from .offered import RATES
from .words import BadText, as_webvtt, form_of

__all__ = ["STEP_SECONDS", "Fit", "fit", "retimed"]

STEP_SECONDS = 0.05
"""A step of what is heard."""
MOST_OFFSET_SECONDS = 120.0
LEAST_SURE = 6.0
"""So far must the best fit stand out of all others, in their deviations."""
FARTHEST_SECONDS = 360_000.0
_STRETCHES = sorted({round(a / b, 9) for a in RATES for b in RATES if abs(a / b - 1) < 0.06}, key=lambda r: abs(r - 1))


@dataclass(frozen=True, slots=True)
class Fit:
    """How the times of a text become those of the film: multiplied, then moved."""

    stretch: float
    offset_seconds: float
    sureness: float
    """How far it stands out, in deviations of what other offsets give."""

    @property
    def is_sure(self) -> bool:
        """Whether it may be proposed."""
        return self.sureness >= LEAST_SURE


def fit(spans: Sequence[tuple[float, float]], heard: NDArray[np.float32]) -> Fit:
    """The stretch and offset with which a text agrees best with what is heard.

    spans: when each cue begins and ends, in seconds
    heard: how much voice is heard in each step of :data:`STEP_SECONDS`, NaN where nobody listened; shape (steps,)
    """
    listened = np.isfinite(heard)
    if not spans or not listened.any():
        return Fit(1.0, 0.0, 0.0)
    sound = np.where(listened, heard, 0.0) - np.where(listened, heard[listened].mean(), 0.0)
    most = round(MOST_OFFSET_SECONDS / STEP_SECONDS)
    size = 1 << (len(heard) + 2 * most).bit_length()
    of_sound = np.fft.rfft(sound, size)
    best = Fit(1.0, 0.0, 0.0)
    for stretch in _STRETCHES:
        said = np.zeros(len(heard) + most, np.float64)
        for start, end in spans:
            first, last = (round(moment * stretch / STEP_SECONDS) for moment in (start, end))
            said[max(first, 0) : max(last, 0)] = 1.0
        said -= said[: len(heard)].mean()
        line = np.fft.irfft(of_sound * np.conj(np.fft.rfft(said, size)), size)
        line = np.concatenate([line[-most:], line[: most + 1]])
        top = int(np.argmax(line))
        rest = np.delete(line, slice(max(top - 40, 0), top + 41))
        spread = float(rest.std())
        sureness = float(line[top] - rest.mean()) / spread if spread > 0 else 0.0
        # a stretch that is not needed is not taken for a hair's breadth
        if sureness > best.sureness * (1.03 if best.sureness else 1.0):
            best = Fit(stretch, round((top - most) * STEP_SECONDS, 3), sureness)
    return best


def retimed(
    text: str, extension: str, *, offset_seconds: float, stretch: float, pictures_a_second: float = 25.0
) -> str:
    """A text with its times multiplied and moved, in its own form; cues that would end before the film go.

    Raises :class:`BadText` where it cannot be read, and ValueError where the wish is none that a film could need.
    """
    if not 0.5 <= stretch <= 2.0 or not abs(offset_seconds) <= FARTHEST_SECONDS:
        raise ValueError(phrase("These times cannot be meant."))
    form = form_of(text, extension)
    if form == "vtt":
        text, form = as_webvtt(text, extension), "vtt"
    try:
        read = pysubs2.SSAFile.from_string(text, format_=form, fps=pictures_a_second)
    except (Pysubs2Error, ValueError, KeyError, IndexError, OverflowError) as error:
        raise BadText(phrase("No subtitles can be read from this file.")) from error
    for event in read:
        event.start = max(round(event.start * stretch + offset_seconds * 1000), 0)
        event.end = round(event.end * stretch + offset_seconds * 1000)
    read.events = [event for event in read if event.end > event.start]
    if not read.events:
        raise BadText(phrase("Nothing would be left of these subtitles."))
    return read.to_string(form, fps=pictures_a_second)
