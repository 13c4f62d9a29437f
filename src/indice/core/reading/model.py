"""What a path states: a kind, and facts that each know the letters they came from."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

__all__ = ["KINDS", "LIBRARIES", "Fact", "Reading", "Span"]

Span = tuple[int, int]
"""Start and end (exclusive) of letters in the whole path."""

KINDS = (
    "movie",
    "episode",
    "track",
    "photo",
    "clip",
    "extra",
    "subtitle",
    "lyrics",
    "artwork",
    "playlist",
    "sidecar",
    "other",
)
LIBRARIES = ("movies", "series", "music", "photos", "home-videos", "mixed")


@dataclass(slots=True)
class Fact:
    """One thing that a path states."""

    value: Any
    spans: tuple[Span, ...] = ()
    """Where in the path it stands; empty when it follows from the kind of folder alone."""
    rule: str = ""
    """The rule that read it, in words a person understands."""


@dataclass(slots=True)
class Reading:
    """All that a path states."""

    kind: str
    facts: dict[str, Fact] = field(default_factory=dict)
    ignored: list[Span] = field(default_factory=list)
    """Letters that were understood as stating nothing (release words, sites, brackets)."""

    def get(self, name: str) -> Any:
        """The value of a fact, or None."""
        fact = self.facts.get(name)
        return None if fact is None else fact.value

    def put(self, name: str, value: Any, span: Span | None, rule: str) -> None:
        """State a fact, unless it is stated already or says nothing."""
        if name not in self.facts and (value or value == 0):
            self.facts[name] = Fact(value, (span,) if span else (), rule)

    def values(self) -> dict[str, Any]:
        """The reading as the contract's flat object."""
        return {"kind": self.kind, **{name: fact.value for name, fact in self.facts.items()}}
