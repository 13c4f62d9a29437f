"""Client of the Reconciliation Service API 0.2: manifest, reconcile, data
extension, suggest. In batches, with patience.

Specification: W3C Entity Reconciliation Community Group, Reconciliation Service API v0.2.
"""

from __future__ import annotations

import hashlib
import json
import re
import time
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any
from urllib.parse import quote, urljoin, urlsplit

import httpx

from ..core.facts.clean import DATES, LENGTHS, TEXT, WHOLE, clean_fact
from ..core.phrase import phrase
from .polite import PoliteClient, SourceDown, SourceKeyWrong
from .profile import FieldMap, Profile
from .transport import TooLarge

__all__ = ["Answers", "Query", "SourceClient", "as_rows"]

Query = dict[str, Any]
Answers = Callable[[Sequence[str]], Mapping[str, dict[str, Any]]]
"""Fingerprints of questions → the answers that are remembered."""
MOST_PREVIEW_BYTES = 200_000
MOST_PICTURE_BYTES = 20_000_000

_SETTINGS = {"lang": ("lang", "language", "locale"), "country": ("country", "region")}
"""What a library wishes → names under which services take such a setting of a property, the likeliest first."""
_IN_A_LANGUAGE = frozenset(("title", "plot", "tagline", "genres", "set", "artwork"))
_OF_A_COUNTRY = frozenset(("rating", "date"))


