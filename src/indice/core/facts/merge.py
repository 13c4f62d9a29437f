"""Which of several values of one field is shown. A person's own word always wins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

__all__ = ["OWN", "RANK", "Ranking", "Value", "best_value"]

RANK = ("hand", "sidecar", "source", "echo", "tags", "name", "file", "place")
"""Origins, the one that is believed first; `source:NAME` counts as `source`, `file` is what a video's container says,
`echo` a sidecar that Indice itself wrote, `place` what is known by where a photo was taken."""
OWN = ("sidecar", "tags", "file")
"""Origins that lie in or beside the household's own files."""


@dataclass(frozen=True, slots=True)
class Value:
    """A value of a field, and where it came from."""

    value: Any
    origin: str
    at: datetime | None = None
    locked: bool = False


@dataclass(frozen=True, slots=True)
class Ranking:
    """The order in which a library believes origins."""

    sources: tuple[str, ...] = ()
    """Names of sources, the one that is believed first; others come after them."""
    own_first: frozenset[str] = frozenset()
    """Fields in which the household's own files are believed before any source."""

    def place(self, field: str, origin: str) -> tuple[int, int, str]:
        """Where an origin stands for a field; an unknown one comes last, equals go by the alphabet."""
        family, _, name = origin.partition(":")
        if field in self.own_first and family in OWN:
            return 1, OWN.index(family), origin
        rank = 2 + RANK.index(family) if family in RANK else 2 + len(RANK)
        if family == "hand":
            rank = 0
        return rank, self.sources.index(name) if name in self.sources else len(self.sources), origin


_PLAIN = Ranking()


def best_value(values: Sequence[Value], field: str = "", ranking: Ranking = _PLAIN) -> Value | None:
    """The value to show: a locked one, else that of the origin which the ranking puts first; None of nothing."""
    return min(values, key=lambda value: (not value.locked, *ranking.place(field, value.origin)), default=None)
