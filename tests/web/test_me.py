"""What a person chooses for themselves, and the bounds that the owner sets of what they play."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from indice.errors import IndiceError
from indice.store.database import Database
from indice.store.household import Change, change_person, the_person
from indice.store.marks import set_marks
from indice.store.viewer import Viewer
from indice.web import playback
from indice.web.gateway import is_away
from indice.work.playback import offer

from .kettle import Sign, ids, said

CAN = ['video/mp4; codecs="avc1.640033"', 'audio/mp4; codecs="mp4a.40.2"']


def a_picture(size: tuple[int, int] = (900, 600), form: str = "JPEG") -> BytesIO:
    made = BytesIO()
    exif = Image.Exif()
    exif[0x010E] = "a secret place"
    Image.new("RGB", size, (120, 60, 20)).save(made, form, exif=exif)
    made.seek(0)
    return made


def upload(client: FlaskClient, file: BytesIO) -> Any:
    return client.put("/api/me/picture", data={"picture": (file, "me.jpg")}, content_type="multipart/form-data")


def number_of(client: FlaskClient) -> int:
    return int(said(client.get("/api/status"))["person_id"])


def test_looks_go_with_the_person_from_browser_to_browser(sign: Sign) -> None:
    assert said(sign("member").get("/api/status"))["looks"] == {"theme": "system", "cards": "medium", "hides": []}
    said(sign("member").put("/api/me/looks", json={"theme": "dark", "cards": "large", "hides": ["year", "year"]}))
    assert said(sign("member").get("/api/status"))["looks"] == {"theme": "dark", "cards": "large", "hides": ["year"]}
    assert said(sign("guest").get("/api/status"))["looks"]["theme"] == "system"


@pytest.mark.parametrize("wrong", [{"theme": "neon"}, {"cards": 4}, {"hides": ["title"]}, {"wings": True}])
def test_looks_that_there_are_not_are_answered_in_words(sign: Sign, wrong: dict[str, Any]) -> None:
    answer = sign("member").put("/api/me/looks", json=wrong)
    assert answer.status_code == 422 and answer.get_json()["message"]


def test_a_picture_is_drawn_anew_and_seen_by_oneself_and_the_owner(sign: Sign, owner: FlaskClient) -> None:
    member = sign("member")
    number = number_of(member)
    assert member.get(f"/api/people/{number}/picture").status_code == 404
    said(upload(member, a_picture()))
    answer = member.get(f"/api/people/{number}/picture")
    with Image.open(BytesIO(answer.data)) as shown:
        assert shown.format == "WEBP" and max(shown.size) <= 240 and not dict(shown.getexif())
    assert b"secret" not in answer.data
    assert owner.get(f"/api/people/{number}/picture").status_code == 200
    assert next(p for p in said(owner.get("/api/people"))["people"] if p["id"] == number)["has_picture"]
    for other in ("child", "librarian", "guest"):
        assert sign(other).get(f"/api/people/{number}/picture").status_code == 404
    said(member.delete("/api/me/picture"))
    assert owner.get(f"/api/people/{number}/picture").status_code == 404


@pytest.mark.parametrize("content", [b"", b"<svg onload='x'/>", b"\xff\xd8\xff\xe0 cut off", b"GIF89a"])
def test_what_is_no_picture_is_refused_in_words(sign: Sign, content: bytes) -> None:
    answer = upload(sign("member"), BytesIO(content))
    assert answer.status_code in (400, 422) and answer.get_json()["reference"].startswith("picture-")


def test_what_somebody_saw_is_for_the_owner_only_if_they_let_it_be(
    household: Database, sign: Sign, owner: FlaskClient
) -> None:
    member = sign("member")
    number, kettle = number_of(member), ids(household, "movie")["Kettle Morning"]
    with household.begin() as db:
        set_marks(db, Viewer(number, "member"), [kettle], seen=True)
    assert owner.get(f"/api/people/{number}/seen").get_json()["reference"] == "seen-kept"
    said(member.put("/api/me/looks", json={"tells_seen": True}))
    told = said(owner.get(f"/api/people/{number}/seen"))["seen"]
    assert [line["card"]["title"] for line in told] == ["Kettle Morning"] and told[0]["seen_at"]
    assert sign("librarian").get(f"/api/people/{number}/seen").status_code == 403
    assert member.get(f"/api/people/{number}/seen").status_code == 403


@pytest.mark.parametrize(
    ("address", "away"),
    [
        ("127.0.0.1", False),
        ("192.168.4.9", False),
        ("10.200.0.1", False),
        ("172.16.3.3", False),
        ("172.40.3.3", True),
        ("203.0.113.5", True),
        ("::1", False),
        ("fe80::7%eth0", False),
        ("fd12::7", False),
        ("2001:db8::7", True),
        ("::ffff:192.168.4.9", False),
        ("::ffff:203.0.113.5", True),
        ("", False),
        ("nowhere", False),
    ],
)
def test_who_is_away_is_told_from_who_is_at_home(address: str, away: bool) -> None:
    assert is_away(address) is away


def test_somebody_plays_no_more_at_a_time_than_they_may(household: Database, sign: Sign) -> None:
    with household.begin() as db:
        change_person(db, the_person(db, "member"), Change(most_streams=1))
    films = ids(household, "movie")
    member = sign("member")
    first, second = (f"/api/entries/{films[one]}/playback" for one in ("Kettle Morning", "Zanthoxyl Nights"))
    key = said(member.post(first, json={"can": CAN}))["key"]
    said(member.post(first, json={"can": CAN, "max_height": 240}))  # another quality of the same counts once
    full = member.post(second, json={"can": CAN})
    assert full.status_code == 429 and full.get_json()["reference"] == "streams-full"
    assert int(full.headers["Retry-After"]) > 0
    said(sign("child").post(first, json={"can": CAN}))
    said(member.post(f"/api/playbacks/{key}/end"))
    with household.begin() as db:
        change_person(db, the_person(db, "member"), Change(most_streams="none"))
    said(member.post(second, json={"can": CAN}))


@pytest.mark.parametrize(
    ("address", "wished", "asked"),
    [("192.168.0.9", None, None), ("203.0.113.5", None, 900), ("203.0.113.5", 500, 500), ("203.0.113.5", 2000, 900)],
)
def test_away_from_home_no_more_is_sent_than_the_owner_lets(
    household: Database,
    sign: Sign,
    monkeypatch: pytest.MonkeyPatch,
    address: str,
    wished: int | None,
    asked: int | None,
) -> None:
    with household.begin() as db:
        change_person(db, the_person(db, "member"), Change(away_kbps=900))
    heard: list[int | None] = []

    def listen(ground: Any, wish: Any, **more: Any) -> Any:
        heard.append(wish.max_kbps)
        return offer(ground, wish, **more)

    monkeypatch.setattr(playback, "offer", listen)
    member = sign("member")
    member.environ_base["REMOTE_ADDR"] = address
    path = f"/api/entries/{ids(household, 'movie')['Kettle Morning']}/playback"
    said(member.post(path, json={"can": CAN, "max_kbps": wished}))
    assert heard == [asked]


@pytest.mark.parametrize(
    ("change", "reference"),
    [
        (Change(most_streams=0), "streams-wrong"),
        (Change(most_streams=51), "streams-wrong"),
        (Change(away_kbps=10), "kbps-wrong"),
        (Change(away_kbps=2_000_000), "kbps-wrong"),
    ],
)
def test_bounds_that_make_no_sense_are_refused(household: Database, change: Change, reference: str) -> None:
    with household.begin() as db, pytest.raises(IndiceError) as problem:
        change_person(db, the_person(db, "member"), change)
    assert problem.value.reference == reference
