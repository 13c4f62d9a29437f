"""The API: sign-in, forged requests, bad input, ranges."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from indice.demo.media import write_video
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.web.libraries import suggest
from indice.work.queue import perform, request_job


def test_the_first_page_needs_no_sign_in_and_the_rest_does(client: FlaskClient) -> None:
    assert client.get("/api/status").get_json()["has_owner"] is False
    answer = client.get("/api/today")
    assert answer.status_code == 401
    assert answer.get_json()["reference"] == "sign-in-needed"


def test_only_one_owner_is_made(owner: FlaskClient) -> None:
    assert owner.post("/api/setup", json={"language": "en", "name": "Eve", "password": "12345678"}).status_code == 409


@pytest.mark.parametrize("name", ["Odile", "odile"])
def test_sign_in_and_out(owner: FlaskClient, name: str) -> None:
    owner.delete("/api/session")
    owner.environ_base["HTTP_X_INDICE_TOKEN"] = owner.get("/api/status").get_json()["csrf"]
    assert (
        owner.post("/api/session", json={"name": name, "password": "wrong password"}).get_json()["reference"]
        == "sign-in-wrong"
    )
    assert owner.post("/api/session", json={"name": name, "password": "tidewrack 9"}).status_code == 200
    assert owner.get("/api/today").status_code == 200


def test_a_forged_request_is_refused(owner: FlaskClient) -> None:
    owner.environ_base["HTTP_X_INDICE_TOKEN"] = "guessed"
    assert owner.post("/api/sources", json={"profile": "x"}).status_code == 403


def test_the_password_is_not_stored_and_the_cookie_is_guarded(client: FlaskClient, database: Database) -> None:
    answer = client.post("/api/setup", json={"language": "en", "name": "Odile", "password": "tidewrack 9"})
    cookie = answer.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    with database.begin() as db:
        from sqlalchemy import text

        assert db.execute(text("select password_hash from person")).scalar_one().startswith("$argon2")


@pytest.mark.parametrize(
    ("body", "status", "reference"),
    [
        ({"name": "Films", "kind": "movies", "folders": ["/no/such/folder"]}, 404, "folder-missing"),
        ({"name": "Films", "kind": "paintings", "folders": ["/tmp"]}, 422, "request-wrong"),
        ({"name": "", "kind": "movies", "folders": ["/tmp"]}, 422, "request-wrong"),
        ({"name": "Films", "kind": "movies", "folders": []}, 422, "request-wrong"),
        ({"name": "Films", "kind": "movies", "folders": ["/tmp"], "more": 1}, 422, "request-wrong"),
        ({"name": "Films", "kind": "movies", "folders": ["a\0b"]}, 400, "folder-missing"),
    ],
)
def test_bad_libraries_are_answered_in_words(
    owner: FlaskClient, body: dict[str, object], status: int, reference: str
) -> None:
    answer = owner.post("/api/libraries", json=body)
    assert answer.status_code == status
    told = answer.get_json()
    assert told["reference"] == reference
    assert told["message"]


def test_malformed_json_is_answered(owner: FlaskClient) -> None:
    answer = owner.post("/api/sources", data="{", content_type="application/json")
    assert answer.status_code == 400
    assert answer.get_json()["message"]


def test_an_unlikely_kind_is_questioned(owner: FlaskClient, tmp_path: Path) -> None:
    for number in range(4):
        (tmp_path / f"0{number} - Song.mp3").write_bytes(b"x")
    asked = {"name": "Films", "kind": "movies", "folders": [str(tmp_path)]}
    answer = owner.post("/api/libraries", json=asked)
    assert (answer.status_code, answer.get_json()["reference"]) == (409, "kind-unlikely")
    assert owner.post("/api/libraries", json={**asked, "sure": True}).status_code == 200
    overlapping = owner.post("/api/libraries", json={**asked, "name": "Again", "sure": True})
    assert overlapping.get_json()["reference"] == "folder-overlaps"


@pytest.mark.parametrize(
    ("counts", "kind"),
    [
        ({"films": 9}, "movies"),
        ({"films": 2, "episodes": 9}, "series"),
        ({"songs": 9}, "music"),
        ({"photos": 90, "clips": 3}, "photos"),
        ({"clips": 9, "photos": 1}, "home-videos"),
        ({"songs": 5, "films": 5}, "mixed"),
        ({}, "mixed"),
    ],
)
def test_a_kind_is_suggested(counts: dict[str, int], kind: str) -> None:
    assert suggest(counts) == kind


def test_folders_can_be_browsed(owner: FlaskClient, tmp_path: Path) -> None:
    (tmp_path / "Films").mkdir()
    (tmp_path / "Films" / "Moth Season (2016).mkv").write_bytes(b"x")
    found = owner.get("/api/browse", query_string={"path": str(tmp_path)}).get_json()
    assert "Films" in [folder["name"] for folder in found["folders"]]
    preview = owner.get("/api/browse/preview", query_string={"path": str(tmp_path / "Films")}).get_json()
    assert (preview["counts"], preview["suggestion"]) == ({"films": 1}, "movies")


@pytest.fixture
def film(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> dict[str, object]:
    """A scanned film as its page shows it."""
    write_video(
        tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4",
        title="Moth Season",
        year=2016,
        minutes=2,
        height=90,
    )
    with database.begin() as db:
        library_id = add_library(
            db,
            name="Films",
            kind="movies",
            folders=[os.fsencode(tmp_path / "Films")],
            language="en",
            country="",
            sources=[],
        ).id
    perform(database, settings, request_job(database, "scan", library_id))
    found = owner.get("/api/search", query_string={"q": "moth"}).get_json()["entries"]
    assert [entry["title"] for entry in found] == ["Moth Season"]
    page: dict[str, object] = owner.get(f"/api/entries/{found[0]['id']}").get_json()
    return page


def test_a_file_is_delivered_by_ranges(
    owner: FlaskClient, film: dict[str, list[dict[str, str]]], tmp_path: Path
) -> None:
    whole = (tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4").read_bytes()
    url = film["plays"][0]["url"]
    part = owner.get(url, headers={"Range": "bytes=100-199"})
    assert (part.status_code, part.data) == (206, whole[100:200])
    assert part.headers["Content-Range"] == f"bytes 100-199/{len(whole)}"
    assert owner.get(url, headers={"Range": f"bytes={len(whole) + 5}-"}).status_code == 416
    assert owner.get(url).data == whole


def test_a_file_that_is_gone_is_told(owner: FlaskClient, film: dict[str, list[dict[str, str]]], tmp_path: Path) -> None:
    (tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4").unlink()
    answer = owner.get(film["plays"][0]["url"])
    assert (answer.status_code, answer.get_json()["reference"]) == (404, "file-away")


def test_a_link_out_of_the_library_is_not_followed(
    owner: FlaskClient, film: dict[str, list[dict[str, str]]], tmp_path: Path
) -> None:
    path = tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4"
    path.unlink()
    path.symlink_to("/etc/hostname")
    assert owner.get(film["plays"][0]["url"]).status_code == 403


@pytest.mark.parametrize(
    "path",
    [
        "/api/pictures/..%2f..%2fetc/240",
        "/api/pictures/zz/240",
        "/api/files/999999/content",
        "/api/entries/999999",
        "/api/shelves/cellar",
        "/api/nothing",
    ],
)
def test_what_is_not_there_is_told(owner: FlaskClient, path: str) -> None:
    answer = owner.get(path)
    assert answer.status_code == 404
    assert answer.get_json()["message"]


def test_the_key_of_a_source_never_comes_out(owner: FlaskClient) -> None:
    from indice.standins.profile import PROFILE

    assert (
        owner.post(
            "/api/sources", json={"profile": PROFILE.format(url="http://127.0.0.1:9/reconcile"), "key": "tern-secret"}
        ).status_code
        == 200
    )
    listed = owner.get("/api/sources")
    assert listed.get_json()["sources"][0]["has_key"] is True
    assert b"tern-secret" not in listed.data
    tested = owner.post(f"/api/sources/{listed.get_json()['sources'][0]['id']}/test")
    assert (tested.status_code, tested.get_json()["reference"]) == (502, "source-down")


def test_every_answer_is_guarded(owner: FlaskClient) -> None:
    headers = owner.get("/api/status").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["X-Content-Type-Options"] == "nosniff"


def test_the_api_describes_itself(client: FlaskClient) -> None:
    described = client.get("/api/openapi.json").get_json()
    assert described["openapi"].startswith("3.1")
    assert "/api/entries/{entry_id}/decision" in described["paths"]


def test_a_correction_is_kept_shown_and_taken_back(owner: FlaskClient, film: dict[str, list[dict[str, int]]]) -> None:
    file_id = film["files"][0]["id"]
    assert (
        owner.post(
            f"/api/files/{file_id}/corrections", json={"field": "title", "action": "cut", "value": "Season"}
        ).status_code
        == 200
    )
    assert [e["title"] for e in owner.get("/api/shelves/films").get_json()["entries"]] == ["Moth"]
    taught = owner.get("/api/taught").get_json()["taught"]
    assert [(row["field"], row["action"], row["value"]) for row in taught] == [("title", "cut", "Season")]
    assert owner.delete(f"/api/taught/{taught[0]['id']}").status_code == 200
    assert [e["title"] for e in owner.get("/api/shelves/films").get_json()["entries"]] == ["Moth Season"]
    assert owner.delete(f"/api/taught/{taught[0]['id']}").status_code == 404
    assert owner.post(f"/api/files/{file_id}/corrections", json={"field": "title", "action": "cut"}).status_code == 400
