"""Invitations: made by the owner, taken up once by who holds the link, and nothing without it."""

from __future__ import annotations

import os
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import select, update

from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Grant, Invitation, Person, now
from indice.web.app import create_app


@pytest.fixture
def app(settings: Settings, database: Database, tmp_path: Path) -> Flask:
    """The same house for several browsers, with two libraries."""
    settings.home.mkdir(parents=True, exist_ok=True)
    with database.begin() as db:
        for name in ("Films", "Photos"):
            (tmp_path / name).mkdir()
            folders = [os.fsencode(tmp_path / name)]
            kind = "movies" if name == "Films" else "photos"
            add_library(db, name=name, kind=kind, folders=folders, language="en", country="", sources=[])
    return create_app(settings, database)


def browser(app: Flask) -> FlaskClient:
    """A fresh one, with the first page's token."""
    made = app.test_client()
    renew(made)
    return made


def renew(client: FlaskClient) -> None:
    """Take the token of the page that is open now."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]


@pytest.fixture
def odile(app: Flask) -> FlaskClient:
    """The owner."""
    made = browser(app)
    assert (
        made.post("/api/setup", json={"language": "en", "name": "Odile", "password": "tidewrack 9"}).status_code == 200
    )
    renew(made)
    return made


def invite(odile: FlaskClient, **more: Any) -> str:
    """The secret of a new invitation."""
    answer = odile.post("/api/invitations", json={"libraries": ["Films"], "age": 12, **more})
    assert answer.status_code == 200, answer.get_json()
    told = answer.get_json()
    assert told["picture"].startswith("data:image/svg+xml")
    return str(told["link"]).rsplit("/", 1)[1]


NELL = {"name": "Nell", "password": "a long hedge"}


def test_the_page_says_who_invites_and_to_what(app: Flask, odile: FlaskClient) -> None:
    key = invite(odile, days=3)
    told = browser(app).get(f"/api/invited/{key}").get_json()
    assert (told["by"], told["role"], told["libraries"], told["age"]) == ("Odile", "member", ["Films"], 12)


def test_who_takes_it_up_is_inside_as_was_said_and_the_sender_sees_it(
    app: Flask, odile: FlaskClient, database: Database
) -> None:
    key = invite(odile)
    nell = browser(app)
    assert nell.post(f"/api/invited/{key}", json=NELL).status_code == 200
    assert nell.get("/api/status").get_json()["person"] == "Nell"
    with database.begin() as db:
        person = db.scalars(select(Person).where(Person.name == "Nell")).one()
        assert (person.role, person.age, person.unrated) == ("member", 12, "hide")
        assert len(db.scalars(select(Grant).where(Grant.person_id == person.id)).all()) == 1
    (sent,) = odile.get("/api/invitations").get_json()["invitations"]
    assert sent["used_by"] == "Nell" and sent["used_at"]
    assert nell.get("/api/invitations").status_code == 403


def test_it_is_for_one_use(app: Flask, odile: FlaskClient) -> None:
    key = invite(odile)
    assert browser(app).post(f"/api/invited/{key}", json=NELL).status_code == 200
    again = browser(app).post(f"/api/invited/{key}", json={**NELL, "name": "Ivo"})
    assert again.status_code == 404 and "not open" in again.get_json()["message"]
    assert browser(app).get(f"/api/invited/{key}").status_code == 404


@pytest.mark.parametrize("how", ["taken back", "ended", "never made"])
def test_a_closed_one_opens_nothing(app: Flask, odile: FlaskClient, database: Database, how: str) -> None:
    key = invite(odile)
    if how == "taken back":
        (sent,) = odile.get("/api/invitations").get_json()["invitations"]
        assert odile.delete(f"/api/invitations/{sent['id']}").status_code == 200
    elif how == "ended":
        with database.begin() as db:
            db.execute(update(Invitation).values(ends_at=now() - timedelta(seconds=1)))
    else:
        key = "nothing-of-the-kind"
    stranger = browser(app)
    said = {stranger.get(f"/api/invited/{key}").get_json()["message"]}
    said.add(stranger.post(f"/api/invited/{key}", json=NELL).get_json()["message"])
    assert len(said) == 1
    assert stranger.get("/api/status").get_json()["person"] is None


def test_a_taken_name_costs_nothing(app: Flask, odile: FlaskClient) -> None:
    key = invite(odile)
    stranger = browser(app)
    assert stranger.post(f"/api/invited/{key}", json={**NELL, "name": "Odile"}).status_code == 409
    renew(stranger)
    assert stranger.post(f"/api/invited/{key}", json=NELL).status_code == 200


def test_guessing_links_is_slowed(app: Flask, odile: FlaskClient) -> None:
    stranger = browser(app)
    answers = [stranger.get(f"/api/invited/guess-{number}").status_code for number in range(8)]
    assert answers[:5] == [404] * 5 and answers[-1] == 429


def test_nobody_is_made_owner_by_a_link_and_no_library_is_made_up(odile: FlaskClient) -> None:
    assert odile.post("/api/invitations", json={"role": "owner"}).status_code == 422
    answer = odile.post("/api/invitations", json={"libraries": ["Nowhere"]})
    assert answer.status_code in (400, 404) and "Nowhere" in answer.get_json()["message"]


def test_the_secret_is_kept_nowhere(odile: FlaskClient, database: Database) -> None:
    key = invite(odile)
    with database.begin() as db:
        assert key not in db.scalars(select(Invitation.digest)).one()
    assert key not in odile.get("/api/invitations").get_data(as_text=True)
