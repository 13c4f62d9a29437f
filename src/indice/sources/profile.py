"""What a source calls things: a TOML file that a person can write for a service of their own."""

from __future__ import annotations

import ipaddress
import tomllib
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from ..core.phrase import phrase
from ..errors import IndiceError

__all__ = [
    "KINDS",
    "KNOWN_FIELDS",
    "FieldMap",
    "KindMap",
    "Profile",
    "ProfileError",
    "networks_of",
    "parse_profile",
    "table_of",
]

KNOWN_FIELDS: dict[str, frozenset[str]] = {
    kind: frozenset(fields.split())
    for kind, fields in {
        "movie": "title original_title aliases date runtime plot tagline genres rating directors writers cast "
        "countries languages set artwork backdrop",
        "series": "title original_title aliases date end_date runtime plot genres rating cast artwork backdrop episodes",
        "episode": "title original_title aliases season number absolute date runtime plot directors artwork",
        "album": "title aliases artists date genres label artwork tracks",
        "track": "title artists disc number runtime",
        "artist": "title original_title aliases genres plot artwork",
        "set": "title films",
    }.items()
}
KINDS = tuple(KNOWN_FIELDS)
_UNITS = {"minutes": 60.0, "seconds": 1.0, "hours": 3600.0, "milliseconds": 0.001}


class ProfileError(IndiceError):
    """The profile cannot be used as it stands."""

    reference = "profile-wrong"


@dataclass(frozen=True, slots=True)
class FieldMap:
    """Our field = their property."""

    property: str
    seconds_per_unit: float = 60.0
    """Of `runtime` only."""


@dataclass(frozen=True, slots=True)
class KindMap:
    """A kind of ours = a type of theirs."""

    type: str
    fields: dict[str, FieldMap] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Profile:
    """A source's profile."""

    name: str
    url: str
    scheme: str = ""
    languages: tuple[str, ...] = ()
    kinds: dict[str, KindMap] = field(default_factory=dict)
    unknown: tuple[str, ...] = ()
    """Fields that Indice does not know; reported and left alone."""
    networks: tuple[str, ...] = ()
    """Private networks, besides the source's own address, in which its pictures may lie, as `192.168.1.0/24`."""


def table_of(text: str) -> dict[str, Any]:
    """What a profile holds; raises ProfileError where it is no TOML."""
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise ProfileError(
            phrase("The profile is no valid TOML: {error}", error=error), hint="Mend that line."
        ) from error


def parse_profile(text: str) -> Profile:
    """Read a profile; raises ProfileError that names the line or the field which is wrong."""
    data = table_of(text)
    name, url = data.get("name"), data.get("url")
    if not isinstance(name, str) or not name.strip():
        raise ProfileError("The profile has no name.", hint='Add a line such as name = "Almanac".')
    if not isinstance(url, str) or urlsplit(url).scheme not in ("http", "https") or not urlsplit(url).netloc:
        raise ProfileError(
            phrase("The profile's url is no web address: {url}.", url=repr(url)),
            hint='Add a line such as url = "https://example.org/reconcile".',
        )
    if "serves" in data:
        raise ProfileError(
            "This is no profile of a metadata source.", hint="A service of subtitles is added in the same place."
        )
    kinds: dict[str, KindMap] = {}
    unknown: list[str] = []
    for kind in KINDS:
        section = data.get(kind)
        if not isinstance(section, dict):
            continue
        kinds[kind] = _kind(kind, section, unknown)
    if not kinds:
        raise ProfileError(
            "The profile maps nothing.",
            hint=phrase("Add a section such as [movie]; known are {kinds}.", kinds=", ".join(KINDS)),
        )
    languages = data.get("languages", [])
    return Profile(
        name.strip(),
        url,
        str(data.get("scheme", "")).lower(),
        tuple(str(tag) for tag in languages if isinstance(tag, str)) if isinstance(languages, list) else (),
        kinds,
        tuple(unknown),
        networks_of(data.get("networks", [])),
    )


def networks_of(told: Any) -> tuple[str, ...]:
    """Private networks that a profile names; raises ProfileError where one is none."""
    if not isinstance(told, list):
        raise ProfileError("networks is a list.", hint='For example networks = ["192.168.1.0/24"].')
    for one in told:
        try:
            ipaddress.ip_network(str(one), strict=False)
        except ValueError as error:
            raise ProfileError(
                phrase("{one} is no network.", one=repr(one)), hint='For example networks = ["192.168.1.0/24"].'
            ) from error
    return tuple(str(one) for one in told)


def _kind(kind: str, section: dict[str, Any], unknown: list[str]) -> KindMap:
    fields: dict[str, FieldMap] = {}
    mapped = section.get("fields", {})
    for name, value in mapped.items() if isinstance(mapped, dict) else ():
        if name not in KNOWN_FIELDS[kind]:
            unknown.append(f"{kind}.{name}")
            continue
        default = 1.0 if kind == "track" else 60.0
        if isinstance(value, str):
            fields[name] = FieldMap(value, default)
        elif isinstance(value, dict) and isinstance(value.get("property"), str):
            unit = value.get("unit", "seconds" if kind == "track" else "minutes")
            if unit not in _UNITS:
                raise ProfileError(
                    phrase("{kind}.{name}: there is no unit {unit}.", kind=kind, name=name, unit=repr(unit)),
                    hint=phrase("Known are {units}.", units=", ".join(_UNITS)),
                )
            fields[name] = FieldMap(value["property"], _UNITS[unit])
        else:
            raise ProfileError(
                phrase("{kind}.{name} must be a property's name.", kind=kind, name=name),
                hint='For example title = "label".',
            )
    if "title" not in fields:
        raise ProfileError(
            phrase("[{kind}.fields] does not say which property is the title.", kind=kind), hint='Add title = "…".'
        )
    return KindMap(str(section.get("type", "")), fields)
