"""What a person has taught: readings of certain names are mended after the reader has spoken."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from ..phrase import term
from .model import Fact, Reading

__all__ = ["Correction", "apply_corrections"]

Action = Literal["drop", "cut", "set"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """One thing that a person said about a name."""

    path: str
    """The file it was said of."""
    siblings: bool
    """Whether it holds for all files of that folder."""
    field: str
    action: Action
    """`drop`: the name does not state this. `cut`: the value ends before `value`. `set`: the value is `value`."""
    value: Any = None

    def concerns(self, path: str) -> bool:
        """Whether it holds for this path."""
        if self.siblings:
            return path.rpartition("/")[0] == self.path.rpartition("/")[0]
        return path == self.path


def apply_corrections(path: str, reading: Reading, corrections: Iterable[Correction]) -> Reading:
    """Mend a reading by all that was said of its path, in the order in which it was said; changes `reading`."""
    for correction in corrections:
        if correction.concerns(path):
            _apply(reading, correction)
    return reading


def _apply(reading: Reading, correction: Correction) -> None:
    fact = reading.facts.get(correction.field)
    if correction.action == "drop":
        reading.facts.pop(correction.field, None)
    elif correction.action == "set":
        reading.facts[correction.field] = Fact(correction.value, fact.spans if fact else (), term("you said so"))
    elif fact is not None and isinstance(fact.value, str):
        _cut(reading, correction.field, fact, str(correction.value))


def _cut(reading: Reading, name: str, fact: Fact, rest: str) -> None:
    """`Title and more` ends before `and more`; what would be left of nothing stays as it is."""
    at = fact.value.casefold().find(rest.casefold()) if rest else -1
    kept = fact.value[:at].rstrip(" -–_.,;:([") if at > 0 else ""
    if not kept:
        return
    spans = fact.spans
    if len(spans) == 1 and spans[0][1] - spans[0][0] >= at:
        spans = ((spans[0][0], spans[0][0] + len(kept)),)
    reading.facts[name] = Fact(kept, spans, term("you said where it ends"))
