"""One of any number of ids."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from sqlalchemy import ColumnElement, Integer, cast, func
from sqlalchemy.dialects.postgresql import ARRAY

__all__ = ["among"]

_IDS = ARRAY(Integer)


def among(column: Any, ids: Iterable[int]) -> ColumnElement[bool]:
    """Whether a column holds one of these ids: one array goes over the wire, however many they are.

    A list of single parameters ends at 65,535, and is planned anew for each length.
    """
    return column == func.any(cast(list(ids), _IDS))
