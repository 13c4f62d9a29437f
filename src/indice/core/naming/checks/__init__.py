"""All checks, in the order in which they are shown."""

from __future__ import annotations

from .general import file_empty, file_unfinished, junk
from .model import Check, Finding, Item, Listing, Move
from .music import cover_missing, track_number_missing
from .video import folder_disagrees, release_words, season_folder_missing, year_missing

__all__ = ["CHECKS", "Check", "Finding", "Item", "Listing", "Move", "run_checks"]

CHECKS: tuple[Check, ...] = (
    folder_disagrees,
    file_empty,
    season_folder_missing,
    year_missing,
    release_words,
    track_number_missing,
    cover_missing,
    file_unfinished,
    junk,
)


def run_checks(listing: Listing, *, off: frozenset[str] = frozenset()) -> list[Finding]:
    """Run every check that looks at this kind of library, but those switched off."""
    return [
        finding
        for rule in CHECKS
        if rule.slug not in off and listing.library in (*rule.libraries, "mixed")
        for finding in rule.find(listing)
    ]
