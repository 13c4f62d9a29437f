"""Which formats are opened at all, by their content, and how large they may be.

A name says nothing: what calls itself a picture and is a program for a printer, or calls itself a film and is a list of
addresses, is opened by nobody.
"""

from __future__ import annotations

import os
from functools import cache

import av
import av.container
from PIL import Image

__all__ = ["CONTAINERS", "FORMATS", "MOST_BYTES", "MOST_PIXELS", "open_video", "ready_heif"]

FORMATS = ("JPEG", "PNG", "WEBP", "GIF", "TIFF", "BMP", "AVIF", "HEIF")
"""Pictures, as Pillow calls them; several pictures in one JPEG come with the first."""
MOST_BYTES = 300_000_000
"""Of a picture's file."""
MOST_PIXELS = 180_000_000
"""Of a picture as it is decoded."""
Image.MAX_IMAGE_PIXELS = 600_000_000  # a JPEG is decoded small; what is left is compared with MOST_PIXELS before

CONTAINERS = (
    "matroska,webm,mov,mp4,m4a,3gp,3g2,mj2,avi,mpegts,mpeg,mpegvideo,m4v,asf,flv,ogg,mp3,flac,wav,w64,"
    "aiff,aac,ac3,eac3,"
    "dts,dtshd,truehd,ape,wv,tta,au,caf,rm,nut,mxf,dv,h264,hevc,av1,obu,ivf,amr,tak,mpc,mpc8,gxf,vc1,rawvideo"
)
"""Containers of sound and pictures; none that names other files or addresses."""


def open_video(path: bytes) -> av.container.InputContainer:
    """Open a file of sound or pictures; raises :class:`av.error.FFmpegError` when it is none, or of another sort."""
    bounds = {"format_whitelist": CONTAINERS, "protocol_whitelist": "file"}
    return av.open(os.fsdecode(path), metadata_errors="ignore", options=bounds)


@cache
def ready_heif() -> None:
    """Let Pillow open all of :data:`FORMATS`, HEIC pictures among them."""
    from pillow_heif import register_heif_opener

    Image.init()
    register_heif_opener()
