"""The door for values from outside: sidecars, tags, sources. What no field can hold is left out; the rest goes on.

Every field is looked at alone, so that one bad value costs itself and nothing else.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from itertools import islice
from typing import Any

__all__ = ["clean_fact", "clean_facts", "clean_text", "clean_value"]

LONGEST_TEXT = 20_000
LONGEST_LIST = 500
DEEPEST = 12
LARGEST_WHOLE = 2**31 - 1

_UNFIT = re.compile("[\0\ud800-\udfff]")
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")
_DATE = re.compile(r"[0-9]{4}(?:-(?:0[1-9]|1[0-2])(?:-(?:0[1-9]|[12][0-9]|3[01])(?:[T ][0-9:.+Z-]*)?)?)?")

TEXT = frozenset(
    ("title", "original_title", "plot", "tagline", "rating", "set", "label", "artist", "album", "album_artist",
     "name", "description", "composer", "town", "country", "about", "lyrics")
)  # fmt: skip
DATES = frozenset(("date", "end_date", "taken", "original"))
WHOLE = {
    "year": (1, 9999), "season": (0, 9999), "number": (0, 99_999), "absolute": (0, 999_999), "disc": (0, 9999),
    "track": (0, 99_999), "track_total": (0, 99_999), "disc_total": (0, 9999), "stars": (0, 5), "votes": (0, LARGEST_WHOLE),
}  # fmt: skip
"""Field → the least and the greatest that it can be."""
NESTED = frozenset(("expected",))
"""Fields that Indice makes itself, of lists in lists."""
LENGTHS = frozenset(("runtime", "seconds"))
LONGEST_SECONDS = 10_000_000.0


def clean_text(text: str) -> str:
    """Text that every record takes: a NUL or half a surrogate pair becomes U+FFFD."""
    return text if text.isascii() and "\0" not in text else _UNFIT.sub("\ufffd", text)


def clean_value(value: Any, *, most: int = LONGEST_LIST, depth: int = 0) -> Any:
    """A value of any shape that a record can hold: finite numbers, fit text, bounded size; None for what cannot be.

    `most` things stand in a list or a mapping; what is nested deeper than :data:`DEEPEST` is None.
    """
    if value is None or isinstance(value, bool):
        return value
    if isinstance(value, str):
        return clean_text(value[:LONGEST_TEXT])
    if isinstance(value, int):
        return value if abs(value) < 2**63 else None
    if isinstance(value, float):
        return value if math.isfinite(value) else None
    if depth >= DEEPEST:
        return None
    if isinstance(value, Mapping):
        pairs = islice(value.items(), most)
        return {clean_text(str(key)[:200]): clean_value(one, most=most, depth=depth + 1) for key, one in pairs}
    if isinstance(value, list | tuple):
        return [clean_value(one, most=most, depth=depth + 1) for one in islice(value, most)]
    return None


def _plain(value: Any) -> str | None:
    """The text of a cell: itself, a number written out, the name of an entity; None where it is none."""
    if isinstance(value, Mapping):
        value = value.get("name")
    if isinstance(value, bool) or not isinstance(value, str | int | float):
        return None
    if isinstance(value, float):
        if not math.isfinite(value):
            return None
        value = int(value) if value.is_integer() else value
    text = _CONTROL.sub(" ", clean_text(str(value)[:LONGEST_TEXT])).strip()
    return text if text and text.strip("\ufffd ") else None


def _whole(value: Any, least: int, most: int) -> int | None:
    if isinstance(value, str) and re.fullmatch(r"\s*[0-9]{1,9}(?:\.0+)?\s*", value):
        value = float(value)
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        return None
    return int(value) if least <= value <= most and value == int(value) else None


def _length(value: Any) -> float | None:
    if isinstance(value, str) and re.fullmatch(r"\s*[0-9]{1,8}(?:[.,][0-9]{1,6})?\s*", value):
        value = float(value.replace(",", "."))
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        return None
    return value if 0 < value <= LONGEST_SECONDS else None


def clean_fact(field: str, value: Any) -> Any:
    """The value of a field as it can be kept; None when it is nothing that this field can hold."""
    if field in WHOLE:
        return _whole(value, *WHOLE[field])
    if field in LENGTHS:
        return _length(value)
    if field in DATES:
        text = _plain(value)
        return text[:32] if text is not None and _DATE.fullmatch(text) else None
    if field in TEXT:
        return _plain(value[0] if isinstance(value, list) and value else value)
    if isinstance(value, list):
        if field in NESTED:
            return clean_value(value, most=20_000)
        return [text for one in value[:LONGEST_LIST] if (text := _plain(one)) is not None] or None
    if isinstance(value, Mapping):
        return clean_value(value) or None
    return _plain(value) if not isinstance(value, int | float) else clean_value(value)


def clean_facts(facts: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """Facts that can be kept, and the names of the fields whose values could not."""
    kept: dict[str, Any] = {}
    left: list[str] = []
    for field, value in list(facts.items())[:LONGEST_LIST]:
        clean = clean_fact(str(field), value)
        if clean is not None:
            kept[clean_text(str(field)[:100])] = clean
        elif value not in (None, "", [], {}):
            left.append(clean_text(str(field)[:100]))
    return kept, left
