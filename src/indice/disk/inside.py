"""Looks into a file as far as playing it needs: streams, codecs, shape, key frames, and how long it really is.

Runs in a child of the workshop; see :mod:`.apart`.
"""

from __future__ import annotations

import os
from dataclasses import asdict
from fractions import Fraction
from typing import Any

import av
import av.error
from av.container import InputContainer
from av.stream import Disposition

from ..core.phrase import phrase
from ..core.playing.pictured import REACH_SECONDS, Told, shown_since
from ..core.playing.streams import Chapter, Sound, Streams, Text, Transfer, Video
from .formats import open_video

__all__ = ["inside", "key_before", "key_moments", "words_since"]

_BOXES = {"mp3": "mp3", "flac": "flac", "wav": "wav", "aac": "adts", "ogg": "ogg", "mpegts": "mpegts", "avi": "avi"}
_H264 = {
    "Baseline": 66,
    "Constrained Baseline": 66,
    "Main": 77,
    "Extended": 88,
    "High": 100,
    "High 10": 110,
    "High 10 Intra": 110,
    "High 4:2:2": 122,
    "High 4:2:2 Intra": 122,
    "High 4:4:4 Predictive": 244,
    "High 4:4:4 Intra": 244,
}
_HEVC = {"Main": (1, 6), "Main 10": (2, 4), "Main Still Picture": (3, 8), "Rext": (4, 10)}
_AAC = {"LC": 2, "HE-AAC": 5, "HE-AACv2": 29, "Main": 1, "SSR": 3, "LTP": 4}
_SOUND_MARKS = {
    "mp3": "mp3",
    "mp2": "",
    "ac3": "ac-3",
    "eac3": "ec-3",
    "flac": "flac",
    "opus": "opus",
    "vorbis": "vorbis",
    "alac": "alac",
    "dts": "dtsc",
    "truehd": "mlpa",
}
_PICTURE_TEXTS = ("dvd_subtitle", "hdmv_pgs_subtitle", "dvb_subtitle", "xsub")
_MOST_PACKETS = 400
"""So many are read to learn how long a packet of each sound lasts."""
_TAIL_SECONDS = 20.0
_MOST_SCANNED_BYTES = 3 << 30
"""A file that does not list its key frames is read for them up to this size."""


def inside(path: bytes) -> dict[str, Any]:
    """What stands in a file, as the parts of a :class:`Streams`; raises ValueError with words when it is no media."""
    try:
        with open_video(path) as container:
            return asdict(_streams(container, path))
    except (av.error.FFmpegError, IndexError) as error:
        if isinstance(error, OSError) and isinstance(error, (FileNotFoundError, PermissionError)):
            raise OSError(error.errno, error.strerror) from error
        raise ValueError(phrase("It is cut off, or no film and no sound.")) from error


def _streams(container: InputContainer, path: bytes) -> Streams:
    size = os.stat(path).st_size
    said = (container.duration or 0) / 1_000_000
    sounds, texts = [], []
    pictures = [s for s in container.streams.video if not s.disposition & Disposition.attached_pic]
    video_stream = next(iter(pictures), None)
    lengths = _packet_lengths(container)
    for stream in container.streams:
        if isinstance(stream, av.AudioStream):
            sounds.append(_sound(stream, lengths.get(stream.index, 0.0)))
        elif stream.type == "subtitle":
            texts.append(_text(stream))
    video = _video(container, video_stream) if video_stream is not None else None
    seconds = said
    is_cut = False
    if video is not None or sounds:
        real = _end(container)
        is_cut = bool(said) and real is not None and real < said - max(1.5, said * 0.02) and _is_cut(container, size)
        if real is not None and (is_cut or not said):
            seconds = real
    return Streams(
        box=_box(container, path),
        seconds=round(seconds, 3),
        size_bytes=size,
        is_cut=is_cut,
        video=video,
        sounds=tuple(sounds),
        texts=tuple(texts),
        chapters=_chapters(container),
    )


def _box(container: InputContainer, path: bytes) -> str:
    names = container.format.name.split(",")
    if "matroska" in names:
        with open(path, "rb") as file:
            return "webm" if b"webm" in file.read(96) else "matroska"
    if "mp4" in names:
        return "quicktime" if str(container.metadata.get("major_brand", "")).startswith("qt") else "mp4"
    return _BOXES.get(names[0], names[0])


