"""The profile that names a service of subtitles (`docs/subtitles.md`)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from ..core.phrase import phrase
from .profile import ProfileError, networks_of, table_of

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


def is_text_profile(text: str) -> bool:
    """Whether a profile is that of a service of subtitles; raises ProfileError where it is no TOML."""
    return table_of(text).get("serves") == "subtitles"


def parse_text_profile(text: str) -> TextProfile:
    """Read a profile; raises ProfileError that says what is wrong."""
    told = table_of(text)
    name, url = told.get("name"), told.get("url")
    if not isinstance(name, str) or not name.strip():
        raise ProfileError("The profile has no name.", hint='Add a line such as name = "Footline".')
    if not isinstance(url, str) or urlsplit(url).scheme not in ("http", "https") or not urlsplit(url).netloc:
        raise ProfileError(
            phrase("The profile's url is no web address: {url}.", url=repr(url)),
            hint='Add a line such as url = "https://example.org/texts".',
        )
    return TextProfile(
        name.strip(), url.rstrip("/"), _languages(told.get("languages", [])), networks_of(told.get("networks", []))
    )


def _languages(told: Any) -> tuple[str, ...]:
    if not isinstance(told, list) or not all(isinstance(one, str) for one in told):
        raise ProfileError("languages is a list of words.", hint='For example languages = ["en", "de"].')
    return tuple(str(one).lower() for one in told)
