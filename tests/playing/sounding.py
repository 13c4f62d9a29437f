"""Films with a still picture and a sound that a test has made."""

from __future__ import annotations

import subprocess
import wave
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["write_sounding"]


def write_sounding(path: Path, samples: NDArray[np.floating[Any]], rate: int = 8000) -> None:
    """Write a film of grey with this sound, of values from -1 to 1."""
    path.parent.mkdir(parents=True, exist_ok=True)
    heard = path.with_suffix(".wav")
    with wave.open(str(heard), "wb") as made:
        made.setnchannels(1)
        made.setsampwidth(2)
        made.setframerate(rate)
        made.writeframes((np.clip(samples, -0.98, 0.98) * 32767).astype("<i2").tobytes())
    picture = ["-f", "lavfi", "-i", f"color=c=gray:s=160x90:r=2:d={len(samples) / rate}"]
    command = ["ffmpeg", "-v", "error", *picture, "-i", str(heard), "-c:v", "libx264", "-preset", "ultrafast"]
    subprocess.run([*command, "-pix_fmt", "yuv420p", "-c:a", "aac", "-shortest", str(path)], check=True)
    heard.unlink()
