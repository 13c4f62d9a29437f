"""Makes the sketches by which pictures and sounds are known again. To be called in a child of the workshop."""

from __future__ import annotations

import os
from pathlib import Path

import av
import av.error
import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError

from ..core.duplicates.pictures import picture_of
from ..core.duplicates.sounds import RATE, sound_of
from ..core.phrase import phrase
from .formats import FORMATS, MOST_BYTES, MOST_PIXELS, open_video, ready_heif

__all__ = ["picture_likeness", "sound_likeness"]

SIDE = 320
"""A picture is brought to so many pixels a side before its border is looked for."""
LONGEST_SECONDS = 1200


def picture_likeness(path: bytes) -> bytes:
    """The packed sketch of a picture file; raises ValueError when it is none, or too large."""
    ready_heif()
    source = Path(os.fsdecode(path))
    if source.stat().st_size > MOST_BYTES:
        raise ValueError(phrase("The file is too large for a picture."))
    try:
        with Image.open(source, formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise ValueError(phrase("The picture is too large."))
            image.draft("L", (SIDE * 2, SIDE * 2))
            image.thumbnail((SIDE * 2, SIDE * 2), Image.Resampling.BOX, reducing_gap=2.0)
            small = ImageOps.exif_transpose(image)
            if small.mode in ("RGBA", "LA", "P"):
                small = small.convert("RGBA")
                small = Image.alpha_composite(Image.new("RGBA", small.size, "white"), small)
            grey = small.convert("L")
            grey.thumbnail((SIDE, SIDE), Image.Resampling.BOX)
    except (UnidentifiedImageError, Image.DecompressionBombError, SyntaxError, EOFError) as error:
        raise ValueError(str(error)) from error
    return picture_of(np.asarray(grey)).packed()


def sound_likeness(path: bytes) -> bytes:
    """The packed sketch of a sound; empty when too little is heard. Raises ValueError when it is none."""
    pieces: list[np.ndarray] = []
    heard = 0
    try:
        with open_video(path) as container:
            stream = next(iter(container.streams.audio), None)
            if stream is None:
                raise ValueError(phrase("There is no sound in it."))
            resampler = av.AudioResampler(format="flt", layout="mono", rate=RATE)
            for frame in container.decode(stream):
                frame.pts = None
                for piece in resampler.resample(frame):
                    pieces.append(piece.to_ndarray().ravel())
                    heard += pieces[-1].size
                if heard > LONGEST_SECONDS * RATE:
                    break
    except av.error.FFmpegError as error:
        if not pieces:
            raise ValueError(str(error)) from error
    if not pieces:
        return b""
    made = sound_of(np.concatenate(pieces).astype(np.float32))
    return made.packed() if made is not None else b""
