"""All checks, in the order in which they are shown, and running them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ..belongings import with_belongings
from . import films, general, music, names, photos, series, subtitles
from .model import MAINS, Check, Finding, Hit, Item, Listing, Move

__all__ = ["CHECKS", "MAINS", "Check", "Finding", "Item", "Listing", "Move", "as_json", "run_checks"]

CHECKS: tuple[Check, ...] = (
    general.file_unreadable,
    general.file_empty,
    general.extension_wrong,
    general.kind_unexpected,
    films.folder_disagrees,
    films.several_films,
    films.part_missing,
    films.loose_film,
    films.year_missing,
    films.release_words,
    films.versions_unlabelled,
    series.number_unreadable,
    series.season_folder_disagrees,
    series.special_misplaced,
    series.season_folder_missing,
    series.series_split,
    series.episode_twice,
    series.episode_missing,
    music.tags_disagree,
    music.albums_mixed,
    music.track_number_missing,
    music.track_twice,
    music.track_missing,
    music.tags_missing,
    music.cover_missing,
    music.lyrics_stray,
    photos.date_disagrees,
    photos.date_unknown,
    photos.event_unnamed,
    photos.copy_marked,
    subtitles.subtitle_stray,
    subtitles.subtitle_language_missing,
    names.case_clash,
    names.character_unsafe,
    names.name_reserved,
    names.name_too_long,
    names.name_encoding,
    general.file_unfinished,
    general.folder_empty,
    general.junk,
)


def run_checks(
    listing: Listing, *, off: frozenset[str] = frozenset(), only: frozenset[str] | None = None
) -> list[Finding]:
    """Run every check that looks at this kind of library, but those switched off.

    A fix that would land on a name that is taken, in the library or by another fix, is left out of its finding.
    """
    strangers = {
        path
        for hit in (general.kind_unexpected.find(listing) if listing.library != "mixed" else ())
        for path in (hit.path, *hit.also)
    }
    findings: list[Finding] = []
    promised: dict[str, str] = {}
    for rule in CHECKS:
        if rule.slug in off or (only is not None and rule.slug not in only):
            continue
        if listing.library not in (*rule.libraries, "mixed") or (rule.content and not listing.looked_inside):
            continue
        for hit in rule.find(listing):
            if hit.path in strangers and rule is not general.kind_unexpected and rule.slug in _OF_WORKS:
                continue
            findings.append(_finding(rule, hit, listing, promised))
    return findings


_OF_WORKS = frozenset(rule.slug for rule in CHECKS if len(rule.libraries) <= 2)
"""Checks that ask of a file what only its own kind can answer."""


def _finding(rule: Check, hit: Hit, listing: Listing, promised: dict[str, str]) -> Finding:
    moves = with_belongings(listing, hit.moves) if hit.moves else ()
    fix = hit.fix if hit.moves and _is_free(listing, moves, promised) else None
    if fix is None:
        moves = ()
    promised.update((after.casefold(), before) for before, after in moves)
    return Finding(
        check=rule.slug,
        path=hit.path,
        severity=rule.severity,
        message=hit.message,
        fix=fix,
        fix_kind=hit.fix_kind if fix else None,
        also=hit.also,
        missing=hit.missing,
        moves=moves,
    )


def _is_free(listing: Listing, moves: Iterable[Move], promised: dict[str, str]) -> bool:
    """Whether every target is a name that nobody has, and that no other fix gives to another file."""
    chosen = list(moves)
    leaving = {before.casefold() for before, _ in chosen}
    targets: set[str] = set()
    for before, after in chosen:
        folded = after.casefold()
        if folded in targets or promised.get(folded, before) != before:
            return False
        if folded in listing.taken_names and folded not in leaving:
            return False
        targets.add(folded)
    return True


def as_json(finding: Finding) -> dict[str, Any]:
    """A finding as one line of the contract; what is empty is left out."""
    fields = {
        "check": finding.check,
        "path": finding.path,
        "severity": finding.severity,
        "message": finding.message,
        "fix": finding.fix,
        "fix_kind": finding.fix_kind,
        "also": list(finding.also),
        "missing": list(finding.missing),
    }
    return {name: value for name, value in fields.items() if value}
