"""Titles as they are sorted, and which way to write one is shown."""

from __future__ import annotations

import re

__all__ = ["better_title", "sort_title"]

_ARTICLE = re.compile(r"^(?:the|an?|der|die|das|le|la|les|el|los|las|il|lo|de|het)\s+|^l['’]", re.IGNORECASE)


def better_title(one: str, other: str) -> bool:
    """Whether one way to write a title is shown rather than another.

    Mixed case goes before one case, then the longer, then the earlier in the alphabet: whichever is asked about first.
    """
    return (one != one.lower() and one != one.upper(), len(one), [-ord(c) for c in one]) > (
        other != other.lower() and other != other.upper(),
        len(other),
        [-ord(c) for c in other],
    )


def sort_title(title: str) -> str:
    """A title as it is sorted: folded, its article left out."""
    return _ARTICLE.sub("", title).casefold().strip() or title.casefold()
