"""Whoever speaks German is answered in German, wherever they ask and whatever went wrong."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient
from sqlalchemy import update

from indice.core.phrase import phrase
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Entry, Person
from indice.work.queue import perform
from indice.work.requests import request_job

from ..english import english, texts
from .test_doors_of_the_api import METHODS

ADDRESSES = (
    "/api/jobs",
    "/api/findings?size=200",
    "/api/findings/safe",
    "/api/conventions",
    "/api/matches",
    "/api/matches/again",
    "/api/troubles",
    "/api/tree",
    "/api/libraries",
    "/api/plans",
    "/api/sources",
    "/api/duplicates",
    "/api/storage",
)


@pytest.fixture
def german(household: Database, owner: FlaskClient) -> FlaskClient:
    """The owner, who speaks German."""
    with household.begin() as db:
        db.execute(update(Person).values(language="de"))
    owner.environ_base["HTTP_ACCEPT_LANGUAGE"] = "de-AT, de;q=0.9"
    return owner


def test_this_test_knows_english_when_it_sees_it(household: Database, owner: FlaskClient) -> None:
    assert english([{"why": "3 groups of files are there twice."}, "Die Datei ist leer.", "The file is empty."]) == [
        "3 groups of files are there twice.",
        "The file is empty.",
    ]
    assert english(owner.get("/api/findings").get_json()) != []


def test_what_is_listed_is_said_in_german(household: Database, german: FlaskClient, settings: Settings) -> None:
    with household.begin() as db:
        entry = db.query(Entry).filter(Entry.kind == "movie").first()
        assert entry is not None
        entry.state, entry.note = "waiting", phrase("Like, but not like enough to be sure.")
        number, library = entry.id, entry.library_id
    for kind in ("scan", "match"):
        perform(household, settings, request_job(household, kind, library))
    asked = [*ADDRESSES, f"/api/entries/{number}", f"/api/entries/{number}/match"]
    given = {address: german.get(address) for address in asked}
    assert {address: answer.status_code for address, answer in given.items() if answer.status_code != 200} == {}
    answers = {address: answer.get_json() for address, answer in given.items()}
    assert {address: english(answer) for address, answer in answers.items() if english(answer)} == {}
    everything = list(texts(list(answers.values())))
    assert "Ähnlich, aber nicht ähnlich genug, um sicher zu sein." in everything
    assert any(re.fullmatch(r".* einlesen", text) for text in everything), "a job's title"


def test_whatever_is_asked_wrongly_is_answered_in_german(german: FlaskClient) -> None:
    described = german.get("/api/openapi.json").get_json()["paths"]
    asked, wrong = 0, {}
    for path, operations in described.items():
        for method in METHODS:
            if method not in operations or path.startswith("/api/setup"):
                continue
            for number, body in (("999999", {}), ("999999", None), ("0", {"name": "", "folders": []})):
                address = re.sub(r"{\w+}", number, path)
                answer = german.open(address, method=method.upper(), json=body, buffered=False)
                told = answer.get_json(silent=True) if answer.status_code >= 400 else None
                answer.close()
                asked += 1
                if told is not None and english([told.get("message", ""), told.get("hint", "")]):
                    wrong[f"{method} {address}"] = told
            if path == "/api/session" and method == "delete":
                return_to(german)
    assert wrong == {}
    assert asked > 400


def return_to(client: FlaskClient) -> None:
    """Sign in again, whatever became of the session."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    client.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"})
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]


@pytest.mark.parametrize(("asks", "said"), [("de", "Bitte melden Sie sich an."), ("fr, en;q=0.5", "Please sign in.")])
def test_somebody_without_an_account_is_answered_as_their_browser_asks(
    client: FlaskClient, owner: FlaskClient, asks: str, said: str
) -> None:
    stranger = client.application.test_client()
    answer = stranger.get("/api/jobs", headers={"Accept-Language": asks})
    assert (answer.status_code, answer.get_json()["message"]) == (401, said)
