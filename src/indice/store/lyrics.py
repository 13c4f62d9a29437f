"""Words of songs, and songs by their words."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, literal_column, select
from sqlalchemy.orm import Session

from ..core.facts import best_value
from ..core.lyrics import line_with
from .browse import pattern_of
from .facts import rankings, values_of
from .family import entries_at
from .models import Entry, Fact

__all__ = ["LEAST_LETTERS", "lyrics_of", "sung_lines"]

LEAST_LETTERS = 4
"""Fewer are sung in every song."""
MOST_LOOKED_AT = 60


def lyrics_of(db: Session, entry: Entry) -> tuple[str, str]:
    """The words of a song as they are kept, and where they come from; empty where there are none."""
    return _shown(db, [entry]).get(entry.id, ("", ""))


def _shown(db: Session, entries: Sequence[Entry]) -> dict[int, tuple[str, str]]:
    """Of each song the words that count, whoever else says others, and where they come from."""
    values, order = values_of(db, [entry.id for entry in entries], fields=["lyrics"]), rankings(db)
    best = {e.id: best_value(values[e.id]["lyrics"], "lyrics", order[e.library_id]) for e in entries if e.id in values}
    return {id_: (str(value.value), value.origin) for id_, value in best.items() if value is not None}


def sung_lines(db: Session, words: str) -> dict[int, str]:
    """Songs that sing these words → the line in which they do."""
    wanted = words.strip()
    if sum(letter.isalnum() for letter in wanted) < LEAST_LETTERS:
        return {}
    text = Fact.value.op("->>")(literal_column("'v'"))  # as the index has it
    sung = func.lower(text).like(pattern_of(wanted), escape="\\")
    query = select(Fact.entry_id).where(literal_column("fact.field = 'lyrics'"), sung).limit(MOST_LOOKED_AT)
    shown = _shown(db, entries_at(db, set(db.scalars(query))))
    lines = {id_: line_with(held, wanted) for id_, (held, _) in shown.items()}
    return {id_: line for id_, line in lines.items() if line}
