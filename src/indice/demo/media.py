"""Writes real, tiny, valid media files: a few moving seconds with a soft chord, then a
held picture for the rest of the length."""

from __future__ import annotations

import io
import math
import random
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.container import OutputContainer
from mutagen.flac import FLAC, Picture
from mutagen.id3 import APIC, ID3, TALB, TCON, TDRC, TIT2, TPE1, TPE2, TPOS, TRCK  # pyright: ignore[reportPrivateImportUsage]
from mutagen.mp4 import MP4, MP4Cover
from numpy.typing import NDArray
from PIL import Image
from PIL.ExifTags import GPS, IFD, Base

from ..disk.xmp import write_xmp
from .posters import backdrop

__all__ = ["chord", "write_moments", "write_photo", "write_subtitle", "write_track", "write_video"]

RATE = 16000
"""Samples a second of all sound of the demo."""


def chord(seed: str, seconds: float, rate: int = RATE) -> NDArray[np.int16]:
    """A slow, soft arpeggio: mono samples of 16 bits."""
    rng = random.Random(seed)
    scale = [0, 2, 4, 7, 9, 12, 14, 16]
    root = rng.choice((196.0, 220.0, 246.9, 174.6))
    total = np.zeros(int(seconds * rate), np.float32)
    step = rng.choice((0.34, 0.42, 0.5))
    for index in range(int(seconds / step)):
        note = root * 2 ** (rng.choice(scale) / 12)
        length = int(rate * step * 3)
        time = np.arange(length) / rate
        tone = (
            (np.sin(2 * math.pi * note * time) + 0.3 * np.sin(4 * math.pi * note * time)) * np.exp(-time * 2.6) * 0.16
        )
        start = int(index * step * rate)
        room = min(length, len(total) - start)
        total[start : start + room] += tone[:room].astype(np.float32)
    fade = min(rate, len(total))
    total[-fade:] *= np.linspace(1, 0, fade, dtype=np.float32)
    return (np.clip(total, -1, 1) * 26000).astype(np.int16)


def _sound(stream: av.AudioStream, container: OutputContainer, samples: NDArray[np.int16], rate: int) -> None:
    for start in range(0, len(samples), 16384):
        frame = av.AudioFrame.from_ndarray(samples[None, start : start + 16384], format="s16", layout="mono")
        frame.sample_rate = rate
        frame.pts = start
        container.mux(stream.encode(frame))
    container.mux(stream.encode(None))


