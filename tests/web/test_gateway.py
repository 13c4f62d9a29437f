"""Who is believed of whom they ask for, which networks come in, and what From away says of it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from flask import Flask, request

from indice.settings import Settings
from indice.store.database import Database
from indice.web.app import create_app
from indice.web.gateway import TrustedProxies, read_networks

from .kettle import Sign, said

PROXY = "10.0.0.5"


@pytest.mark.parametrize(
    ("remote", "headers", "address", "scheme", "host"),
    [
        (PROXY, {"X-Forwarded-For": "203.0.113.7"}, "203.0.113.7", "http", "indice.home"),
        (PROXY, {"X-Forwarded-For": "127.0.0.1, 203.0.113.7"}, "203.0.113.7", "http", "indice.home"),
        (PROXY, {"X-Forwarded-For": "203.0.113.7, 10.0.0.9"}, "203.0.113.7", "http", "indice.home"),
        (
            PROXY,
            {"X-Forwarded-For": "2001:db8::7", "X-Forwarded-Proto": "https"},
            "2001:db8::7",
            "https",
            "indice.home",
        ),
        (
            PROXY,
            {"X-Forwarded-For": "203.0.113.7", "X-Forwarded-Host": "away.home"},
            "203.0.113.7",
            "http",
            "away.home",
        ),
        (PROXY, {"X-Forwarded-Proto": "gopher", "X-Forwarded-For": "1.2.3.4"}, "1.2.3.4", "http", "indice.home"),
        (
            "203.0.113.7",
            {"X-Forwarded-For": "127.0.0.1", "X-Forwarded-Proto": "https"},
            "203.0.113.7",
            "http",
            "indice.home",
        ),
        (PROXY, {}, PROXY, "http", "indice.home"),
    ],
)
def test_only_a_named_proxy_is_believed(
    remote: str, headers: dict[str, str], address: str, scheme: str, host: str
) -> None:
    app = Flask(__name__)
    app.wsgi_app = TrustedProxies(app.wsgi_app, read_networks("trusted_proxies", "10.0.0.0/24"))  # type: ignore[method-assign]

    @app.get("/")
    def look() -> list[Any]:
        return [request.remote_addr, request.scheme, request.host]

    client = app.test_client()
    client.environ_base["REMOTE_ADDR"] = remote
    assert client.get("/", headers={"Host": "indice.home", **headers}).get_json() == [address, scheme, host]


def test_a_wrong_network_names_its_setting() -> None:
    with pytest.raises(ValueError, match=r"allowed_networks.*'home'"):
        read_networks("allowed_networks", "10.0.0.0/8, home")
    assert not read_networks("allowed_networks", " , ")
    assert "::ffff:10.1.2.3" in read_networks("x", "10.0.0.0/8") and "nobody" not in read_networks("x", "10.0.0.0/8")


@pytest.mark.parametrize(
    ("allowed", "refused", "remote", "status"),
    [
        ("", "", "203.0.113.7", 200),
        ("192.168.1.0/24", "", "192.168.1.9", 200),
        ("192.168.1.0/24", "", "203.0.113.7", 403),
        ("192.168.1.0/24", "192.168.1.9", "192.168.1.9", 403),
        ("", "203.0.113.0/24", "203.0.113.7", 403),
        ("192.168.1.0/24", "127.0.0.0/8", "127.0.0.1", 200),
    ],
)
def test_networks_come_in_as_was_said(
    settings: Settings, database: Database, allowed: str, refused: str, remote: str, status: int
) -> None:
    chosen = replace(settings, allowed_networks=allowed, refused_networks=refused)
    client = create_app(chosen, database).test_client()
    client.environ_base["REMOTE_ADDR"] = remote
    answer = client.get("/api/status")
    assert answer.status_code == status
    if status == 403:
        assert answer.get_json()["reference"] == "network-refused"
        assert client.get("/").status_code == 403, "not even the page"


def test_from_away_says_how_it_stands_to_the_owner_only(household: Database, settings: Settings, sign: Sign) -> None:
    assert sign("librarian").get("/api/from-away").status_code == 403
    told = said(sign("owner").get("/api/from-away"))
    names = {step["name"]: step for step in told["steps"]}
    assert "listens-loopback" in names and not names["listens-loopback"]["fine"]
    assert told["certificate"] is None and "no-certificate" in names


def test_a_self_made_certificate_is_shown_with_its_fingerprint(household: Database, settings: Settings) -> None:
    app = create_app(replace(settings, host="0.0.0.0", https="self", allowed_networks="10.0.0.0/8"), household)
    client = app.test_client()
    place = "https://localhost"
    headers = {"X-Indice-Token": client.get("/api/status", base_url=place).get_json()["csrf"]}
    body = {"name": "Odile", "password": "tidewrack 9"}
    answer = client.post("/api/session", json=body, headers=headers, base_url=place)
    assert answer.status_code == 200
    cookie = answer.headers["Set-Cookie"]
    assert "Secure" in cookie and "HttpOnly" in cookie and "SameSite=Strict" in cookie
    told = said(client.get("/api/from-away", base_url=place))
    assert told["certificate"]["is_self_made"] and len(told["certificate"]["fingerprint"].split(":")) == 32
    names = [step["name"] for step in told["steps"]]
    assert names[0] == "listens-all" and {"certificate-self", "networks", "no-hosts"} <= set(names)
