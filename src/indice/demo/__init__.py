"""Builds the made-up household: its world of titles, its pictures, and its folders of real, tiny media."""

from __future__ import annotations

from pathlib import Path

__all__ = ["VERSION", "is_built"]

VERSION = "8"
"""Raised when the household changes, so that an older one is built anew."""


def is_built(root: Path) -> bool:
    """Whether the household of this version stands below a folder; asked at every
    start, so nothing heavy is loaded for it."""
    stamp = root / ".built"
    return stamp.is_file() and stamp.read_text() == VERSION
