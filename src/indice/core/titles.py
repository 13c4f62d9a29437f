"""Titles as they are sorted, and which way to write one is shown."""

from __future__ import annotations

import re
from collections.abc import Iterable

__all__ = ["best_title", "better_title", "sort_title"]

_ARTICLE = re.compile(r"^(?:the|an?|der|die|das|le|la|les|el|los|las|il|lo|de|het)\s+|^l['’]", re.IGNORECASE)


def better_title(one: str, other: str) -> bool:
    """Whether one way to write a title is shown rather than another.

    Mixed case goes before one case, letters with their accents before those that lost them, then the longer, then the
    earlier in the alphabet: whichever is asked about first.
    """
    return _how_good(one) > _how_good(other)


def best_title(titles: Iterable[str]) -> str:
    """The way to write a title that is shown, of some. Raises :class:`ValueError` where there is none."""
    return max(titles, key=_how_good)


def _how_good(title: str) -> tuple[bool, int, int, list[int]]:
    is_mixed = title != title.lower() and title != title.upper()
    accents = sum(sign.isalpha() and not sign.isascii() for sign in title)
    return is_mixed, accents, len(title), [-ord(sign) for sign in title]


def sort_title(title: str) -> str:
    """A title as it is sorted: folded, its article left out."""
    return _ARTICLE.sub("", title).casefold().strip() or title.casefold()
