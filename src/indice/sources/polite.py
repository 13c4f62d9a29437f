"""What every client of a service heeds: bounds, patience, a key that goes only where it belongs.

Authentication is told by the service as an OpenAPI 3 security scheme; waiting as RFC 9110 says.
"""

from __future__ import annotations

import base64
import time
from collections.abc import Callable
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from typing import Any, Self

import httpx

from ..core.phrase import phrase
from ..errors import IndiceError
from .transport import GuardedTransport, TooLarge, as_json, deadline, read_capped

__all__ = ["PoliteClient", "SourceDown", "SourceKeyWrong"]

PATIENCE_SECONDS = 30.0
"""The longest that one request waits for a source that asks to come back later."""
TRIES = 7
"""So often is asked what a service that is there fails to answer."""
KNOCKS = 4
"""So often is knocked at a service that cannot be reached at all."""
LONGEST_PAUSE_SECONDS = 6.0
MOST_ANSWER_BYTES = 16_000_000
LONGEST_SECONDS = 60.0
"""The longest that one answer may take from the first letter of the question to its own last."""


class SourceDown(IndiceError):
    """The source does not answer, or not sensibly."""

    reference = "source-down"
    status = 502


class SourceKeyWrong(IndiceError):
    """The source refuses the key."""

    reference = "source-key-wrong"
    status = 502


class PoliteClient:
    """Speaks to one service over HTTP: `name` for people, `url` its address, `networks` those that it may lead into."""

    def __init__(
        self,
        name: str,
        url: str,
        *,
        key: str = "",
        networks: tuple[str, ...] = (),
        transport: httpx.BaseTransport | None = None,
        sleep: Callable[[float], None] = time.sleep,
    ) -> None:
        self.name = name
        self._key = key
        self._sleep = sleep
        self._http = httpx.Client(
            timeout=httpx.Timeout(20.0, connect=5.0),
            transport=transport or GuardedTransport(url, networks=networks),
            follow_redirects=True,
            max_redirects=5,
            trust_env=False,
            headers={"user-agent": "Indice/0.1", "accept-encoding": "gzip"},
        )
        self._manifest: dict[str, Any] | None = None
        self.requests = 0
        """Requests sent so far, manifest included."""

    def close(self) -> None:
        """Close the connections."""
        self._http.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def _told_authentication(self) -> dict[str, Any]:
        """How the service wants its key, as its manifest says."""
        told = (self._manifest or {}).get("authentication")
        return told if isinstance(told, dict) else {}

    def _authentication(self) -> tuple[dict[str, str], dict[str, str]]:
        """Headers and query parameters that carry the key, where the manifest says (OpenAPI 3 security schemes)."""
        if not self._key:
            return {}, {}
        told = self._told_authentication()
        kind, name = str(told.get("type", "")), str(told.get("name", ""))
        if kind == "apiKey":
            place = told.get("in", "header")
            if place == "query":
                return {}, {name or "key": self._key}
            if place == "cookie":
                return {"cookie": f"{name or 'key'}={self._key}"}, {}
            return {name or "X-API-Key": self._key}, {}
        if kind == "http" and str(told.get("scheme", "")).lower() == "basic":
            return {"authorization": f"Basic {base64.b64encode(self._key.encode()).decode()}"}, {}
        return {"authorization": f"Bearer {self._key}"}, {}

    def _send(
        self,
        method: str,
        url: str,
        *,
        data: dict[str, str] | None = None,
        json: Any = None,
        params: dict[str, str] | None = None,
        with_key: bool = True,
    ) -> Any:
        problem = ""
        for attempt in range(TRIES):
            headers, extra = self._authentication() if with_key else ({}, {})
            try:
                self.requests += 1
                asked = self._http.build_request(
                    method, url, data=data, json=json, params={**(params or {}), **extra} or None, headers=headers
                )
                # a key goes nowhere but to the address of the profile
                answer, content = self._fetch(asked, MOST_ANSWER_BYTES, redirects=not (headers or extra))
            except httpx.TimeoutException:
                problem = phrase("it does not answer in time")
            except TooLarge as error:
                raise SourceDown(
                    phrase("{name}: an answer cannot be taken: {error}.", name=self.name, error=error),
                    hint="Tell those who run the service.",
                ) from error
            except (httpx.TransportError, httpx.InvalidURL, httpx.TooManyRedirects) as error:
                problem = phrase("it cannot be reached ({error})", error=error)
                if attempt + 1 >= KNOCKS:
                    break
            else:
                busy = _busy(answer)
                if busy:
                    problem = busy
                    if attempt + 1 < TRIES:
                        self._sleep(_wait_of(answer, attempt))
                    continue
                self._refuse(answer)
                try:
                    return as_json(content)
                except ValueError:
                    problem = phrase("it answers something that is no JSON")
            if attempt + 1 < TRIES:
                self._sleep(min(0.4 * 2**attempt, LONGEST_PAUSE_SECONDS))
        raise SourceDown(
            phrase("{name}: {problem}.", name=self.name, problem=problem),
            hint="Is the service up, and is its address right? The rest goes on without it.",
        )

    def _refuse(self, answer: httpx.Response) -> None:
        """Raise what an answer says that another try would not mend."""
        if answer.status_code in (401, 403):
            raise SourceKeyWrong(
                phrase("{name} refuses the key.", name=self.name), hint="Put in the right key under House, Sources."
            )
        if answer.is_redirect:
            raise SourceDown(
                phrase(
                    "{name} has moved to {place}.",
                    name=self.name,
                    place=answer.headers.get("location", "another address"),
                ),
                hint="Write the new address into the profile.",
            )
        if answer.status_code >= 400:
            raise SourceDown(
                phrase(
                    "{name} does not understand the question (status {status}).",
                    name=self.name,
                    status=answer.status_code,
                ),
                hint="Check the address and the profile.",
            )

    def _fetch(
        self, request: httpx.Request, most_bytes: int, *, redirects: bool = True
    ) -> tuple[httpx.Response, bytes]:
        """An answer with its body, within the time and the size that it may have."""
        with deadline(LONGEST_SECONDS):
            answer = self._http.send(request, stream=True, follow_redirects=redirects)
            try:
                return answer, read_capped(answer, most_bytes) if answer.status_code < 400 else b""
            finally:
                answer.close()


def _busy(answer: httpx.Response) -> str:
    """Why an answer is worth another try a little later; nothing where it is not."""
    if answer.status_code == 429:
        return phrase("it asks for patience")
    return phrase("it fails (status {status})", status=answer.status_code) if answer.status_code >= 500 else ""


def _wait_of(answer: httpx.Response, attempt: int) -> float:
    """How long a service wants to be left alone: seconds or a date (RFC 9110), else longer each time."""
    told = answer.headers.get("retry-after", "")
    try:
        seconds = (
            float(told) if told.strip().isdigit() else (parsedate_to_datetime(told) - datetime.now(UTC)).total_seconds()
        )
    except (ValueError, TypeError):
        return min(0.5 * 2**attempt, LONGEST_PAUSE_SECONDS)
    return min(max(seconds, 0.05), PATIENCE_SECONDS)
