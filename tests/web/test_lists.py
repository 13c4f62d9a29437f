"""Playlists: one's own order, open to the household as far as each may see, out and in again as files."""

from __future__ import annotations

import base64

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.store.database import Database
from indice.store.models import Entry
from indice.store.playlists import MOST_ITEMS

from .kettle import SECRET, Sign, ids, said


def titles(client: FlaskClient, list_id: int) -> list[str]:
    return [place["entry"]["title"] for place in said(client.get(f"/api/lists/{list_id}"))["places"]]


def test_a_list_keeps_its_order_through_moves_and_removals(owner: FlaskClient, household: Database) -> None:
    films = sorted(ids(household, "movie").items())
    made = said(owner.post("/api/lists", json={"name": " Evening ", "entry_ids": [id_ for _, id_ in films]}))
    assert made["count"] == len(films) == 5
    page = said(owner.get(f"/api/lists/{made['id']}"))
    assert page["list"]["name"] == "Evening" and page["list"]["is_own"] and not page["list"]["is_open"]
    items = [place["item_id"] for place in page["places"]]
    said(owner.patch(f"/api/lists/{made['id']}", json={"order": [items[3], items[1]]}))
    wanted = [films[at][0] for at in (3, 1, 0, 2, 4)]
    assert titles(owner, made["id"]) == wanted
    assert said(owner.post(f"/api/lists/{made['id']}/drop", json={"item_ids": [items[0], 99]}))["count"] == 1
    again = said(owner.post(f"/api/lists/{made['id']}/places", json={"entry_ids": [films[3][1]]}))
    assert again["count"] == 1
    assert titles(owner, made["id"]) == [films[at][0] for at in (3, 1, 2, 4, 3)]


def test_what_holds_others_brings_them_in_their_order(owner: FlaskClient, household: Database) -> None:
    series = ids(household, "series")["Kettle Row"]
    film = ids(household, "movie")["Kettle Morning"]
    made = said(owner.post("/api/lists", json={"name": "Both", "entry_ids": [series, film, series]}))
    with household.begin() as db:
        kinds = {e.id: e.kind for e in db.scalars(select(Entry))}
    got = [kinds[p["entry"]["id"]] for p in said(owner.get(f"/api/lists/{made['id']}"))["places"]]
    assert got == ["episode", "movie", "episode"]


def test_names_are_ones_own_once(owner: FlaskClient, sign: Sign) -> None:
    said(owner.post("/api/lists", json={"name": "Evening"}))
    assert said(owner.post("/api/lists", json={"name": "evening "}), 409)["reference"] == "playlist-name-taken"
    said(sign("member").post("/api/lists", json={"name": "Evening"}))


def test_others_see_what_is_open_as_far_as_they_may(household: Database, sign: Sign, owner: FlaskClient) -> None:
    films = ids(household, "movie")
    member, child, guest = sign("member"), sign("child"), sign("guest")
    made = said(owner.post("/api/lists", json={"name": "For all", "entry_ids": sorted(films.values())}))["id"]
    for client in (member, child, guest):
        assert said(client.get("/api/lists"))["lists"] == []
        assert said(client.get(f"/api/lists/{made}"), 404)["reference"] == "playlist-unknown"
    said(owner.patch(f"/api/lists/{made}", json={"is_open": True}))
    assert titles(child, made) == ["Kettle Morning"]
    assert [one["count"] for one in said(child.get("/api/lists"))["lists"]] == [1]
    assert SECRET not in child.get("/api/lists").text + child.get(f"/api/lists/{made}/file").text
    assert f"{SECRET} Elsewhere" not in titles(member, made) and len(titles(member, made)) == 4
    # Nothing of it is anything to them: it does not exist.
    assert said(guest.get("/api/lists"))["lists"] == [] and guest.get(f"/api/lists/{made}").status_code == 404
    for client in (member, child):
        said(client.patch(f"/api/lists/{made}", json={"name": "Mine"}), 404)
        said(client.post(f"/api/lists/{made}/places", json={"entry_ids": [films["Kettle Morning"]]}), 404)
        said(client.delete(f"/api/lists/{made}"), 404)
    hidden = said(child.post("/api/lists", json={"name": "Mine", "entry_ids": sorted(films.values())}))
    assert hidden["count"] == 1


