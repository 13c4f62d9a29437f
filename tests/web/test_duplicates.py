"""What is there twice, in the browser's words: looked for, told apart, put into
the bin by plan, and taken out of it."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.work.queue import perform
from indice.work.requests import request_job, request_look_for_duplicates


@pytest.fixture
def films(tmp_path: Path, database: Database, settings: Settings) -> Path:
    """Two films, one of them twice, scanned and looked through."""
    root = tmp_path / "Films"
    for path, content in (
        ("Cold Ferry (1990)/Cold Ferry (1990).mkv", b"the same"),
        ("from a friend/cold_ferry.mkv", b"the same"),
        ("Warm Ferry (1991)/Warm Ferry (1991).mkv", b"another"),
    ):
        (root / path).parent.mkdir(parents=True)
        (root / path).write_bytes(content)
    with database.begin() as db:
        add_library(db, name="Films", kind="movies", folders=[os.fsencode(root)], language="en", country="", sources=[])
    look(database, settings)
    return root


def scan(database: Database, settings: Settings) -> None:
    """Scan the only library."""
    assert perform(database, settings, request_job(database, "scan", 1)) == "done"


def look(database: Database, settings: Settings) -> None:
    """Scan, and look for what is there twice."""
    scan(database, settings)
    assert perform(database, settings, request_look_for_duplicates(database)) == "done"


def groups(owner: FlaskClient) -> list[dict[str, Any]]:
    """What the page shows."""
    told = owner.get("/api/duplicates").get_json()
    assert sum(told["counts"].values()) == len(told["groups"])
    return list(told["groups"])


def test_what_is_twice_is_shown_with_the_better_first(owner: FlaskClient, films: Path) -> None:
    (group,) = groups(owner)
    assert group["kind"] == "same-bytes"
    assert [file["path"] for file in group["files"]] == [
        "Cold Ferry (1990)/Cold Ferry (1990).mkv",
        "from a friend/cold_ferry.mkv",
    ]
    assert owner.get("/api/duplicates?kind=near-sound").get_json()["groups"] == []


def test_the_other_goes_into_the_bin_and_comes_back(
    owner: FlaskClient, films: Path, database: Database, settings: Settings
) -> None:
    (group,) = groups(owner)
    keep = group["files"][0]["id"]
    answer = owner.post("/api/duplicates/bin", json={"choices": [{"group": group["id"], "keep": keep}]})
    (plan,) = answer.get_json()["plans"]
    assert (films / "from a friend" / "cold_ferry.mkv").exists(), "a draft moves nothing"
    job = owner.post(f"/api/plans/{plan}/apply", json={}).get_json()["job_id"]
    assert perform(database, settings, job) == "done"
    assert not (films / "from a friend").exists()
    assert [path.read_bytes() for path in (films / ".indice-bin").rglob("*.mkv")] == [b"the same"]
    assert groups(owner) == []
    look(database, settings)
    assert groups(owner) == [], "what is in the bin is no part of the library"
    job = owner.post(f"/api/plans/{plan}/undo", json={"only": None}).get_json()["job_id"]
    assert perform(database, settings, job) == "done"
    assert (films / "from a friend" / "cold_ferry.mkv").read_bytes() == b"the same"
    look(database, settings)
    assert len(groups(owner)) == 1


def test_what_is_not_the_same_is_not_shown_again(
    owner: FlaskClient, films: Path, database: Database, settings: Settings
) -> None:
    (group,) = groups(owner)
    assert owner.post(f"/api/duplicates/{group['id']}/distinct").status_code == 200
    assert groups(owner) == []
    look(database, settings)
    assert groups(owner) == []


def test_wrong_choices_are_refused_in_words(owner: FlaskClient, films: Path) -> None:
    (group,) = groups(owner)
    for choices, status in (
        ([{"group": group["id"], "keep": 999_999}], 404),
        ([{"group": 999_999, "keep": group["files"][0]["id"]}], 404),
        ([], 422),
    ):
        answer = owner.post("/api/duplicates/bin", json={"choices": choices})
        assert (answer.status_code, bool(answer.get_json()["message"])) == (status, True)
    assert owner.post("/api/duplicates/999999/distinct").status_code == 404
    assert (films / "from a friend" / "cold_ferry.mkv").exists()


def test_only_one_job_looks_at_a_time(owner: FlaskClient, films: Path) -> None:
    first, second = (owner.post("/api/duplicates/look").get_json()["job_id"] for _ in range(2))
    assert first == second
