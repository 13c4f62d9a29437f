"""A walk through every operation as every role: what somebody may not see does
not exist for them, wherever they look."""

from __future__ import annotations

import re
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.store.database import Database
from indice.store.models import Entry, File, Folder
from indice.web.rights import who_may

from .kettle import ROLES, SECRET, Sign
from .test_doors_of_the_api import METHODS


def told(client: FlaskClient, path: str) -> Any:
    """What an address answers."""
    answer = client.get(path)
    assert answer.status_code == 200, f"{path}: {answer.status_code} {answer.get_data()[:200]!r}"
    return answer.get_json()


def hidden_from(database: Database, name: str) -> tuple[set[int], set[int]]:
    """Numbers of entries and files that somebody may not see, worked out from the names alone."""
    with database.begin() as db:
        entries = {e.id: e.title for e in db.scalars(select(Entry))}
        files = list(db.execute(select(File.id, File.entry_id, File.shown, Folder.shown).join(Folder)).all())
    if name in ("owner", "librarian"):
        return set(), set()
    of_files = {
        "member": lambda path, folder: folder.endswith("/Away"),
        "child": lambda path, folder: SECRET in path,
        "guest": lambda path, folder: True,
    }[name]
    gone = {(id_, entry) for id_, entry, path, folder in files if of_files(path, folder)}
    seen = {entry for id_, entry, _, _ in files if (id_, entry) not in gone}
    with database.begin() as db:
        parents = {e.id: e.parent_id for e in db.scalars(select(Entry))}
    for entry in list(seen):
        while entry in parents and parents[entry] is not None:
            entry = parents[entry]
            seen.add(entry)
    return set(entries) - seen, {id_ for id_, _ in gone}


def test_every_operation_says_who_may_call_it(client: FlaskClient) -> None:
    endpoints = {r.endpoint for r in client.application.url_map.iter_rules() if r.rule.startswith("/api/")}
    assert {name for name in endpoints if who_may(name) is None} == set()