class SourceClient(PoliteClient):
    """Speaks to one source. `remember` and `recall` keep answers with their question's fingerprint.

    Texts are asked for in `language` and certificates for `country` where the service takes such settings.
    """

    def __init__(
        self,
        profile: Profile,
        *,
        key: str = "",
        language: str = "",
        country: str = "",
        recall: Answers | None = None,
        remember: Callable[[Mapping[str, dict[str, Any]]], None] | None = None,
        transport: httpx.BaseTransport | None = None,
        sleep: Callable[[float], None] = time.sleep,
    ) -> None:
        super().__init__(
            profile.name, profile.url, key=key, networks=profile.networks, transport=transport, sleep=sleep
        )
        self.profile = profile
        self._wished = {"lang": language if language in profile.languages else "", "country": country}
        kept: dict[str, dict[str, Any]] = {}
        self._recall: Answers = recall or (lambda _: kept)
        self._keep = remember
        self._kept = kept
        self.left: Counter[str] = Counter()
        """Property → how many of its values nothing could be made of; they are left out."""

    def manifest(self) -> dict[str, Any]:
        """The service's manifest, asked once: without the key, which is sent only where it is refused so."""
        if self._manifest is None:
            try:
                found = self._send("GET", self.profile.url, with_key=False)
            except SourceKeyWrong:
                if not self._key:
                    raise
                found = self._send("GET", self.profile.url)
            if not isinstance(found, dict) or "name" not in found:
                raise SourceDown(
                    phrase(
                        "{name}: there is no reconciliation service at {url}.",
                        name=self.profile.name,
                        url=self.profile.url,
                    ),
                    hint="Check the address.",
                )
            self._manifest = found
        return self._manifest

    def batch_size(self) -> int:
        """How many questions go into one request."""
        size = self.manifest().get("batchSize")
        return min(size, 1000) if isinstance(size, int) and not isinstance(size, bool) and size > 0 else 25

    def _cached(
        self, questions: Sequence[str], ask: Callable[[list[int]], Iterator[tuple[int, dict[str, Any]]]]
    ) -> list[dict[str, Any]]:
        """Answers to questions: remembered ones, then the rest in batches."""
        prints = [hashlib.sha256(question.encode()).hexdigest() for question in questions]
        remembered = {asked: self._kept[asked] for asked in prints if asked in self._kept}
        if len(remembered) < len(prints):
            remembered |= self._recall([asked for asked in prints if asked not in remembered])
            self._kept.update(remembered)
        answers = {index: remembered[asked] for index, asked in enumerate(prints) if asked in remembered}
        missing = [index for index in range(len(questions)) if index not in answers]
        size = self.batch_size() if missing else 1
        for start in range(0, len(missing), size):
            wanted = missing[start : start + size]
            fresh = dict(ask(wanted))
            if rest := [index for index in wanted if index not in fresh]:
                fresh |= dict(ask(rest))  # a service may stumble over one question of a batch
            answers |= fresh
            named = {prints[index]: answer for index, answer in fresh.items()}
            self._kept.update(named)
            if self._keep is not None:
                self._keep(named)
        return [answers.get(index, {}) for index in range(len(questions))]

    def reconcile(self, queries: Sequence[Query]) -> list[list[dict[str, Any]]]:
        """Candidates for each query, in the order of the queries."""

        def ask(indexes: list[int]) -> Iterator[tuple[int, dict[str, Any]]]:
            batch = {f"q{index}": queries[index] for index in indexes}
            found = self._send("POST", self.profile.url, data={"queries": json.dumps(batch, ensure_ascii=False)})
            for index in indexes:
                part = found.get(f"q{index}") if isinstance(found, dict) else None
                if isinstance(part, dict) and isinstance(part.get("result"), list):
                    yield index, {"result": [row for one in part["result"][:100] if (row := _row(one)) is not None]}

        answers = self._cached(
            ["reconcile " + json.dumps(query, sort_keys=True, ensure_ascii=False) for query in queries], ask
        )
        return [list(answer.get("result", [])) for answer in answers]

    def _settings(self) -> dict[str, dict[str, str]]:
        """Settings of properties that the service takes: `lang` and `country` → name and value."""
        if not any(self._wished.values()):
            return {}
        told = (self.manifest().get("extend") or {}).get("property_settings") or []
        taken = {str(setting.get("name")) for setting in told if isinstance(setting, dict)}
        return {
            wish: {name: value}
            for wish, value in self._wished.items()
            if value and (name := next((name for name in _SETTINGS[wish] if name in taken), None))
        }

    @property
    def speaks(self) -> bool:
        """Whether texts are asked for in a language of the library, and so may be missing in it."""
        return "lang" in self._settings()

    def _property(self, name: str, field: FieldMap, settings: Mapping[str, dict[str, str]]) -> dict[str, Any]:
        wish = "lang" if name in _IN_A_LANGUAGE else "country" if name in _OF_A_COUNTRY else ""
        return {"id": field.property, "settings": settings[wish]} if wish in settings else {"id": field.property}

    def extend(self, ids: Sequence[str], kind: str, *, plainly: bool = False) -> dict[str, dict[str, list[Any]]]:
        """Our fields of entities of a kind: id → field → cell values, plain or `{"id", "name"}`.

        `plainly` asks without settings, in whatever language the service speaks by itself.
        """
        mapping = self.profile.kinds.get(kind)
        if mapping is None or not ids:
            return {}
        settings = {} if plainly else self._settings()
        properties = [self._property(name, field, settings) for name, field in mapping.fields.items()]
        asked = list(dict.fromkeys(ids))

        def ask(indexes: list[int]) -> Iterator[tuple[int, dict[str, Any]]]:
            found = self._send(
                "POST",
                self.profile.url,
                data={
                    "extend": json.dumps(
                        {"ids": [asked[i] for i in indexes], "properties": properties}, ensure_ascii=False
                    )
                },
            )
            rows = found.get("rows", {}) if isinstance(found, dict) else {}
            for index in indexes:
                row = rows.get(asked[index])
                yield index, row if isinstance(row, dict) else {}

        shape = json.dumps(properties, sort_keys=True)
        answers = self._cached([f"extend {shape} {id_}" for id_ in asked], ask)
        result: dict[str, dict[str, list[Any]]] = {}
        for id_, row in zip(asked, answers, strict=True):
            result[id_] = {
                name: self._values(name, field, row.get(field.property, [])) for name, field in mapping.fields.items()
            }
        return result

    def _values(self, name: str, field: FieldMap, cells: Any) -> list[Any]:
        """Values of one field; those that it cannot hold are left out, and counted."""
        values: list[Any] = []
        for cell in cells if isinstance(cells, list) else [cells]:
            value = _cell(cell, field.seconds_per_unit if name == "runtime" else None)
            fit = _fit(name, value)
            values.append(fit)
            if fit is None and value not in (None, ""):
                self.left[field.property] += 1
        return values

    def suggest(self, what: str, prefix: str) -> list[dict[str, Any]]:
        """What the service proposes as one types: `what` is `entity`, `type` or
        `property`; empty where it does not suggest."""
        service = (self.manifest().get("suggest") or {}).get(what)
        found = self._ask_aside(service, {"prefix": prefix})
        return as_rows(found.get("result"))

    def properties_of(self, type_id: str) -> list[dict[str, Any]]:
        """Properties that the service proposes for a type; empty where it does not say."""
        service = (self.manifest().get("extend") or {}).get("propose_properties")
        return as_rows(self._ask_aside(service, {"type": type_id, "limit": "200"}).get("properties"))

    def preview(self, identifier: str) -> bytes | None:
        """The small HTML page that the service has of a thing; None where it has
        none. It is hostile until shown apart."""
        template = str((self.manifest().get("preview") or {}).get("url") or "")
        address = urljoin(self.profile.url, template.replace("{{id}}", quote(identifier, safe="")))
        if not template or not address.startswith(("http://", "https://")):
            return None
        try:
            answer, content = self._fetch(self._http.build_request("GET", address), MOST_PREVIEW_BYTES)
        except (httpx.HTTPError, httpx.InvalidURL, TooLarge):
            return None
        return content if answer.status_code == 200 else None

    def _ask_aside(self, service: Any, params: dict[str, str]) -> dict[str, Any]:
        if not isinstance(service, dict) or not service.get("service_url"):
            return {}
        address = str(service["service_url"]).rstrip("/") + str(service.get("service_path", ""))
        if not address.startswith(("http://", "https://")):
            return {}
        same = urlsplit(address).netloc == urlsplit(self.profile.url).netloc
        found = self._send("GET", address, params=params, with_key=same)
        return found if isinstance(found, dict) else {}

    def picture(self, url: str) -> bytes:
        """A picture that the source names; raises SourceDown when it cannot be had or is larger than 20 MB."""
        address = urljoin(self.profile.url, url)
        if not address.startswith(("http://", "https://")):
            raise SourceDown(
                phrase("{name} names a picture at no web address.", name=self.profile.name),
                hint="Tell those who run the service.",
            )
        try:
            answer, content = self._fetch(self._http.build_request("GET", address), MOST_PICTURE_BYTES)
        except TooLarge as error:
            raise SourceDown(
                phrase(
                    "{name}: the picture {address} cannot be taken: {error}.",
                    name=self.profile.name,
                    address=address,
                    error=error,
                )
            ) from error
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            raise SourceDown(
                phrase(
                    "{name}: the picture {address} cannot be fetched ({error}).",
                    name=self.profile.name,
                    address=address,
                    error=error,
                )
            ) from error
        if answer.status_code != 200:
            raise SourceDown(
                phrase(
                    "{name}: the picture {address} is not there (status {status}).",
                    name=self.profile.name,
                    address=address,
                    status=answer.status_code,
                )
            )
        return content


