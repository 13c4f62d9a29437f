"""What comes in over the web: nobody gets in who should not, and bad input is answered in words."""

from __future__ import annotations

import json
import logging
import os
import threading
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
import structlog
from flask.testing import FlaskClient

import indice.store.people as people
import indice.web.session as sessions
from indice.logs import set_up_logs
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Entry, File, Folder, Guess, Person, PersonSession
from indice.store.people import setup_code
from indice.web.app import create_app

ELSEWHERE = {"REMOTE_ADDR": "192.168.7.9"}
OWNER = {"language": "en", "name": "Odile", "password": "tidewrack 9"}


def browser(settings: Settings, database: Database, address: str = "127.0.0.1") -> FlaskClient:
    """A browser at an address that has opened the first page."""
    client = create_app(settings, database).test_client()
    client.environ_base["REMOTE_ADDR"] = address
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    return client


def renew(client: FlaskClient) -> None:
    """Take the token of the session as it is now."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]


def test_the_first_run_from_another_machine_needs_the_code(settings: Settings, database: Database) -> None:
    settings.home.mkdir(parents=True)
    far = browser(settings, database, "192.168.7.9")
    assert far.get("/api/status").get_json()["needs_code"] is True
    for body in (OWNER, {**OWNER, "code": "AAAAAAAAAA"}):
        answer = far.post("/api/setup", json=body)
        assert (answer.status_code, answer.get_json()["reference"]) == (401, "code-wrong")
    code = setup_code(settings.home)
    assert (settings.home / "setup-code").stat().st_mode & 0o777 == 0o600
    assert far.post("/api/setup", json={**OWNER, "code": f" {code.lower()} "}).status_code == 200
    assert not (settings.home / "setup-code").exists()


def test_near_needs_no_code_but_what_was_passed_on_does(settings: Settings, database: Database) -> None:
    settings.home.mkdir(parents=True)
    near = browser(settings, database)
    assert near.get("/api/status").get_json()["needs_code"] is False
    passed_on = {"X-Forwarded-For": "203.0.113.9"}
    assert near.get("/api/status", headers=passed_on).get_json()["needs_code"] is True
    assert near.post("/api/setup", json=OWNER, headers=passed_on).status_code == 401
    assert near.post("/api/setup", json=OWNER).status_code == 200


def test_the_code_cannot_be_guessed_on_and_on(settings: Settings, database: Database) -> None:
    settings.home.mkdir(parents=True)
    far = browser(settings, database, "192.168.7.9")
    answers = [far.post("/api/setup", json={**OWNER, "code": f"{n:010d}"}).status_code for n in range(7)]
    assert answers == [401] * 5 + [429] * 2


def test_of_many_first_runs_at_once_one_is_the_first(settings: Settings, database: Database) -> None:
    settings.home.mkdir(parents=True)
    app = create_app(settings, database)
    ends: list[int] = []

    def set_up(number: int) -> None:
        client = app.test_client()
        token = client.get("/api/status").get_json()["csrf"]
        answer = client.post("/api/setup", json={**OWNER, "name": f"Odile {number}"}, headers={"X-Indice-Token": token})
        ends.append(answer.status_code)

    threads = [threading.Thread(target=set_up, args=(number,)) for number in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(ends) == [200] + [409] * 7
    with database.begin() as db:
        assert db.query(Person).count() == 1


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("localhost", 200),
        ("localhost:7800", 200),
        ("127.0.0.1:7800", 200),
        ("[::1]:7800", 200),
        ("LOCALHOST.", 200),
        ("house.example:7800", 200),
        ("evil.example", 421),
        ("localhost.evil.example", 421),
        ("192.168.7.77", 421),
        ("", 421),
        ("a" * 300, 421),
    ],
)
def test_only_known_names_are_answered(settings: Settings, database: Database, host: str, status: int) -> None:
    from dataclasses import replace

    settings.home.mkdir(parents=True)
    client = create_app(replace(settings, allowed_hosts="house.example, other.example"), database).test_client()
    for path in ("/api/status", "/catalog/entry/1"):
        answer = client.get(path, headers={"Host": host})
        assert (answer.status_code == 421) == (status == 421)


def test_guessing_slows_down_the_guesser_and_nobody_else(
    owner: FlaskClient, settings: Settings, database: Database
) -> None:
    guesser, friend = browser(settings, database, "192.168.7.9"), browser(settings, database, "192.168.7.10")
    wrong = {"name": "odile", "password": "wrong"}
    assert [guesser.post("/api/session", json=wrong).status_code for _ in range(5)] == [401] * 5
    late = guesser.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"})
    assert late.status_code == 429 and 0 < int(late.headers["Retry-After"]) <= 15
    assert friend.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"}).status_code == 200
    unusual = owner.get("/api/today").get_json()["guesses"]
    assert [(one["name"], one["address"], one["wrong"]) for one in unusual] == [("odile", "192.168.7.9", 5)]


def test_an_address_that_tries_many_names_is_slowed_down(settings: Settings, database: Database) -> None:
    settings.home.mkdir(parents=True)
    guesser = browser(settings, database, "192.168.7.9")
    answers = [
        guesser.post("/api/session", json={"name": f"name {n}", "password": "wrong"}).status_code for n in range(22)
    ]
    assert answers == [401] * 20 + [429] * 2


def test_a_right_password_forgets_the_wrong_ones(owner: FlaskClient, settings: Settings, database: Database) -> None:
    client = browser(settings, database)
    for _ in range(3):
        for _ in range(4):
            assert client.post("/api/session", json={"name": "Odile", "password": "wrong"}).status_code == 401
        assert client.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"}).status_code == 200
        renew(client)


def test_waiting_grows_and_ends(database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    waits: list[int] = []
    for _ in range(12):
        with database.begin() as db:
            people.note_wrong(db, "Odile", "a")
        with database.begin() as db:
            waits.append(people.wait_seconds(db, " ODILE", "a"))
    assert waits[:4] == [0] * 4 and waits[4:7] == [15, 30, 60] and waits[-1] == people.LONGEST_WAIT_SECONDS
    with database.begin() as db:
        assert people.wait_seconds(db, "odile", "b") == 0
        for guess in db.query(Guess):
            guess.until, guess.at = guess.at, guess.at - people.FORGET_AFTER
    with database.begin() as db:
        assert people.wait_seconds(db, "odile", "a") == 0
        people.note_wrong(db, "Odile", "a")
    with database.begin() as db:
        assert people.wait_seconds(db, "odile", "a") == 0


@pytest.mark.parametrize("many_names", [False, True], ids=["one name", "a name a try"])
def test_a_thousand_guesses_take_longer_than_an_hour(
    database: Database, monkeypatch: pytest.MonkeyPatch, many_names: bool
) -> None:
    began = moment = datetime(2026, 3, 1, tzinfo=UTC)
    monkeypatch.setattr(people, "now", lambda: moment)
    for guess in range(1_000):
        name = f"name {guess}" if many_names else "Odile"
        with database.begin() as db:
            moment += timedelta(seconds=people.wait_seconds(db, name, "203.0.113.5"))
            assert people.wait_seconds(db, name, "203.0.113.5") == 0
            people.note_wrong(db, name, "203.0.113.5")
            moment += timedelta(milliseconds=20)
    assert moment - began > timedelta(hours=1)
    with database.begin() as db:
        assert people.wait_seconds(db, "Odile", "192.168.1.20") == 0, "the right person comes from elsewhere"


def test_two_hashes_are_worked_out_at_once_at_most(
    settings: Settings, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.home.mkdir(parents=True)
    app = create_app(settings, database)
    running, most = [0], [0]
    lock = threading.Lock()

    def slow(*_: object) -> bool:
        with lock:
            running[0] += 1
            most[0] = max(most[0], running[0])
        time.sleep(0.05)
        with lock:
            running[0] -= 1
        return False

    monkeypatch.setattr(sessions, "is_right", slow)

    def guess(number: int) -> None:
        client = app.test_client()
        client.environ_base["REMOTE_ADDR"] = f"192.168.8.{number}"
        token = client.get("/api/status").get_json()["csrf"]
        client.post("/api/session", json={"name": "x", "password": "y"}, headers={"X-Indice-Token": token})

    threads = [threading.Thread(target=guess, args=(number,)) for number in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most[0] == 2


def test_a_copied_cookie_is_worth_nothing_after_sign_out(owner: FlaskClient) -> None:
    cookie = owner.get_cookie("indice")
    assert cookie is not None
    copied = cookie.value
    assert owner.delete("/api/session").status_code == 200
    owner.set_cookie("indice", copied)
    assert owner.get("/api/today").status_code == 401


def test_a_person_who_is_removed_is_out_at_once(owner: FlaskClient, database: Database) -> None:
    assert owner.get("/api/today").status_code == 200
    with database.begin() as db:
        db.query(Person).delete()
    assert owner.get("/api/today").status_code == 401


def test_a_changed_password_ends_the_other_sessions(owner: FlaskClient, settings: Settings, database: Database) -> None:
    other = browser(settings, database)
    assert other.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"}).status_code == 200
    assert owner.post("/api/password", json={"old": "wrong", "new": "kelp and sand"}).status_code == 401
    assert owner.post("/api/password", json={"old": "tidewrack 9", "new": "short"}).status_code == 422
    assert owner.post("/api/password", json={"old": "tidewrack 9", "new": "kelp and sand"}).status_code == 200
    assert owner.get("/api/today").status_code == 200
    assert other.get("/api/today").status_code == 401
    renew(other)
    assert other.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"}).status_code == 401
    assert other.post("/api/session", json={"name": "Odile", "password": "kelp and sand"}).status_code == 200


def test_sessions_are_seen_and_ended_one_by_one(owner: FlaskClient, settings: Settings, database: Database) -> None:
    other = browser(settings, database, "192.168.7.12")
    other.post("/api/session", json={"name": "Odile", "password": "tidewrack 9"}, headers={"User-Agent": "Tablet"})
    told = owner.get("/api/sessions").get_json()["sessions"]
    assert {(one["address"], one["is_this"]) for one in told} == {("192.168.7.12", False), ("127.0.0.1", True)}
    theirs = next(one for one in told if not one["is_this"])
    assert theirs["device"] == "Tablet"
    assert owner.delete(f"/api/sessions/{theirs['id']}").status_code == 200
    assert other.get("/api/today").status_code == 401
    assert owner.delete(f"/api/sessions/{theirs['id']}").status_code == 404
    with database.begin() as db:
        assert all(cookie not in str(one.digest) for one in db.query(PersonSession) for cookie in (str(owner),))


LARGE = 2**31
BODIES: dict[str, bytes] = {
    "deep": b'{"name": ' + b"[" * 100_000 + b"]" * 100_000 + b"}",
    "rather deep": b'{"name": ' + b"[" * 60 + b"]" * 60 + b"}",
    "nul": b'{"name": "a\\u0000b", "password": "x"}',
    "surrogate": b'{"name": "a\\ud800", "password": "x"}',
    "no number": b'{"name": NaN, "password": "x"}',
    "huge": b'{"name": 1' + b"0" * 5000 + b', "password": "x"}',
    "cut off": b'{"name": "a',
    "no object": b"7",
    "no text": b"\xff\xfe{}",
    "empty": b"",
    "large": b'{"name": "' + b"a" * 20_000 + b'"}',
}


@pytest.mark.parametrize("what", BODIES)
@pytest.mark.parametrize("path", ["/api/session", "/api/setup"])
def test_bad_bodies_before_sign_in_are_answered_in_words(client: FlaskClient, path: str, what: str) -> None:
    answer = client.post(path, data=BODIES[what], content_type="application/json")
    assert 400 <= answer.status_code < 500 and answer.get_json()["message"]


@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("GET", f"/api/entries/{LARGE}"),
        ("GET", "/api/entries/99999999999999999999999"),
        ("GET", f"/api/files/{LARGE}/content"),
        ("DELETE", f"/api/sessions/{LARGE}"),
        ("GET", "/api/search?q=%00"),
        ("GET", "/api/search?q=%ED%A0%80"),
        ("GET", "/api/browse?path=/tmp%00"),
        ("GET", "/api/browse?path=/" + "a" * 5000),
        ("GET", "/api/browse?path=/proc/self/fd/0"),
        ("GET", "/api/browse?path=relative/%0a%1b"),
        ("GET", "/api/tree?library_id=9223372036854775808"),
        ("GET", "/api/jobs/2147483647/log"),
        ("GET", "/api/%00"),
    ],
)
def test_bad_addresses_are_answered_in_words(owner: FlaskClient, method: str, path: str) -> None:
    answer = owner.open(path, method=method)
    assert answer.status_code < 500
    if answer.status_code >= 400:
        assert answer.get_json()["message"]


@pytest.mark.parametrize("token", ["", "no", "é" * 20, "\N{SNOWMAN}", "x" * 5000])
def test_tokens_of_any_letters_are_refused(owner: FlaskClient, token: str) -> None:
    sent = token.encode("utf-8").decode("latin-1")
    answer = owner.delete("/api/session", headers={"X-Indice-Token": sent})
    assert answer.status_code == 403


@pytest.mark.parametrize(
    "name", [b"two\nlines.mp3", b"esc\x1b[2J.mp3", b"no \xff\xfe text.mp3", "schöne 曲.mp3".encode()]
)
def test_files_of_any_name_can_be_played(owner: FlaskClient, database: Database, tmp_path: Path, name: bytes) -> None:
    root = os.fsencode(tmp_path)
    with open(root + b"/" + name, "wb") as file:
        file.write(b"0123456789")
    with database.begin() as db:
        library = add_library(db, name="M", kind="music", folders=[root], language="en", country="", sources=[])
        folder = db.query(Folder).one()
        entry = Entry(library_id=library.id, key="t", kind="track", title="T", sort_title="t")
        db.add(entry)
        db.flush()
        file_ = File(
            folder_id=folder.id, path=name, shown="T.mp3", directory="", size_bytes=10, mtime_ns=1, kind="track",
            reading={}, marks=[], entry_id=entry.id,
        )  # fmt: skip
        db.add(file_)
        db.flush()
        file_id = file_.id
    whole = owner.get(f"/api/files/{file_id}/content")
    assert (whole.status_code, whole.data) == (200, b"0123456789")
    part = owner.get(f"/api/files/{file_id}/content", headers={"Range": "bytes=2-4"})
    assert (part.status_code, part.data, part.headers["Content-Range"]) == (206, b"234", "bytes 2-4/10")
    for odd in ("bytes=20-30", "bytes=-", "bytes=5-2", "lines=1-2", "bytes=0-1,3-4", "bytes=" + "9" * 400 + "-"):
        assert owner.get(f"/api/files/{file_id}/content", headers={"Range": odd}).status_code in (200, 206, 416)


@pytest.fixture
def logs_as_served() -> Iterator[None]:
    """Logs as the processes of a running Indice write them; afterwards as before."""
    handlers = logging.getLogger().handlers[:]
    set_up_logs()
    yield
    structlog.reset_defaults()
    logging.getLogger().handlers[:] = handlers


def test_no_password_is_ever_logged(
    owner: FlaskClient,
    logs_as_served: None,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:

    def broken(password_hash: str, password: str) -> bool:
        raise RuntimeError(f"cannot check password={password}")

    monkeypatch.setattr(sessions, "is_right", broken)
    owner.application.config["PROPAGATE_EXCEPTIONS"] = False
    answer = owner.post("/api/session", json={"name": "Odile", "password": "sargasso 77"})
    assert answer.status_code == 500
    said = capsys.readouterr()
    assert "sargasso" not in said.err + said.out and "sargasso" not in json.dumps(answer.get_json())
    assert "request_failed" in said.err and "session.py" in said.err
