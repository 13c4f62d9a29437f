"""From which age something may be seen, by its certificates. The classes of the countries are data (`ages.toml`)."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from functools import cache
from importlib import resources

from .certificates import certificates

__all__ = ["age_of", "age_of_certificate"]

OLDEST = 21
_UNRATED = re.compile(r"\b(?:not rated|unrated|nr|ur|exempt|e\.?u\.?|ungeprüft|pending|tbc|none|n/?a)\b", re.IGNORECASE)
_NUMBER = re.compile(r"(?<![\d.])(\d{1,2})(?![\d.])")


@cache
def _classes() -> dict[str, dict[str, int]]:
    told = tomllib.loads(resources.files("indice.core.facts").joinpath("ages.toml").read_text("utf-8"))
    return {country: {_plain(name): age for name, age in classes.items()} for country, classes in told.items()}


def _plain(text: str) -> str:
    return " ".join(text.casefold().replace("_", " ").split())


def age_of_certificate(certificate: str, country: str) -> int | None:
    """From which age one may see what has this certificate; None when it says nothing that is known."""
    said = _plain(certificate)
    for classes in (_classes().get(country, {}), _classes()["any"]):
        if said in classes:
            return classes[said]
    if not said or _UNRATED.search(said):
        return None
    number = _NUMBER.search(re.sub(r"(?<=\d)(?:[a-z]{1,2}\b|\+)|(?<=[a-z])(?=\d)|(?<=[a-z])-(?=\d)", " ", said))
    if number is not None and int(number[1]) <= OLDEST:
        return int(number[1])
    bare = said.rstrip("+").replace("rated ", "").strip()
    return _classes().get(country, {}).get(bare)


def age_of(values: Iterable[str], country: str) -> int | None:
    """From which age: by the certificate of a country, else by the strictest of the others; None when none is known."""
    known = certificates(values)
    own = age_of_certificate(known[country], country) if country in known else None
    if own is not None:
        return own
    ages = [age for place, said in known.items() if (age := age_of_certificate(said, place or country)) is not None]
    return max(ages, default=None)
