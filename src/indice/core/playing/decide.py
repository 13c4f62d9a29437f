"""How a file reaches a player: as it is, in another box, or encoded anew; the
cheapest that the player can take. Pure."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ..phrase import phrase
from .codecs import Can, Grade, takes
from .streams import Sound, Streams, Video

__all__ = ["Decision", "PicturePlan", "Reason", "SoundPlan", "Unplayable", "Wish", "decide", "plan_sound"]

Reason = Literal[
    "box", "picture", "sound", "other-sound", "height", "kbps", "interlaced", "range", "words", "cut", "keys"
]
COPIED_PICTURES = frozenset(("h264", "hevc", "vp9", "av1"))
"""Codecs that fragmented MP4 carries."""
COPIED_SOUNDS = frozenset(("aac", "mp3", "ac3", "eac3", "flac", "opus", "alac"))
MOST_HEIGHT = 1080
"""What is encoded anew is no larger, unless somebody asks: more is not made in time on a house's computer."""
_HEIGHTS_BY_KBPS = ((500, 240), (900, 360), (1800, 480), (4500, 720))
"""How high a picture is worth being for so many thousand bits a second."""
_LEVELS = ((1620, 30), (3600, 31), (5120, 32), (8192, 40), (8704, 42), (22080, 50), (36864, 51), (139264, 60))
"""Macroblocks of a picture, and the level of H.264 that takes them (ITU-T H.264, table A-1)."""
_BLOCKS_A_SECOND = {30: 40500, 31: 108000, 32: 216000, 40: 245760, 42: 522240, 50: 589824, 51: 983040, 60: 4177920}
_PROFILES = ("baseline", "main", "main", "high")
SOUND_KBPS = 192


