"""What the workshop's children do, where its answer must first become what JSON can hold."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any

from ..core.naming.convention import read_convention
from .probe import embedded_picture, probe
from .thumbnails import frame_of, make_thumbnails

__all__ = ["name_of_convention", "probe_file", "thumbnails", "thumbnails_of_embedded", "thumbnails_of_frame"]


def probe_file(path: bytes, kind: str) -> dict[str, Any]:
    """The parts of a :class:`~.probe.Probe`."""
    return asdict(probe(path, kind))


def thumbnails(home: Path, source: bytes | Path, sizes: tuple[int, ...]) -> dict[str, Any]:
    """The parts of a :class:`~.thumbnails.Thumbnail` of a picture."""
    return asdict(make_thumbnails(home, source, sizes=sizes))


def thumbnails_of_embedded(home: Path, path: bytes, sizes: tuple[int, ...]) -> dict[str, Any] | None:
    """As :func:`thumbnails`, of the picture that lies in a file of sound; None when there is none."""
    content = embedded_picture(path)
    return asdict(make_thumbnails(home, content, sizes=sizes)) if content else None


def thumbnails_of_frame(
    home: Path, path: bytes, at_seconds: float | None, sizes: tuple[int, ...]
) -> dict[str, Any] | None:
    """As :func:`thumbnails`, of a moment of a video; None when it has no picture there."""
    found = frame_of(path, at_seconds)
    return asdict(make_thumbnails(home, found, sizes=sizes)) if found is not None else None


def name_of_convention(text: str) -> str:
    """The name of a convention that a person sends; raises ValueError with words when it is none."""
    return read_convention(text).name
