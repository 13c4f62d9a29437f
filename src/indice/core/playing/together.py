"""The moment that all see who watch together. Pure.

What is shared is where the film was at a time of the server's clock, and whether it runs. A beginning lies a little
ahead, so that everybody has heard of it before it comes.
"""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["LEAD_SECONDS", "Shared", "moment_at", "told"]

LEAD_SECONDS = 0.7
"""So far ahead is a beginning."""


@dataclass(frozen=True, slots=True)
class Shared:
    """Where a film is for all."""

    is_paused: bool
    position_seconds: float
    at_seconds: float
    """When it was there, by the server's clock; what runs stands still until then."""


def told(position_seconds: float, *, is_paused: bool, now_seconds: float) -> Shared:
    """What somebody has said: from here on, or stop here."""
    at = now_seconds if is_paused else now_seconds + LEAD_SECONDS
    return Shared(is_paused, max(position_seconds, 0.0), at)


def moment_at(shared: Shared, now_seconds: float) -> float:
    """Where the film is by the server's clock."""
    run = 0.0 if shared.is_paused else max(now_seconds - shared.at_seconds, 0.0)
    return shared.position_seconds + run
