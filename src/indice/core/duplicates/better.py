"""Which of several copies is the better, and why, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..grouping import RAW_ENDINGS
from ..phrase import phrase

__all__ = ["Copy", "better_first", "quality_of", "why_better"]

_LOSSLESS = frozenset(("flac", "wave", "aiff", "alac", "wavpack", "monkeysaudio", "trueaudio", "oggflac", "dsf", "pcm"))
_NAMES = {
    "h264": "H.264", "hevc": "HEVC", "av1": "AV1", "vp9": "VP9", "vp8": "VP8", "mpeg2video": "MPEG-2", "mpeg4": "MPEG-4",
    "flac": "FLAC", "mp3": "MP3", "wave": "WAV", "aiff": "AIFF", "mp4": "AAC", "oggvorbis": "Vorbis", "oggopus": "Opus",
    "wavpack": "WavPack", "asf": "WMA",
}  # fmt: skip
_PLAIN_CODECS = {"av1": 4, "hevc": 3, "vp9": 3, "h264": 2, "vp8": 1, "mpeg4": 1}
"""How well a codec uses its bits, roughly: by it a smaller file of the same picture is not the worse."""


@dataclass(frozen=True, slots=True)
class Copy:
    """A file among its copies."""

    id: int
    path: str
    kind: str
    size_bytes: int
    media: Mapping[str, Any] = field(default_factory=dict)
    is_tidy: bool = True
    """Whether its name is as the convention wants it."""
    is_whole: bool = True
    """Whether nothing is wrong with it."""


def _ending(copy: Copy) -> str:
    return copy.path.rpartition(".")[2].lower()


def _pixels(copy: Copy) -> int:
    return int(copy.media.get("width") or 0) * int(copy.media.get("height") or 0)


def _sound(copy: Copy) -> Mapping[str, Any]:
    streams = copy.media.get("audio") or [{}]
    return streams[0] if isinstance(streams[0], Mapping) else {}


def _codec(copy: Copy) -> str:
    streams = copy.media.get("video") or [{}]
    return str(streams[0].get("codec") or "") if isinstance(streams[0], Mapping) else ""


def _is_lossless(copy: Copy) -> bool:
    return str(_sound(copy).get("codec") or "").lower() in _LOSSLESS


def quality_of(copy: Copy) -> str:
    """The technical facts that tell copies apart, in words."""
    said: list[str] = []
    media = copy.media
    if copy.kind in ("movie", "episode", "clip", "extra"):
        if media.get("height"):
            said.append(f"{media.get('width')} × {media['height']}")
        said += [_NAMES.get(codec, codec.upper())] if (codec := _codec(copy)) else []
    elif copy.kind == "track":
        sound = _sound(copy)
        codec = str(sound.get("codec") or "").lower()
        said += [_NAMES.get(codec, codec.upper())] if codec else []
        if sound.get("bitrate"):
            said.append(f"{round(int(sound['bitrate']) / 1000)} kbit/s")
    elif media.get("width"):
        said.append(f"{media['width']} × {media.get('height')}")
    if copy.kind == "photo":
        said.append(_ending(copy).upper())
    return " · ".join([*said, _size(copy.size_bytes)])


def _size(count: int) -> str:
    size = float(count)
    for unit in ("bytes", "kB", "MB", "GB"):
        if size < 1000 or unit == "GB":
            return f"{size:.0f} {unit}" if unit == "bytes" or size >= 100 else f"{size:.1f} {unit}"
        size /= 1000
    return ""


_Reason = tuple[str, float]


_MERITS = {
    "whole": (phrase("Whole"), phrase("whole")),
    "lossless": (phrase("Lossless"), phrase("lossless")),
    "higher sample rate": (phrase("Higher sample rate"), phrase("higher sample rate")),
    "higher bit rate": (phrase("Higher bit rate"), phrase("higher bit rate")),
    "as the camera took it": (phrase("As the camera took it"), phrase("as the camera took it")),
    "more pixels": (phrase("More pixels"), phrase("more pixels")),
    "more bits for the same picture": (
        phrase("More bits for the same picture"),
        phrase("more bits for the same picture"),
    ),
    "tidier name": (phrase("Tidier name"), phrase("tidier name")),
    "shorter path": (phrase("Shorter path"), phrase("shorter path")),
}
"""How a merit is called, and how within a sentence."""


def _merits(copy: Copy) -> list[_Reason]:
    """What speaks for a copy, the weightiest first: a word for it, and how much."""
    merits: list[_Reason] = [("whole", float(copy.is_whole and copy.size_bytes > 0))]
    if copy.kind == "track":
        sound = _sound(copy)
        merits += [
            ("lossless", float(_is_lossless(copy))),
            ("higher sample rate", float(sound.get("rate") or 0) if _is_lossless(copy) else 0.0),
            ("higher bit rate", float(sound.get("bitrate") or 0) if not _is_lossless(copy) else 0.0),
        ]
    else:
        raw = _ending(copy) in RAW_ENDINGS
        merits += [
            ("as the camera took it", float(copy.kind == "photo" and raw)),
            ("more pixels", float(_pixels(copy))),
            ("more bits for the same picture", float(copy.size_bytes) * (1 + _PLAIN_CODECS.get(_codec(copy), 0))),
        ]
    # A byte that belongs to no letter is shown as U+FFFD.
    tidiness = float(copy.is_tidy) + 2 * float("\ufffd" not in copy.path)
    return [*merits, ("tidier name", tidiness), ("shorter path", -float(len(copy.path)))]


def better_first(copies: Sequence[Copy], *, same_bytes: bool = False) -> list[Copy]:
    """Copies, the one to be kept first; where all hold the same bytes only their names count."""

    def order(copy: Copy) -> tuple[Any, ...]:
        merits = _merits(copy)[-2:] if same_bytes else _merits(copy)
        return (*(-value for _, value in merits), copy.path)

    return sorted(copies, key=order)


def why_better(best: Copy, second: Copy, *, same_bytes: bool = False) -> str:
    """Why the first of two copies is the one to keep, in words."""
    merits = list(zip(_merits(best), _merits(second), strict=True))
    for (word, mine), (_, theirs) in merits[-2:] if same_bytes else merits:
        if mine > theirs:
            return phrase("Same bytes, {merit}", merit=_MERITS[word][1]) if same_bytes else _MERITS[word][0]
    return phrase("Same bytes") if same_bytes else phrase("Nothing tells them apart")
