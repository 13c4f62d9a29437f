"""What libraries of each kind hold, in words."""

from __future__ import annotations

from collections.abc import Mapping

from ..phrase import Phrase, phrase

__all__ = ["HOLDS"]

HOLDS: Mapping[str, Phrase] = {
    "movies": phrase("films"),
    "series": phrase("series"),
    "music": phrase("music"),
    "photos": phrase("photos"),
    "home-videos": phrase("home videos"),
    "mixed": phrase("anything"),
}
