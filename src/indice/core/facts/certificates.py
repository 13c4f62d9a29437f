"""Certificates (from which age a film may be seen), which every country gives its own way."""

from __future__ import annotations

import re
from collections.abc import Iterable

__all__ = ["certificate_for", "certificates"]

_BEFORE = re.compile(r"^\s*([A-Z]{2})\s*[:/ -]\s*(\S.*?)\s*$")
_AFTER = re.compile(r"^\s*(\S.*?)\s*[(\[]([A-Z]{2})[)\]]\s*$")


def certificates(values: Iterable[str]) -> dict[str, str]:
    """Country (ISO 3166 alpha-2; empty where none is named) → certificate, of texts such as `AT: 12` or `12 (AT)`.

    The first of a country counts.
    """
    found: dict[str, str] = {}
    for text in values:
        before, after = _BEFORE.match(text), _AFTER.match(text)
        if before is not None:
            country, certificate = before.groups()
        elif after is not None:
            certificate, country = after.groups()
        else:
            country, certificate = "", text.strip()
        if certificate:
            found.setdefault(country, certificate)
    return found


def certificate_for(values: Iterable[str], country: str) -> str | None:
    """The certificate of a country; else one that names none; else the first, with its country. None of nothing."""
    known = certificates(values)
    for wanted in (country, ""):
        if wanted in known:
            return known[wanted]
    return next((f"{certificate} ({place})" for place, certificate in known.items()), None)
