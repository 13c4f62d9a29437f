"""Codecs and boxes as RFC 6381 writes them: what a stream is called, and whether a player that names some takes it.

Sources: RFC 6381; ISO/IEC 14496-15 (avc1, hvc1); the bindings of VP9 and AV1 to ISO BMFF for vp09 and av01.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

__all__ = ["MIMES", "Can", "Grade", "grade_of", "read_can", "takes"]

MIMES = {
    "mp4": "video/mp4",
    "quicktime": "video/quicktime",
    "matroska": "video/x-matroska",
    "webm": "video/webm",
    "ogg": "video/ogg",
    "mpegts": "video/mp2t",
    "mp3": "audio/mpeg",
    "flac": "audio/flac",
    "wav": "audio/wav",
    "adts": "audio/aac",
}
"""Media type of each box that has one which players know."""
_BOXES = {
    "mp4": "mp4",
    "x-m4a": "mp4",
    "x-m4v": "mp4",
    "quicktime": "quicktime",
    "x-matroska": "matroska",
    "matroska": "matroska",
    "webm": "webm",
    "ogg": "ogg",
    "mp2t": "mpegts",
    "mpeg": "mp3",
    "mp3": "mp3",
    "flac": "flac",
    "x-flac": "flac",
    "wav": "wav",
    "x-wav": "wav",
    "wave": "wav",
    "aac": "adts",
    "aacp": "adts",
}
_OWN = {"mp3": "mp3", "flac": "flac", "wav": "pcm", "adts": "aac"}
"""Boxes that hold one codec, which nobody names beside them."""
_H264_RANKS = {66: 0, 77: 1, 88: 2, 100: 3, 110: 4, 122: 5, 244: 6}


@dataclass(frozen=True, slots=True)
class Grade:
    """A codec with how much of it is meant."""

    family: str
    profile: int = 0
    level: int = 0
    bits: int = 8
    transfer: str = ""
    """`pq` or `hlg` where it is said."""

    def holds(self, other: Grade) -> bool:
        """Whether who takes this takes the other."""
        return (
            self.family == other.family
            and other.profile <= self.profile
            and other.level <= self.level
            and other.bits <= self.bits
        )


@dataclass(frozen=True, slots=True)
class Can:
    """What a player says it takes: codecs by box."""

    by_box: tuple[tuple[str, tuple[Grade, ...]], ...]

    def of(self, box: str) -> tuple[Grade, ...]:
        """Codecs that are taken in a box."""
        return next((grades for name, grades in self.by_box if name == box), ())


def grade_of(mark: str) -> Grade | None:
    """What a codec's name says, or None when it is none that is known."""
    name, _, rest = mark.strip().partition(".")
    parts = rest.split(".") if rest else []
    lower = name.lower()
    try:
        if lower in ("avc1", "avc3"):
            return _h264(parts)
        if lower in ("hvc1", "hev1"):
            return _hevc(parts)
        if lower in ("vp09", "av01"):
            return _vp9(parts) if lower == "vp09" else _av1(parts)
    except (ValueError, IndexError):
        return None
    if lower == "mp4a":
        return _mp4a(parts)
    return _PLAIN.get(lower)


_PLAIN = {
    **{name: Grade("vp9", 0, 255) for name in ("vp9", "vp9.0")},
    **{name: Grade("vp8") for name in ("vp8", "vp8.0")},
    "theora": Grade("theora"),
    "mp4v": Grade("mpeg4"),
    "opus": Grade("opus"),
    "vorbis": Grade("vorbis"),
    "flac": Grade("flac"),
    "alac": Grade("alac"),
    "mp3": Grade("mp3"),
    "ac-3": Grade("ac3"),
    "ec-3": Grade("eac3"),
    "dtsc": Grade("dts"),
    "dtsh": Grade("dts"),
    "mlpa": Grade("truehd"),
    "1": Grade("pcm"),
    "pcm": Grade("pcm"),
}


def _h264(parts: list[str]) -> Grade | None:
    if not parts:
        return Grade("h264", 3, 255)
    number = parts[0]
    if len(number) != 6:
        return Grade("h264", _H264_RANKS[int(parts[0])], int(parts[1])) if int(parts[0]) in _H264_RANKS else None
    profile, level = int(number[:2], 16), int(number[4:], 16)
    return Grade("h264", _H264_RANKS[profile], level, 8 if profile < 110 else 14) if profile in _H264_RANKS else None


def _hevc(parts: list[str]) -> Grade | None:
    if not parts:
        return Grade("hevc", 1, 255)
    profile = int(re.sub(r"^[A-Ca-c]", "", parts[0]))
    level = next((int(part[1:]) for part in parts[1:] if re.fullmatch(r"[LH][0-9]+", part)), 255)
    return Grade("hevc", profile, level, 8 if profile in (1, 3) else 10 if profile == 2 else 16)


def _transfer(number: str | None) -> str:
    return {"16": "pq", "18": "hlg"}.get(number or "", "")


def _vp9(parts: list[str]) -> Grade:
    profile, level, bits = int(parts[0]), int(parts[1]), int(parts[2])
    return Grade("vp9", profile, level, bits, _transfer(parts[5] if len(parts) > 5 else None))


def _av1(parts: list[str]) -> Grade:
    profile, level, bits = int(parts[0]), int(parts[1][:2]), int(parts[2])
    return Grade("av1", profile, level, bits, _transfer(parts[6] if len(parts) > 6 else None))


_AAC = {"2": 0, "5": 1, "29": 2}
"""Object types of AAC: who takes high efficiency takes low complexity."""


def _mp4a(parts: list[str]) -> Grade | None:
    kind = parts[0].lower() if parts else "40"
    if kind in ("69", "6b"):
        return Grade("mp3")
    if kind == "a5":
        return Grade("ac3")
    if kind == "a6":
        return Grade("eac3")
    if kind in ("66", "67", "68"):
        return Grade("aac", 0)
    if kind == "40":
        return Grade("aac", _AAC.get(parts[1], 0) if len(parts) > 1 else 0)
    return None


def read_can(said: Iterable[str]) -> Can:
    """What a player takes, by the media types that it names; what is not understood is left out."""
    found: dict[str, list[Grade]] = {}
    for entry in said:
        mime, _, rest = entry.partition(";")
        top, _, sub = mime.strip().lower().partition("/")
        box = _BOXES.get(sub)
        if box is None or top not in ("video", "audio", "application") or (sub == "mpeg" and top == "video"):
            continue
        grades = found.setdefault(box, [])
        codecs = re.search(r"codecs\s*=\s*\"?([^\";]*)", rest, re.IGNORECASE)
        for mark in codecs[1].split(",") if codecs else ():
            grade = grade_of(mark)
            if grade is not None:
                grades.append(grade)
        if box in _OWN and codecs is None:
            grades.append(Grade(_OWN[box], 2))
    return Can(tuple((box, tuple(grades)) for box, grades in found.items()))


def takes(can: Can, box: str, mark: str, *, transfer: str = "sdr") -> bool:
    """Whether a player takes a stream, called as RFC 6381 does, in a box; one of high
    dynamic range only where that is said."""
    wanted = grade_of(mark) if mark else None
    if wanted is None:
        return False
    return any(grade.holds(wanted) and (transfer == "sdr" or grade.transfer == transfer) for grade in can.of(box))
