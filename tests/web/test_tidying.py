"""The right to tidy: who has it keeps that library, and nothing of another; what they may not keep is refused alike."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.settings import Settings
from indice.store.database import Database
from indice.store.household import Change, change_person, the_person, viewer_named
from indice.store.models import File, Finding, Folder, Library
from indice.work.checks import check_library
from indice.work.queue import perform
from indice.work.requests import request_job

from .kettle import Sign, ids, said
from .test_walk import hidden_from


@pytest.fixture
def untidy(household: Database, settings: Settings) -> dict[str, int]:
    """Libraries with a loose film each; the member may tidy the films, and sees the series. Name → number."""
    with household.begin() as db:
        roots = {f.library_id: Path(f.shown) for f in db.scalars(select(Folder))}
        numbers = {library.name: library.id for library in db.scalars(select(Library))}
        for grant_of in ("member", "child"):
            change_person(db, the_person(db, grant_of), Change(libraries=["Films"], tidies=True))
        change_person(db, the_person(db, "member"), Change(libraries=["Films", "Series"]))
    for name in ("Films", "Away"):
        root = roots[numbers[name]]
        made = next(root.rglob("*.mp4")).read_bytes()
        (root / f"{name}.Lantern.2009.1080p.WEB.mp4").write_bytes(made + name.encode())
        perform(household, settings, request_job(household, "scan", numbers[name]))
        check_library(household, numbers[name])
    return numbers


def findings(database: Database, library_id: int) -> list[int]:
    with database.begin() as db:
        return list(db.scalars(select(Finding.id).where(Finding.library_id == library_id).order_by(Finding.id)))


def refused(client: FlaskClient, method: str, path: str, body: object = None) -> None:
    answer = client.open(path, method=method, json=body)
    assert (answer.status_code, answer.get_json()["reference"]) == (403, "not-allowed"), path


def test_a_right_is_given_with_a_library_and_not_to_who_is_of_an_age(
    household: Database, untidy: dict[str, int]
) -> None:
    with household.begin() as db:
        assert viewer_named(db, "member").tidies == {untidy["Films"]}
        assert viewer_named(db, "child").tidies == frozenset(), "names of files tell what they are"
        change_person(db, the_person(db, "member"), Change(tidies=False))
        assert viewer_named(db, "member").tidies == frozenset()


def test_who_tidies_mends_names_of_that_library_and_takes_it_back(
    household: Database, settings: Settings, untidy: dict[str, int], sign: Sign
) -> None:
    client = sign("member")
    films = untidy["Films"]
    assert said(client.get("/api/status"))["tidies"] == [films]
    assert [one["name"] for one in said(client.get("/api/libraries"))["libraries"]] == ["Films"]
    told = said(client.get("/api/findings"))
    assert told["findings"] and {one["library_id"] for one in told["findings"]} == {films}
    assert set(told["libraries"]) == {str(films)}
    safe = said(client.get("/api/findings/safe"))["findings"]
    assert set(safe) <= {str(films)} and len(safe.get(str(films), ())) == told["safe"]
    kinds = {one["id"]: one["fix_kind"] for one in told["findings"]}
    assert set(safe.get(str(films), ())) == {id_ for id_, kind in kinds.items() if kind == "safe"}
    loose = [one["id"] for one in told["findings"] if "Lantern" in one["path"] and one["fix"]]
    plan = said(client.post("/api/plans", json={"library_id": films, "findings": loose, "edits": {}, "below": None}))
    assert plan["count"] >= 1 and not plan["conflicts"]
    job = said(client.post(f"/api/plans/{plan['id']}/apply"))["job_id"]
    perform(household, settings, job)
    assert [one["id"] for one in said(client.get("/api/jobs"))["jobs"] if one["kind"] == "tidy"] == [job]
    said(client.get(f"/api/jobs/{job}/log"))
    moved = said(client.get(f"/api/plans/{plan['id']}"))["moves"][0]
    with household.begin() as db:
        assert db.scalar(select(File.state).where(File.shown == moved["after"])) == "present"
    back = said(client.post(f"/api/plans/{plan['id']}/undo", json={"only": None}))["job_id"]
    perform(household, settings, back)
    with household.begin() as db:
        assert db.scalar(select(File.state).where(File.shown == moved["before"])) == "present"


def test_who_tidies_describes_entries_of_that_library_only(
    household: Database, untidy: dict[str, int], sign: Sign
) -> None:
    client = sign("member")
    kettle, row = ids(household, "movie")["Kettle Morning"], ids(household, "series")["Kettle Row"]
    unseen = next(iter(hidden_from(household, "member")[0]))
    fact = {"value": "A kettle sings."}
    said(client.put(f"/api/entries/{kettle}/facts/plot", json=fact))
    page, kept = (said(client.get(f"/api/entries/{kettle}{what}")) for what in ("", "/kept"))
    assert page["is_kept"] and {"field": "plot", **fact} in page["facts"]
    plot = next(one for one in kept["facts"] if one["field"] == "plot")["shown"]
    assert (plot["value"], plot["locked"], "plot" in kept["editable"]) == (fact["value"], True, True)
    assert not said(client.get(f"/api/entries/{row}"))["is_kept"], "a library that they only see has no such face"
    for entry in (row, unseen, 999_999):
        refused(client, "GET", f"/api/entries/{entry}/kept", None)
    for entry in (row, unseen, 999_999):
        refused(client, "PUT", f"/api/entries/{entry}/facts/plot", fact)
        refused(client, "PUT", f"/api/entries/{entry}/facts/plot", {**fact, "library_id": untidy["Films"]})
        refused(client, "POST", f"/api/entries/{entry}/refresh")


def test_what_is_of_another_library_is_refused_as_what_never_was(
    household: Database, settings: Settings, untidy: dict[str, int], sign: Sign, owner: FlaskClient
) -> None:
    client = sign("member")
    away = untidy["Away"]
    others = findings(household, away)
    wish = {"library_id": away, "findings": others, "edits": {}, "below": None}
    plan = said(owner.post("/api/plans", json=wish))["id"]
    job = request_job(household, "scan", away)
    for number in (plan, 999_999):
        refused(client, "GET", f"/api/plans/{number}")
        refused(client, "POST", f"/api/plans/{number}/apply")
        refused(client, "POST", f"/api/plans/{number}/undo", {"only": None})
    for number in (others[0], 999_999):
        refused(client, "POST", f"/api/findings/{number}/excuse")
    for number in (job, 999_999):
        refused(client, "GET", f"/api/jobs/{number}/log")
    for library in (away, untidy["Series"], 999_999):
        refused(client, "POST", "/api/plans", {**wish, "library_id": library})
    assert job not in [one["id"] for one in said(client.get("/api/jobs"))["jobs"]]
    # Findings of another library in a plan for their own move nothing there.
    drafted = said(client.post("/api/plans", json={**wish, "library_id": untidy["Films"]}))
    assert drafted["count"] == 0
    for path in ("/api/today", "/api/matches", "/api/people", "/api/plans", "/api/excuses", "/api/sources"):
        refused(client, "GET", path)


@pytest.mark.parametrize("name", ["child", "guest"])
def test_who_may_not_tidy_is_refused_everything_of_it(untidy: dict[str, int], sign: Sign, name: str) -> None:
    client = sign(name)
    assert said(client.get("/api/status"))["tidies"] == []
    for path in ("/api/findings", "/api/jobs", "/api/libraries"):
        refused(client, "GET", path)
