"""Facts as JSON-LD in the schema.org vocabulary (https://schema.org), the form of
sidecars beside films, series and albums.

Read are the compact forms that people and programs write: one thing, or a `@graph`
of which the first that is known counts.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

__all__ = ["facts_of_linked", "linked_of_facts", "plain_facts"]

KINDS = {
    "Movie": "movie",
    "TVSeries": "series",
    "TVEpisode": "episode",
    "MusicAlbum": "album",
    "MusicRecording": "track",
    "MusicGroup": "artist",
}
"""Type in schema.org → kind of entry."""
_TYPES = {kind: name for name, kind in KINDS.items()}
_TEXTS = {
    "name": "title",
    "datePublished": "date",
    "startDate": "date",
    "dateCreated": "date",
    "endDate": "end_date",
    "description": "plot",
    "abstract": "plot",
    "slogan": "tagline",
    "contentRating": "rating",
    "recordLabel": "label",
    "isPartOf": "set",
}
_LISTS = {
    "alternateName": "aliases",
    "genre": "genres",
    "director": "directors",
    "author": "writers",
    "actor": "cast",
    "countryOfOrigin": "countries",
    "inLanguage": "languages",
    "byArtist": "artists",
    "keywords": "keywords",
}
_WRITTEN = {field: name for name, field in reversed([*_TEXTS.items(), *_LISTS.items()])}
_PEOPLE = frozenset(("director", "author", "actor"))
_DURATION = re.compile(r"^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:\.\d+)?)S)?)?$")
_KNOWN = frozenset((*_TEXTS.values(), *_LISTS.values(), "original_title", "runtime", "year"))
LONGEST_TEXT = 20_000


def _text(value: Any) -> str:
    """The text of a value: itself, or the name of the thing it is."""
    if isinstance(value, Mapping):
        value = value.get("name", value.get("@value", ""))
    if isinstance(value, bool) or not isinstance(value, str | int | float):
        return ""
    return str(value).replace("\0", "").strip()[:LONGEST_TEXT]


def _texts(value: Any) -> list[str]:
    values = value if isinstance(value, list) else [value]
    return [text for one in values[:200] if (text := _text(one))]


def _seconds(value: Any) -> float | None:
    """A duration (ISO 8601) in seconds."""
    found = _DURATION.match(_text(value))
    if found is None or not any(found.groups()):
        return None
    days, hours, minutes, seconds = (float(part or 0) for part in found.groups())
    return ((days * 24 + hours) * 60 + minutes) * 60 + seconds


def _thing(data: Any) -> Mapping[str, Any] | None:
    """The first thing of a known type."""
    if isinstance(data, Mapping) and "@graph" in data:
        data = data["@graph"]
    for one in data if isinstance(data, list) else [data]:
        if isinstance(one, Mapping) and _kind(one) is not None:
            return one
    return None


def _kind(thing: Mapping[str, Any]) -> str | None:
    names = thing.get("@type")
    for name in names if isinstance(names, list) else [names]:
        kind = KINDS.get(str(name).rpartition("/")[2].rpartition(":")[2])
        if kind is not None:
            return kind
    return None


def facts_of_linked(data: Any) -> tuple[str, dict[str, Any]] | None:
    """Kind and facts of a JSON-LD document, or None when nothing in it is a film, a series, an album …"""
    thing = _thing(data)
    if thing is None:
        return None
    facts: dict[str, Any] = {}
    for name, field in _TEXTS.items():
        if (texts := _texts(thing.get(name))) and field not in facts:
            facts[field] = texts[0]
    for name, field in _LISTS.items():
        if texts := _texts(thing.get(name)):
            facts[field] = texts
    seconds = _seconds(thing.get("duration", thing.get("timeRequired")))
    if seconds is not None:
        facts["runtime"] = seconds
    if (year := re.match(r"[12][0-9]{3}", facts.get("date", ""))) is not None:
        facts["year"] = int(year.group())
    ids = _identifiers(thing.get("identifier"))
    if ids:
        facts["ids"] = ids
    return _kind(thing) or "", facts


def _identifiers(value: Any) -> dict[str, str]:
    """Scheme → identifier, of schema.org's PropertyValue."""
    found: dict[str, str] = {}
    for one in value if isinstance(value, list) else [value]:
        if isinstance(one, Mapping) and one.get("propertyID") and one.get("value"):
            found[_text(one["propertyID"]).lower()] = _text(one["value"])
    return found


def plain_facts(data: Any) -> dict[str, Any]:
    """Facts of a plain JSON object whose names are Indice's own fields; others are left alone."""
    if not isinstance(data, Mapping):
        return {}
    lists = set(_LISTS.values())
    facts: dict[str, Any] = {}
    for name, value in data.items():
        if name in ("runtime", "year"):
            if isinstance(value, int | float) and not isinstance(value, bool):
                facts[name] = value
        elif name in _KNOWN and (texts := _texts(value)):
            facts[name] = texts if name in lists else texts[0]
    return facts


def linked_of_facts(kind: str, facts: Mapping[str, Any], ids: Mapping[str, str]) -> dict[str, Any]:
    """The JSON-LD document of an entry; fields that schema.org has no word for are left out.

    Raises KeyError for a kind that has no type there.
    """
    document: dict[str, Any] = {"@context": "https://schema.org", "@type": _TYPES[kind]}
    for field, value in sorted(facts.items()):
        name = _WRITTEN.get(field)
        if name is None or value in (None, "", []):
            continue
        if name in _PEOPLE:
            document[name] = [{"@type": "Person", "name": one} for one in value]
        elif name == "byArtist":
            document[name] = [{"@type": "MusicGroup", "name": one} for one in value]
        elif name == "isPartOf":
            document[name] = {"@type": "CreativeWorkSeries", "name": value}
        else:
            document[name] = value
    if (seconds := facts.get("runtime")) is not None:
        document["duration"] = f"PT{round(float(seconds))}S"
    if facts.get("year") and "datePublished" not in document:
        document["datePublished"] = str(facts["year"])
    if ids:
        document["identifier"] = [
            {"@type": "PropertyValue", "propertyID": scheme, "value": value} for scheme, value in sorted(ids.items())
        ]
    return document
