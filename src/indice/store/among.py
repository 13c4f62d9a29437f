"""One of any number of ids, or of words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from sqlalchemy import ColumnElement, Integer, cast, func
from sqlalchemy.dialects.postgresql import ARRAY

from .models import CleanText

__all__ = ["among", "among_words"]

_IDS = ARRAY(Integer)
_WORDS = ARRAY(CleanText())


def among(column: Any, ids: Iterable[int]) -> ColumnElement[bool]:
    """Whether a column holds one of these ids: one array goes over the wire, however many they are.

    A list of single parameters ends at 65,535, and is planned anew for each length.
    """
    return column == func.any(cast(list(ids), _IDS))


def among_words(column: Any, words: Iterable[str]) -> ColumnElement[bool]:
    """Whether a column holds one of these texts."""
    return column == func.any(cast(list(words), _WORDS))
