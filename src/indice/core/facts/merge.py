"""Which of several values of one field is shown. A person's own word always wins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

__all__ = ["RANK", "Value", "best_value", "origin_rank"]

RANK = ("hand", "sidecar", "source", "tags", "file", "name")
"""Origins, the one that is believed first; `source:NAME` counts as `source`."""


@dataclass(frozen=True, slots=True)
class Value:
    """A value of a field, and where it came from."""

    value: Any
    origin: str
    at: datetime | None = None
    locked: bool = False


def origin_rank(origin: str) -> int:
    """Place of an origin in :data:`RANK`; an unknown one comes last."""
    family = origin.partition(":")[0]
    return RANK.index(family) if family in RANK else len(RANK)


def best_value(values: Sequence[Value]) -> Value | None:
    """The value to show: a locked one, else the best-ranking origin, else the alphabetically first."""
    return min(values, key=lambda value: (not value.locked, origin_rank(value.origin), value.origin), default=None)
