"""The API of knowing what things are: decisions, aliases, origins, many entries, pictures, profiles."""

from __future__ import annotations

import io
import os
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image
from werkzeug.serving import make_server

from indice.demo.media import write_video
from indice.settings import Settings
from indice.standins.almanac import create_almanac
from indice.standins.profile import PROFILE
from indice.store.database import Database
from indice.store.facts import put_facts
from indice.store.libraries import add_library
from indice.store.models import Candidate, Entry, Library
from indice.store.shown import refresh_shown
from indice.store.sources import add_source
from indice.work.queue import perform
from indice.work.requests import request_job


@pytest.fixture(scope="module")
def service() -> Iterator[str]:
    """Almanac on a free port."""
    server = make_server("127.0.0.1", 0, create_almanac(), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/reconcile"
    server.shutdown()


@pytest.fixture
def films(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path, service: str) -> FlaskClient:
    """A signed-in owner with three films, one of which waits."""
    for name, title, year, minutes in (
        ("Harbour Glass (1987)", "Harbour Glass", 1987, 112),
        ("Moth Season (2016)", "Moth Season", 2016, 107),
        ("Dust Oprea (1971)", "Dust Opera", 1968, 151),
    ):
        write_video(tmp_path / "films" / name / f"{name}.mp4", title=title, year=year, minutes=minutes, height=90)
    with database.begin() as db:
        add_source(db, PROFILE.format(url=service), None)
        folders = [os.fsencode(tmp_path / "films")]
        library_id = add_library(
            db, name="Films", kind="movies", folders=folders, language="en", country="AT", sources=[]
        ).id
    for kind in ("scan", "match"):
        assert perform(database, settings, request_job(database, kind, library_id)) == "done"
    return owner


def by_title(owner: FlaskClient) -> dict[str, int]:
    return {entry["title"]: entry["id"] for entry in owner.get("/api/shelves/films").json["entries"]}


def waiting_of(owner: FlaskClient) -> dict[str, Any]:
    """The first entry that waits, beside its candidates."""
    card = owner.get("/api/matches").json["waiting"][0]
    return owner.get(f"/api/entries/{card['id']}/match").json


def test_a_decision_is_taken_taught_and_undone(films: FlaskClient) -> None:
    waiting = films.get("/api/matches").json
    assert ([card["title"] for card in waiting["waiting"]], waiting["total"]) == (["Dust Oprea"], 1)
    found = waiting_of(films)
    entry_id, best = found["entry"]["id"], next(c for c in found["candidates"] if c["name"] == "Dust Opera")
    assert found["frame"] is not None
    assert (
        films.post("/api/decisions", json={"choices": [{"entry_id": entry_id, "candidate_id": best["id"]}]}).status_code
        == 200
    )
    assert [(a["name"], a["title"]) for a in films.get("/api/aliases").json["aliases"]] == [
        ("Dust Oprea (1971)", "Dust Opera")
    ]
    assert films.delete(f"/api/entries/{entry_id}/decision").status_code == 200
    assert films.get("/api/aliases").json["aliases"] == []
    assert waiting_of(films)["entry"]["id"] == entry_id
    gone = films.post("/api/decisions", json={"choices": [{"entry_id": entry_id, "candidate_id": 99999}]})
    assert (gone.status_code, gone.json["reference"]) == (404, "candidate-unknown")


def test_none_of_these_is_remembered_and_forgotten(films: FlaskClient) -> None:
    entry_id = waiting_of(films)["entry"]["id"]
    assert films.post(f"/api/entries/{entry_id}/decision", json={"candidate_id": None}).status_code == 200
    alias = films.get("/api/aliases").json["aliases"][0]
    assert alias["source"] == ""
    assert films.delete(f"/api/aliases/{alias['id']}").status_code == 200
    assert films.delete(f"/api/aliases/{alias['id']}").status_code == 404


def test_what_was_taken_alone_is_looked_at_again(films: FlaskClient, database: Database) -> None:
    entry_id = by_title(films)["Moth Season"]
    with database.begin() as db:
        db.get_one(Entry, entry_id).score = 0.91
    found = films.get("/api/matches/again").json["entries"]
    assert [card["id"] for card in found] == [entry_id]
    seen = films.get(f"/api/entries/{entry_id}/match").json
    assert seen["taken"] in [c["external_id"] for c in seen["candidates"]]
    assert films.post(f"/api/entries/{entry_id}/confirm").status_code == 200
    assert films.get("/api/matches/again").json["entries"] == []
    assert films.delete(f"/api/entries/{entry_id}/decision").status_code == 200
    page, kept = (films.get(f"/api/entries/{entry_id}{what}").json for what in ("", "/kept"))
    assert (kept["decided_by"], page["card"]["state"]) == ("automatic", "settled")
    assert any(fact["field"] == "plot" for fact in page["facts"]), (
        "saying that it is right loses nothing when taken back"
    )


def test_a_library_believes_in_its_own_order(films: FlaskClient, database: Database) -> None:
    entry_id = by_title(films)["Moth Season"]
    with database.begin() as db:
        put_facts(db, [(entry_id, "tags", {"title": "Moths", "plot": "From the tags."})])
        refresh_shown(db, [entry_id])
        library_id = db.query(Library).one().id
    asked = {
        "name": "Films",
        "language": "de",
        "country": "AT",
        "sources": ["Almanac"],
        "own_first": ["title"],
        "writes": ["facts"],
    }
    assert films.put(f"/api/libraries/{library_id}", json=asked).status_code == 200
    assert "Moths" in by_title(films)
    page = films.get(f"/api/entries/{entry_id}/kept").json
    shown = {fact["field"]: fact["shown"]["origin"] for fact in page["facts"]}
    assert (shown["title"], shown["plot"]) == ("tags", "source:Almanac")
    kept = films.get("/api/libraries").json["libraries"][0]
    assert {name: kept[name] for name in asked} == asked
    for wrong in ({"sources": ["Nobody"]}, {"language": "german"}, {"writes": ["everything"]}, {"name": " "}):
        assert films.put(f"/api/libraries/{library_id}", json={**asked, **wrong}).status_code in (400, 409, 422), wrong
    assert films.put("/api/libraries/999", json=asked).status_code == 404


def test_a_field_of_many_entries_is_written(films: FlaskClient) -> None:
    ids = list(by_title(films).values())

    def genres() -> list[list[str] | None]:
        pages = [films.get(f"/api/entries/{id_}").json for id_ in ids]
        return [next((f["value"] for f in p["facts"] if f["field"] == "genres"), None) for p in pages]

    before = genres()
    body = {"entry_ids": ids, "field": "genres", "value": ["Harbour"], "how": "add"}
    assert films.post("/api/entries/facts", json=body).json == {"count": 3}
    assert all("Harbour" in (held or ()) for held in genres())
    assert films.post("/api/entries/facts", json=body).json == {"count": 0}, "nothing is added twice"
    assert films.post("/api/entries/facts", json={**body, "how": "drop"}).json == {"count": 3}
    assert films.post("/api/entries/facts", json={**body, "value": None, "how": "set"}).json == {"count": 3}
    assert genres() == before
    for wrong in (
        {"field": "year", "how": "add"},
        {"value": "Drama"},
        {"field": "ids", "how": "set"},
        {"entry_ids": []},
    ):
        answer = films.post("/api/entries/facts", json={**body, **wrong})
        assert answer.status_code in (400, 422) or answer.json == {"count": 0}, wrong


def test_everything_that_shows_a_value_is_gathered(films: FlaskClient) -> None:
    entry_id = by_title(films)["Moth Season"]
    facts = {f["field"]: f["value"] for f in films.get(f"/api/entries/{entry_id}").json["facts"]}
    person = facts["cast"][0]
    found = films.get("/api/with", query_string={"field": "directors", "value": person}).json
    assert [(role["field"], [e["id"] for e in role["entries"]]) for role in found["roles"]] == [("cast", [entry_id])]
    assert entry_id in [
        e["id"]
        for e in films.get("/api/with", query_string={"field": "rating", "value": facts["rating"]}).json["roles"][0][
            "entries"
        ]
    ]
    assert films.get("/api/with", query_string={"field": "cast", "value": "Nobody at all"}).json["roles"] == []
    assert films.get("/api/with", query_string={"field": "ids", "value": "x"}).status_code == 404


def test_the_certificate_is_that_of_the_country(films: FlaskClient) -> None:
    page = films.get(f"/api/entries/{by_title(films)['Moth Season']}/kept").json
    facts = {f["field"]: f["shown"]["value"] for f in page["facts"]}
    assert f"AT: {facts['rating']}" in facts["certificates"]


def test_pictures_are_offered_and_frames_are_taken(films: FlaskClient) -> None:
    entry_id = by_title(films)["Moth Season"]
    page = films.get(f"/api/entries/{entry_id}/kept").json
    assert {(o["role"], o["count"]) for o in page["offers"]} == {("poster", 1), ("backdrop", 2)}
    assert films.post(f"/api/entries/{entry_id}/offers").status_code == 200
    page = films.get(f"/api/entries/{entry_id}/kept").json
    assert (page["offers"], len(page["artworks"])) == ([], 5)
    frame = page["frames"][0]
    seen = films.get(f"/api/files/{frame['file_id']}/frame", query_string={"at": 40})
    assert Image.open(io.BytesIO(seen.data)).format == "WEBP"
    body = {"file_id": frame["file_id"], "seconds": 40, "role": "backdrop"}
    assert films.post(f"/api/entries/{entry_id}/frame", json=body).status_code == 200
    page, kept = (films.get(f"/api/entries/{entry_id}{what}").json for what in ("", "/kept"))
    chosen = next(a for a in kept["artworks"] if a["chosen"])
    assert (chosen["origin"], page["backdrop"]["digest"]) == ("frame", chosen["picture"]["digest"])
    assert films.delete(f"/api/artworks/{chosen['id']}/choose").status_code == 200
    assert not any(a["chosen"] for a in films.get(f"/api/entries/{entry_id}/kept").json["artworks"])
    other = by_title(films)["Harbour Glass"]
    assert films.post(f"/api/entries/{other}/frame", json=body).status_code == 404
    assert films.get("/api/files/99999/frame").status_code == 404


def test_search_keeps_to_one_source_if_asked(films: FlaskClient) -> None:
    entry_id = waiting_of(films)["entry"]["id"]
    address = f"/api/entries/{entry_id}/candidates"
    found = films.post(address, json={"words": "Dust Opera", "source": "Almanac"}).json
    assert "Dust Opera" in [c["name"] for c in found["candidates"]]
    assert films.post(address, json={"words": "Dust Opera", "source": "Another"}).status_code == 400


def test_a_profile_is_drafted_from_what_a_service_says(owner: FlaskClient, service: str) -> None:
    seen = owner.post("/api/sources/look", json={"url": service, "key": None}).json
    assert (seen["name"], seen["versions"]) == ("Almanac", ["0.2"])
    assert {row["id"] for row in seen["properties"]["Film"]} >= {"title", "released", "poster"}
    assert owner.post("/api/sources", json={"profile": seen["profile"], "key": None}).status_code == 200
    source = owner.get("/api/sources").json["sources"][0]
    assert owner.post(f"/api/sources/{source['id']}/test").status_code == 200
    for url in ("file:///etc/passwd", "nothing.test", "http://127.0.0.1:9/"):
        assert owner.post("/api/sources/look", json={"url": url, "key": None}).status_code in (400, 422, 502), url


def test_sources_are_ordered_and_forgotten(owner: FlaskClient, service: str) -> None:
    for name in ("First", "Second"):
        text = PROFILE.format(url=service).replace('"Almanac"', f'"{name}"')
        assert owner.post("/api/sources", json={"profile": text, "key": "secret"}).status_code == 200
    first, second = (source["id"] for source in owner.get("/api/sources").json["sources"])
    assert owner.put("/api/sources/order", json={"ids": [second, first]}).status_code == 200
    assert [s["name"] for s in owner.get("/api/sources").json["sources"]] == ["Second", "First"]
    assert owner.delete(f"/api/sources/{second}").status_code == 200
    assert [s["name"] for s in owner.get("/api/sources").json["sources"]] == ["First"]
    assert owner.delete(f"/api/sources/{second}").status_code == 404


def test_what_would_be_written_is_shown_first(films: FlaskClient, database: Database, tmp_path: Path) -> None:
    with database.begin() as db:
        library_id = db.query(Library).one().id
    refused = films.post("/api/plans/writing", json={"library_id": library_id})
    assert (refused.status_code, refused.json["reference"]) == (400, "writing-off")
    with database.begin() as db:
        db.get_one(Library, library_id).writes = ["facts"]
    plan = films.post("/api/plans/writing", json={"library_id": library_id}).json
    assert {(m["before"], m["after"], m["what"]) for m in plan["moves"]} == {
        ("", "Harbour Glass (1987)/Harbour Glass (1987).jsonld", "facts"),
        ("", "Moth Season (2016)/Moth Season (2016).jsonld", "facts"),
    }
    assert not list(tmp_path.glob("films/*/*.jsonld"))


def test_the_page_of_a_source_is_shown_apart(films: FlaskClient) -> None:
    candidate = waiting_of(films)["candidates"][0]
    page = films.get(f"/api/candidates/{candidate['id']}/preview")
    assert candidate["name"] in page.text
    assert page.headers["Content-Security-Policy"].startswith("sandbox; default-src 'none'")
    assert films.get("/api/candidates/99999/preview").status_code == 404


def test_titles_are_proposed_while_one_types(films: FlaskClient) -> None:
    entry_id = waiting_of(films)["entry"]["id"]
    found = films.get(f"/api/entries/{entry_id}/suggest", query_string={"q": "Dust Op"}).json
    assert "Dust Opera" in found["names"]
    assert films.get("/api/entries/99999/suggest", query_string={"q": "x"}).status_code == 404


def test_the_likeliest_of_several_is_taken_together(films: FlaskClient) -> None:
    found = waiting_of(films)
    choice = {"entry_id": found["entry"]["id"], "candidate_id": None}
    assert films.post("/api/decisions", json={"choices": [choice]}).status_code == 200
    assert films.get("/api/matches").json["total"] == 0
    page = films.get(f"/api/entries/{found['entry']['id']}").json
    assert page["card"]["title"] == found["candidates"][0]["name"]


def test_who_looks_is_told_more_of_candidates(films: FlaskClient, database: Database) -> None:
    found = waiting_of(films)
    with database.begin() as db:
        for candidate in db.query(Candidate).filter_by(entry_id=found["entry"]["id"]):
            candidate.fields = {}
    seen = films.post(f"/api/entries/{found['entry']['id']}/look").json
    assert all(candidate["is_looked_at"] for candidate in seen["candidates"])
    assert any(candidate["fields"].get("date") for candidate in seen["candidates"])
    assert all(candidate["parts"] for candidate in seen["candidates"])
    assert films.post("/api/entries/99999/look").status_code == 404


def test_what_is_of_another_kind_is_shown_apart_and_cannot_be_taken(films: FlaskClient, database: Database) -> None:
    found = waiting_of(films)
    entry_id = found["entry"]["id"]
    with database.begin() as db:
        source_id = db.query(Candidate).first().source_id
        other = Candidate(
            entry_id=entry_id,
            source_id=source_id,
            external_id="p1",
            name="Dust",
            score=0.0,
            parts=[],
            fields={},
            apart="Band",
        )
        db.add(other)
        db.flush()
        other_id = other.id
    seen = films.get(f"/api/entries/{entry_id}/match").json
    assert [(one["name"], one["type"]) for one in seen["apart"]] == [("Dust", "Band")]
    assert other_id not in [candidate["id"] for candidate in seen["candidates"]]
    refused = films.post(f"/api/entries/{entry_id}/decision", json={"candidate_id": other_id})
    assert (refused.status_code, refused.json["reference"]) == (400, "candidate-apart")


def test_the_ways_of_a_name_are_told(films: FlaskClient) -> None:
    entry_id = by_title(films)["Moth Season"]
    file_id = films.get(f"/api/entries/{entry_id}/kept").json["files"][0]["id"]
    assert films.get(f"/api/files/{file_id}/ways").json == {"ways": []}, "one year in brackets leaves no question open"
    assert films.get("/api/files/99999/ways").status_code == 404
