"""What a moment in playing comes to. Pure."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

__all__ = ["Outcome", "closing_start", "settle_moment"]

Outcome = Literal["left", "kept", "seen"]
KEPT_FROM = 0.02
"""Who leaves before this share of the whole has not begun."""
SEEN_FROM = 0.92
"""Who leaves after this share has seen it: the rest is names."""


_CLOSING = re.compile(
    r"\b(?:end(?:ing)?|closing|final) ?(?:credits?|titles?)?\b|\bcredits?\b|\boutro\b|abspann|nachspann|"
    r"g[ée]n[ée]rique(?: de fin)?|cr[ée]ditos|titoli di coda|aftiteling|eftertext|rulletekst|lopputekstit|napisy ko[nń]cowe|титры",
    re.IGNORECASE,
)
CLOSING_FROM = 0.7
"""A chapter that begins before this share of the whole closes nothing, whatever it is called."""


def closing_start(chapters: Sequence[tuple[float, str]], duration_seconds: float) -> float | None:
    """Where the closing chapter begins; None where none is named so. Chapters are their beginnings and titles, in order."""
    for start, title in chapters:
        if start >= duration_seconds * CLOSING_FROM and _CLOSING.search(title):
            return start
    return None


def settle_moment(seconds: float, duration_seconds: float, *, closing_seconds: float | None = None) -> Outcome:
    """What becomes of a position: it is kept, the thing is seen, or an older position is left alone.

    All are seconds from the beginning; `closing_seconds` is where the closing chapter begins. A thing without a length is left.
    """
    if not duration_seconds > 0 or not 0 <= seconds < float("inf"):
        return "left"
    if closing_seconds is not None and seconds >= closing_seconds:
        return "seen"
    share = seconds / duration_seconds
    return "seen" if share > SEEN_FROM else "kept" if share >= KEPT_FROM else "left"
