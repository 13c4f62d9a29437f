"""Where the segments of a track begin and end, known before any of them is made; and
the playlists that list them (RFC 8216)."""

from __future__ import annotations

import bisect
import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from .decide import PicturePlan, SoundPlan
from .streams import Sound

__all__ = [
    "Rendition",
    "Timeline",
    "even_timeline",
    "key_timeline",
    "main_playlist",
    "media_playlist",
    "picture_timeline",
    "sound_timeline",
]

SEGMENT_SECONDS = 6.0
SOUND_RATE = 48000
"""Samples a second of sound that is encoded."""
SOUND_FRAME = {"aac": 1024, "opus": 960}
"""Samples of a packet of encoded sound."""


@dataclass(frozen=True, slots=True)
class Timeline:
    """Segments of a track: where each begins, and where the last ends, in seconds of the file's time."""

    starts: tuple[float, ...]
    end: float
    frames: int = 0
    """So many pictures or packets each segment holds where all hold the same; else 0."""

    def length(self, number: int) -> float:
        """Seconds of a segment."""
        return (self.starts[number + 1] if number + 1 < len(self.starts) else self.end) - self.starts[number]

    def at(self, seconds: float) -> int:
        """The segment that holds a moment."""
        return max(bisect.bisect_right(self.starts, seconds + 1e-6) - 1, 0)


def even_timeline(step: Fraction, frames: int, seconds: float) -> Timeline:
    """Segments of so many frames of the same length each."""
    whole = step * frames
    count = max(math.ceil(Fraction(seconds) / whole - Fraction(1, 100)), 1)
    return Timeline(tuple(float(whole * number) for number in range(count)), max(seconds, float(step)), frames)


def picture_timeline(rate: tuple[int, int], seconds: float) -> Timeline:
    """Segments of a picture that is encoded at an even rate."""
    step = 1 / Fraction(*rate)
    return even_timeline(step, max(round(SEGMENT_SECONDS / step), 1), seconds)


def key_timeline(keys: Sequence[float], seconds: float) -> Timeline:
    """Segments of a picture that is copied: each begins with a key frame, about six seconds after the one before."""
    starts: list[float] = []
    for key in sorted(keys):
        if not starts or (key - starts[-1] >= SEGMENT_SECONDS - 0.05 and key < seconds - 0.02):
            starts.append(max(key, 0.0))
    return Timeline(tuple(starts or (0.0,)), max(seconds, starts[-1] + 0.04 if starts else 0.04))


def sound_timeline(sound: Sound, plan: SoundPlan, seconds: float) -> Timeline:
    """Segments of a sound track."""
    if plan.how == "encode":
        step = Fraction(SOUND_FRAME[plan.codec], SOUND_RATE)
    else:
        step = (
            Fraction(sound.frame_seconds).limit_denominator(1_000_000) if sound.frame_seconds > 0 else Fraction(1, 50)
        )
    return even_timeline(step, max(math.ceil(Fraction(SEGMENT_SECONDS) / step), 1), seconds)


def media_playlist(timeline: Timeline, *, head: str | None, name: str) -> str:
    """The playlist of a track over its whole length; `name` is the segments' address with `{}` for the number."""
    lengths = [timeline.length(number) for number in range(len(timeline.starts))]
    lines = [
        "#EXTM3U",
        "#EXT-X-VERSION:7",
        f"#EXT-X-TARGETDURATION:{max(round(max(lengths)), 1)}",
        "#EXT-X-MEDIA-SEQUENCE:0",
        "#EXT-X-PLAYLIST-TYPE:VOD",
        *([f'#EXT-X-MAP:URI="{head}"'] if head else []),
    ]
    for number, length in enumerate(lengths):
        lines += [f"#EXTINF:{length:.6f},", name.format(number)]
    return "\n".join([*lines, "#EXT-X-ENDLIST", ""])


@dataclass(frozen=True, slots=True, kw_only=True)
class Rendition:
    """A sound or text track in the main playlist."""

    name: str
    address: str
    language: str | None = None
    is_default: bool = False
    channels: int = 0
    is_forced: bool = False


def main_playlist(
    *,
    picture: PicturePlan | None,
    sound_marks: Sequence[str],
    kbps: float,
    address: str,
    sounds: Sequence[Rendition],
    texts: Sequence[Rendition],
) -> str:
    """The multivariant playlist: one variant, and the tracks beside it. Sound alone is the variant itself."""
    lines = ["#EXTM3U", "#EXT-X-VERSION:7", "#EXT-X-INDEPENDENT-SEGMENTS"]
    lines += [
        f'#EXT-X-MEDIA:TYPE=AUDIO,GROUP-ID="sound",{_named(sound)},CHANNELS="{max(sound.channels, 1)}",'
        f'URI="{sound.address}"'
        for sound in sounds
    ]
    lines += [
        f'#EXT-X-MEDIA:TYPE=SUBTITLES,GROUP-ID="text",{_named(text)},FORCED={_yes(text.is_forced)},URI="{text.address}"'
        for text in texts
    ]
    marks = [*([picture.mark] if picture else []), *dict.fromkeys(sound_marks)]
    about = [f"BANDWIDTH={max(round(kbps * 1000), 1000)}", f'CODECS="{",".join(mark for mark in marks if mark)}"']
    if picture is not None:
        about += [
            f"RESOLUTION={picture.width}x{picture.height}",
            f"FRAME-RATE={float(Fraction(*picture.rate)):.3f}",
        ]
    about += (['AUDIO="sound"'] if sounds else []) + (['SUBTITLES="text"'] if texts else [])
    return "\n".join([*lines, f"#EXT-X-STREAM-INF:{','.join(about)}", address, ""])


def _yes(it: bool) -> str:
    return "YES" if it else "NO"


def _quoted(text: str) -> str:
    """Text inside quotation marks, which RFC 8216 lets hold neither those nor ends of lines."""
    return "".join(" " if letter in '"\r\n' or not letter.isprintable() else letter for letter in text).strip()


def _named(rendition: Rendition) -> str:
    said = [f'NAME="{_quoted(rendition.name) or "1"}"']
    if rendition.language:
        said.append(f'LANGUAGE="{_quoted(rendition.language)}"')
    return ",".join([*said, f"DEFAULT={_yes(rendition.is_default)}", "AUTOSELECT=YES"])
