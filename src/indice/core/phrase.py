"""A text for people that knows what it was made of, so that it can be said in another language, and kept without words."""

from __future__ import annotations

import string
from collections.abc import Mapping, Sequence
from typing import Any

__all__ = ["Phrase", "counted", "fill", "joined", "listed", "phrase", "term"]


class Phrase(str):
    """A text as it reads in English; `template` and `values` say it in any language.

    It is a text like any other to whoever need not know: a log, a terminal, a test.
    """

    template: str
    values: Mapping[str, Any]

    def __new__(cls, template: str, values: Mapping[str, Any]) -> Phrase:
        made = super().__new__(cls, fill(template, values))
        made.template, made.values = template, values
        return made

    def __reduce__(self) -> tuple[type[Phrase], tuple[str, dict[str, Any]]]:
        """What it is made of again, where it goes to another process."""
        return Phrase, (self.template, dict(self.values))


def phrase(template: str, /, **values: Any) -> Phrase:
    """A text with `{names}` in it, and what they stand for; a value may be a phrase itself.

    `{n:file|files}` stands for a number and what is counted: *1 file*, *7 files*.
    """
    return Phrase(template, values)


def term(text: str) -> str:
    """A template that is filled elsewhere, or a text that is said thousands of times: marks it for translation, and
    does nothing else."""
    return text


def counted(said: Mapping[str, str], counts: Mapping[str, int]) -> str:
    """How many there are of each, as a list in the order of the templates (name → `{n} new`); what is none is not said.

    The templates are marked by :func:`term`.
    """
    return listed([Phrase(template, {"n": counts[name]}) for name, template in said.items() if counts.get(name)])


def listed(parts: Sequence[str]) -> str:
    """Some phrases as a list, with commas between; nothing of none."""
    if len(parts) < 2:
        return parts[0] if parts else ""
    return phrase("{one}, {more}", one=_as_phrase(parts[0]), more=_as_phrase(listed(parts[1:])))


def joined(*sentences: str) -> str:
    """Sentences one after the other; those that are empty are left out."""
    said = [sentence for sentence in sentences if sentence]
    if len(said) < 2:
        return said[0] if said else ""
    return phrase("{one} {more}", one=_as_phrase(said[0]), more=_as_phrase(joined(*said[1:])))


def _as_phrase(text: str) -> Phrase:
    """A sentence of its own is its own template."""
    return text if isinstance(text, Phrase) else Phrase(text.replace("{", "{{").replace("}", "}}"), {})


def fill(template: str, values: Mapping[str, Any]) -> str:
    """A template with its values in it. Raises :class:`KeyError` where one is missing."""
    return _FILLER.vformat(template, (), values)


class _Filler(string.Formatter):
    """Formats as `str.format` does, and counts; it reaches into no value."""

    def get_field(self, field_name: str, args: Sequence[Any], kwargs: Mapping[str, Any]) -> Any:
        return kwargs[field_name], field_name

    def format_field(self, value: Any, format_spec: str) -> str:
        if "|" in format_spec:
            one, several = format_spec.split("|", 1)
            return f"{value} {one if value == 1 else several}"
        return format(value, format_spec)


_FILLER = _Filler()
