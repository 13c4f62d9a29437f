"""Every operation of the API, asked for with whatever its description allows and
with what it does not: never a server error.

Bounded in time for the test run. For a long one:

    INDICE_FUZZ_EXAMPLES=500 INDICE_FUZZ_SECONDS=3600 ./indice test tests/faults/test_fuzzing.py
"""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import SkipTest

import pytest
import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import seed as seeded
from hypothesis.errors import Unsatisfiable
from schemathesis.generation import GenerationMode

from indice.settings import Settings
from indice.store.database import Database
from indice.web.app import create_app
from indice.work.queue import perform
from indice.work.requests import request_job

from .conftest import declare

EXAMPLES = int(os.environ.get("INDICE_FUZZ_EXAMPLES", "12"))
LONGEST_SECONDS = float(os.environ.get("INDICE_FUZZ_SECONDS", "150"))
SLOW_SECONDS = 15.0
"""What takes longer hangs; a machine that is busy with something else makes no answer hang."""
KEEP_OUT = {"/api/events", "/api/openapi.json"}
"""An answer without an end, and the description itself."""
SIGNS_OUT = {"/api/session", "/api/setup", "/api/password", "/api/sessions/{session_id}"}


@pytest.fixture
def signed_in(settings: Settings, database: Database, household: Path) -> Iterator[tuple[FlaskClient, dict[str, Any]]]:
    """The owner of a household, and the description of what can be asked."""
    settings.home.mkdir(parents=True)
    chosen = replace(settings, browse_roots=str(household))
    app = create_app(chosen, database)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    for kind, library in (("films", "movies"), ("music", "music"), ("photos", "photos")):
        number = declare(database, household / kind, library)
        perform(database, chosen, request_job(database, "scan", number))
    client = app.test_client()
    enter(client, first=True)
    yield client, client.get("/api/openapi.json").get_json()


def enter(client: FlaskClient, *, first: bool = False) -> None:
    """Sign in, for the first time or again."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    body = {"name": "Odile", "password": "tidewrack 9"}
    if first:
        assert client.post("/api/setup", json={**body, "language": "en"}).status_code == 200
    else:
        client.post("/api/session", json=body)
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]


def send(client: FlaskClient, case: Any) -> tuple[int, float]:
    """Send a case as it was made; status and seconds until all of the answer was there."""
    asked = case.as_transport_kwargs(base_url="http://localhost")
    headers = {
        name: str(value).encode("utf-8", "replace").decode("latin-1")
        for name, value in (asked.get("headers") or {}).items()
        if "\n" not in str(value) and "\r" not in str(value)
    }
    more: dict[str, Any] = {}
    if asked.get("json") is not None:
        more["json"] = asked["json"]
    elif isinstance(asked.get("data"), str | bytes):
        more["data"] = asked["data"]
    began = time.monotonic()
    answer = client.open(
        asked["url"].removeprefix("http://localhost"),
        method=asked["method"],
        query_string=asked.get("params") or None,
        headers=headers,
        **more,
    )
    assert answer.data is not None
    return answer.status_code, time.monotonic() - began


def fuzz(client: FlaskClient, operation: Any, seconds: float, failed: list[str]) -> int:
    """Ask an operation for all sorts of things; returns how often."""
    tried = [0]
    over = time.monotonic() + seconds

    def ask(case: Any) -> None:
        if time.monotonic() > over and tried[0]:
            return  # however busy the machine is, each is asked once
        status, took = send(client, case)
        tried[0] += 1
        if (status >= 500 and status not in (502, 503)) or took > SLOW_SECONDS:
            failed.append(f"{operation.label}: {status} after {took:.1f} s for {case.as_curl_command()[:600]}")
        if status == 401 or operation.path in SIGNS_OUT:
            enter(client)

    bounded = settings(
        max_examples=EXAMPLES,
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
        try:
            seeded(20261127)(bounded(given(case=operation.as_strategy(generation_mode=mode))(ask)))()
        except (Unsatisfiable, SkipTest):  # nothing can be got wrong there
            continue
    return tried[0]


def test_no_operation_ever_fails(signed_in: tuple[FlaskClient, dict[str, Any]]) -> None:
    client, description = signed_in
    schema = schemathesis.openapi.from_dict(description)
    operations = [found.ok() for found in schema.get_all_operations()]
    wanted = sorted((one for one in operations if one.path not in KEEP_OUT), key=lambda one: one.label)
    until = time.monotonic() + LONGEST_SECONDS
    failed: list[str] = []
    reached = 0
    for place, operation in enumerate(wanted):
        left = max(until - time.monotonic(), 0.5)
        reached += fuzz(client, operation, left / (len(wanted) - place) * 2, failed) > 0
    assert reached > 0.9 * len(wanted), f"only {reached} of {len(wanted)} operations were reached"
    assert not failed, "\n".join(failed[:20])
