"""Thumbnails, in a few sizes and a modern format, named by what they show, kept in the data folder."""

from __future__ import annotations

import base64
import hashlib
import io
import os
import threading
from dataclasses import dataclass
from pathlib import Path

import av
import av.container
import av.error
from PIL import Image, ImageOps, UnidentifiedImageError
from PIL.ExifTags import Base as ExifBase

from ..core.phrase import phrase
from .formats import FORMATS, MOST_BYTES, MOST_PIXELS, open_video, ready_heif

__all__ = ["SIZES", "Thumbnail", "frame_of", "frame_picture", "make_thumbnails", "thumbnail_path"]

_METHOD = (2, 0)
"""How hard the encoder tries (libwebp, 0 to 6): for those that lists show, and for the one that is looked at alone."""
SIZES = (240, 480, 1280)
"""Widths in pixels of the thumbnails; the last is for looking at one picture large."""


@dataclass(frozen=True, slots=True)
class Thumbnail:
    """What was made of a picture."""

    digest: str
    width: int
    height: int
    blur: str
    """A tiny preview as a data URL."""


def thumbnail_path(home: Path, digest: str, width: int) -> Path:
    """Where the thumbnail of a picture lies."""
    return home / "thumbnails" / digest[:2] / f"{digest}-{width}.webp"


def make_thumbnails(home: Path, source: bytes | Path | Image.Image, *, sizes: tuple[int, ...] = SIZES) -> Thumbnail:
    """Make the thumbnails of a picture (its bytes, or its file) unless they are there.

    Raises ValueError with words for a person when it is no picture, OSError when the disk is full. To be called in a
    child of the workshop where somebody else made the picture.
    """
    try:
        image, digest = _opened(source)
        with image:
            width, height = image.size
            if not isinstance(source, Image.Image):
                image.draft("RGB", (max(sizes), max(sizes)))  # a JPEG is decoded at half, a quarter or an eighth
            if image.width * image.height > MOST_PIXELS:
                raise ValueError(phrase("The picture is too large ({width} × {height}).", width=width, height=height))
            if image.getexif().get(ExifBase.Orientation) in (5, 6, 7, 8):  # which decodes some formats
                width, height = height, width
            image.thumbnail((max(sizes) * 2, max(sizes) * 6), Image.Resampling.BOX, reducing_gap=1.0)
            picture = ImageOps.exif_transpose(image).convert("RGB")
    except UnidentifiedImageError as error:
        raise ValueError("It says that it is a picture, but it is none.") from error
    except (Image.DecompressionBombError, SyntaxError, EOFError, OSError) as error:
        if isinstance(error, OSError) and error.errno is not None:
            raise
        raise ValueError(f"The picture is damaged: {error}") from error
    blur = _blur(picture)
    for wanted in sorted(sizes, reverse=True):
        target = thumbnail_path(home, digest, wanted)
        if target.exists():
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        small = picture.copy()
        small.thumbnail((wanted, wanted * 3), Image.Resampling.LANCZOS, reducing_gap=2.0)
        waiting = target.with_suffix(f".{os.getpid()}-{threading.get_ident()}.part")
        try:
            small.save(waiting, "WEBP", quality=80, method=_METHOD[wanted == max(sizes)])
            waiting.replace(target)
        finally:
            waiting.unlink(missing_ok=True)
        picture = small if wanted < width else picture  # each is made from the next greater one
    return Thumbnail(digest, width, height, blur)


def _blur(picture: Image.Image) -> str:
    """A picture of a few points as a data URL."""
    tiny = picture.copy()
    tiny.thumbnail((12, 18), reducing_gap=2.0)
    out = io.BytesIO()
    tiny.save(out, "WEBP", quality=30)
    return "data:image/webp;base64," + base64.b64encode(out.getvalue()).decode()


def _opened(source: bytes | Path | Image.Image) -> tuple[Image.Image, str]:
    """The picture, not decoded yet, and the digest that its thumbnails go by."""
    if isinstance(source, Image.Image):
        return source, hashlib.sha256(source.tobytes()).hexdigest()[:32]
    ready_heif()
    if isinstance(source, bytes):
        if len(source) > MOST_BYTES:
            raise ValueError(phrase("The file is too large for a picture."))
        return Image.open(io.BytesIO(source), formats=FORMATS), hashlib.sha256(source).hexdigest()[:32]
    if os.stat(source).st_size > MOST_BYTES:
        raise ValueError(phrase("The file is too large for a picture."))
    with source.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()[:32]
    return Image.open(source, formats=FORMATS), digest


def frame_picture(path: bytes, at_seconds: float) -> bytes | None:
    """A frame of a video at a moment as WebP, for looking at; None when there is none."""
    frame = frame_of(path, at_seconds)
    if frame is None:
        return None
    frame.thumbnail((640, 640))
    out = io.BytesIO()
    frame.save(out, "WEBP", quality=76)
    return out.getvalue()


def frame_of(path: bytes, at_seconds: float | None = None) -> Image.Image | None:
    """A frame of a video at a moment, else from its first part; None when there is none to be had."""
    try:
        with open_video(path) as container:
            stream = next(iter(container.streams.video), None)
            if stream is None:
                return None
            if at_seconds is not None:
                return _frame_at(container, stream, at_seconds)
            for index, frame in enumerate(container.decode(stream)):
                if index >= 10 or (frame.time or 0) > 4:
                    return frame.to_image()
    except (av.error.FFmpegError, ValueError, OSError):
        return None
    return None


def _frame_at(container: av.container.InputContainer, stream: av.VideoStream, at_seconds: float) -> Image.Image | None:
    """The frame that is shown at a moment; the last there is when the video ends before."""
    length = (container.duration or 0) / 1_000_000
    moment = min(at_seconds, max(length - 0.1, 0.0))
    container.seek(int(moment * 1_000_000), backward=True)
    last = None
    for frame in container.decode(stream):
        if last is not None and (frame.time or 0) > moment:
            break
        last = frame
    return last.to_image() if last is not None else None
