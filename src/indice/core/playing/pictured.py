"""Subtitles that are pictures: since when what is shown at a moment has been told to the player.

Who begins to read in the middle of a film has missed what was told before, and
would draw no words until the next ones come.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

__all__ = ["REACH_SECONDS", "Told", "shown_since"]

REACH_SECONDS = 20.0
"""So long words stand at most; what was told earlier is not looked for."""
_UNSAID_SECONDS = 8.0
"""So long words are taken to stand where nothing tells when they go."""
_COMPOSITION = 0x16
_FRESH = 0xC0
"""States of a composition that need nothing from before: the beginning of an epoch, and a point to come in at."""


class Told(NamedTuple):
    """A packet of a stream of such subtitles."""

    moment: float
    seconds: float
    """How long it is shown; 0 where it does not say."""
    content: bytes


def shown_since(told: Iterable[Told], codec: str, moment: float) -> float | None:
    """The moment of the earliest packet that is needed to draw what is shown at
    `moment`; None when nothing is shown then.

    `told`: packets in their order, of about :data:`REACH_SECONDS` before. Of `hdmv_pgs_subtitle` the
    compositions are read (presentation graphics, US 7,620,297 B2: segment 0x16); others say how long they
    stand, or are taken to stand for a while.
    """
    before = [one for one in told if moment - REACH_SECONDS <= one.moment <= moment]
    if codec == "hdmv_pgs_subtitle":
        return _of_compositions(before)
    shown = [one.moment for one in before if one.moment + (one.seconds or _UNSAID_SECONDS) > moment]
    return min(shown, default=None)


def _of_compositions(told: Iterable[Told]) -> float | None:
    since: float | None = None
    for one in told:
        for kind, body in _segments(one.content):
            if kind != _COMPOSITION or len(body) < 11:
                continue
            if not body[10]:
                since = None
            elif body[7] & _FRESH or since is None:
                since = one.moment
    return since


def _segments(content: bytes) -> Iterator[tuple[int, bytes]]:
    """Kind and body of each segment of a packet; what is cut off ends it."""
    place = 0
    while place + 3 <= len(content):
        length = int.from_bytes(content[place + 1 : place + 3], "big")
        yield content[place], content[place + 3 : place + 3 + length]
        place += 3 + length
