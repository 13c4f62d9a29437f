"""What tags say of how loud a song is: ReplayGain in each container, RVA2 frames (ID3v2.4,
4.11), and R128 of Opus (RFC 7845, 5.2.1)."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping
from typing import Any

__all__ = ["loudness_of"]

_DECIBELS = re.compile(r"\s*([+-]?[0-9]{1,3}(?:\.[0-9]{1,8})?)\s*(?:dB)?\s*", re.IGNORECASE)
_WHOLE = re.compile(r"[+-]?[0-9]{1,5}")
_NAMES = {
    f"replaygain_{of}_{what}": of if what == "gain" else f"{of}_peak"
    for of in ("track", "album")
    for what in ("gain", "peak")
}
_R128 = {"r128_track_gain": "track", "r128_album_gain": "album"}
R128_STEPS = 256
R128_BELOW_DB = 5.0
"""R128 counts from -23 LUFS, ReplayGain 2 from -18."""
MOST_DB = 60.0
MOST_PEAK = 16.0


def loudness_of(tags: Any) -> dict[str, float]:
    """Of `track` and `album` the gain in decibels that brings it to -18 LUFS, and
    of `track_peak` and `album_peak` the peak.

    Whatever is no such number is left out; the tags of a broken file may be anything.
    """
    found: dict[str, float] = {}
    frames: list[tuple[str, Any]] = []
    for key, held in _items(tags):
        name = key.lower().rpartition(":")[2]
        if name in _NAMES:
            _keep(found, _NAMES[name], _number(held))
        elif name in _R128:
            steps = _text(held).strip()
            if _WHOLE.fullmatch(steps):
                _keep(found, _R128[name], int(steps) / R128_STEPS + R128_BELOW_DB)
        elif key.startswith("RVA2:") and name in ("track", "album") and getattr(held, "channel", None) == 1:
            frames.append((name, held))
    for name, frame in frames:  # older and coarser than what is said in words
        _keep(found, name, _finite(getattr(frame, "gain", None)))
        _keep(found, f"{name}_peak", _finite(getattr(frame, "peak", None)))
    return found


def _items(tags: Any) -> Iterable[tuple[str, Any]]:
    try:
        return [(str(key), held) for key, held in tags.items()] if isinstance(tags, Mapping) or tags else []
    except Exception:  # broken tags are none
        return []


def _keep(found: dict[str, float], name: str, value: float | None) -> None:
    """The first that is said stands; a peak of nothing is none."""
    if value is None or name in found:
        return
    if (0 < value <= MOST_PEAK) if name.endswith("_peak") else abs(value) <= MOST_DB:
        found[name] = round(value, 4)


def _text(held: Any) -> str:
    """A tag's value: in a list, in a frame, or as bytes."""
    value = getattr(held, "text", getattr(held, "value", held))
    if isinstance(value, list):
        value = value[0] if value else ""
    return (bytes(value).decode("utf-8", "replace") if isinstance(value, bytes) else str(value))[:40]


def _number(held: Any) -> float | None:
    """A number as it is written in decibels, or without a unit."""
    match = _DECIBELS.fullmatch(_text(held))
    return float(match[1]) if match else None


def _finite(value: Any) -> float | None:
    return float(value) if isinstance(value, int | float) and math.isfinite(value) else None