def test_the_owner_does_not_see_what_others_keep_for_themselves(owner: FlaskClient, sign: Sign) -> None:
    kept = said(sign("member").post("/api/lists", json={"name": "Mine"}))["id"]
    assert said(owner.get("/api/lists"))["lists"] == [] and owner.get(f"/api/lists/{kept}").status_code == 404


@pytest.mark.parametrize("form", ["m3u8", "xspf"])
def test_a_list_goes_out_and_comes_in_again(owner: FlaskClient, household: Database, form: str) -> None:
    films = ids(household, "movie")
    wanted = [films["Kettle Morning"], films[f"{SECRET} Below"]]
    first = said(owner.post("/api/lists", json={"name": "Evening: 1/2", "entry_ids": wanted}))["id"]
    answer = owner.get(f"/api/lists/{first}/file?form={form}")
    assert f"Evening 12.{form}" in answer.headers["Content-Disposition"]
    said(owner.patch(f"/api/lists/{first}", json={"name": "Another"}))
    strange = answer.data
    if form == "m3u8":
        strange += b"../Films/Not there (1900)/Not there.mp4\nD:\\Kettle Morning (2004).mp4\n"
    content = base64.b64encode(strange).decode()
    read = said(owner.post("/api/lists/file", json={"content": content}))
    assert titles(owner, read["id"])[:2] == titles(owner, first)
    if form == "m3u8":
        assert titles(owner, read["id"])[2:] == ["Kettle Morning"], "a name alone is enough where one file has it"
        assert read["unknown"] == ["../Films/Not there (1900)/Not there.mp4"]


def test_what_cannot_be_read_is_said(owner: FlaskClient, household: Database) -> None:
    for content in ("%%%", base64.b64encode(b"<a/>").decode()):
        assert said(owner.post("/api/lists/file", json={"content": content}), 400)["reference"] == "playlist-unreadable"


def test_a_list_has_an_end(owner: FlaskClient, household: Database) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    made = said(owner.post("/api/lists", json={"name": "Long", "entry_ids": [film] * MOST_ITEMS}))
    assert made["count"] == MOST_ITEMS
    full = said(owner.post(f"/api/lists/{made['id']}/places", json={"entry_ids": [film]}), 400)
    assert full["reference"] == "playlist-full"


def test_what_is_played_in_a_list_goes_on_in_it(owner: FlaskClient, household: Database) -> None:
    films = ids(household, "movie")
    row = [films["Kettle Morning"], films[f"{SECRET} Nights"]]
    made = said(owner.post("/api/lists", json={"name": "Evening", "entry_ids": row}))["id"]
    body = {"can": ['video/mp4; codecs="avc1.640033, mp4a.40.2"'], "list_id": made}
    assert said(owner.post(f"/api/entries/{row[0]}/playback", json=body))["next_entry_id"] == row[1]
    assert said(owner.post(f"/api/entries/{row[1]}/playback", json=body))["next_entry_id"] is None
    assert owner.post(f"/api/entries/{row[0]}/playback", json={**body, "list_id": 999}).status_code == 404


def rule(**more: str) -> dict[str, str]:
    return {"shelf": "films", **more}


def test_a_list_by_rule_fills_itself(owner: FlaskClient, household: Database) -> None:
    made = said(owner.post("/api/lists", json={"name": "Unseen", "rule": rule(traits="mark:unseen")}))
    assert made["count"] == 5
    page = said(owner.get(f"/api/lists/{made['id']}"))
    assert page["list"]["rule"]["traits"] == "mark:unseen" and page["list"]["count"] == 5
    assert titles(owner, made["id"]) == sorted(ids(household, "movie"))
    owner.put("/api/marks", json={"entry_ids": [ids(household, "movie")["Kettle Morning"]], "seen": True})
    assert "Kettle Morning" not in titles(owner, made["id"]) and len(titles(owner, made["id"])) == 4


def test_nothing_is_put_into_a_list_by_rule_by_hand(owner: FlaskClient, household: Database) -> None:
    made = said(owner.post("/api/lists", json={"name": "Late", "rule": rule(words="year:2003-")}))["id"]
    film = ids(household, "movie")["Kettle Morning"]
    for path, body in (("places", {"entry_ids": [film]}), ("drop", {"item_ids": [film]})):
        assert said(owner.post(f"/api/lists/{made}/{path}", json=body), 409)["reference"] == "playlist-by-rule"
    assert said(owner.patch(f"/api/lists/{made}", json={"order": [film]}), 409)["reference"] == "playlist-by-rule"
    assert said(owner.post("/api/shares", json={"list_id": made}), 409)["reference"] == "playlist-by-rule"
    said(owner.patch(f"/api/lists/{made}", json={"name": "Later"}))
    said(owner.delete(f"/api/lists/{made}"))


