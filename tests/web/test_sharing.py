"""Shares: what a link shows and nothing else, as long as it holds, and never more than who shares may see."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select, update

from indice.disk.thumbnails import thumbnail_path
from indice.settings import Settings
from indice.store.database import Database
from indice.store.household import Change, change_person
from indice.store.models import Artwork, Entry, File, Intake, Person, Share, ShareView, now
from indice.web.app import create_app

from .kettle import SECRET, Sign, ids, said
from .test_doors_of_the_api import BY_LINK, operations

H264 = ['video/mp4; codecs="avc1.640033, mp4a.40.2"']


@pytest.fixture
def stranger(household: Database, settings: Settings) -> FlaskClient:
    """Somebody without an account, in a browser of their own."""
    client = create_app(settings, household).test_client()
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    return client


def link(client: FlaskClient, **more: Any) -> str:
    """The address of the data of a new share."""
    made = said(client.post("/api/shares", json=more))
    assert made["picture"].startswith("data:image/svg")
    return f"/api/shared/{made['link'].rsplit('/s/')[1]}"


def test_a_link_shows_one_entry_and_nothing_else(
    stranger: FlaskClient, owner: FlaskClient, household: Database
) -> None:
    films = ids(household, "movie")
    shown, hidden = films["Kettle Morning"], films[f"{SECRET} Nights"]
    at = link(owner, entry_id=shown)
    told = said(stranger.get(f"{at}/"))
    assert (told["title"], told["kind"], told["entry_id"], told["needs_password"]) == (
        "Kettle Morning",
        "movie",
        shown,
        False,
    )
    with household.begin() as db:
        files = dict(db.execute(select(File.entry_id, File.id)).all())
        pictures = dict(db.execute(select(Artwork.entry_id, Artwork.digest)).all())
    page = said(stranger.get(f"{at}/entries/{shown}"))
    assert page["card"]["title"] == "Kettle Morning" and page["card"]["mark"] is None and not page["is_kept"]
    assert stranger.get(f"{at}/entries/{shown}/kept").status_code == 404, "by a link there is no such answer"
    assert stranger.get(f"{at}/files/{files[shown]}/content").status_code == 200
    assert said(stranger.get(f"{at}/files/{files[shown]}/content?download=true"), 403)["reference"] == "not-allowed"
    played = said(stranger.post(f"{at}/entries/{shown}/playback", json={"can": H264}))
    assert played["url"] == f"{at}/files/{files[shown]}/content" and played["next_entry_id"] is None
    said(stranger.post(f"{at}/playbacks/{played['key']}/beat"))
    said(stranger.post(f"{at}/playbacks/{played['key']}/end"))
    for path in (f"entries/{hidden}", f"files/{files[hidden]}/content", f"pictures/{pictures[hidden]}/240"):
        assert stranger.get(f"{at}/{path}").status_code == 404, path
    assert stranger.post(f"{at}/entries/{hidden}/playback", json={"can": H264}).status_code == 404
    # The household's own addresses are as shut as before.
    for path in (f"/api/entries/{shown}", f"/api/files/{files[shown]}/content", "/api/lists", "/api/shelves/films"):
        assert stranger.get(path).status_code == 401, path


def test_every_operation_by_link_is_shut_for_what_is_not_shared(
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
) -> None:
    films = ids(household, "movie")
    at = link(owner, entry_id=films["Kettle Morning"])
    with household.begin() as db:
        hidden = [e.id for e in db.scalars(select(Entry)) if e.title != "Kettle Morning"]
        files = [file.id for file in db.scalars(select(File)) if file.entry_id in hidden]
    asked = 0
    for method, path in operations(owner):
        if not path.startswith(BY_LINK) or "/1" not in path:
            continue
        for number in hidden if "/entries/" in path else files:
            answer = stranger.open(path.replace(BY_LINK, f"{at}/").replace("/1", f"/{number}"), method=method, json={})
            assert answer.status_code >= 400 and SECRET not in answer.text, path
            asked += 1
    assert asked > 10


def test_a_series_is_shared_with_its_episodes(stranger: FlaskClient, owner: FlaskClient, household: Database) -> None:
    series = ids(household, "series")["Kettle Row"]
    at = link(owner, entry_id=series)
    page = said(stranger.get(f"{at}/entries/{series}"))
    (episode,) = [cell["entry_id"] for row in page["grid"] for cell in row["cells"]]
    assert said(stranger.post(f"{at}/entries/{series}/playback", json={"can": H264}))["entry_id"] == episode
    with household.begin() as db:
        others = [e.id for e in db.scalars(select(Entry)) if e.title.startswith(SECRET)]
    assert {stranger.get(f"{at}/entries/{id_}").status_code for id_ in others} == {404}


def test_a_playing_by_link_is_nobody_elses(stranger: FlaskClient, owner: FlaskClient, household: Database) -> None:
    shown = ids(household, "movie")["Kettle Morning"]
    one, other = link(owner, entry_id=shown), link(owner, entry_id=shown)
    key = said(stranger.post(f"{one}/entries/{shown}/playback", json={"can": H264}))["key"]
    assert stranger.post(f"{other}/playbacks/{key}/beat").status_code == 404
    assert owner.post(f"/api/playbacks/{key}/beat").status_code == 404
    mine = said(owner.post(f"/api/entries/{shown}/playback", json={"can": H264}))["key"]
    assert stranger.post(f"{one}/playbacks/{mine}/beat").status_code == 404


def test_a_link_ends_on_its_day_and_at_once_when_it_is_taken_back(
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
) -> None:
    shown = ids(household, "movie")["Kettle Morning"]
    at = link(owner, entry_id=shown)
    key = said(stranger.post(f"{at}/entries/{shown}/playback", json={"can": H264}))["key"]
    (listed,) = said(owner.get("/api/shares"))["shares"]
    assert (listed["title"], listed["views"], listed["is_over"]) == ("Kettle Morning", 1, False)
    said(owner.delete(f"/api/shares/{listed['id']}"))
    for method, path in (("GET", ""), ("GET", f"entries/{shown}"), ("POST", f"playbacks/{key}/beat")):
        answer = stranger.open(f"{at}/{path}", method=method)
        assert (answer.status_code, answer.get_json()["reference"]) == (404, "share-closed")
    assert said(owner.get("/api/shares"))["shares"] == []
    at = link(owner, entry_id=shown, days=2)
    with household.begin() as db:
        db.execute(update(Share).values(ends_at=now() - timedelta(seconds=1)))
    assert stranger.get(f"{at}/").status_code == 404
    assert [one["is_over"] for one in said(owner.get("/api/shares"))["shares"]] == [True]


def test_a_view_is_the_first_opening_by_a_browser_on_a_day(
    settings: Settings,
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
) -> None:
    shown = ids(household, "movie")["Kettle Morning"]
    at = link(owner, entry_id=shown, most_views=2)
    for _ in range(3):
        said(stranger.get(f"{at}/"))
        said(stranger.get(f"{at}/entries/{shown}"))
    second, third = (create_app(settings, household).test_client() for _ in range(2))
    said(second.get(f"{at}/"))
    assert third.get(f"{at}/").status_code == 404 and third.get(f"{at}/entries/{shown}").status_code == 404
    said(stranger.get(f"{at}/"))
    assert [one["views"] for one in said(owner.get("/api/shares"))["shares"]] == [2]
    with household.begin() as db:
        db.execute(update(ShareView).values(day=ShareView.day - 1))
    assert stranger.get(f"{at}/").status_code == 404, "another day is another view, and there were two"


def test_a_password_is_asked_for_and_guessing_is_slowed(
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
) -> None:
    shown = ids(household, "movie")["Kettle Morning"]
    at = link(owner, entry_id=shown, password="a tin whistle")
    told = said(stranger.get(f"{at}/"))
    assert told["needs_password"] and told["title"] == "" and told["entry_id"] is None
    assert said(stranger.get(f"{at}/entries/{shown}"), 401)["reference"] == "share-password"
    assert [one["views"] for one in said(owner.get("/api/shares"))["shares"]] == [0]
    said(stranger.post(f"{at}/open", json={"password": "a tin thistle"}), 401)
    said(stranger.post(f"{at}/open", json={"password": "a tin whistle"}))
    assert said(stranger.get(f"{at}/"))["title"] == "Kettle Morning"
    for _ in range(5):
        stranger.post(f"{at}/open", json={"password": "no"})
    slowed = stranger.post(f"{at}/open", json={"password": "a tin whistle"})
    assert slowed.status_code == 429 and int(slowed.headers["Retry-After"]) > 0
    with household.begin() as db:
        db.execute(update(Share).values(password_hash="another"))
    assert stranger.get(f"{at}/entries/{shown}").status_code == 401, "another password is asked for again"


def test_a_list_is_shared_without_what_lies_beside_it(
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
) -> None:
    films, series = ids(household, "movie"), ids(household, "series")["Kettle Row"]
    made = said(owner.post("/api/lists", json={"name": "Evening", "entry_ids": [films["Kettle Morning"], series]}))[
        "id"
    ]
    at = link(owner, list_id=made, may_download=True)
    told = said(stranger.get(f"{at}/"))
    assert (told["title"], told["kind"], told["may_download"]) == ("Evening", "list", True)
    first, episode = (place["entry"]["id"] for place in told["places"])
    assert first == films["Kettle Morning"]
    assert stranger.get(f"{at}/entries/{series}").status_code == 404, "the episode is shared, and not its series"
    assert stranger.get(f"{at}/entries/{episode}").status_code == 200
    file = told["places"][0]["file_id"]
    assert stranger.get(f"{at}/files/{file}/content?download=true").status_code == 200
    said(owner.delete(f"/api/lists/{made}"))
    assert stranger.get(f"{at}/").status_code == 404


def test_songs_of_a_shared_list_have_the_covers_of_their_albums_and_no_more(
    stranger: FlaskClient, owner: FlaskClient, household: Database, settings: Settings
) -> None:
    with household.begin() as db:
        library = db.scalars(select(Entry.library_id)).first()
        albums = [
            Entry(library_id=library, key=f"album-{n}", kind="album", title=f"Lamps {n}", sort_title=f"lamps {n}")
            for n in (1, 2)
        ]
        db.add_all(albums)
        db.flush()
        songs = [
            Entry(
                library_id=library,
                key=f"song-{one.id}",
                kind="track",
                title="Wick",
                sort_title="wick",
                parent_id=one.id,
            )
            for one in albums
        ]
        covers = [
            Artwork(entry_id=one.id, role="cover", origin="hand", digest=f"{one.id:032x}", width=9, height=9, blur="")
            for one in albums
        ]
        db.add_all([*songs, *covers])
        db.flush()
        (shown, _), (album, other) = [one.id for one in songs], [one.digest for one in covers]
        above = albums[0].id
    made = said(owner.post("/api/lists", json={"name": "Songs", "entry_ids": [shown]}))["id"]
    at = link(owner, list_id=made)
    (place,) = said(stranger.get(f"{at}/"))["places"]
    assert place["entry"]["picture"]["digest"] == album
    for digest, status in ((album, 200), (other, 404)):
        kept = thumbnail_path(settings.home, digest, 240)
        kept.parent.mkdir(parents=True, exist_ok=True)
        kept.write_bytes(b"RIFF")
        assert stranger.get(f"{at}/pictures/{digest}/240").status_code == status
    assert stranger.get(f"{at}/entries/{above}").status_code == 404, "the song is shared, and not its album"


def test_members_share_what_they_may_and_it_ends_with_their_right(
    stranger: FlaskClient,
    sign: Sign,
    household: Database,
) -> None:
    films = ids(household, "movie")
    member, child = sign("member"), sign("child")
    own = {"entry_id": films["Kettle Morning"]}
    assert said(member.post("/api/shares", json=own), 403)["reference"] == "not-allowed"
    assert not said(member.get("/api/shares"))["may_share"]

    def allow(name: str, **more: Any) -> None:
        with household.begin() as db:
            change_person(db, db.scalars(select(Person).where(Person.name == name)).one(), Change(**more))

    allow("member", shares=True)
    allow("child", shares=True)
    at = link(member, **own)
    assert said(stranger.get(f"{at}/"))["by"] == "member"
    said(member.post("/api/shares", json={"entry_id": films[f"{SECRET} Elsewhere"]}), 404)
    said(child.post("/api/shares", json={"entry_id": films[f"{SECRET} Nights"]}), 404)
    said(member.post("/api/shares", json={**own, "intake_id": 1}), 403)
    shared = said(member.get("/api/shares"))["shares"]
    assert [one["by"] for one in shared] == ["member"] and said(child.get("/api/shares"))["shares"] == []
    said(child.delete(f"/api/shares/{shared[0]['id']}"), 404)
    # What they share for any age is not for the child who shares; and what is withdrawn is gone for everybody.
    allow("member", age=0)
    assert stranger.get(f"{at}/").status_code == 404
    allow("member", age="none")
    said(stranger.get(f"{at}/"))
    allow("member", shares=False)
    assert stranger.get(f"{at}/").status_code == 404
    allow("member", shares=True, libraries=["Series"])
    assert stranger.get(f"{at}/").status_code == 404


def test_files_are_handed_in_as_far_as_it_was_said(
    stranger: FlaskClient,
    owner: FlaskClient,
    household: Database,
    tmp_path: Path,
) -> None:
    intake = tmp_path / "door"
    intake.mkdir()
    with household.begin() as db:
        db.add(row := Intake(path=bytes(intake), shown=str(intake), alone=False))
        db.flush()
        number = row.id
    shown = ids(household, "movie")["Kettle Morning"]
    at = link(owner, entry_id=shown, intake_id=number, upload_megabytes=1)
    assert said(stranger.get(f"{at}/"))["upload_bytes_left"] == 1_000_000

    def hand(name: str, content: bytes) -> Any:
        return stranger.post(f"{at}/files/{name}", data=content, content_type="application/octet-stream")

    (intake / "one.jpg").write_bytes(b"mine")
    assert said(hand("one.jpg", b"x" * 300_000))["name"] == "one (2).jpg"
    assert (intake / "one.jpg").read_bytes() == b"mine" and (intake / "one (2).jpg").stat().st_size == 300_000
    assert said(hand("..%5C..%5Cetc%5C.secret%1F.sh", b"x"), 200)["name"] == "secret_.sh"
    assert said(hand("two.jpg", b"x" * 700_001), 413)["reference"] == "upload-refused"
    assert hand("empty.jpg", b"").status_code in (411, 413)
    assert said(stranger.get(f"{at}/"))["upload_bytes_left"] == 1_000_000 - 300_001
    assert sorted(path.name for path in intake.iterdir()) == ["one (2).jpg", "one.jpg", "secret_.sh"]
    without = link(owner, entry_id=shown)
    said(stranger.post(f"{without}/files/a.jpg", data=b"x"), 403)
    assert sorted(path.name for path in tmp_path.iterdir() if path.suffix == ".sh") == []


def test_what_is_said_of_a_wrong_wish(owner: FlaskClient, household: Database) -> None:
    for body in ({}, {"entry_id": 1, "list_id": 1}, {"entry_id": 1, "days": 0}):
        assert owner.post("/api/shares", json=body).status_code == 422
    assert owner.post("/api/shares", json={"entry_id": 999_999}).status_code == 404
    assert owner.post("/api/shares", json={"list_id": 999_999}).status_code == 404
