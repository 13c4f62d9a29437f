"""Client of the subtitle exchange, an open protocol of our own (`docs/subtitles.md`)."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

import httpx
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..core.phrase import phrase
from ..core.playing.offered import OfferedText, Wanted
from .polite import PoliteClient, SourceDown
from .text_profile import TextProfile
from .transport import TooLarge

__all__ = ["PROTOCOL", "TextServiceClient"]

PROTOCOL = "subtitle-exchange"
VERSION = 1
MOST_OFFERS = 200
MOST_TEXT_BYTES = 4_000_000
FORMS = ("srt", "vtt", "ass")


class _Told(BaseModel):
    """A text as the protocol describes it. What is not as it should be costs that text alone."""

    model_config = ConfigDict(extra="ignore", strict=False)
    id: str = Field(min_length=1, max_length=300)
    language: str = Field(min_length=2, max_length=20)
    title: str | None = Field(None, max_length=500)
    year: int | None = None
    season: int | None = None
    number: int | None = None
    seconds: float | None = Field(None, ge=0, le=1e6, allow_inf_nan=False)
    release: str = Field("", max_length=500)
    form: str = "srt"
    for_deaf: bool = False
    forced: bool = False
    digests: list[str] = Field(default_factory=list, max_length=200)


class TextServiceClient(PoliteClient):
    """Asks one service for texts, and fetches them."""

    def __init__(self, profile: TextProfile, *, key: str = "", transport: httpx.BaseTransport | None = None) -> None:
        super().__init__(profile.name, profile.url, key=key, networks=profile.networks, transport=transport)
        self.profile = profile

    def manifest(self) -> dict[str, Any]:
        """What the service says of itself, asked once; raises SourceDown when it is none of this protocol."""
        if self._manifest is None:
            found = self._send("GET", self.profile.url, with_key=False)
            if not isinstance(found, dict) or found.get("protocol") != PROTOCOL or found.get("version") != VERSION:
                raise SourceDown(
                    phrase(
                        "{name}: there is no {protocol} {version} at {url}.",
                        name=self.name,
                        protocol=PROTOCOL,
                        version=VERSION,
                        url=self.profile.url,
                    ),
                    hint="Check the address.",
                )
            self._manifest = found
        return self._manifest

    def search(self, wanted: Wanted, *, size_bytes: int | None = None) -> list[OfferedText]:
        """Texts that the service has for a file; none where it has not the language."""
        languages = [tag for tag in wanted.languages if not self.profile.languages or self._has(tag)]
        if not languages:
            return []
        self.manifest()
        asked: dict[str, Any] = {
            "titles": list(wanted.titles),
            "year": wanted.year,
            "season": wanted.season,
            "number": wanted.number,
            "languages": languages,
            "seconds": wanted.seconds,
            "file": {"name": wanted.file_name, "bytes": size_bytes, "digest": wanted.digest or None},
        }
        found = self._send("POST", f"{self.profile.url}/search", json=_without_none(asked))
        rows = found.get("texts") if isinstance(found, dict) else None
        if not isinstance(rows, list):
            raise SourceDown(
                phrase("{name} answers something else than texts.", name=self.name),
                hint="Tell those who run the service.",
            )
        return [offer for row in rows[:MOST_OFFERS] if (offer := _offer(row)) is not None]

    def _has(self, tag: str) -> bool:
        return any(tag.partition("-")[0] == one.partition("-")[0] for one in self.profile.languages)

    def fetch(self, text_id: str) -> bytes:
        """The content of a text; raises SourceDown when it cannot be had or is larger than 4 MB."""
        self.manifest()
        headers, extra = self._authentication()
        address = f"{self.profile.url}/texts/{quote(text_id, safe='')}"
        try:
            asked = self._http.build_request("GET", address, params=extra or None, headers=headers)
            answer, content = self._fetch(asked, MOST_TEXT_BYTES, redirects=not (headers or extra))
        except TooLarge as error:
            raise SourceDown(
                phrase("{name}: this text cannot be taken: {error}.", name=self.name, error=error)
            ) from error
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            raise SourceDown(
                phrase("{name}: this text cannot be fetched ({error}).", name=self.name, error=error)
            ) from error
        if answer.status_code != 200:
            raise SourceDown(
                phrase(
                    "{name}: this text is not there (status {status}).",
                    name=self.name,
                    status=answer.status_code,
                )
            )
        return content


def _without_none(value: dict[str, Any]) -> dict[str, Any]:
    return {
        name: _without_none(held) if isinstance(held, dict) else held
        for name, held in value.items()
        if held is not None
    }


def _offer(row: Any) -> OfferedText | None:
    try:
        told = _Told.model_validate(row)
    except ValidationError:
        return None
    if told.form not in FORMS:
        return None
    return OfferedText(
        id=told.id,
        language=told.language.lower(),
        title=told.title,
        year=told.year,
        season=told.season,
        number=told.number,
        seconds=told.seconds,
        release=told.release,
        form=told.form,
        is_for_deaf=told.for_deaf,
        is_forced=told.forced,
        digests=tuple(told.digests),
    )
