"""Ways in beside the password: tokens of scripts within their scopes, and a device that is confirmed by its code."""

from __future__ import annotations

from datetime import timedelta

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select, update

from indice.settings import Settings
from indice.store.database import Database
from indice.store.deeds import note_deed
from indice.store.models import Deed, DeviceSignIn, Playlist, Token, now
from indice.web.app import create_app
from indice.web.rights import needed_scope, who_may

from .kettle import Sign, ids, said


@pytest.fixture
def script(household: Database, settings: Settings) -> FlaskClient:
    """Something that sends requests and knows no cookies."""
    return create_app(settings, household).test_client(use_cookies=False)


def bearing(secret: str) -> dict[str, str]:
    return {"Authorization": f"Bearer {secret}"}


def token(client: FlaskClient, *scopes: str, **more: object) -> str:
    return str(said(client.post("/api/tokens", json={"name": "lamp", "scopes": scopes, **more}))["secret"])


@pytest.mark.parametrize(
    ("operation", "method", "scope"),
    [
        ("shelves.read_shelf", "GET", "see"),
        ("media.read_content", "GET", "see"),
        ("playback.play", "POST", "see"),
        ("marks.mark", "PUT", "mark"),
        ("lists.add", "POST", "mark"),
        ("findings.list_findings", "GET", "manage"),
        ("plans.apply", "POST", "manage"),
        ("session.change_password", "POST", None),
        ("tokens.make", "POST", None),
        ("tokens.list_tokens", "GET", None),
        ("people.add", "POST", None),
        ("sharing.share", "POST", None),
        ("devices.answer", "POST", None),
    ],
)
def test_what_a_script_needs(operation: str, method: str, scope: str | None) -> None:
    assert who_may(operation) is not None, "there is such an operation"
    assert needed_scope(operation, method) == scope


def test_a_script_does_what_its_scopes_say(owner: FlaskClient, script: FlaskClient, household: Database) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    see, mark, manage = token(owner, "see"), token(owner, "mark"), token(owner, "see", "manage")
    asked = (
        ("GET", "/api/shelves/films", None, (200, 403, 200)),
        ("PUT", "/api/marks", {"entry_ids": [film], "favourite": True}, (403, 200, 403)),
        ("GET", "/api/findings", None, (403, 403, 200)),
        ("GET", "/api/tokens", None, (403, 403, 403)),
        ("POST", "/api/password", {"old": "x", "new": "a long hedge"}, (403, 403, 403)),
        ("GET", "/api/people", None, (403, 403, 403)),
    )
    for method, path, body, statuses in asked:
        got = tuple(
            script.open(path, method=method, json=body, headers=bearing(one)).status_code for one in (see, mark, manage)
        )
        assert got == statuses, path
    assert script.get("/api/shelves/films").status_code == 401
    assert script.get("/api/shelves/films", headers=bearing(see + "x")).status_code == 401
    listed = said(owner.get("/api/tokens"))["tokens"]
    assert len(listed) == 3 and all(one["seen_at"] for one in listed) and "secret" not in listed[0]


def test_a_token_is_of_its_person_and_no_more(sign: Sign, script: FlaskClient, household: Database) -> None:
    child = token(sign("child"), "see", "mark", "manage")
    films = ids(household, "movie")
    got = {title: script.get(f"/api/entries/{id_}", headers=bearing(child)).status_code for title, id_ in films.items()}
    assert {title for title, status in got.items() if status == 200} == {"Kettle Morning"}
    assert script.get("/api/findings", headers=bearing(child)).status_code == 403


def test_a_token_ends(owner: FlaskClient, sign: Sign, script: FlaskClient, household: Database) -> None:
    secret, other = token(owner, "see"), token(owner, "see", days=1)
    mine = next(one["id"] for one in said(owner.get("/api/tokens"))["tokens"] if one["ends_at"] is None)
    said(sign("member").delete(f"/api/tokens/{mine}"), 404)
    said(owner.delete(f"/api/tokens/{mine}"))
    assert script.get("/api/front", headers=bearing(secret)).status_code == 401
    assert script.get("/api/front", headers=bearing(other)).status_code == 200
    with household.begin() as db:
        db.execute(update(Token).values(ends_at=now() - timedelta(seconds=1)))
    assert script.get("/api/front", headers=bearing(other)).status_code == 401


def test_a_wrong_secret_is_not_helped_by_a_cookie(owner: FlaskClient, household: Database) -> None:
    assert owner.get("/api/front", headers=bearing("ind_nothing")).status_code == 401
    assert owner.get("/api/front", headers=bearing("nothing")).status_code == 401


def waits(device: FlaskClient, secret: str) -> str:
    """What a device is told that is not confirmed yet."""
    return str(said(device.post("/api/device/token", json={"device_code": secret}), 400)["error"])


