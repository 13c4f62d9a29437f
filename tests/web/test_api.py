"""The API: sign-in, forged requests, bad input, ranges."""

from __future__ import annotations

import gzip
import io
import os
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from PIL import Image
from sqlalchemy import select

from indice.core.reading.reader import read_path
from indice.demo.media import write_video
from indice.disk.thumbnails import Thumbnail
from indice.disk.walk import Seen
from indice.settings import Settings
from indice.store.database import Database
from indice.store.facts import put_facts
from indice.store.files import save_files
from indice.store.libraries import add_library
from indice.store.models import Entry, Folder, Library
from indice.store.pictures import add_artwork
from indice.store.shown import refresh_shown
from indice.web.libraries import suggest
from indice.work.checks import check_library
from indice.work.queue import perform
from indice.work.requests import request_job
from indice.work.scan import new_file


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


def test_a_late_answer_brings_no_ended_session_back(owner: FlaskClient) -> None:
    before = owner.get_cookie("indice")
    assert before is not None
    assert owner.delete("/api/session").status_code == 200
    owner.set_cookie("indice", before.value)
    for path in ("/api/today", "/api/libraries", "/api/status"):
        assert "Set-Cookie" not in owner.get(path).headers, path
    owner.delete_cookie("indice")
    assert "Set-Cookie" in owner.get("/api/status").headers
    assert "Set-Cookie" not in owner.get("/api/status").headers


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
        ({"name": "Films", "kind": "movies", "folders": ["a\0b"]}, 400, "request-wrong"),
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
    url = f"/api/files/{film['plays'][0]['file_id']}/content"
    part = owner.get(url, headers={"Range": "bytes=100-199"})
    assert (part.status_code, part.data) == (206, whole[100:200])
    assert part.headers["Content-Range"] == f"bytes 100-199/{len(whole)}"
    assert owner.get(url, headers={"Range": f"bytes={len(whole) + 5}-"}).status_code == 416
    assert owner.get(url).data == whole