def _clean(text: Any) -> str:
    return str(text or "").replace("\0", "").strip()[:200]


def _language(stream: Any) -> str | None:
    said = _clean(stream.metadata.get("language"))
    return None if said in ("", "und") else said


def _title(stream: Any) -> str:
    said = _clean(stream.metadata.get("title") or stream.metadata.get("handler_name"))
    return "" if said.lower().endswith("handler") or said.lower().startswith("core media") else said


def _text(stream: Any) -> Text:
    context = getattr(stream, "codec_context", None)
    codec = context.codec.canonical_name if context is not None else "unknown"
    flags = stream.disposition
    return Text(
        index=stream.index,
        codec=codec,
        is_picture=codec in _PICTURE_TEXTS,
        language=_language(stream),
        title=_title(stream),
        is_default=bool(flags & Disposition.default),
        is_forced=bool(flags & Disposition.forced),
        is_for_deaf=bool(flags & Disposition.hearing_impaired),
    )


def _sound(stream: av.AudioStream, frame_seconds: float) -> Sound:
    context = stream.codec_context
    codec = context.codec.canonical_name
    profile = str(context.profile or "")
    mark = f"mp4a.40.{_AAC.get(profile, 2)}" if codec == "aac" else _SOUND_MARKS.get(codec, "")
    if codec.startswith("pcm_") and codec in ("pcm_s16le", "pcm_u8", "pcm_s24le"):
        mark = "1"
    return Sound(
        index=stream.index,
        codec=codec,
        mark=mark,
        channels=context.channels or 2,
        rate=context.sample_rate or 48000,
        language=_language(stream),
        title=_title(stream),
        is_default=bool(stream.disposition & Disposition.default),
        frame_seconds=frame_seconds,
    )


def _packet_lengths(container: InputContainer) -> dict[int, float]:
    """Seconds of a packet of each sound, of those whose packets are all of one length."""
    found: dict[int, set[float]] = {}
    try:
        for count, packet in enumerate(
            container.demux(list(container.streams.audio)) if container.streams.audio else ()
        ):
            if count > _MOST_PACKETS:
                break
            if packet.duration and packet.time_base and packet.size:
                found.setdefault(packet.stream.index, set()).add(packet.duration)
    except av.error.FFmpegError:
        pass
    _rewind(container)
    lengths: dict[int, float] = {}
    for stream in container.streams.audio:
        durations = found.get(stream.index, set())
        context = stream.codec_context
        rate = context.sample_rate or 0
        if context.frame_size and rate and context.codec.canonical_name in ("aac", "mp3", "ac3", "eac3"):
            lengths[stream.index] = context.frame_size / rate
        elif durations and max(durations) - min(durations) <= 1 and stream.time_base:
            lengths[stream.index] = float(max(durations) * stream.time_base)
    return lengths


def _rewind(container: InputContainer) -> None:
    """Back to the beginning; some boxes cannot."""
    try:
        container.seek(container.start_time or 0)
    except av.error.FFmpegError:
        return


def _video(container: InputContainer, stream: av.VideoStream) -> Video:
    context = stream.codec_context
    codec = context.codec.canonical_name
    turn, interlaced, trc, matrix, shape, frame = 0, False, context.color_trc, context.colorspace, None, None
    shift = _shift(container, stream)
    try:
        for count, frame in enumerate(container.decode(stream)):
            turn = int(-frame.rotation) % 360
            interlaced = interlaced or bool(frame.interlaced_frame)
            trc, matrix = frame.color_trc or trc, frame.colorspace or matrix
            if count >= 2:
                break
    except av.error.FFmpegError:
        pass
    _rewind(container)
    shape = stream.sample_aspect_ratio or context.sample_aspect_ratio
    pixels = context.pix_fmt or (frame.format.name if frame is not None else "yuv420p")
    bits = _bits(pixels)
    rate = stream.average_rate or stream.guessed_rate or stream.base_rate or Fraction(25)
    if stream.guessed_rate and rate and abs(stream.guessed_rate - rate) / rate < Fraction(1, 50):
        rate = stream.guessed_rate
    transfer: Transfer = "pq" if trc == 16 else "hlg" if trc == 18 else "sdr"
    return Video(
        index=stream.index,
        codec=codec,
        mark=_mark(codec, context, bits, transfer, (context.width, context.height), float(rate)),
        width=context.width,
        height=context.height,
        pixel_shape=float(shape) if shape and Fraction(1, 8) <= shape <= 8 else 1.0,
        turn=turn if turn in (90, 180, 270) else 0,
        rate=(
            Fraction(rate).limit_denominator(100_000).numerator,
            Fraction(rate).limit_denominator(100_000).denominator,
        ),
        is_interlaced=interlaced,
        bits=bits,
        pixels=pixels,
        transfer=transfer,
        matrix=_matrix(int(matrix or 0), pixels),
        is_full_range=context.color_range == 2 or pixels.startswith("yuvj"),
        shift_seconds=shift,
    )


