"""Listens to films: where voices may be heard, and what their beginnings and ends sound like.
To be called in a child of the workshop.
"""

from __future__ import annotations

import struct

import av
import av.container
import av.error
import numpy as np
from numpy.typing import NDArray

from ..core.phrase import phrase
from ..core.playing.passages import RATE, print_of
from ..core.playing.timing import STEP_SECONDS
from .formats import open_video

__all__ = ["prints_of_sound", "voice_of"]

FRAME = round(RATE * STEP_SECONDS)
STRETCHES = 8
STRETCH_SECONDS = 120.0
"""A film of more than STRETCHES of these is listened to in so many, at even distances."""
VOICE_HZ = (300.0, 3000.0)
LONGEST_SECONDS = 30_000.0
OPENING_SECONDS, CLOSING_SECONDS = 600.0, 360.0
"""So much of the beginning and of the end is printed."""
AROUND_STEPS = round(20 / STEP_SECONDS)
"""What is heard is held against what is heard so far around it."""


def voice_of(path: bytes, sound: int) -> bytes:
    """How much of voices is heard in each step of a sound track, as 32-bit floats; NaN where nobody listened.

    Raises ValueError when there is no such track, or nothing in it.
    """
    try:
        with open_video(path) as container:
            if sound >= len(container.streams.audio):
                raise ValueError(phrase("There is no such sound track."))
            stream = container.streams.audio[sound]
            total = (container.duration or 0) / 1e6 or float((stream.duration or 0) * (stream.time_base or 0))
            if not 0 < total <= LONGEST_SECONDS:
                raise ValueError(phrase("Its length is not known."))
            heard = np.full(int(total / STEP_SECONDS) + 1, np.nan, np.float32)
            for start in _starts(total):
                _listen(container, stream, start, heard)
    except av.error.FFmpegError as error:
        raise ValueError(str(error)) from error
    if not np.isfinite(heard).any():
        raise ValueError(phrase("Nothing is heard in it."))
    return heard.tobytes()


def _starts(total: float) -> list[float]:
    if total <= STRETCHES * STRETCH_SECONDS:
        return [0.0]
    return [float(one) for one in np.linspace(0, total - STRETCH_SECONDS, STRETCHES)]


def _listen(
    container: av.container.InputContainer, stream: av.AudioStream, start: float, heard: NDArray[np.float32]
) -> None:
    """One stretch, or all of a short film."""
    whole = len(heard) * STEP_SECONDS
    first, sound = _heard_from(
        container, stream, start, min(STRETCH_SECONDS, whole) if start or whole > STRETCHES * STRETCH_SECONDS else whole
    )
    if sound.size < FRAME * 20:
        return
    levels = _levels(sound)
    place = max(round(first / STEP_SECONDS), 0)
    end = min(place + len(levels), len(heard))
    heard[place:end] = levels[: end - place]


def _levels(samples: NDArray[np.float32]) -> NDArray[np.float32]:
    """Decibels of what lies where voices do, against what is heard around, bounded so that no bang decides."""
    frames = samples[: len(samples) // FRAME * FRAME].reshape(-1, FRAME)
    spectrum = np.abs(np.fft.rfft(frames * np.hanning(FRAME).astype(np.float32), axis=1)) ** 2
    hertz = np.fft.rfftfreq(FRAME, 1 / RATE)
    power = spectrum[:, (hertz >= VOICE_HZ[0]) & (hertz <= VOICE_HZ[1])].sum(axis=1)
    level = 10 * np.log10(power + 1e-9)
    kernel = np.ones(min(AROUND_STEPS, len(level))) / min(AROUND_STEPS, len(level))
    mean = np.convolve(
        np.pad(level, (len(kernel) // 2, len(kernel) - 1 - len(kernel) // 2), mode="edge"), kernel, "valid"
    )
    return np.clip(level - mean, -12.0, 12.0).astype(np.float32)


def prints_of_sound(path: bytes) -> bytes:
    """The prints of a film's beginning and end (:mod:`indice.core.playing.passages`).

    Where the end begins, in seconds (float64), the length of the first print (uint32), both prints; little-endian.
    Raises ValueError when there is no sound in it.
    """
    try:
        with open_video(path) as container:
            stream = next(iter(container.streams.audio), None)
            if stream is None:
                raise ValueError(phrase("There is no sound in it."))
            total = (container.duration or 0) / 1e6 or float((stream.duration or 0) * (stream.time_base or 0))
            if not 0 < total <= LONGEST_SECONDS:
                raise ValueError(phrase("Its length is not known."))
            opening = min(OPENING_SECONDS, total / 2)
            _, first = _heard_from(container, stream, 0.0, opening)
            wanted = max(total - CLOSING_SECONDS, total / 2)
            begin, last = _heard_from(container, stream, wanted, total - wanted + 10)
    except av.error.FFmpegError as error:
        raise ValueError(str(error)) from error
    one, other = print_of(first).packed(), print_of(last).packed()
    return struct.pack("<dI", begin, len(one)) + one + other


def _heard_from(
    container: av.container.InputContainer, stream: av.AudioStream, start: float, seconds: float
) -> tuple[float, NDArray[np.float32]]:
    """What is heard for some seconds, and where it really begins."""
    base = float(stream.time_base or 1)
    zero = float(stream.start_time or 0) * base
    container.seek(int((start + zero) / base), stream=stream, backward=True, any_frame=False)
    resampler = av.AudioResampler(format="flt", layout="mono", rate=RATE)
    pieces: list[NDArray[np.float32]] = []
    begin: float | None = None
    taken = 0
    for frame in container.decode(stream):
        if begin is None:
            begin = float(frame.pts or 0) * base - zero
        frame.pts = None
        for piece in resampler.resample(frame):
            pieces.append(piece.to_ndarray().ravel().astype(np.float32))
            taken += pieces[-1].size
        if taken >= seconds * RATE:
            break
    sound = np.concatenate(pieces) if pieces else np.zeros(0, np.float32)
    return begin or 0.0, sound[: round(seconds * RATE)]
