"""Watching together: who may see a thing is invited to it, one stops for all, and it is over when nobody is there."""

from __future__ import annotations

import time
from datetime import timedelta
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import update

from indice.core.playing.together import LEAD_SECONDS, moment_at, told
from indice.store.database import Database
from indice.store.models import Party, PartyGuest, now

from .kettle import SECRET, Sign, ids, said


@given(st.floats(0, 9000), st.booleans(), st.floats(1e9, 2e9), st.floats(0, 5000))
def test_a_film_runs_from_its_beginning_on_and_stands_where_it_is_stopped(
    position: float, paused: bool, at: float, later: float
) -> None:
    shared = told(position, is_paused=paused, now_seconds=at)
    moment = moment_at(shared, at + later)
    if paused or later <= LEAD_SECONDS:
        assert moment == pytest.approx(position, abs=1e-3)
    else:
        assert moment == pytest.approx(position + later - LEAD_SECONDS, abs=1e-3)
    again = told(moment, is_paused=True, now_seconds=at + later)
    assert moment_at(again, at + later + 500) == moment


def invite(client: FlaskClient, entry: int, position: float = 0.0) -> str:
    return said(client.post("/api/together", json={"entry_id": entry, "position_seconds": position}))["key"]


def beat(client: FlaskClient, key: str, device: str = "kitchen") -> dict[str, Any]:
    return said(client.post(f"/api/together/{key}/beat", json={"device": device}))


def titles(client: FlaskClient) -> list[str]:
    return [one["title"] for one in said(client.get("/api/together"))["parties"]]


def test_who_comes_hears_where_it_is_and_one_stops_for_all(household: Database, sign: Sign) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    owner, child = sign("owner"), sign("child")
    key = invite(owner, film, 3.5)
    first = beat(owner, key)
    assert (first["is_paused"], first["position_seconds"], first["names"]) == (True, 3.5, [first["host"]])
    assert titles(child) == ["Kettle Morning"]
    assert len(beat(child, key, "tablet")["names"]) == 2
    before = time.time()
    started = said(owner.put(f"/api/together/{key}", json={"is_paused": False, "position_seconds": 3.5}))
    assert started["at_seconds"] - before == pytest.approx(LEAD_SECONDS, abs=0.5)
    heard = beat(child, key, "tablet")
    assert (heard["is_paused"], heard["at_seconds"]) == (False, started["at_seconds"])
    said(child.put(f"/api/together/{key}", json={"is_paused": True, "position_seconds": 9.0}))
    stopped = beat(owner, key)
    assert (stopped["is_paused"], stopped["position_seconds"], stopped["changed_by"]) == (True, 9.0, "child")
    assert abs(stopped["now_seconds"] - time.time()) < 2


def test_a_browser_that_beats_again_is_no_other_guest_and_one_that_leaves_is_none(
    household: Database, sign: Sign
) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    owner, guest = sign("owner"), sign("child")
    key = invite(owner, film)
    for _ in range(3):
        beat(owner, key)
    beat(owner, key, "bedroom")
    assert len(beat(guest, key, "sofa")["names"]) == 2
    said(owner.post(f"/api/together/{key}/leave", json={"device": "kitchen"}))
    assert len(beat(guest, key, "sofa")["names"]) == 2, "the bedroom still watches"
    said(guest.post(f"/api/together/{key}/leave", json={"device": "bedroom"}))
    assert len(beat(guest, key, "sofa")["names"]) == 2, "nobody makes somebody else leave"
    said(owner.post(f"/api/together/{key}/leave", json={"device": "bedroom"}))
    assert beat(guest, key, "sofa")["names"] == ["child"]


def test_it_is_over_when_nobody_is_there_any_more(household: Database, sign: Sign) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    owner = sign("owner")
    key = invite(owner, film)
    beat(owner, key)
    with household.begin() as db:
        db.execute(update(Party).values(began_at=now() - timedelta(hours=1)))
    assert titles(owner) == ["Kettle Morning"]
    with household.begin() as db:
        db.execute(update(PartyGuest).values(beat_at=now() - timedelta(minutes=1)))
    assert titles(owner) == []
    answer = owner.post(f"/api/together/{key}/beat", json={"device": "kitchen"})
    assert (answer.status_code, answer.get_json()["reference"]) == (404, "party-over")


def test_what_somebody_may_not_see_they_are_not_invited_to(household: Database, sign: Sign) -> None:
    films = ids(household, "movie")
    owner, child = sign("owner"), sign("child")
    key = invite(owner, films[f"{SECRET} Nights"])
    beat(owner, key)
    assert titles(child) == []
    for method, path, body in (
        ("POST", f"/api/together/{key}/beat", {"device": "tablet"}),
        ("PUT", f"/api/together/{key}", {"is_paused": False, "position_seconds": 0}),
        ("POST", "/api/together", {"entry_id": films[f"{SECRET} Nights"]}),
    ):
        assert child.open(path, method=method, json=body).status_code == 404, path
    own = invite(child, films["Kettle Morning"])
    change = {"is_paused": False, "position_seconds": 0, "entry_id": films[f"{SECRET} Nights"]}
    assert child.put(f"/api/together/{own}", json=change).status_code == 404
    said(owner.put(f"/api/together/{own}", json=change))
    assert child.post(f"/api/together/{own}/beat", json={"device": "tablet"}).status_code == 404


def test_what_is_not_played_is_not_watched_together(household: Database, sign: Sign) -> None:
    series = ids(household, "series")["Kettle Row"]
    answer = sign("owner").post("/api/together", json={"entry_id": series})
    assert (answer.status_code, answer.get_json()["reference"]) == (404, "nothing-to-play")


@pytest.mark.parametrize(
    "body",
    [{"is_paused": False, "position_seconds": -1}, {"is_paused": False, "position_seconds": 1e12}, {"is_paused": True}],
)
def test_wishes_that_cannot_be_are_refused(household: Database, sign: Sign, body: dict[str, Any]) -> None:
    owner = sign("owner")
    key = invite(owner, ids(household, "movie")["Kettle Morning"])
    assert owner.put(f"/api/together/{key}", json=body).status_code == 422
    assert owner.post("/api/together/nothing/beat", json={"device": "kitchen"}).status_code == 404
