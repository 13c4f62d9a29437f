"""When two spellings are one title, for checks: accents, articles, punctuation and case make no difference."""

from __future__ import annotations

import re
from functools import lru_cache

from ..reading.scan import without_accents

__all__ = ["is_same_title", "letters", "names_sequel"]

_UMLAUTS = re.compile(r"(?<=[aou])e")
_NUMERAL = re.compile(r"[0-9]+|[ivx]+|two|three|four|five|six|zwei|drei|deux|trois")


@lru_cache(maxsize=16384)
def letters(text: str) -> str:
    """The letters and digits of a title without accents, articles and blanks; ä, ae and a are one, so are ø and o."""
    return _UMLAUTS.sub("", without_accents(text)).replace(" ", "")


def names_sequel(longer: str, shorter: str) -> bool:
    """Whether a title goes on with a number where the other ends: another work, not another spelling."""
    rest = without_accents(longer)[len(without_accents(shorter)) :].split()
    return bool(rest) and _NUMERAL.fullmatch(rest[0]) is not None


def is_same_title(one: str, other: str) -> bool:
    """Whether two titles can be one: equal, or one is the other with a subtitle left out."""
    if letters(one) == letters(other):
        return True
    shorter, longer = sorted((one, other), key=lambda title: len(without_accents(title)))
    head, whole = without_accents(shorter), without_accents(longer)
    return whole.startswith(head + " ") and not names_sequel(longer, shorter)
