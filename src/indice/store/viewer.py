"""Who asks."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Viewer"]


@dataclass(frozen=True, slots=True)
class Viewer:
    """The person that a question is answered for."""

    person_id: int
    is_owner: bool
