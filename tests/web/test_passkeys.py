"""Passkeys: a key that a device holds signs its person in, and nobody else, nowhere else, once."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from indice.settings import Settings
from indice.store.database import Database
from indice.web.app import create_app

from .authenticator import Device
from .kettle import Sign, said

HERE = "http://localhost"


def renew(client: FlaskClient) -> FlaskClient:
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    return client


@pytest.fixture
def fresh(household: Database, settings: Settings) -> FlaskClient:
    """A browser in which nobody is signed in."""
    return renew(create_app(settings, household).test_client())


def enrol(client: FlaskClient, device: Device, status: int = 200) -> Any:
    options = said(client.post("/api/passkeys/options"))["options"]
    return said(client.post("/api/passkeys", json={"name": "lamp", "credential": device.make(options)}), status)


def come_in(client: FlaskClient, device: Device, status: int = 200) -> Any:
    options = said(client.post("/api/session/passkey/options"))["options"]
    return said(client.post("/api/session/passkey", json={"credential": device.sign(options)}), status)


def test_a_key_signs_its_person_in(sign: Sign, fresh: FlaskClient) -> None:
    device, member = Device(HERE), sign("member")
    enrol(member, device)
    come_in(fresh, device)
    assert said(fresh.get("/api/status"))["person"] == "member"
    (kept,) = said(member.get("/api/passkeys"))["passkeys"]
    assert kept["name"] == "lamp" and kept["seen_at"]


def test_a_key_that_is_removed_opens_nothing(sign: Sign, fresh: FlaskClient) -> None:
    device, member = Device(HERE), sign("member")
    enrol(member, device)
    number = said(member.get("/api/passkeys"))["passkeys"][0]["id"]
    said(sign("child").delete(f"/api/passkeys/{number}"), 404)
    said(member.delete(f"/api/passkeys/{number}"))
    assert come_in(fresh, device, 401)["reference"] == "sign-in-wrong"


def test_a_key_is_good_here_only_and_only_with_its_person_at_it(sign: Sign, fresh: FlaskClient) -> None:
    member = sign("member")
    assert enrol(member, Device("https://elsewhere.example"), 400)["reference"] == "passkey-wrong"
    assert enrol(member, Device(HERE, verifies=False), 400)["reference"] == "passkey-wrong"
    device = Device(HERE)
    enrol(member, device)
    device.verifies = False
    come_in(fresh, device, 401)
    device.verifies, device.origin = True, "https://elsewhere.example"
    come_in(fresh, device, 401)
    device.origin = HERE
    come_in(fresh, device)


def test_what_was_signed_is_good_once(sign: Sign, fresh: FlaskClient, household: Database, settings: Settings) -> None:
    device = Device(HERE)
    enrol(sign("member"), device)
    options = said(fresh.post("/api/session/passkey/options"))["options"]
    signed = {"credential": device.sign(options)}
    other = renew(create_app(settings, household).test_client())
    assert said(other.post("/api/session/passkey", json=signed), 401)["reference"] == "passkey-late"
    said(other.post("/api/session/passkey/options"))
    assert said(other.post("/api/session/passkey", json=signed), 401)["reference"] == "sign-in-wrong"
    said(fresh.post("/api/session/passkey", json=signed))
    assert said(renew(fresh).post("/api/session/passkey", json=signed), 401)["reference"] == "passkey-late"


def test_a_copied_key_is_noticed_by_its_count(sign: Sign, fresh: FlaskClient) -> None:
    device = Device(HERE)
    enrol(sign("member"), device)
    copy = Device(HERE, key=device.key, id=device.id, count=0)
    device.count = 20
    come_in(fresh, device)
    come_in(renew(fresh), copy, 401)


def test_another_key_does_not_pass_for_one_that_is_known(sign: Sign, fresh: FlaskClient) -> None:
    device = Device(HERE)
    enrol(sign("member"), device)
    come_in(fresh, Device(HERE, id=device.id, count=5), 401)
    come_in(fresh, Device(HERE), 401)


@pytest.mark.parametrize("credential", [{}, {"rawId": "!"}, {"rawId": "AAAA", "response": []}, {"rawId": 5, "id": {}}])
def test_what_is_no_key_is_told_in_words(sign: Sign, fresh: FlaskClient, credential: dict[str, Any]) -> None:
    said(fresh.post("/api/session/passkey/options"))
    assert said(fresh.post("/api/session/passkey", json={"credential": credential}), 401)["message"]
    member = sign("member")
    said(member.post("/api/passkeys/options"))
    assert said(member.post("/api/passkeys", json={"name": "x", "credential": credential}), 400)["message"]


def test_a_number_for_a_name_is_explained(household: Database, settings: Settings) -> None:
    client, place = create_app(settings, household).test_client(), "http://127.0.0.1:7800"
    headers = {"X-Indice-Token": client.get("/api/status", base_url=place).get_json()["csrf"]}
    told = said(client.post("/api/session/passkey/options", base_url=place, headers=headers), 409)
    assert told["reference"] == "passkey-needs-name" and "localhost" in told["hint"]
