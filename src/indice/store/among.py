"""One of any number of ids, or of words; and what holds a value."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from sqlalchemy import BigInteger, ColumnElement, Integer, Text, cast, func, literal_column, or_
from sqlalchemy.dialects.postgresql import ARRAY, JSONB

from .models import CleanText

__all__ = ["among", "among_sizes", "among_words", "holds_value"]

_IDS = ARRAY(Integer)
_SIZES = ARRAY(BigInteger)
_WORDS = ARRAY(CleanText())


def among(column: Any, ids: Iterable[int]) -> ColumnElement[bool]:
    """Whether a column holds one of these ids: one array goes over the wire, however many they are.

    A list of single parameters ends at 65,535, and is planned anew for each length.
    """
    return column == func.any(cast(list(ids), _IDS))


def among_sizes(column: Any, sizes: Iterable[int]) -> ColumnElement[bool]:
    """Whether a column holds one of these numbers of bytes, which 32 bits do not hold."""
    return column == func.any(cast(list(sizes), _SIZES))


_HELD: ColumnElement[Any] = literal_column("(fact.value -> 'v')", JSONB)
"""The value of a fact, written as its index has it: a subscript, or a name that is a parameter, no index would know."""


def holds_value(value: str) -> ColumnElement[bool]:
    """Whether a fact's value is this text, or a list in which it stands."""
    return or_(_HELD.contains([value]), _HELD.contains(func.to_jsonb(cast(value, Text))))


def among_words(column: Any, words: Iterable[str]) -> ColumnElement[bool]:
    """Whether a column holds one of these texts."""
    return column == func.any(cast(list(words), _WORDS))
