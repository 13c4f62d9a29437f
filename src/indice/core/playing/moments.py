"""What a moment in playing comes to. Pure."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

__all__ = ["Outcome", "Passage", "Skipped", "closing_start", "passages_of_chapters", "settle_moment"]

Outcome = Literal["left", "kept", "seen"]
Skipped = Literal["recap", "opening", "closing"]
KEPT_FROM = 0.02
"""Who leaves before this share of the whole has not begun."""
SEEN_FROM = 0.92
"""Who leaves after this share has seen it: the rest is names."""


_CLOSING = re.compile(
    r"\b(?:end(?:ing)?|closing|final) ?(?:credits?|titles?)?\b|\bcredits?\b|\boutro\b|abspann|nachspann|"
    r"g[ée]n[ée]rique(?: de fin)?|cr[ée]ditos|titoli di coda|aftiteling|eftertext|rulletekst|lopputekstit"
    r"|napisy ko[nń]cowe|титры",
    re.IGNORECASE,
)
_OPENING = re.compile(
    r"\b(?:opening|intro|introduction|title sequence|main titles?|theme(?: song)?)\b|\bop\b|"
    r"vorspann|g[ée]n[ée]rique(?: de d[ée]but)?$|cabecera|sigla|вступление|オープニング",
    re.IGNORECASE,
)
_RECAP = re.compile(r"\brecap\b|previously|was bisher|rückblick|précédemment|previamente|riassunto", re.IGNORECASE)
LONGEST_SKIPPED_SECONDS = 240.0
"""What is longer is no opening and no recap, whatever its chapter is called."""
OPENING_BEFORE = 0.4
"""A chapter that begins behind this share of the whole opens nothing."""
CLOSING_FROM = 0.7
"""A chapter that begins before this share of the whole closes nothing, whatever it is called."""


def closing_start(chapters: Sequence[tuple[float, str]], duration_seconds: float) -> float | None:
    """Where the closing chapter begins; None where none is named so. Chapters are
    their beginnings and titles, in order."""
    for start, title in chapters:
        if start >= duration_seconds * CLOSING_FROM and _CLOSING.search(title):
            return start
    return None


@dataclass(frozen=True, slots=True)
class Passage:
    """A stretch that one may want to skip, in seconds."""

    kind: Skipped
    start_seconds: float
    end_seconds: float


def passages_of_chapters(chapters: Sequence[tuple[float, str]], duration_seconds: float) -> list[Passage]:
    """The recap, the opening and the closing, the first chapter of each that is named so."""
    found: dict[Skipped, Passage] = {}
    ends = [*(start for start, _ in chapters[1:]), duration_seconds]
    for (start, title), end in zip(chapters, ends, strict=False):
        kind: Skipped | None = "recap" if _RECAP.search(title) else "opening" if _OPENING.search(title) else None
        is_early = start < duration_seconds * OPENING_BEFORE
        if kind is not None and kind not in found and is_early and 2 <= end - start <= LONGEST_SKIPPED_SECONDS:
            found[kind] = Passage(kind, start, end)
    closing = closing_start(chapters, duration_seconds)
    if closing is not None:
        found["closing"] = Passage("closing", closing, duration_seconds)
    return sorted(found.values(), key=lambda one: one.start_seconds)


def settle_moment(seconds: float, duration_seconds: float, *, closing_seconds: float | None = None) -> Outcome:
    """What becomes of a position: it is kept, the thing is seen, or an older position is left alone.

    All are seconds from the beginning; `closing_seconds` is where the closing chapter
    begins. A thing without a length is left.
    """
    if not duration_seconds > 0 or not 0 <= seconds < float("inf"):
        return "left"
    if closing_seconds is not None and seconds >= closing_seconds:
        return "seen"
    share = seconds / duration_seconds
    return "seen" if share > SEEN_FROM else "kept" if share >= KEPT_FROM else "left"
