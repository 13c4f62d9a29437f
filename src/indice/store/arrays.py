"""Lists of numbers and of texts on their way to the database.

The driver writes an array item by item, in Python, and asks of each whether it needs quotes: a tenth of the time that
a scan spends in this process. What an array looks like is said in PostgreSQL's manual, 8.15.6.
"""

from __future__ import annotations

from typing import Any

from psycopg.abc import Buffer
from psycopg.types.array import ListDumper

__all__ = ["PlainListDumper"]


class PlainListDumper(ListDumper):
    """Writes a flat list of nothing but numbers, or of nothing but texts, at once; the driver's way for any other."""

    def dump(self, obj: list[Any]) -> Buffer | None:
        """The array as text. Raises DataError as the driver does, for what no array holds."""
        kinds = set(map(type, obj))
        if kinds == {int}:
            return f"{{{','.join(map(str, obj))}}}".encode()
        if kinds == {str} and self.delimiter == b",":
            told = '","'.join(obj)
            if "\0" not in told:
                if "\\" in told or told.count('"') != 2 * (len(obj) - 1):
                    told = '","'.join(item.replace("\\", "\\\\").replace('"', '\\"') for item in obj)
                return f'{{"{told}"}}'.encode()
        return super().dump(obj)