@pytest.mark.parametrize("role", ROLES[1:])
def test_management_is_refused_alike_whether_it_is_there_or_not(sign: Sign, role: str) -> None:
    client = sign(role)
    described = told(client, "/api/openapi.json")["paths"]
    rules = {re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", r.rule): r.endpoint for r in client.application.url_map.iter_rules()}
    asked = 0
    for path, operations in described.items():
        who = {
            m: e
            for r in client.application.url_map.iter_rules()
            if re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", r.rule) == path
            for m in (r.methods or ())
            for e in [r.endpoint]
        }
        for method in METHODS:
            if method not in operations or method.upper() not in who:
                continue
            needed = who_may(who[method.upper()])
            if needed in ("anybody", "everyone", "shared") or (
                role == "librarian" and needed in ("librarian", "tidier")
            ):
                continue
            said = [
                client.open(re.sub(r"{\w+}", number, path), method=method.upper(), json={})
                for number in ("1", "999999")
            ]
            assert {(one.status_code, one.get_json()["reference"]) for one in said} == {(403, "not-allowed")}, path
            asked += 1
    assert asked > (3 if role == "librarian" else 60) and rules


@pytest.mark.parametrize("role", ROLES)
def test_what_one_may_not_see_is_nowhere(sign: Sign, household: Database, role: str) -> None:
    client = sign(role)
    entries, files = hidden_from(household, role)
    with household.begin() as db:
        all_entries = {e.id: (e.kind, e.parent_id) for e in db.scalars(select(Entry))}
        all_files = set(db.scalars(select(File.id)))
        tops = [id_ for id_, (_, parent) in all_entries.items() if parent is None]
    pages = [f"/api/entries/{id_}" for id_ in all_entries]
    for path, id_ in zip(pages, all_entries, strict=True):
        answer = client.get(path)
        assert answer.status_code == (404 if id_ in entries else 200), (path, all_entries[id_])
    for id_ in all_entries:
        play = client.post(f"/api/entries/{id_}/playback", json={"can": ['video/mp4; codecs="avc1.640033"']})
        assert (play.status_code == 404) == (id_ in entries), (id_, play.get_json())
        where = client.post(f"/api/entries/{id_}/position", json={"seconds": 5, "duration_seconds": 10})
        assert (where.status_code == 404) == (id_ in entries)
    for id_ in all_files:
        for part in ("content", "frame?at=0"):
            assert (client.get(f"/api/files/{id_}/{part}").status_code == 404) == (id_ in files), (id_, part)
    for id_ in tops:
        assert client.get(f"/api/pictures/{id_:032x}/240").status_code == 404, "there is no such picture on the disk"
    seen = [id_ for id_ in tops if id_ not in entries]
    lists = [
        "/api/shelves/films",
        "/api/shelves/series",
        "/api/search?q=row",
        f"/api/search?q={SECRET}",
        "/api/search?q=elsewhere",
        "/api/with?field=directors&value=Odo%20Farrow",
        "/api/going-on",
        "/api/status",
        *(f"/api/entries/{id_}" for id_ in all_entries if id_ not in entries),
    ]
    spoken = " ".join(client.get(path).get_data(as_text=True) for path in lists)
    if role in ("child", "guest"):
        assert SECRET not in spoken and "Elsewhere" not in spoken
    if role == "member":
        assert "Elsewhere" not in spoken and f"{SECRET} Below" in spoken
    films = [id_ for id_ in seen if all_entries[id_][0] == "movie"]
    shelf = told(client, "/api/shelves/films")
    assert sorted(card["id"] for card in shelf["entries"]) == sorted(films)
    assert told(client, "/api/shelves/films/ruler")["total"] == len(films), "counts tell nothing either"
    assert sorted(told(client, "/api/shelves/films/ids")["ids"]) == sorted(films)


def test_marks_touch_only_what_one_may_see(sign: Sign, household: Database) -> None:
    child = sign("child")
    hidden, _ = hidden_from(household, "child")
    with household.begin() as db:
        everything = list(db.scalars(select(Entry.id).where(Entry.kind.in_(("movie", "series")))))
    count = child.put("/api/marks", json={"entry_ids": everything, "seen": True, "favourite": None}).get_json()["count"]
    assert count == len(set(everything) - hidden)


def test_who_may_not_save_may_still_look(sign: Sign, household: Database) -> None:
    child = sign("child")
    film = next(card for card in told(child, "/api/shelves/films")["entries"])
    file = told(child, f"/api/entries/{film['id']}")["plays"][0]["file_id"]
    assert child.get(f"/api/files/{file}/content").status_code == 200
    assert child.get(f"/api/files/{file}/content?download=true").status_code == 403


def test_a_playing_ends_for_who_may_not_see_it_any_more(sign: Sign, household: Database, owner: FlaskClient) -> None:
    member = sign("member")
    film = next(c for c in told(member, "/api/shelves/films")["entries"] if "Nights" in c["title"])
    asked = {"can": ['video/mp4; codecs="avc1.640033"', 'audio/mp4; codecs="mp4a.40.2"'], "max_height": 90}
    playing = member.post(f"/api/entries/{film['id']}/playback", json=asked).get_json()
    assert member.get(playing["url"]).status_code == 200
    assert sign("child").get(playing["url"]).status_code == 404, "the key is one's own"
    people = {one["name"]: one["id"] for one in told(owner, "/api/people")["people"]}
    assert owner.put(f"/api/people/{people['member']}", json={"libraries": ["Series"]}).status_code == 200
    assert member.get(playing["url"]).status_code == 404


def test_ages_follow_what_changes(sign: Sign, household: Database, owner: FlaskClient) -> None:
    child = sign("child")
    people = {one["name"]: one["id"] for one in told(owner, "/api/people")["people"]}

    def titles() -> set[str]:
        return {card["title"] for card in told(child, "/api/shelves/films")["entries"]}

    assert titles() == {"Kettle Morning"}
    owner.put(f"/api/people/{people['child']}", json={"unrated": "show"})
    assert titles() == {"Kettle Morning", f"{SECRET} Unrated"}
    owner.put(f"/api/people/{people['child']}", json={"age": 16})
    assert titles() == {"Kettle Morning", f"{SECRET} Unrated", f"{SECRET} Nights"}
    with household.begin() as db:
        kettle = db.scalars(select(Entry).where(Entry.title == "Kettle Morning")).one().id
        cellar = f"{db.scalars(select(Folder.shown).where(Folder.shown.like('%/Films'))).one()}/Cellar"
    assert owner.put(f"/api/entries/{kettle}/facts/rating", json={"value": "18"}).status_code == 200
    assert "Kettle Morning" not in titles()
    assert owner.put("/api/limits", json={"path": cellar, "age": 12}).status_code == 200
    assert f"{SECRET} Below" in titles(), "its certificate is for all, and its folder from twelve"
    owner.put(f"/api/people/{people['child']}", json={"age": None})
    assert len(titles()) == 4
    assert owner.put("/api/limits", json={"path": "/nowhere", "age": 12}).status_code == 404


def test_a_pin_lifts_the_limit_in_one_browser(sign: Sign, owner: FlaskClient, household: Database) -> None:
    child, other = sign("child"), sign("child")
    people = {one["name"]: one["id"] for one in told(owner, "/api/people")["people"]}
    assert child.post("/api/pin", json={"pin": "1234"}).status_code == 401, "there is none yet"
    owner.put(f"/api/people/{people['child']}", json={"pin": "4711"})
    assert child.post("/api/pin", json={"pin": "1234"}).status_code == 401
    assert child.post("/api/pin", json={"pin": "4711"}).status_code == 200
    assert len(told(child, "/api/shelves/films")["entries"]) == 4
    assert len(told(other, "/api/shelves/films")["entries"]) == 1
    child.post("/api/pin", json={"pin": ""})
    assert len(told(child, "/api/shelves/films")["entries"]) == 1


def test_the_last_owner_stays(owner: FlaskClient) -> None:
    mine = told(owner, "/api/people")["people"][0]["id"]
    assert owner.delete(f"/api/people/{mine}").status_code == 409
    assert owner.put(f"/api/people/{mine}", json={"role": "member"}).status_code == 409


def test_what_is_wrong_with_a_person_is_said(owner: FlaskClient) -> None:
    for body in (
        {},
        {"name": "Nell"},
        {"name": "Nell", "password": "short"},
        {"name": "Nell", "password": "long enough", "role": "king"},
    ):
        assert owner.post("/api/people", json=body).status_code in (400, 422), body
    assert owner.post("/api/people", json={"name": "Nell", "password": "long enough"}).status_code == 200
    assert owner.post("/api/people", json={"name": "nell", "password": "long enough"}).status_code == 409
    unknown = owner.post("/api/people", json={"name": "Ode", "password": "long enough", "libraries": ["None"]})
    assert unknown.status_code == 404 or unknown.status_code == 400


def test_who_sees_a_thing_is_told_to_the_owner_as_each_finds_it(sign: Sign, household: Database) -> None:
    owner = sign("owner")
    with household.begin() as db:
        entries = {e.id: e.title for e in db.scalars(select(Entry))}
    for name in ROLES[1:]:
        client, hidden = sign(name), set[int]()
        for id_ in entries:
            seers = {one["name"]: one["hidden_by"] for one in told(owner, f"/api/entries/{id_}/seen-by")["seers"]}
            if seers[name]:
                hidden.add(id_)
            assert (client.get(f"/api/entries/{id_}").status_code == 404) == bool(seers[name]), entries[id_]
        assert hidden == hidden_from(household, name)[0]
    why = {
        title: next(
            one["hidden_by"] for one in told(owner, f"/api/entries/{id_}/seen-by")["seers"] if one["name"] == "child"
        )
        for id_, title in entries.items()
    }
    assert (why[f"{SECRET} Nights"], why[f"{SECRET} Unrated"], why[f"{SECRET} Below"], why[f"{SECRET} Elsewhere"]) == (
        "age",
        "unrated",
        "folder",
        "library",
    )