def test_an_open_list_by_rule_shows_each_what_they_may_see_by_the_marks_of_whose_it_is(
    owner: FlaskClient, sign: Sign, household: Database
) -> None:
    films = ids(household, "movie")
    owner.put("/api/marks", json={"entry_ids": [films["Kettle Morning"], films[f"{SECRET} Nights"]], "favourite": True})
    made = said(owner.post("/api/lists", json={"name": "Loved", "rule": rule(traits="mark:favourite")}))["id"]
    said(owner.patch(f"/api/lists/{made}", json={"is_open": True}))
    assert titles(owner, made) == ["Kettle Morning", f"{SECRET} Nights"]
    assert titles(sign("child"), made) == ["Kettle Morning"]
    assert SECRET not in sign("child").get("/api/lists").text
    guest = sign("guest")
    assert said(guest.get("/api/lists"))["lists"] == [] and guest.get(f"/api/lists/{made}").status_code == 404


@pytest.mark.parametrize(
    "told",
    [
        {"shelf": "cellar"},
        {"shelf": "films", "traits": "camera:x"},
        {"shelf": "films", "sort": "weight"},
        {"shelf": "films", "year": "soon"},
        {"traits": "genre:Drama"},
    ],
)
def test_a_rule_that_cannot_be_is_refused(owner: FlaskClient, household: Database, told: dict[str, str]) -> None:
    answer = owner.post("/api/lists", json={"name": "Odd", "rule": told})
    assert answer.status_code in (400, 404, 422) and said(owner.get("/api/lists"))["lists"] == []


def test_playing_goes_on_in_a_list_by_rule_and_it_goes_out_as_a_file(owner: FlaskClient, household: Database) -> None:
    made = said(owner.post("/api/lists", json={"name": "All", "rule": rule()}))["id"]
    films = sorted(ids(household, "movie").items())
    body = {"can": ['video/mp4; codecs="avc1.640033, mp4a.40.2"'], "list_id": made}
    assert said(owner.post(f"/api/entries/{films[0][1]}/playback", json=body))["next_entry_id"] == films[1][1]
    assert owner.get(f"/api/lists/{made}/file?form=m3u8").text.count(".mp4") == 5


def test_a_list_by_rule_is_counted_without_being_gathered(owner: FlaskClient, household: Database) -> None:
    made = said(owner.post("/api/lists", json={"name": "All", "rule": rule()}))["id"]
    told = {one["id"]: one for one in said(owner.get("/api/lists"))["lists"]}[made]
    assert told["count"] == len(said(owner.get(f"/api/lists/{made}"))["places"]) == 5
    empty = said(owner.post("/api/lists", json={"name": "None", "rule": rule(words="year:1888")}))
    assert empty["count"] == 0 and titles(owner, empty["id"]) == []


def test_a_list_of_photos_alone_is_an_album(owner: FlaskClient, household: Database) -> None:
    films = ids(household, "movie")
    with household.begin() as db:
        library = db.get_one(Entry, films["Kettle Morning"]).library_id
        for name, kind in (("pier", "photo"), ("gull", "photo"), ("mill", "clip")):
            db.add(Entry(library_id=library, key=name, handle=name, kind=kind, title=name, sort_title=name))
    photos = [*ids(household, "photo").values(), *ids(household, "clip").values()]

    def albums() -> set[str]:
        return {one["name"] for one in said(owner.get("/api/lists"))["lists"] if one["is_album"]}

    shots = said(owner.post("/api/lists", json={"name": "Shots", "entry_ids": photos}))["id"]
    said(owner.post("/api/lists", json={"name": "Both", "entry_ids": [*films.values(), *photos]}))
    said(owner.post("/api/lists", json={"name": "Films", "entry_ids": list(films.values())}))
    said(owner.post("/api/lists", json={"name": "Nothing"}))
    rule = {"shelf": "photos", "traits": "kind:photo"}
    said(owner.post("/api/lists", json={"name": "By rule", "rule": rule}))
    assert albums() == {"Shots", "By rule"}
    said(owner.post(f"/api/lists/{shots}/places", json={"entry_ids": [films["Kettle Morning"]]}))
    assert albums() == {"By rule"}
