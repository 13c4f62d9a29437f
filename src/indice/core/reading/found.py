"""What one segment of a path says of a film or a series."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

__all__ = ["Found", "Work"]

Found = tuple[Any, int, int, str]
"""A value, the start and end of its letters in the segment, and the rule."""


@dataclass(slots=True)
class Work:
    """What one segment states. Positions are in the segment."""

    text: str
    title: Found | None = None
    alt_title: Found | None = None
    year: Found | None = None
    season: Found | None = None
    episodes: Found | None = None
    absolute: Found | None = None
    date: Found | None = None
    part: Found | None = None
    edition: Found | None = None
    version: Found | None = None
    subtitle: Found | None = None
    """The episode's own title."""
    ids: dict[str, Found] = field(default_factory=dict)
    technical: dict[str, Found] = field(default_factory=dict)
    ignored: list[tuple[int, int]] = field(default_factory=list)
    bare: bool = False
    """Says nothing of its own about the title."""
    mark_end: int = 0
