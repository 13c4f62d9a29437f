"""The words of the trade by meaning and language, from `data/words.toml`, and patterns made of them."""

from __future__ import annotations

import re
import tomllib
import unicodedata
from functools import cache
from importlib import resources
from typing import Any

__all__ = ["alternation", "months", "roles_of", "words_for"]

_BARE_LETTERS = str.maketrans({"ø": "o", "æ": "ae", "ł": "l", "ı": "i", "ß": "ss", "đ": "d", "œ": "oe"})


@cache
def _tables() -> dict[str, Any]:
    text = resources.files(__package__ or "").joinpath("data", "words.toml").read_text("utf-8")
    return tomllib.loads(text)


def _forms(word: str) -> tuple[str, ...]:
    """A word as it is written, and as those write it who have no accents on their keys."""
    plain = "".join(
        c for c in unicodedata.normalize("NFD", word.translate(_BARE_LETTERS)) if not unicodedata.combining(c)
    )
    return (word,) if plain == word or not plain.isascii() else (word, plain)


def _spelled(table: dict[str, list[str]]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(form for words in table.values() for word in words for form in _forms(word)))


@cache
def words_for(meaning: str) -> tuple[str, ...]:
    """All words for a meaning (`season`, `part` …), in every language."""
    return _spelled(_tables()[meaning])


@cache
def roles_of(family: str) -> dict[str, str]:
    """Word → role, for `extras`, `artwork` and `flags` of subtitles."""
    return {word: role for role, table in _tables()[family].items() for word in _spelled(table)}


def alternation(*meanings: str, least: int = 1) -> str:
    """A pattern's alternatives for the words of these meanings, the longest first; a blank is any one separator."""
    words = {word for meaning in meanings for word in words_for(meaning) if len(word) >= least}
    return "|".join(re.escape(word).replace(r"\ ", r"[\s._-]?") for word in sorted(words, key=lambda w: (-len(w), w)))


@cache
def months() -> dict[str, int]:
    """Name of a month in lower case, in every language → its number."""
    return {
        form: number
        for names in _tables()["months"].values()
        for number, spelled in enumerate(names, 1)
        for word in spelled.split()
        for form in _forms(word)
    }
