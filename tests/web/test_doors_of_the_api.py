"""Every operation of the API, from its own description: none answers who is not signed
in, and none changes without a token."""

from __future__ import annotations

import re
from typing import Any

from flask.testing import FlaskClient

OPEN = {
    ("GET", "/api/status"),
    ("POST", "/api/setup"),
    ("POST", "/api/session"),
    ("GET", "/api/openapi.json"),
    ("GET", "/api/invited/x"),
    ("POST", "/api/invited/x"),
    ("POST", "/api/device/code"),
    ("POST", "/api/device/token"),
    ("POST", "/api/session/passkey"),
    ("POST", "/api/session/passkey/options"),
}
"""What the first page needs, the page of an invitation, whose address holds a
secret, and a device that nobody is at yet."""
WITHOUT_PAGE = {
    ("POST", "/api/playbacks/x/end"),
    ("POST", "/api/shared/x/playbacks/x/end"),
    ("POST", "/api/device/code"),
    ("POST", "/api/device/token"),
}
"""What a page says while it closes, when it can send no headers, its address
holding a secret of its own; and devices."""
BY_LINK = "/api/shared/x/"
"""Below it lies what somebody sees who holds the link of a share; without one there is nothing."""
METHODS = ("get", "post", "put", "delete", "patch")


def operations(client: FlaskClient) -> list[tuple[str, str]]:
    """Method and address of every operation, a number or a name put where the address has a place for one."""
    described: dict[str, Any] = client.get("/api/openapi.json").get_json()
    found = [
        (
            method.upper(),
            re.sub(
                r"{(\w+)}",
                lambda place: {"width": "240"}.get(place[1], "1" if place[1].endswith(("_id", "number")) else "x"),
                path,
            ),
        )
        for path, told in described["paths"].items()
        for method in METHODS
        if method in told
    ]
    return [*found, ("GET", "/api/openapi.json")]


def test_the_description_names_every_address(client: FlaskClient) -> None:
    """What the application answers and does not describe would escape this table."""
    described = {
        (method.upper(), re.sub(r"{\w+}", "{}", path))
        for path, told in client.get("/api/openapi.json").get_json()["paths"].items()
        for method in told
        if method in METHODS
    }
    answered = {
        (method, re.sub(r"<[^>]+>", "{}", rule.rule))
        for rule in client.application.url_map.iter_rules()
        for method in rule.methods or ()
        if rule.rule.startswith("/api/") and method.lower() in METHODS
    }
    assert answered - described <= {("GET", "/api/openapi.json"), ("GET", "/api/events")}


def test_nobody_is_answered_without_signing_in(client: FlaskClient) -> None:
    token = client.get("/api/status").get_json()["csrf"]
    told = [one for one in [*operations(client), ("GET", "/api/events")] if one not in OPEN]
    assert len(told) > 60
    for method, path in told:
        answer = client.open(path, method=method, json={}, headers={"X-Indice-Token": token})
        refused = (404, "share-closed") if path.startswith(BY_LINK) else (401, "sign-in-needed")
        assert (answer.status_code, (answer.get_json() or {}).get("reference")) == refused, path


def test_nothing_is_changed_without_the_token_of_the_page(owner: FlaskClient) -> None:
    told = [one for one in operations(owner) if one[0] != "GET" and one not in WITHOUT_PAGE]
    assert len(told) > 30
    for method, path in told:
        answer = owner.open(path, method=method, json={}, headers={"X-Indice-Token": "another"})
        assert (answer.status_code, (answer.get_json() or {}).get("reference")) == (403, "token-wrong"), path


def test_what_is_not_there_is_said_in_words(owner: FlaskClient) -> None:
    """A number that no record has: 404 or a word on what was sent, and never an error of the server."""
    for method, path in operations(owner):
        if "/1" not in path or path.startswith("/api/events"):
            continue
        answer = owner.open(path.replace("/1", "/987654"), method=method, json={} if method != "GET" else None)
        assert answer.status_code < 500, path
        if answer.status_code >= 400:
            assert answer.get_json()["message"], path
