"""The profile that names a service of subtitles (`docs/subtitles.md`)."""

from __future__ import annotations

import ipaddress
import tomllib
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from .profile import ProfileError

__all__ = ["TextProfile", "is_text_profile", "parse_text_profile"]


@dataclass(frozen=True, slots=True)
class TextProfile:
    """A service of subtitles."""

    name: str
    url: str
    """Without a slash at its end."""
    languages: tuple[str, ...] = ()
    """Those that it has; empty: any."""
    networks: tuple[str, ...] = ()
    """Private networks, besides its own address, that it may lead into."""


def _table(text: str) -> dict[str, Any]:
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise ProfileError(f"The profile is no valid TOML: {error}", hint="Mend that line.") from error


def is_text_profile(text: str) -> bool:
    """Whether a profile is that of a service of subtitles; raises ProfileError where it is no TOML."""
    return _table(text).get("serves") == "subtitles"


def parse_text_profile(text: str) -> TextProfile:
    """Read a profile; raises ProfileError that says what is wrong."""
    told = _table(text)
    name, url = told.get("name"), told.get("url")
    if not isinstance(name, str) or not name.strip():
        raise ProfileError("The profile has no name.", hint='Add a line such as name = "Footline".')
    if not isinstance(url, str) or urlsplit(url).scheme not in ("http", "https") or not urlsplit(url).netloc:
        raise ProfileError(
            f"The profile's url is no web address: {url!r}.",
            hint='Add a line such as url = "https://example.org/texts".',
        )
    return TextProfile(name.strip(), url.rstrip("/"), _words(told, "languages"), _networks(told))


def _words(told: dict[str, Any], name: str) -> tuple[str, ...]:
    found = told.get(name, [])
    if not isinstance(found, list) or not all(isinstance(one, str) for one in found):
        raise ProfileError(f"{name} is a list of words.", hint=f'For example {name} = ["en", "de"].')
    return tuple(str(one).lower() if name == "languages" else str(one) for one in found)


def _networks(told: dict[str, Any]) -> tuple[str, ...]:
    found = _words(told, "networks")
    for one in found:
        try:
            ipaddress.ip_network(one, strict=False)
        except ValueError as error:
            raise ProfileError(f"{one!r} is no network.", hint='For example networks = ["192.168.1.0/24"].') from error
    return found