def write_video(
    path: Path,
    *,
    title: str,
    year: int,
    minutes: float,
    languages: tuple[str, ...] = ("eng",),
    height: int = 270,
    moment: datetime | None = None,
) -> None:
    """A video of the given length: six seconds that move, then one frame a minute."""
    path.parent.mkdir(parents=True, exist_ok=True)
    width = height * 16 // 9 // 2 * 2
    picture = backdrop(title, year, (width * 5 // 4, height * 5 // 4))
    made = _MADE.get(path.suffix.lower(), _USUAL)
    flags = {"movflags": "faststart"} if made.shape in ("mp4", "mov") else {}
    with av.open(str(path), "w", format=made.shape, options=flags) as container:
        if moment is not None:
            container.metadata["creation_time"] = moment.isoformat() + "Z"
        video = container.add_stream(made.video, rate=4, options=dict(made.options))
        assert isinstance(video, av.VideoStream)
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        video.time_base = video.codec_context.time_base = Fraction(1, 4)
        sounds = [_sound_stream(container, made, language) for language in languages]
        last = max(int(minutes * 60 * 4), 26)
        for at in [*range(24), *range(24, last - 1, made.apart), last - 1]:
            share = min(at, 24) / 24
            left, top = int(share * width / 4), int((1 - share) * height / 4)
            frame = av.VideoFrame.from_image(picture.crop((left, top, left + width, top + height)))
            frame.pts = at
            container.mux(video.encode(frame))
        container.mux(video.encode(None))
        for number, sound in enumerate(sounds):
            rate = sound.codec_context.sample_rate
            _sound(sound, container, chord(f"{title} {path.stem} {number}", 8, rate), rate)


@dataclass(frozen=True, slots=True)
class _Made:
    """What a file of some extension is made of."""

    shape: str
    """The box, as FFmpeg calls it."""
    video: str
    sound: str = "aac"
    rate: int = RATE
    options: Mapping[str, str] = field(default_factory=dict[str, str])
    apart: int = 240
    """So many frames of a quarter of a second pass between two pictures, after the first."""


_H264 = {"preset": "ultrafast", "crf": "30", "g": "600"}
_USUAL = _Made("mp4", "libx264", options=_H264)
_MADE = {
    ".mkv": _Made("matroska", "libx264", options=_H264),
    ".mov": _Made("mov", "libx264", options=_H264),
    ".avi": _Made("avi", "mpeg4", "libmp3lame", apart=4000),
    ".webm": _Made("webm", "libvpx-vp9", "libopus", 48000, {"deadline": "realtime", "cpu-used": "8"}),
}


def _sound_stream(container: OutputContainer, made: _Made, language: str) -> av.AudioStream:
    sound = container.add_stream(made.sound, rate=made.rate)
    assert isinstance(sound, av.AudioStream)
    sound.layout = "mono"
    sound.bit_rate = 32000
    sound.metadata["language"] = language
    return sound


def write_track(
    path: Path,
    *,
    title: str,
    seconds: int,
    artist: str,
    tags: dict[str, str] | None,
    picture: Image.Image | None = None,
) -> None:
    """A track of the given length: twelve seconds of music, then silence. `tags` None writes none."""
    path.parent.mkdir(parents=True, exist_ok=True)
    extension = path.suffix.lower()
    rate = 8000 if extension == ".mp3" else RATE
    samples = np.zeros(seconds * rate, np.int16)
    music = chord(f"{artist} {title}", min(12, seconds), rate)
    samples[: len(music)] = music
    codec, shape = {".mp3": ("libmp3lame", "mp3"), ".m4a": ("aac", "ipod"), ".ogg": ("libvorbis", "ogg")}.get(
        extension, ("flac", "flac")
    )
    with av.open(str(path), "w", format=shape) as container:
        sound = container.add_stream(codec, rate=rate)
        assert isinstance(sound, av.AudioStream)
        sound.layout = "mono"
        if codec != "flac":
            sound.bit_rate = 8000 if extension == ".mp3" else 24000
        _sound(sound, container, samples, rate)
    if tags is not None:
        _tag(path, tags, picture)


def _jpeg(picture: Image.Image, quality: int = 82) -> bytes:
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=quality)
    return out.getvalue()


def _tag(path: Path, tags: dict[str, str], picture: Image.Image | None) -> None:
    if path.suffix == ".mp3":
        frames = {
            "title": TIT2,
            "artist": TPE1,
            "albumartist": TPE2,
            "album": TALB,
            "date": TDRC,
            "tracknumber": TRCK,
            "discnumber": TPOS,
            "genre": TCON,
        }
        id3 = ID3()
        for name, value in tags.items():
            id3.add(frames[name](encoding=3, text=[value]))
        if picture is not None:
            id3.add(APIC(encoding=3, mime="image/jpeg", type=3, desc="", data=_jpeg(picture)))
        id3.save(path)
    elif path.suffix == ".m4a":
        mp4 = MP4(path)
        atoms = {
            "title": "\xa9nam",
            "artist": "\xa9ART",
            "albumartist": "aART",
            "album": "\xa9alb",
            "date": "\xa9day",
            "genre": "\xa9gen",
        }
        for name, atom in atoms.items():
            if name in tags:
                mp4[atom] = [tags[name]]
        if "tracknumber" in tags:
            mp4["trkn"] = [(int(tags["tracknumber"]), 0)]
        if picture is not None:
            mp4["covr"] = [MP4Cover(_jpeg(picture), imageformat=MP4Cover.FORMAT_JPEG)]
        mp4.save()
    else:
        flac = FLAC(path)
        for name, value in tags.items():
            flac[name] = value
        if picture is not None:
            block = Picture()
            block.type, block.mime, block.data = 3, "image/jpeg", _jpeg(picture)
            block.width, block.height, block.depth = picture.width, picture.height, 24
            flac.add_picture(block)
        flac.save()


def write_moments(path: Path, picture: Image.Image, *, seconds: float = 2.5) -> None:
    """The moments around a photo, as a phone films them: the hand comes nearer, and is not quite still."""
    path.parent.mkdir(parents=True, exist_ok=True)
    width, height = 480, 320
    with av.open(str(path), "w", format="mov", options={"movflags": "faststart"}) as container:
        video = container.add_stream("libx264", rate=15, options={"preset": "ultrafast", "crf": "28"})
        assert isinstance(video, av.VideoStream)
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        count = round(seconds * 15)
        for number in range(count):
            edge = (1 - number / count) * 0.09
            sway = math.sin(number / 4) * 0.008 * picture.width
            box = (
                edge * picture.width + sway,
                edge * picture.height,
                (1 - edge) * picture.width + sway,
                (1 - edge) * picture.height,
            )
            frame = picture.resize((width, height), Image.Resampling.BILINEAR, box=_within(box, picture))
            container.mux(video.encode(av.VideoFrame.from_image(frame)))
        container.mux(video.encode())


def _within(box: tuple[float, float, float, float], picture: Image.Image) -> tuple[float, float, float, float]:
    left, top, right, bottom = box
    return max(left, 0), max(top, 0), min(right, picture.width), min(bottom, picture.height)


def write_photo(
    path: Path,
    image: Image.Image,
    *,
    moment: datetime | None,
    camera: tuple[str, str] | None,
    place: tuple[float, float] | None,
    called: Mapping[str, str] | None = None,
) -> None:
    """A JPEG with EXIF: when, with what, and where (latitude and longitude in
    degrees); with XMP: `town` and `country`."""
    path.parent.mkdir(parents=True, exist_ok=True)
    exif = Image.Exif()
    if camera:
        exif[Base.Make], exif[Base.Model] = camera
    if moment:
        stamp = moment.strftime("%Y:%m:%d %H:%M:%S")
        exif[Base.DateTime] = stamp
        exif.get_ifd(IFD.Exif)[Base.DateTimeOriginal] = stamp
    if place:
        gps = exif.get_ifd(IFD.GPSInfo)
        for value, reference, sign, key in (
            (place[0], GPS.GPSLatitudeRef, "NS", GPS.GPSLatitude),
            (place[1], GPS.GPSLongitudeRef, "EW", GPS.GPSLongitude),
        ):
            degrees, rest = divmod(abs(value), 1)
            minutes, rest = divmod(rest * 60, 1)
            gps[reference] = sign[value < 0]
            gps[key] = (degrees, minutes, round(rest * 60, 3))
    more = {"xmp": write_xmp(called)} if called else {}
    image.save(path, "JPEG", quality=80, exif=exif, **more)


def write_subtitle(path: Path, lines: tuple[str, ...]) -> None:
    """A SubRip file, two seconds a line."""
    path.parent.mkdir(parents=True, exist_ok=True)
    text = "\n".join(
        f"{n}\n00:00:{n * 2:02d},000 --> 00:00:{n * 2 + 2:02d},000\n{line}\n" for n, line in enumerate(lines, 1)
    )
    path.write_text(text, "utf-8")
