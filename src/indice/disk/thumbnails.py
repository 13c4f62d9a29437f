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

__all__ = ["SIZES", "Thumbnail", "frame_of", "make_thumbnails", "thumbnail_path"]

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

    Raises ValueError with words for a person when it is no picture, OSError when the disk is full.
    """
    try:
        if isinstance(source, Image.Image):
            image, digest = source, hashlib.sha256(source.tobytes()).hexdigest()[:32]
        else:
            content = source if isinstance(source, bytes) else source.read_bytes()
            digest = hashlib.sha256(content).hexdigest()[:32]
            image = Image.open(io.BytesIO(content))
            image.draft("RGB", (max(sizes) * 2, max(sizes) * 2))
        picture = ImageOps.exif_transpose(image).convert("RGB")
    except UnidentifiedImageError as error:
        raise ValueError("It says that it is a picture, but it is none.") from error
    except (Image.DecompressionBombError, SyntaxError, EOFError, OSError) as error:
        if isinstance(error, OSError) and error.errno is not None:
            raise
        raise ValueError(f"The picture is damaged: {error}") from error
    width, height = picture.size
    for wanted in sorted(sizes, reverse=True):
        target = thumbnail_path(home, digest, wanted)
        if target.exists():
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        small = picture.copy()
        small.thumbnail((wanted, wanted * 3), Image.Resampling.LANCZOS)
        waiting = target.with_suffix(f".{os.getpid()}-{threading.get_ident()}.part")
        small.save(waiting, "WEBP", quality=80, method=2)
        waiting.replace(target)
        picture = small if wanted == max(sizes) and wanted < width else picture
    tiny = picture.copy()
    tiny.thumbnail((12, 18))
    out = io.BytesIO()
    tiny.save(out, "WEBP", quality=30)
    return Thumbnail(digest, width, height, "data:image/webp;base64," + base64.b64encode(out.getvalue()).decode())


def frame_of(path: bytes, at_seconds: float | None = None) -> Image.Image | None:
    """A frame of a video at a moment, else from its first part; None when there is none to be had."""
    try:
        with av.open(os.fsdecode(path), metadata_errors="ignore") as container:
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