def test_a_device_comes_in_when_somebody_says_so(script: FlaskClient, sign: Sign, household: Database) -> None:
    begun = said(script.post("/api/device/code", json={"device": "Front room"}))
    assert len(begun["user_code"].replace("-", "")) == 6 and begun["interval"] >= 1 and begun["expires_in"] > 60
    assert begun["verification_uri_complete"] == f"{begun['verification_uri']}/{begun['user_code']}"
    assert waits(script, begun["device_code"]) == "authorization_pending"
    assert waits(script, begun["device_code"]) == "slow_down"
    child = sign("child")
    shown = said(child.get(f"/api/device/waiting/{begun['user_code'].lower()}"))
    assert shown["device"] == "Front room"
    said(child.post("/api/device/answer", json={"user_code": begun["user_code"], "allow": True}))
    told = said(script.post("/api/device/token", json={"device_code": begun["device_code"]}))
    assert told["token_type"] == "Bearer"
    headers = bearing(told["access_token"])
    films = said(script.get("/api/shelves/films", headers=headers))["entries"]
    assert [film["title"] for film in films] == ["Kettle Morning"], "it comes in as who confirmed it"
    ended = next(one["id"] for one in said(child.get("/api/sessions"))["sessions"] if one["device"] == "Front room")
    said(child.delete(f"/api/sessions/{ended}"))
    assert script.get("/api/shelves/films", headers=headers).status_code == 401
    assert waits(script, begun["device_code"]) == "expired_token", "a code is used once"


def test_a_page_is_signed_in_by_its_cookie(settings: Settings, household: Database, sign: Sign) -> None:
    page = create_app(settings, household).test_client()
    page.environ_base["HTTP_X_INDICE_TOKEN"] = page.get("/api/status").get_json()["csrf"]
    begun = said(page.post("/api/device/code", json={}))
    said(sign("member").post("/api/device/answer", json={"user_code": begun["user_code"], "allow": True}))
    told = said(page.post("/api/device/token", json={"device_code": begun["device_code"]}))
    assert told["access_token"] == "" and said(page.get("/api/status"))["person"] == "member"


def test_a_device_is_turned_away_or_waits_in_vain(script: FlaskClient, owner: FlaskClient, household: Database) -> None:
    begun = said(script.post("/api/device/code", json={}))
    said(owner.post("/api/device/answer", json={"user_code": begun["user_code"], "allow": False}))
    assert waits(script, begun["device_code"]) == "access_denied"
    late = said(script.post("/api/device/code", json={}))
    with household.begin() as db:
        db.execute(update(DeviceSignIn).values(ends_at=now() - timedelta(seconds=1)))
    assert waits(script, late["device_code"]) == "expired_token"
    said(owner.get(f"/api/device/waiting/{late['user_code']}"), 404)
    assert waits(script, "never") == "expired_token"


def test_codes_are_not_guessed(owner: FlaskClient, household: Database) -> None:
    answers = [owner.get(f"/api/device/waiting/BBBBB{letter}").status_code for letter in "BCDFGHJ"]
    assert answers[0] == 404 and answers[-1] == 429


def test_the_log_says_what_was_done_and_refused(owner: FlaskClient, sign: Sign, household: Database) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    owner.post("/api/session", json={"name": "Nobody", "password": "wrong word 1"})
    member = sign("member")
    assert member.get("/api/people").status_code == 403
    token(owner, "see")
    said(owner.post("/api/shares", json={"entry_id": film}))
    told = said(owner.get("/api/deeds"))
    kinds = [(one["kind"], one["person"]) for one in told["deeds"]]
    for wanted in (("refused", "member"), ("signed-in", "member"), ("sign-in-wrong", "")):
        assert wanted in kinds
    with household.begin() as db:
        names = {one.kind: one.values for one in db.scalars(select(Deed))}
    assert names["refused"]["operation"] == "people.list_people" and names["shared"]["title"] == "Kettle Morning"
    assert "wrong word 1" not in str(told), "what was typed is nowhere"
    assert member.get("/api/deeds").status_code == 403


def test_a_sign_in_from_elsewhere_is_told_to_the_owner(owner: FlaskClient, sign: Sign, household: Database) -> None:
    sign("member")
    assert said(owner.get("/api/today"))["newcomers"] == []
    elsewhere = create_app(owner.application.extensions["indice"][0], household).test_client()
    elsewhere.environ_base |= {"REMOTE_ADDR": "203.0.113.9", "HTTP_USER_AGENT": "A new lamp"}
    elsewhere.environ_base["HTTP_X_INDICE_TOKEN"] = elsewhere.get("/api/status").get_json()["csrf"]
    said(elsewhere.post("/api/session", json={"name": "member", "password": "tidewrack 9"}))
    (told,) = said(owner.get("/api/today"))["newcomers"]
    assert (told["person"], told["device"], told["address"]) == ("member", "A new lamp", "203.0.113.9")
    assert said(sign("librarian").get("/api/today"))["newcomers"] == []


def test_the_log_ends_somewhere(household: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("indice.store.deeds.MOST", 30)
    monkeypatch.setattr("indice.store.deeds.FORGET_EVERY", 10)
    for number in range(75):
        with household.begin() as db:
            note_deed(db, "refused", person="Ivo", values={"operation": f"op {number}"})
    with household.begin() as db:
        kept = [str(one.values["operation"]) for one in db.scalars(select(Deed).order_by(Deed.id))]
    assert len(kept) < 50 and kept[-1] == "op 74"


def test_nothing_of_a_guest_outlasts_the_visit(sign: Sign, household: Database) -> None:
    guest = sign("guest")
    said(guest.post("/api/lists", json={"name": "Mine"}))
    secret = token(guest, "see")
    said(guest.delete("/api/session"))
    with household.begin() as db:
        assert db.scalars(select(Playlist)).first() is None and db.scalars(select(Token)).first() is None
    assert secret.startswith("ind_")