def _bits(pixels: str) -> int:
    for bits in (9, 10, 12, 14, 16):
        if f"p{bits}" in pixels or pixels.endswith((f"{bits}le", f"{bits}be")):
            return bits
    return 8


def _matrix(number: int, pixels: str) -> Any:
    if pixels.startswith(("rgb", "gbr", "bgr")) or (number == 0 and "rgb" in pixels):
        return "rgb"
    return {1: "bt709", 5: "bt601", 6: "bt601", 9: "bt2020", 10: "bt2020"}.get(number, "")


def _shift(container: InputContainer, stream: av.VideoStream) -> float:
    """By how much the first key frame is shown after it is decoded; lists of key frames in MP4 hold the latter."""
    try:
        for count, packet in enumerate(container.demux(stream)):
            if packet.is_keyframe and packet.pts is not None and packet.dts is not None and stream.time_base:
                return float((packet.pts - packet.dts) * stream.time_base)
            if count > 300:
                break
    except av.error.FFmpegError:
        pass
    finally:
        _rewind(container)
    return 0.0


def _mark(codec: str, context: Any, bits: int, transfer: Transfer, size: tuple[int, int], rate: float) -> str:
    """The codec as RFC 6381 writes it."""
    profile, level = str(context.profile or ""), getattr(context, "level", 0) or 0
    if codec == "h264":
        number = _H264.get(profile)
        if number is None:
            return ""
        return f"avc1.{number:02X}{0xE0 if number == 66 else 0:02X}{level if 9 <= level <= 62 else 51:02X}"
    if codec == "hevc":
        number, compatible = _HEVC.get(profile, (4, 10))
        return f"hvc1.{number}.{compatible}.L{level if level > 0 else 153}.B0"
    if codec == "vp8":
        return "vp8"
    colour = f".01.09.{16 if transfer == 'pq' else 18:02d}" if transfer != "sdr" else ""
    if codec == "vp9":
        number = profile.removeprefix("Profile ").strip()
        chosen = int(number) if number.isdigit() else 0
        return f"vp09.{chosen:02d}.{_pixels_level(size, rate)[0]}.{bits:02d}{colour}"
    if codec == "av1":
        number = {"Main": 0, "High": 1, "Professional": 2}.get(profile, 0)
        step = level if 0 < level < 24 else _pixels_level(size, rate)[1]
        return f"av01.{number}.{step:02d}M.{bits:02d}" + (f".0.110{colour.replace('.01.09', '.09')}" if colour else "")
    return {"theora": "theora", "mpeg4": "mp4v.20.9"}.get(codec, "")


def _pixels_level(size: tuple[int, int], rate: float) -> tuple[int, int]:
    """Levels of VP9 (times ten) and of AV1 (index) for so many samples a second."""
    work = size[0] * size[1] * max(rate, 1.0)
    for most, vp9, av1 in (
        (9_000_000, 30, 4),
        (21_000_000, 31, 5),
        (84_000_000, 40, 8),
        (161_000_000, 41, 9),
        (312_000_000, 50, 12),
        (589_000_000, 51, 13),
        (1_180_000_000, 52, 14),
    ):
        if work <= most:
            return vp9, av1
    return 62, 19


def _start(container: InputContainer) -> float:
    return (container.start_time or 0) / 1_000_000


