"""Whether several files of one work are meant to be there as its versions."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ..reading.scan import without_accents

__all__ = ["Held", "is_meant"]

_COPY_WORDS = frozenset(("copy", "kopie", "copie", "copia", "duplicate"))


@dataclass(frozen=True, slots=True)
class Held:
    """A file of a work."""

    path: str
    kind: str
    reading: Mapping[str, Any] = field(default_factory=dict)


def is_meant(one: Held, other: Held) -> bool:
    """Whether two files of one film or episode are versions, or parts, that somebody meant to keep side by side.

    Other cuts are. Of one cut those are that lie in one folder and whose names say what tells them
    apart. A track has no versions in its album.
    """
    if one.reading.get("part") != other.reading.get("part"):
        return True
    if one.kind == "track":
        return False
    if _word(one, "edition") != _word(other, "edition"):
        return True
    beside = one.path.rpartition("/")[0] == other.path.rpartition("/")[0]
    return beside and _label(one) != _label(other)


def _word(held: Held, name: str) -> str:
    return without_accents(str(held.reading.get(name) or ""))


def _label(held: Held) -> frozenset[str]:
    """The words of a name that are not those of its work."""
    stem = held.path.rpartition("/")[2].rpartition(".")[0]
    bare = re.sub(r"\s*\([0-9]{1,2}\)$", "", stem)
    title = " ".join(str(held.reading.get(name) or "") for name in ("title", "series", "episode_title"))
    words = re.findall(r"\w+", without_accents(bare))
    return frozenset(words) - set(without_accents(title).split()) - {str(held.reading.get("year"))} - _COPY_WORDS
