"""What a moment in playing comes to. Pure."""

from __future__ import annotations

from typing import Literal

__all__ = ["Outcome", "settle_moment"]

Outcome = Literal["left", "kept", "seen"]
KEPT_FROM = 0.02
"""Who leaves before this share of the whole has not begun."""
SEEN_FROM = 0.92
"""Who leaves after this share has seen it: the rest is names."""


def settle_moment(seconds: float, duration_seconds: float) -> Outcome:
    """What becomes of a position: it is kept, the thing is seen, or an older position is left alone.

    Both are seconds from the beginning; a thing without a length is left.
    """
    if not duration_seconds > 0 or not 0 <= seconds < float("inf"):
        return "left"
    share = seconds / duration_seconds
    return "seen" if share > SEEN_FROM else "kept" if share >= KEPT_FROM else "left"