class Unplayable(ValueError):
    """Nothing in a file can be played, or not by this player; the words are for a person."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What a player asks for."""

    can: Can
    max_height: int | None = None
    max_kbps: int | None = None
    sound: int = 0
    """Number of the sound track."""
    words: int | None = None
    """Number, among the texts inside the file, of one that is to be drawn into the picture."""
    hls: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class PicturePlan:
    """What becomes of the picture."""

    how: Literal["copy", "encode"]
    width: int
    """As it is served: upright, in square pixels."""
    height: int
    mark: str
    profile: str = ""
    level: int = 0
    kbps: int | None = None
    """Bound of the encoded picture."""
    rate: tuple[int, int] = (25, 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class SoundPlan:
    """What becomes of a sound track."""

    how: Literal["copy", "encode"]
    mark: str
    channels: int
    codec: str = "aac"
    """What it is encoded to."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Decision:
    """How a file reaches a player."""

    mode: Literal["direct", "repackaged", "converted"]
    reasons: tuple[Reason, ...]
    """Why it is not sent as it is."""
    picture: PicturePlan | None
    sounds: tuple[SoundPlan, ...]


def decide(streams: Streams, wish: Wish, *, has_keys: bool = True) -> Decision:
    """How a file reaches a player.

    `has_keys` tells whether the moments of the picture's key frames are known, which copying needs.
    Raises :class:`Unplayable` when there is neither picture nor sound in it.
    """
    video, sounds = streams.video, streams.sounds
    if video is None and not sounds:
        raise Unplayable(phrase("Neither picture nor sound is in this file."))
    chosen = sounds[wish.sound] if wish.sound < len(sounds) else (sounds[0] if sounds else None)
    anew = tuple(_why_encode(streams, wish)) if video is not None else ()
    if not anew:
        not_direct = tuple(_why_not_direct(streams, wish, chosen))
        if not not_direct:
            return Decision(mode="direct", reasons=(), picture=_copied(video) if video else None, sounds=())
        anew = tuple(_why_not_copied(video, wish, has_keys=has_keys)) if video is not None else ()
        reasons: tuple[Reason, ...] = (*not_direct, *(reason for reason in anew if reason not in not_direct))
    else:
        reasons = anew
    picture = None if video is None else _encoded(video, wish, streams.kbps) if anew else _copied(video)
    plans = tuple(plan_sound(sound, wish.can) for sound in sounds)
    own = plan_sound(chosen, wish.can) if chosen is not None else None
    sounds_anew = own is not None and own.how == "encode"
    if sounds_anew and "sound" not in reasons:
        reasons = (*reasons, "sound")
    return Decision(
        mode="converted" if anew or sounds_anew else "repackaged", reasons=reasons, picture=picture, sounds=plans
    )


def sent_kbps(streams: Streams, decision: Decision) -> int | None:
    """How much is sent of it, in thousand bits a second; None of what is made without a bound."""
    picture = decision.picture
    if picture is None or picture.how == "copy":
        return round(streams.kbps) or None
    return None if picture.kbps is None else picture.kbps + SOUND_KBPS


def _why_encode(streams: Streams, wish: Wish) -> Iterator[Reason]:
    """Why the picture has to be encoded anew, whatever box it may come in."""
    video = streams.video
    assert video is not None
    if wish.words is not None:
        yield "words"
    if wish.max_height is not None and video.upright[1] > wish.max_height:
        yield "height"
    if wish.max_kbps is not None and streams.kbps > wish.max_kbps:
        yield "kbps"
    if video.is_interlaced:
        yield "interlaced"
    if video.transfer != "sdr" and not any(
        takes(wish.can, box, video.mark, transfer=video.transfer) for box in ("mp4", streams.box)
    ):
        yield "range"


def _why_not_direct(streams: Streams, wish: Wish, chosen: Sound | None) -> Iterator[Reason]:
    video = streams.video
    if not wish.can.of(streams.box):
        yield "box"
    elif video is not None and not takes(wish.can, streams.box, video.mark, transfer=video.transfer):
        yield "picture"
    elif chosen is not None and not takes(wish.can, streams.box, chosen.mark):
        yield "sound"
    if chosen is not None and chosen is not streams.sounds[0]:
        yield "other-sound"
    if streams.is_cut:
        yield "cut"


def _why_not_copied(video: Video, wish: Wish, *, has_keys: bool) -> Iterator[Reason]:
    if video.codec not in COPIED_PICTURES or not takes(wish.can, "mp4", video.mark, transfer=video.transfer):
        yield "picture"
    elif not has_keys:
        yield "keys"


def _copied(video: Video) -> PicturePlan:
    width, height = video.upright
    return PicturePlan(how="copy", width=width, height=height, mark=video.mark, rate=video.rate)


def plan_sound(sound: Sound, can: Can) -> SoundPlan:
    """What becomes of a sound track for a player."""
    if sound.codec in COPIED_SOUNDS and takes(can, "mp4", sound.mark):
        return SoundPlan(how="copy", mark=sound.mark, channels=sound.channels, codec=sound.codec)
    channels = min(sound.channels or 2, 2)
    if not takes(can, "mp4", "mp4a.40.2") and takes(can, "mp4", "opus"):
        return SoundPlan(how="encode", mark="opus", channels=channels, codec="opus")
    return SoundPlan(how="encode", mark="mp4a.40.2", channels=channels)


def _best_h264(can: Can) -> Grade:
    grades = [grade for grade in can.of("mp4") if grade.family == "h264"]
    return max(grades, key=lambda grade: (min(grade.profile, 3), grade.level), default=Grade("h264", 3, 51))


def _encoded(video: Video, wish: Wish, source_kbps: float) -> PicturePlan:
    """The picture as H.264, as large as the bounds let it be, and never larger than it is."""
    best = _best_h264(wish.can)
    height = video.upright[1]
    most = wish.max_height or min(MOST_HEIGHT, height)
    if wish.max_kbps is not None and source_kbps > wish.max_kbps:
        most = min(most, next((lines for kbps, lines in _HEIGHTS_BY_KBPS if wish.max_kbps <= kbps), most))
    rate = _rate(video)
    size = _fitted(video.aspect, height, most)
    while (level := _level(size, rate)) > best.level and size[1] > 120:
        size = _fitted(video.aspect, height, size[1] * 3 // 4)
    profile = _PROFILES[min(best.profile, 3)]
    number = {"baseline": "42E0", "main": "4D40", "high": "6400"}[profile]
    kbps = None if wish.max_kbps is None else max(wish.max_kbps - SOUND_KBPS, 150)
    return PicturePlan(
        how="encode",
        width=size[0],
        height=size[1],
        mark=f"avc1.{number}{level:02X}",
        profile=profile,
        level=level,
        kbps=kbps,
        rate=(rate.numerator, rate.denominator),
    )


def _fitted(aspect: float, height: int, most: int) -> tuple[int, int]:
    """The size of so many lines at most, even in both, in the same shape."""
    lines = min(height, most)
    return max(round(lines * aspect / 2) * 2, 2), max(lines // 2 * 2, 2)


def _rate(video: Video) -> Fraction:
    """Pictures a second that are made: those of the source, up to 60."""
    rate = video.frames
    if not 1 <= rate <= 240:
        return Fraction(25)
    while rate > 61:
        rate /= 2
    return rate


def _level(size: tuple[int, int], rate: Fraction) -> int:
    blocks = -(-size[0] // 16) * -(-size[1] // 16)
    return next((level for most, level in _LEVELS if blocks <= most and blocks * rate <= _BLOCKS_A_SECOND[level]), 62)
