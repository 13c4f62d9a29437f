"""Subtitles: looked for at a service, laid beside the film by plan and journal,
taken back, and fitted to what is heard."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from hashlib import blake2b
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask import Flask, request
from flask.testing import FlaskClient
from werkzeug.serving import make_server

from indice.settings import Settings
from indice.store.database import Database
from indice.store.household import Change, change_person, the_person
from indice.store.libraries import add_library
from indice.work.queue import perform
from indice.work.requests import request_job

from ..playing.sounding import write_sounding
from .kettle import SECRET, Sign, ids, said

SECONDS = 420
LATE = 7.4
"""By so much the text is late for the film."""


def talk() -> list[tuple[float, float]]:
    dice = np.random.default_rng(11)
    spans, at = [], 12.0
    while at < SECONDS - 20:
        length = float(dice.uniform(1.0, 4.0))
        spans.append((at, at + length))
        at += length + float(dice.exponential(3.0)) + 0.4
    return spans


def srt(moved: float) -> str:
    def stamp(at: float) -> str:
        ms = round(at * 1000)
        return f"{ms // 3600000:02d}:{ms // 60000 % 60:02d}:{ms // 1000 % 60:02d},{ms % 1000:03d}"

    cues = (f"{n}\n{stamp(a + moved)} --> {stamp(b + moved)}\nLine {n}.\n" for n, (a, b) in enumerate(talk(), 1))
    return "\n".join(cues)


def write_talking_film(path: Path) -> None:
    """A still picture, and a murmur that is louder where somebody speaks."""
    dice = np.random.default_rng(4)
    sound = dice.normal(0, 300, SECONDS * 8000)
    for start, end in talk():
        sound[int(start * 8000) : int(end * 8000)] += dice.normal(0, 2500, int(end * 8000) - int(start * 8000))
    write_sounding(path, sound / 32768)


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("talk") / "Weir House (1983)" / "Weir House (1983).mkv"
    write_talking_film(path)
    return path


@pytest.fixture(scope="module")
def service() -> Iterator[tuple[str, list[Any]]]:
    """A service written from the protocol alone: it answers the same to everybody."""
    app, asked = Flask("plain"), []

    @app.get("/t")
    def manifest() -> dict[str, Any]:
        return {"protocol": "subtitle-exchange", "version": 1, "name": "Plain"}

    @app.post("/t/search")
    def search() -> dict[str, Any]:
        body: Any = request.get_json()
        asked.append(body)
        right = {"id": "right", "language": "en", "digests": [body["file"].get("digest", "none")]}
        named = {"id": "named", "language": "en", "title": "Weir House", "seconds": 9000}
        other = {"id": "other", "language": "en", "title": "Tin Roof Sundays"}
        return {"texts": [named, other, {"id": "broken", "language": "en", "title": "Weir House"}, right]}

    @app.get("/t/texts/<name>")
    def text(name: str) -> Any:
        return srt(LATE).encode("utf-16") if name == "right" else b"\0\1\2\3"

    server = make_server("127.0.0.1", 0, app, threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/t", asked
    server.shutdown()


@pytest.fixture
def talking(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path, film: Path) -> tuple[int, Path]:
    """A library with the film; the number of its entry, and where it lies."""
    place = tmp_path / "films" / film.parent.name / film.name
    place.parent.mkdir(parents=True)
    place.write_bytes(film.read_bytes())
    with database.begin() as db:
        folder = bytes(tmp_path / "films")
        library = add_library(db, name="F", kind="movies", folders=[folder], language="en", country="AT", sources=[]).id
    assert perform(database, settings, request_job(database, "scan", library)) == "done"
    return ids(database, "movie")["Weir House"], place


def add_plain(owner: FlaskClient, url: str) -> int:
    profile = f'name = "Plain"\nserves = "subtitles"\nurl = "{url}"\n'
    said(owner.post("/api/text-services", json={"profile": profile, "key": None}))
    return said(owner.get("/api/text-services"))["services"][0]["id"]


def carry_out(owner: FlaskClient, database: Database, settings: Settings, plan: int, how: str = "apply") -> None:
    job = said(owner.post(f"/api/plans/{plan}/{how}", json={}))["job_id"]
    assert perform(database, settings, job) == "done"


def test_without_a_service_it_is_said_where_one_is_added(owner: FlaskClient, talking: tuple[int, Path]) -> None:
    answer = owner.post(f"/api/entries/{talking[0]}/subtitles/search", json={"languages": ["en"]})
    assert (answer.status_code, answer.get_json()["reference"]) == (404, "no-text-service")
    assert "House" in answer.get_json()["hint"]


def test_a_text_is_found_laid_beside_its_film_and_taken_back(
    owner: FlaskClient,
    database: Database,
    settings: Settings,
    talking: tuple[int, Path],
    service: tuple[str, list[Any]],
) -> None:
    entry, place = talking
    number = add_plain(owner, service[0])
    assert "Plain answers" in said(owner.post(f"/api/text-services/{number}/test"))["message"]
    found = said(owner.post(f"/api/entries/{entry}/subtitles/search", json={"languages": ["en", "de"]}))
    assert found["problems"] == []
    assert [row["id"] for row in found["texts"]] == ["right", "broken", "named"]
    assert "same-file" in found["texts"][0]["grounds"]
    assert "other-length" in found["texts"][2]["grounds"]
    asked = service[1][-1]
    assert asked["file"]["bytes"] == place.stat().st_size
    assert asked["file"]["digest"] == fingerprint(place)
    assert asked["titles"][0] == "Weir House"
    wish = {"service_id": number, "id": "right", "language": "en", "form": "srt"}
    made = said(owner.post(f"/api/entries/{entry}/subtitles/draft", json=wish))
    target = place.with_name("Weir House (1983).en.srt")
    assert (made["path"], made["replaces"]) == (f"{place.parent.name}/{target.name}", False)
    assert made["lines"][0]["words"] == "Line 1."
    assert not target.exists(), "a draft writes nothing"
    carry_out(owner, database, settings, made["plan"]["id"])
    assert target.read_text("utf-8") == srt(LATE)
    scanned = perform(database, settings, request_job(database, "scan", 1))
    assert scanned == "done"
    (text,) = said(owner.get(f"/api/entries/{entry}/subtitles"))["texts"]
    assert (text["name"], text["language"]) == (target.name, "en")
    carry_out(owner, database, settings, made["plan"]["id"], "undo")
    assert not target.exists()


def fingerprint(path: Path) -> str:
    """As `docs/subtitles.md` says: the length, then four blocks at even distances, or all of a small file."""
    content = path.read_bytes()
    block, made = 65536, blake2b(len(content).to_bytes(8, "big"), digest_size=16)
    last = len(content) - block
    blocks = (
        [content] if len(content) <= 4 * block else [content[n * last // 3 : n * last // 3 + block] for n in range(4)]
    )
    for one in blocks:
        made.update(one)
    return made.hexdigest()


def test_what_is_no_text_is_refused_in_words(
    owner: FlaskClient, talking: tuple[int, Path], service: tuple[str, list[Any]]
) -> None:
    number = add_plain(owner, service[0])
    wish = {"service_id": number, "id": "broken", "language": "en", "form": "srt"}
    answer = owner.post(f"/api/entries/{talking[0]}/subtitles/draft", json=wish)
    assert (answer.status_code, answer.get_json()["reference"]) == (400, "text-unreadable")


def test_a_service_that_is_down_is_said_and_noted(owner: FlaskClient, talking: tuple[int, Path]) -> None:
    number = add_plain(owner, "http://127.0.0.1:9/t")
    found = said(owner.post(f"/api/entries/{talking[0]}/subtitles/search", json={"languages": ["en"]}))
    assert found["texts"] == []
    assert "Plain" in found["problems"][0]
    assert said(owner.get("/api/text-services"))["services"][0]["problem"]
    said(owner.delete(f"/api/text-services/{number}"))
    assert said(owner.get("/api/text-services"))["services"] == []


def test_times_are_fitted_to_what_is_heard_and_taken_back_to_the_byte(
    owner: FlaskClient, database: Database, settings: Settings, talking: tuple[int, Path]
) -> None:
    entry, place = talking
    beside = place.with_name("Weir House (1983).en.srt")
    beside.write_text(srt(LATE))
    before = (beside.read_bytes(), beside.stat().st_mtime_ns)
    assert perform(database, settings, request_job(database, "scan", 1)) == "done"
    (text,) = said(owner.get(f"/api/entries/{entry}/subtitles"))["texts"]
    address = f"/api/entries/{entry}/subtitles/{text['file_id']}"
    proposed = said(owner.post(f"{address}/listen", json={}))
    assert (proposed["is_sure"], proposed["stretch"]) == (True, 1.0)
    assert proposed["offset_seconds"] == pytest.approx(-LATE, abs=0.25)
    made = said(owner.post(f"{address}/times", json={"offset_seconds": -LATE, "stretch": 1.0}))
    assert made["replaces"]
    carry_out(owner, database, settings, made["plan"]["id"])
    first = talk()[0][0]
    assert f"00:00:{first:06.3f}".replace(".", ",") in beside.read_text()
    carry_out(owner, database, settings, made["plan"]["id"], "undo")
    assert (beside.read_bytes(), beside.stat().st_mtime_ns) == before


def test_a_text_that_somebody_else_changed_meanwhile_is_left_alone(
    owner: FlaskClient, database: Database, settings: Settings, talking: tuple[int, Path]
) -> None:
    entry, place = talking
    beside = place.with_name("Weir House (1983).en.srt")
    beside.write_text(srt(0))
    assert perform(database, settings, request_job(database, "scan", 1)) == "done"
    (text,) = said(owner.get(f"/api/entries/{entry}/subtitles"))["texts"]
    wish = {"offset_seconds": 2.0, "stretch": 1.0}
    made = said(owner.post(f"/api/entries/{entry}/subtitles/{text['file_id']}/times", json=wish))
    beside.write_text("by hand")
    carry_out(owner, database, settings, made["plan"]["id"])
    assert beside.read_text() == "by hand"


def test_who_may_not_keep_the_catalog_may_not_write_and_hidden_films_are_not_there(
    household: Database, sign: Sign
) -> None:
    films = ids(household, "movie")
    with household.begin() as db:
        change_person(db, the_person(db, "member"), Change(libraries=["Films"], tidies=True))
    wish = {"languages": ["en"]}
    for person in ("guest", "child"):
        assert (
            sign(person).post(f"/api/entries/{films['Kettle Morning']}/subtitles/search", json=wish).status_code == 403
        )
        assert sign(person).get("/api/text-services").status_code == 403
    member = sign("member")
    assert member.post(f"/api/entries/{films['Kettle Morning']}/subtitles/search", json=wish).status_code == 404
    assert said(member.get(f"/api/entries/{films['Kettle Morning']}/subtitles")) == {"texts": []}
    assert member.get(f"/api/entries/{films[f'{SECRET} Elsewhere']}/subtitles").status_code == 403
    assert member.post("/api/text-services", json={"profile": "", "key": None}).status_code == 403
