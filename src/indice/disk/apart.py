"""What strangers made, looked at in the workshop's children: probes, thumbnails,
frames, templates. See :mod:`.workshop`."""

from __future__ import annotations

import struct
from functools import cache
from pathlib import Path

from pydantic import TypeAdapter

from ..core.playing.sheets import Sheet
from ..core.playing.streams import Streams
from .probe import Probe
from .thumbnails import SIZES, Thumbnail
from .workshop import TooMuch, workshop

__all__ = [
    "embedded_thumbnails",
    "frame_picture_apart",
    "frame_thumbnails",
    "inside_apart",
    "keys_apart",
    "likeness_apart",
    "prints_apart",
    "probe_apart",
    "sheet_apart",
    "thumbnails_apart",
    "voice_apart",
    "words_since_apart",
]

SMALL = (240, 480)


def probe_apart(path: bytes, kind: str) -> Probe:
    """As :func:`indice.disk.probe.probe`; a file that takes too much is an answer, too."""
    if kind in ("other", "playlist", "subtitle", "lyrics"):
        from .probe import probe  # nothing is decoded of these

        return probe(path, kind)
    try:
        return Probe(**workshop().run("probe", path, kind))
    except TooMuch as error:
        return Probe(problem=str(error))


def thumbnails_apart(home: Path, source: bytes | Path, *, sizes: tuple[int, ...] = SIZES) -> Thumbnail:
    """As :func:`indice.disk.thumbnails.make_thumbnails`; raises ValueError also when it takes too much."""
    return Thumbnail(**workshop().run("thumbnails", home, source, sizes))


def embedded_thumbnails(home: Path, path: bytes) -> Thumbnail | None:
    """Thumbnails of the picture that a track carries, or None."""
    made = workshop().run("embedded", home, path, SMALL)
    return Thumbnail(**made) if made else None


def frame_thumbnails(
    home: Path, path: bytes, at_seconds: float | None = None, *, sizes: tuple[int, ...] = SMALL
) -> Thumbnail | None:
    """Thumbnails of a frame of a video, or None when there is none to be had."""
    made = workshop().run("frame", home, path, at_seconds, sizes)
    return Thumbnail(**made) if made else None


def frame_picture_apart(path: bytes, at_seconds: float) -> bytes | None:
    """A frame of a video as WebP, or None when there is none to be had."""
    return workshop().run("frame picture", path, at_seconds)


def likeness_apart(path: bytes, kind: str) -> bytes | None:
    """By what a photo or a track is known again in another form; None when there is nothing to be had of it.

    Raises OSError when it cannot be reached.
    """
    try:
        return workshop().run("sound likeness" if kind == "track" else "picture likeness", path) or None
    except ValueError:
        return None


@cache
def _streams() -> TypeAdapter[Streams]:
    return TypeAdapter(Streams)


def inside_apart(path: bytes) -> Streams:
    """As :func:`indice.disk.inside.inside`; raises ValueError with words, also when it takes too much."""
    return _streams().validate_python(workshop().run("inside", path))


def keys_apart(path: bytes, streams: Streams) -> list[float]:
    """Moments of the picture's key frames; none when they cannot be had."""
    if streams.video is None:
        return []
    try:
        return workshop().run("keys", path, streams.seconds, streams.video.shift_seconds)
    except ValueError:
        return []


def key_before_apart(path: bytes, moment: float) -> float | None:
    """As :func:`indice.disk.inside.key_before`; None also when it takes too much."""
    try:
        return workshop().run("key before", path, moment)
    except (ValueError, OSError):
        return None


def words_since_apart(path: bytes, index: int, moment: float) -> float | None:
    """As :func:`indice.disk.inside.words_since`; None also when it takes too much."""
    try:
        return workshop().run("words since", path, index, moment)
    except (ValueError, OSError):
        return None


def voice_apart(path: bytes, sound: int) -> bytes:
    """As :func:`indice.disk.voice.voice_of`; raises ValueError with words, also when it takes too much."""
    return workshop().run("voice", path, sound, seconds=60.0)


def sheet_apart(path: bytes, sheet: Sheet, turn: int) -> bytes:
    """As :func:`indice.disk.sheets.draw_sheet`; raises ValueError with words, also when it takes too much."""
    asked = (sheet.step_seconds, sheet.count, sheet.columns, sheet.width, sheet.height, turn)
    return workshop().run("sheet", path, *asked, seconds=180.0)


def prints_apart(path: bytes) -> tuple[float, bytes, bytes]:
    """What a film's beginning and end sound like: where the end begins in seconds, and both prints, packed.

    Raises ValueError with words, also when it takes too much.
    """
    told = workshop().run("prints", path, seconds=180.0)
    begin, length = struct.unpack_from("<dI", told)
    return begin, told[12 : 12 + length], told[12 + length :]
