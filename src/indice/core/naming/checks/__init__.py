"""All checks, in the order in which they are shown, and running them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from typing import Any

from ..belongings import with_belongings
from . import films, general, music, names, photos, series, subtitles
from .model import MAINS, Check, Finding, Hit, Item, Listing, Move

__all__ = [
    "CHECKS",
    "MAINS",
    "Check",
    "Finding",
    "Hit",
    "Item",
    "Listing",
    "Move",
    "as_json",
    "find_hits",
    "run_checks",
    "settle",
]

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
    """Run every check that looks at this kind of library, but those switched off."""
    return list(settle(find_hits(listing, off=off, only=only), listing.is_taken))


_OF_WORKS = frozenset(rule.slug for rule in CHECKS if len(rule.libraries) <= 2)
"""Checks that ask of a file what only its own kind can answer."""
_ORDER = {rule.slug: place for place, rule in enumerate(CHECKS)}
_BY_SLUG = {rule.slug: rule for rule in CHECKS}


def find_hits(
    listing: Listing, *, off: frozenset[str] = frozenset(), only: frozenset[str] | None = None
) -> Iterator[tuple[str, Hit]]:
    """Slug and hit of everything that the rules find; moves are those of all that goes along."""
    strangers = {
        path
        for hit in (general.kind_unexpected.find(listing) if listing.library != "mixed" else ())
        for path in (hit.path, *hit.also)
    }
    for rule in CHECKS:
        if rule.slug in off or (only is not None and rule.slug not in only):
            continue
        if listing.library not in (*rule.libraries, "mixed") or (rule.content and not listing.looked_inside):
            continue
        for hit in rule.find(listing):
            if hit.path in strangers and rule.slug in _OF_WORKS:
                continue
            yield rule.slug, replace(hit, moves=with_belongings(listing, hit.moves)) if hit.moves else hit


def settle(hits: Iterable[tuple[str, Hit]], is_taken: Callable[[str], bool]) -> Iterator[Finding]:
    """Findings in their order. A fix that would land on a name that is taken, by
    a file or by another fix, is left out."""
    promised: dict[str, str] = {}
    for slug, hit in sorted(hits, key=lambda pair: (_ORDER[pair[0]], pair[1].path)):
        keeps = hit.fix is not None and bool(hit.moves) and _is_free(hit.moves, is_taken, promised)
        if keeps:
            promised.update((after.casefold(), before) for before, after in hit.moves)
        yield Finding(
            check=slug,
            path=hit.path,
            severity=_BY_SLUG[slug].severity,
            message=hit.message,
            fix=hit.fix if keeps else None,
            fix_kind=hit.fix_kind if keeps else None,
            also=hit.also,
            missing=hit.missing,
            moves=hit.moves if keeps else (),
            wanted="" if keeps or not hit.moves else hit.fix or "",
        )


def _is_free(moves: Iterable[Move], is_taken: Callable[[str], bool], promised: dict[str, str]) -> bool:
    chosen = list(moves)
    leaving = {before.casefold() for before, _ in chosen}
    targets: set[str] = set()
    for before, after in chosen:
        folded = after.casefold()
        if folded in targets or promised.get(folded, before) != before or (folded not in leaving and is_taken(after)):
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
