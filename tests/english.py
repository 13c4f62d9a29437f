"""What the product says in English, wherever it is met."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

ENGLISH: dict[str, str] = json.loads(
    (Path(__file__).parents[1] / "src" / "indice" / "phrases" / "en.json").read_text("utf-8")
)
LETTERS = 12
"""A template of so few letters is said by chance, too."""


def _pattern(template: str) -> str:
    parts = re.split(r"{[^}]*}", template)
    return "(?:" + ".+?".join(re.escape(part) for part in parts) + ")"


TOLD = re.compile(
    "|".join(
        _pattern(template)
        for template in ENGLISH.values()
        if len(re.sub(r"{[^}]*}|[^A-Za-z]", "", template)) >= LETTERS and "{{" not in template
    )
)


def texts(said: Any) -> Iterator[str]:
    """All texts in an answer."""
    if isinstance(said, str):
        yield said
    for value in said.values() if isinstance(said, dict) else said if isinstance(said, list) else ():
        yield from texts(value)


def english(said: Any) -> list[str]:
    """What of an answer is said in English."""
    return [text for text in texts(said) if TOLD.fullmatch(text)]