def as_rows(rows: Any) -> list[dict[str, Any]]:
    """Rows with an id and a name, at most 200."""
    known = [row for row in rows if isinstance(row, dict) and row.get("id")] if isinstance(rows, list) else []
    return [{"id": str(row["id"]), "name": str(row.get("name") or row["id"])} for row in known[:200]]


PLAIN_FIELDS = frozenset((*TEXT, *WHOLE, *LENGTHS, *DATES))
"""Fields of one value each, which has a form of its own."""
_NUMBER = re.compile(r"\s*(\d+(?:[.,]\d+)?)")


def _cell(cell: Any, seconds: float | None) -> Any:
    """The plain value of a cell; running times become seconds; an empty cell is None."""
    if not isinstance(cell, dict):
        return cell
    for key in ("str", "date", "bool", "int", "float"):
        if key in cell:
            value = cell[key]
            if seconds is None:
                return value
            found = _NUMBER.match(str(value))
            return float(found[1].replace(",", ".")) * seconds if found else None
    return {"id": cell["id"], "name": cell.get("name", "")} if cell.get("id") else None


_LONGEST_ID = 500


def _fit(name: str, value: Any) -> Any:
    """A value as our field can hold it, an entity as `{"id", "name"}` of text; None for anything else."""
    if isinstance(value, dict):
        if not isinstance(value.get("id"), str | int) or isinstance(value["id"], bool):
            return None
        return {"id": str(value["id"])[:_LONGEST_ID], "name": clean_fact("title", value.get("name")) or ""}
    if isinstance(value, list):
        return None
    return clean_fact(name if name in PLAIN_FIELDS else "title", value)


def _row(row: Any) -> dict[str, Any] | None:
    """A candidate as the protocol describes it, of fit values; None for what has no id."""
    if not isinstance(row, dict) or not isinstance(row.get("id"), str | int) or isinstance(row["id"], bool):
        return None
    score = row.get("score")
    types = row.get("type")
    return {
        **row,
        "id": str(row["id"])[:_LONGEST_ID],
        "name": clean_fact("title", row.get("name")) or "",
        "description": clean_fact("title", row.get("description")) or "",
        "score": float(score) if isinstance(score, int | float) and not isinstance(score, bool) else 0.0,
        "type": [one for one in types if isinstance(one, dict | str)] if isinstance(types, list) else [],
    }
