"""Encoders of the machine: which of them really works is tried once, with a second of moving picture."""

from __future__ import annotations

import subprocess
import threading
from functools import cache

from ..core.playing.orders import Encoder

__all__ = ["encoder_version", "working_encoder"]

CANDIDATES = (
    Encoder("h264_nvenc", quality=("-preset", "p4", "-rc", "vbr", "-cq", "24")),
    Encoder("h264_qsv", tail="format=nv12", quality=("-preset", "veryfast", "-global_quality", "24")),
    Encoder(
        "h264_vaapi",
        before=("-vaapi_device", "/dev/dri/renderD128"),
        tail="format=nv12,hwupload",
        quality=("-qp", "24"),
    ),
    Encoder("h264_v4l2m2m", quality=("-b:v", "4M")),
)
TRY_SECONDS = 10.0
_trying = threading.Lock()


def working_encoder() -> Encoder | None:
    """The first encoder of the machine that works; None when there is none. Tried once a process."""
    with _trying:
        return _found()


@cache
def _found() -> Encoder | None:
    try:
        told = subprocess.run(
            ["ffmpeg", "-nostdin", "-hide_banner", "-encoders"], capture_output=True, timeout=TRY_SECONDS, check=False
        )
    except (OSError, subprocess.TimeoutExpired):
        return None
    built = told.stdout.decode("utf-8", "replace").split()
    return next((one for one in CANDIDATES if one.codec in built and _works(one)), None)


def _works(encoder: Encoder) -> bool:
    tail = f",{encoder.tail}" if encoder.tail else ""
    words = ["ffmpeg", "-nostdin", "-hide_banner", "-v", "error", *encoder.before, "-f", "lavfi", "-i"]
    words += ["testsrc2=s=640x360:r=25:d=1", "-vf", f"format=yuv420p{tail}", "-c:v", encoder.codec]
    words += [*encoder.quality, "-bf", "0", "-f", "null", "-"]
    try:
        done = subprocess.run(words, capture_output=True, timeout=TRY_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return False
    return done.returncode == 0


@cache
def encoder_version() -> str:
    """Which ffmpeg this is, with the encoder that it was built with, as it says itself; empty where there is none."""
    try:
        told = subprocess.run(["ffmpeg", "-version"], capture_output=True, timeout=TRY_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return ""
    return told.stdout.decode("utf-8", "replace").partition("\n")[0].strip()[:200]