def _end(container: InputContainer) -> float | None:
    """Where the last packet of picture or sound ends, in seconds from the beginning; None when nobody can say."""
    watched = [s for s in container.streams if s.type in ("video", "audio")]
    if not watched:
        return None
    said = (container.duration or 0) / 1_000_000
    begin = container.start_time or 0
    end = 0.0
    try:
        container.seek(max(int(begin + (said - _TAIL_SECONDS) * 1_000_000), begin))
    except av.error.FFmpegError:
        _rewind(container)
    try:
        for packet in container.demux(watched):
            if packet.pts is not None and packet.size:
                end = max(end, float((packet.pts + (packet.duration or 0)) * packet.time_base))
    except av.error.FFmpegError:
        pass
    _rewind(container)
    return max(end - _start(container), 0.0) or None


def _is_cut(container: InputContainer, size: int) -> bool:
    """Whether what its head lists goes beyond its end; boxes without a list are
    believed to be cut by their last packet."""
    for stream in container.streams:
        entries = getattr(stream, "index_entries", None)
        if entries is not None and len(entries) and "mp4" in container.format.name:
            last = entries[len(entries) - 1]
            return last.pos + last.size > size
    return True


def _chapters(container: InputContainer) -> tuple[Chapter, ...]:
    found: list[Chapter] = []
    for number, chapter in enumerate(container.chapters()[:500], 1):
        start = float(chapter["start"] * (chapter["time_base"] or Fraction(1)))
        title = _clean(chapter["metadata"].get("title")) or str(number)
        found.append(Chapter(start_seconds=round(max(start - _start(container), 0.0), 3), title=title))
    return tuple(found)


def key_moments(path: bytes, seconds: float, shift_seconds: float) -> list[float]:
    """Moments of the picture's key frames in seconds from the beginning; none when
    nobody can say without reading too much."""
    try:
        with open_video(path) as container:
            stream = next(s for s in container.streams.video if not s.disposition & Disposition.attached_pic)
            assert stream.time_base is not None
            base, start = float(stream.time_base), _start(container)
            shift = shift_seconds if "mp4" in container.format.name else 0.0
            listed = [e.timestamp * base - start + shift for e in stream.index_entries if e.is_keyframe]
            if _is_enough(listed, seconds):
                return listed
            if os.stat(path).st_size > _MOST_SCANNED_BYTES:
                return []
            return [
                float(packet.pts * base) - start
                for packet in container.demux(stream)
                if packet.is_keyframe and packet.pts is not None
            ]
    except (av.error.FFmpegError, StopIteration):
        return []


def key_before(path: bytes, moment: float) -> float | None:
    """The moment of the last key frame of the picture that is not after another
    moment; None when its box does not tell."""
    try:
        with open_video(path) as container:
            if not set(container.format.name.split(",")) & {"matroska", "mp4"}:
                return None
            stream = next(s for s in container.streams.video if not s.disposition & Disposition.attached_pic)
            assert stream.time_base is not None
            start = _start(container)
            container.seek(int((moment + start) / stream.time_base), stream=stream)
            packet = next(container.demux(stream))
            if not packet.is_keyframe or packet.pts is None:
                return None
            found = float(packet.pts * stream.time_base) - start
            return found if 0 <= found <= moment else None
    except (av.error.FFmpegError, StopIteration):
        return None


def words_since(path: bytes, index: int, moment: float) -> float | None:
    """Since when what a stream of pictured subtitles shows at a moment has stood
    there; None when it shows nothing then."""
    try:
        with open_video(path) as container:
            start = _start(container)
            stream = container.streams[index]
            assert stream.time_base is not None
            base = stream.time_base
            container.seek(int((max(moment - REACH_SECONDS, 0.0) + start) * av.time_base))
            found: list[Told] = []
            for packet in container.demux(stream):
                if packet.pts is None:
                    continue
                at = float(packet.pts * base) - start
                if at > moment:
                    break
                found.append(Told(at, float((packet.duration or 0) * base), bytes(packet)))
            return shown_since(found, stream.codec_context.name, moment)
    except (av.error.FFmpegError, IndexError):
        return None


def _is_enough(keys: list[float], seconds: float) -> bool:
    """Whether a list of key frames goes through the whole film."""
    if len(keys) < 2:
        return False
    gaps = [after - before for before, after in zip(keys, [*keys[1:], seconds], strict=True)]
    return max(gaps) <= 30 and keys[0] < 5