def test_a_file_that_is_gone_is_told(owner: FlaskClient, film: dict[str, list[dict[str, str]]], tmp_path: Path) -> None:
    (tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4").unlink()
    answer = owner.get(f"/api/files/{film['plays'][0]['file_id']}/content")
    assert (answer.status_code, answer.get_json()["reference"]) == (404, "file-away")


def test_a_link_out_of_the_library_is_not_followed(
    owner: FlaskClient, film: dict[str, list[dict[str, str]]], tmp_path: Path
) -> None:
    path = tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4"
    path.unlink()
    path.symlink_to("/etc/hostname")
    assert owner.get(f"/api/files/{film['plays'][0]['file_id']}/content").status_code == 403


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
    file_id = film["plays"][0]["file_id"]
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


def test_a_fact_is_written_by_hand_and_taken_back(owner: FlaskClient, database: Database) -> None:
    with database.begin() as db:
        library = Library(name="Films", kind="movies")
        db.add(library)
        db.flush()
        entry = Entry(library_id=library.id, key="movie:x", kind="movie", title="Harbour", sort_title="harbour")
        db.add(entry)
        db.flush()
        put_facts(db, [(entry.id, "source:Almanac", {"title": "Harbour", "genres": ["Drama"], "date": "1987-01-01"})])
        entry_id = entry.id
    address = f"/api/entries/{entry_id}/facts"
    assert owner.put(f"{address}/title", json={"value": "Harbour Glass"}).status_code == 200
    assert owner.put(f"{address}/year", json={"value": 1988}).status_code == 200
    with database.begin() as db:
        put_facts(db, [(entry_id, "source:Almanac", {"title": "Harbour Lights", "date": "1990-01-01"})])
        refresh_shown(db, [entry_id])
    page = owner.get(f"/api/entries/{entry_id}").json
    assert (page["card"]["title"], page["card"]["year"]) == ("Harbour Glass", 1988)
    kept = owner.get(f"/api/entries/{entry_id}/kept").json
    assert [change["field"] for change in kept["changes"]] == ["year", "title"]
    assert owner.put(f"{address}/title", json={"value": None}).status_code == 200
    assert owner.get(f"/api/entries/{entry_id}").json["card"]["title"] == "Harbour Lights"
    for field, value in (
        ("year", "1988"),
        ("year", 12),
        ("genres", "Drama"),
        ("genres", [1]),
        ("title", ""),
        ("ids", "x"),
    ):
        assert owner.put(f"{address}/{field}", json={"value": value}).status_code == 400, field
    assert owner.put("/api/entries/99999/facts/title", json={"value": "x"}).status_code == 404


def test_a_picture_is_uploaded_and_chosen(owner: FlaskClient, database: Database) -> None:
    with database.begin() as db:
        library = Library(name="Films", kind="movies")
        db.add(library)
        db.flush()
        entry = Entry(library_id=library.id, key="movie:x", kind="movie", title="Harbour", sort_title="harbour")
        db.add(entry)
        db.flush()
        add_artwork(db, entry.id, "poster", "file", Thumbnail("0" * 32, 10, 15, ""))
        entry_id = entry.id
    picture = io.BytesIO()
    Image.new("RGB", (200, 300), "teal").save(picture, "PNG")
    picture.seek(0)
    address = f"/api/entries/{entry_id}/artworks"
    assert owner.post(address, data={"role": "poster", "picture": (picture, "own.png")}).status_code == 200
    page = owner.get(f"/api/entries/{entry_id}/kept").json
    assert [(a["origin"], a["chosen"]) for a in page["artworks"]] == [("hand", True), ("file", False)]
    other = next(a for a in page["artworks"] if a["origin"] == "file")
    assert owner.post(f"/api/artworks/{other['id']}/choose").status_code == 200
    assert owner.get(f"/api/entries/{entry_id}").json["card"]["picture"]["digest"] == "0" * 32
    wrong = owner.post(address, data={"role": "poster", "picture": (io.BytesIO(b"no picture"), "x.png")})
    assert (wrong.status_code, wrong.json["reference"]) == (400, "picture-wrong")
    assert owner.post(address, data={"role": "nonsense"}).status_code == 400


def test_plans_conventions_and_excuses(owner: FlaskClient, database: Database, tmp_path: Path) -> None:
    films = tmp_path / "films"
    films.mkdir()
    with database.begin() as db:
        library_id = add_library(
            db, name="Films", kind="movies", folders=[str(films).encode()], language="en", country="", sources=[]
        ).id
        folder_id = db.scalars(select(Folder.id)).one()
        names = ["harbour.glass.1987.1080p.mkv", "Salt Row (1991)/Salt Row (1991).mkv"]
        made = [new_file(Seen(n.encode(), 5, 1, 1), read_path(n, "movies"), []) for n in names]
        save_files(db, folder_id, made)
    check_library(database, library_id)
    findings = owner.get("/api/findings").json["findings"]
    plan = owner.post("/api/plans", json={"library_id": library_id, "findings": [f["id"] for f in findings]}).json
    assert [move["after"] for move in plan["moves"]] == ["harbour glass (1987)/harbour glass (1987).mkv"]
    whole = owner.post("/api/plans", json={"library_id": library_id, "below": ""}).json
    assert whole["count"] == 1 and whole["state"] == "draft"
    assert owner.post(f"/api/plans/{plan['id']}/undo", json={"only": None}).status_code == 400
    loose = next(f for f in findings if f["check"] == "loose-film")
    assert owner.post(f"/api/findings/{loose['id']}/excuse").status_code == 200
    excuses = owner.get("/api/excuses").json["excuses"]
    assert [e["check"] for e in excuses] == ["loose-film"]
    check_library(database, library_id)
    assert "loose-film" not in {f["check"] for f in owner.get("/api/findings").json["findings"]}
    assert owner.delete(f"/api/excuses/{excuses[0]['id']}").status_code == 200
    assert owner.put(f"/api/libraries/{library_id}/naming", json={"convention": "Flat"}).status_code == 200
    assert {f["check"] for f in owner.get("/api/findings").json["findings"]} == {"release-words"}
    assert owner.put(f"/api/libraries/{library_id}/checks/release-words", json={"loudness": "off"}).status_code == 200
    assert owner.get("/api/findings").json["findings"] == []
    assert owner.put(f"/api/libraries/{library_id}/checks/nope", json={"loudness": "off"}).status_code == 404
    body = {"name": "Mine", "about": "", "file_system": "any", "templates": {"movie": "{{ title }}"}}
    assert owner.put("/api/conventions/Mine", json=body).status_code == 200
    text = owner.get("/api/conventions/Mine/toml").text
    assert owner.post("/api/conventions", json={"text": text}).json["reference"] == "name-taken"
    assert owner.post("/api/conventions", json={"text": text.replace("Mine", "Yours")}).status_code == 200
    wrong = owner.put("/api/conventions/Mine", json={**body, "templates": {"movie": "{{ titel }}"}})
    assert wrong.status_code == 400 and "titel" in wrong.json["message"]
    seen = owner.post(
        "/api/conventions/preview", json={"templates": {"movie": "{{ nope }}"}, "library_id": library_id}
    ).json
    assert seen["errors"][0]["slot"] == "movie"
    assert owner.delete("/api/conventions/Mine").status_code == 200
    assert owner.delete("/api/conventions/Mine").status_code == 404


def test_answers_are_packed_for_who_takes_it_and_say_the_same(owner: FlaskClient) -> None:
    plain = owner.get("/api/openapi.json")
    packed = owner.get("/api/openapi.json", headers={"Accept-Encoding": "gzip"})
    assert "Content-Encoding" not in plain.headers and packed.headers["Content-Encoding"] == "gzip"
    assert gzip.decompress(packed.data) == plain.data and len(packed.data) * 4 < len(plain.data)
    assert int(packed.headers["Content-Length"]) == len(packed.data)
    short = owner.get("/api/jobs", headers={"Accept-Encoding": "gzip"})
    assert "Content-Encoding" not in short.headers and "Accept-Encoding" in short.vary
