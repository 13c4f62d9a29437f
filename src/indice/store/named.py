"""What has a name without being an entry: who made or played something, where
photos were taken, genres and collections."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from sqlalchemy import func, literal_column, select
from sqlalchemy.orm import Session

from .among import among_words
from .browse import pattern_of
from .models import Entry, Fact
from .trait_sums import sums_like

__all__ = ["Named", "named_like"]

LEAST_LETTERS = 3
"""No index knows shorter words."""
MOST_FACTS = 400
_GROUPS = {
    "person": ("photo", "clip"),
    "town": ("photo", "clip"),
    "country": ("photo", "clip"),
    "composer": ("album",),
    "genre": ("movie", "series", "album"),
    "set": ("movie",),
    "keyword": ("photo", "clip"),
}
"""Group of traits whose values are looked for → the kinds that have it."""


@dataclass(frozen=True, slots=True)
class Named:
    """A value that several things may have in common."""

    group: str
    """A group of traits, or `credit`: somebody who made a film or a series or is in it."""
    value: str
    kind: str
    """Of what has it; of several, of most."""
    count: int
    """How much has it, as far as who asks may see it."""


def named_like(db: Session, words: str, *, limit: int) -> list[Named]:
    """Names in which these words stand, those that begin so first, then what most has in common."""
    wanted = words.casefold().strip()
    if sum(letter.isalnum() for letter in wanted) < LEAST_LETTERS:
        return []
    found = [*_credited(db, wanted), *_traits(db, wanted)]
    found.sort(key=lambda one: (not one.value.casefold().startswith(wanted), -one.count, one.value, one.group))
    return found[:limit]


def _traits(db: Session, wanted: str) -> list[Named]:
    """Values of traits, a row for each group that has it."""
    counts: dict[tuple[str, str], Counter[str]] = {}
    for kind, trait, count in sums_like(db, pattern_of(wanted)):
        group, _, value = trait.partition(":")
        if kind in _GROUPS.get(group, ()) and wanted in value.casefold():
            counts.setdefault((group, value), Counter())[kind] += count
    return [Named(group, value, kinds.most_common(1)[0][0], kinds.total()) for (group, value), kinds in counts.items()]


def _credited(db: Session, wanted: str) -> list[Named]:
    """People of films and series, as the facts have them."""
    text = Fact.value.op("->>")(literal_column("'v'"))  # as the index has it
    credited = literal_column("fact.field in ('directors', 'writers', 'cast')")
    query = (
        select(Fact.entry_id, Entry.kind, Fact.value)
        .join(Entry, Entry.id == Fact.entry_id)
        .where(credited, func.lower(text).like(pattern_of(wanted), escape="\\"))
        .where(among_words(Entry.kind, ("movie", "series")))
        .limit(MOST_FACTS)
    )
    held: dict[str, dict[int, str]] = {}
    for entry_id, kind, value in db.execute(query):
        told = value.get("v")
        for name in told if isinstance(told, list) else [told]:
            if wanted in str(name).casefold():
                held.setdefault(str(name), {})[entry_id] = str(kind)
    return [
        Named("credit", name, Counter(kinds.values()).most_common(1)[0][0], len(kinds)) for name, kinds in held.items()
    ]
