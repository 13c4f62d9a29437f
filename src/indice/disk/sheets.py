"""Makes the sheet of pictures that is shown under a film's time line. To be called in a child of the workshop."""

from __future__ import annotations

import io
import math
from typing import Any

import av
import av.container
import av.error
from PIL import Image

from ..core.phrase import phrase
from .formats import open_video

__all__ = ["draw_sheet"]

MOST_PACKETS = 4000
"""So many are read behind a moment that was sought; where key frames are rarer, an earlier picture is shown on."""
BACK_SECONDS = 8.0


def draw_sheet(path: bytes, step_seconds: float, count: int, columns: int, width: int, height: int, turn: int) -> bytes:
    """A sheet as WebP: `count` pictures of `width` × `height` in `columns`, `step_seconds`
    apart, turned upright by `turn` degrees.

    Of each moment the key frame before it is shown: it is there at once. Raises ValueError when no picture can be had.
    """
    rows = math.ceil(count / columns)
    sheet = Image.new("RGB", (columns * width, rows * height))
    shown: Image.Image | None = None
    try:
        with open_video(path) as container:
            stream = next(iter(container.streams.video), None)
            if stream is None:
                raise ValueError(phrase("There is no picture in it."))
            begin = float((stream.start_time or 0) * (stream.time_base or 0))
            last = -1.0
            for place in range(count):
                moment = place * step_seconds + begin
                found = _key_before(container, stream, moment, last)
                if found is not None:
                    last, picture = found
                    shown = _tile(picture, width, height, turn)
                if shown is not None:
                    sheet.paste(shown, (place % columns * width, place // columns * height))
    except av.error.FFmpegError as error:
        if shown is None:
            raise ValueError(str(error)) from error
    if shown is None:
        raise ValueError(phrase("No picture can be taken from it."))
    out = io.BytesIO()
    sheet.save(out, "WEBP", quality=62)
    return out.getvalue()


def _key_before(
    container: av.container.InputContainer, stream: av.VideoStream, moment: float, last: float
) -> tuple[float, Image.Image] | None:
    """The key frame at or before a moment, the first of all where none is; None where that is the one of `last`.

    One packet alone is decoded: decoders that are told to skip the others put what is left in another order.
    """
    base = float(stream.time_base or 1)
    found: av.Packet[Any] | None = None
    for back in (0.0, BACK_SECONDS):  # some boxes have no list of key frames, and are sought roughly
        container.seek(int((moment - back) / base), stream=stream, backward=True, any_frame=False)
        for read, packet in enumerate(container.demux(stream)):
            at = _time_of(packet, base)
            if at is None or read >= MOST_PACKETS:
                break
            if packet.is_keyframe and (found is None or at <= moment):
                found = packet
            if found is not None and (at >= moment or not back):
                break
        if found is not None and (_time_of(found, base) or 0.0) <= moment + 0.01:
            break
    if found is None:
        return None
    at = _time_of(found, base) or 0.0
    if abs(at - last) < base:
        return None
    stream.codec_context.flush_buffers()
    frames = [*stream.decode(found), *stream.decode(None)]
    stream.codec_context.flush_buffers()
    return (at, frames[0].to_image()) if frames else None


def _time_of(packet: av.Packet[Any], base: float) -> float | None:
    stamp = packet.pts if packet.pts is not None else packet.dts
    return None if stamp is None else stamp * base


def _tile(picture: Image.Image, width: int, height: int, turn: int) -> Image.Image:
    upright = picture.rotate(-turn, expand=True) if turn else picture
    return upright.resize((width, height), Image.Resampling.BILINEAR, reducing_gap=2.0)
