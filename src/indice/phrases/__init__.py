"""What is said to people, in their languages.

Templates stand in the code in English; `en.json` gives each a reference, and `de.json` says the same in German
(`python -m tools.phrases` finds what is new). A record holds a reference with values, and no words:
`asking-source {"source": "Quay"}`.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any

from ..core.phrase import Phrase, fill

__all__ = ["LANGUAGES", "kept", "revived", "told"]

LANGUAGES = ("en", "de")


@cache
def _words(language: str) -> Mapping[str, str]:
    """Reference → template, in a language."""
    said: dict[str, str] = json.loads(resources.files(__name__).joinpath(f"{language}.json").read_text("utf-8"))
    return said


@cache
def _references() -> Mapping[str, str]:
    """English template → reference."""
    return {template: reference for reference, template in _words("en").items()}


def kept(text: str) -> str:
    """A text as records hold it: its reference and values.

    What is nobody's template, such as what a system or another service says, is kept as it stands.
    """
    if not text:
        return text
    template, values = (text.template, text.values) if isinstance(text, Phrase) else (text, {})
    reference = _references().get(template)
    if reference is None:
        return str(text)
    if not values:
        return reference
    return f"{reference} {json.dumps({name: _keep(value) for name, value in values.items()}, ensure_ascii=False)}"


def revived(text: str) -> str:
    """What a record holds, as the phrase that was kept; what is none is given back as it stands."""
    reference, _, rest = text.partition(" ")
    template = _words("en").get(reference)
    if template is None or (rest and not rest.startswith("{")):
        return text
    try:
        values = json.loads(rest) if rest else {}
        return Phrase(template, {name: _revive(value) for name, value in values.items()})
    except (ValueError, KeyError):  # somebody else's words that begin as a reference does
        return text


def told(text: str, language: str) -> str:
    """A text in a language; in English, where that language lacks it."""
    reference = _references().get(text.template if isinstance(text, Phrase) else text)
    template = _words(language).get(reference or "") if language in LANGUAGES else None
    if template is None:
        return str(text)
    values = text.values if isinstance(text, Phrase) else {}
    return fill(template, {name: told(v, language) if isinstance(v, Phrase) else v for name, v in values.items()})


def _keep(value: Any) -> Any:
    if isinstance(value, Phrase):
        return {"said": kept(value)}
    return value if isinstance(value, (int, float)) else str(value)


def _revive(value: Any) -> Any:
    return revived(str(value.get("said", ""))) if isinstance(value, dict) else value
