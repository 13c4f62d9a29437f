"""Shelves narrowed down: what can be chosen, how many are left, and that nobody counts what they may not see."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select, text

from indice.store.database import Database
from indice.store.models import Entry, Fact
from indice.store.orders import SORTS
from indice.work.traits import settle_all

from .kettle import SECRET, Sign, ids, said

GENRES = {
    "Kettle Morning": ["Drama", "Comedy"],
    f"{SECRET} Nights": ["Drama"],
    f"{SECRET} Below": ["Comedy"],
    f"{SECRET} Elsewhere": ["Crime"],
}


@pytest.fixture
def genres(household: Database) -> Database:
    """Films with genres, written by hand."""
    with household.begin() as db:
        for entry in db.scalars(select(Entry).where(Entry.kind == "movie")):
            if entry.title in GENRES:
                db.add(Fact(entry_id=entry.id, field="genres", origin="hand", value={"v": GENRES[entry.title]}))
    settle_all(household)
    return household


def counts(client: FlaskClient, group: str, traits: str = "", shelf: str = "films") -> dict[str, int]:
    told = said(client.get(f"/api/shelves/{shelf}/traits?traits={quote(traits)}"))
    return {one["value"]: one["count"] for each in told["groups"] if each["name"] == group for one in each["traits"]}


def query_of(**asked: str) -> str:
    return "&".join(f"{name}={quote(value)}" for name, value in asked.items())


def left(client: FlaskClient, traits: str, **more: str) -> list[str]:
    told = said(client.get(f"/api/shelves/films?{query_of(traits=traits, **more)}"))
    return [one["title"] for one in told["entries"]]


def test_groups_combine_and_values_of_a_group_stand_beside_each_other(owner: FlaskClient, genres: Database) -> None:
    assert counts(owner, "genre") == {"Drama": 2, "Comedy": 2, "Crime": 1}
    assert sorted(left(owner, "genre:Drama")) == ["Kettle Morning", f"{SECRET} Nights"]
    assert len(left(owner, "genre:Drama|genre:Crime")) == 3
    assert left(owner, "genre:Drama|age:6") == ["Kettle Morning"]
    # Within a group the others are told as they would be beside what is chosen; other groups are of what is left.
    assert counts(owner, "genre", "genre:Drama") == {"Drama": 2, "Comedy": 2, "Crime": 1}
    assert counts(owner, "age", "genre:Crime") in ({"0": 1}, {})
    assert left(owner, "genre:Western") == []
    assert said(owner.get("/api/shelves/films/ruler?traits=genre:Drama"))["total"] == 2
    assert len(said(owner.get("/api/shelves/films/ids?traits=genre:Drama"))["ids"]) == 2


CAST = {
    "Kettle Morning": ["Ada Quill", "Bo Tarn"],
    f"{SECRET} Nights": ["Bo Tarn", "Cleo_Vane", "Ada Quill", "Ada Quill"],
    f"{SECRET} Below": ["Dara Ümit"],
}


@pytest.fixture
def cast(genres: Database) -> Database:
    """Films of which it is known who is in them."""
    with genres.begin() as db:
        for entry in db.scalars(select(Entry).where(Entry.kind == "movie")):
            if entry.title in CAST:
                db.add(Fact(entry_id=entry.id, field="cast", origin="hand", value={"v": CAST[entry.title]}))
    return genres


def in_it(client: FlaskClient, like: str = "", **more: str) -> dict[str, int]:
    told = said(client.get(f"/api/shelves/films/traits/cast?{query_of(like=like, **more)}"))
    return {one["value"]: one["count"] for one in told["traits"]}


def test_who_is_in_it_narrows_down_and_is_looked_for_by_letters(owner: FlaskClient, cast: Database) -> None:
    assert list(in_it(owner).items()) == [("Ada Quill", 2), ("Bo Tarn", 2), ("Cleo_Vane", 1), ("Dara Ümit", 1)]
    assert in_it(owner, "tar") == {"Bo Tarn": 2}
    assert in_it(owner, "ÜMIT") == {"Dara Ümit": 1} and in_it(owner, "zzz") == {}
    assert in_it(owner, "_") == {"Cleo_Vane": 1}, "a sign of patterns is a letter like any other"
    assert sorted(left(owner, "cast:Ada Quill")) == ["Kettle Morning", f"{SECRET} Nights"]
    assert sorted(left(owner, "cast:Dara Ümit|cast:Cleo_Vane")) == [f"{SECRET} Below", f"{SECRET} Nights"]
    assert left(owner, "cast:Ada Quill|genre:Comedy") == ["Kettle Morning"]
    assert left(owner, "cast:Ada") == [], "a name is a whole name"
    for odd in ("\0", "a\0b", "\ud800"):
        sent = quote(odd, errors="surrogatepass")
        assert owner.get(f"/api/shelves/films/traits/cast?like={sent}&traits=cast:{sent}").status_code in (
            200,
            400,
            422,
        )
        assert owner.get(f"/api/shelves/films/traits/cast?like={sent}&traits=genre:{sent}").status_code in (
            200,
            400,
            422,
        )
    # Others are told as they would be beside who is chosen, and as far as the other groups leave them.
    assert in_it(owner, traits="cast:Ada Quill") == in_it(owner)
    assert in_it(owner, traits="genre:Comedy") == {"Ada Quill": 1, "Bo Tarn": 1, "Dara Ümit": 1}
    assert counts(owner, "genre", "cast:Cleo_Vane") == {}, "one value is no choice"
    assert counts(owner, "genre", "cast:Bo Tarn") == {"Drama": 2, "Comedy": 1}


def test_who_is_in_it_is_told_of_what_one_may_see_only(cast: Database, sign: Sign) -> None:
    assert in_it(sign("child")) == {"Ada Quill": 1, "Bo Tarn": 1}
    assert in_it(sign("child"), "cleo") == {} and in_it(sign("guest")) == {}
    assert left(sign("child"), "cast:Cleo_Vane") == []


def test_who_is_in_it_follows_the_facts(owner: FlaskClient, cast: Database) -> None:
    film = ids(cast, "movie")["Kettle Morning"]
    said(owner.put(f"/api/entries/{film}/facts/cast", json={"value": ["Eli Frost"]}))
    assert in_it(owner, "frost") == {"Eli Frost": 1} and in_it(owner)["Ada Quill"] == 1
    assert searched(owner, "mit:'eli frost'") == [] and searched(owner, 'with:"eli frost"') == ["Kettle Morning"]
    said(owner.put(f"/api/entries/{film}/facts/cast", json={"value": None}))
    assert "Eli Frost" not in in_it(owner)


def test_a_group_of_many_is_looked_through_by_letters(
    owner: FlaskClient, genres: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    def genre() -> Any:
        told = said(owner.get("/api/shelves/films/traits"))["groups"]
        return next(one for one in told if one["name"] == "genre")

    assert not genre()["has_more"]
    monkeypatch.setattr("indice.web.shelves.MOST_TRAITS", 2)
    assert genre()["has_more"] and len(genre()["traits"]) == 2
    found = said(owner.get("/api/shelves/films/traits/genre?like=RIM&traits=genre:Drama"))
    assert [one["value"] for one in found["traits"]] == ["Crime"] and not found["has_more"]
    for group in ("mark", "near", "library", "age", "camera", "nothing"):
        assert owner.get(f"/api/shelves/films/traits/{group}").status_code == 404


def test_ones_own_marks_narrow_down_too(owner: FlaskClient, sign: Sign, genres: Database) -> None:
    films = ids(genres, "movie")
    seen = films["Kettle Morning"]
    owner.put("/api/marks", json={"entry_ids": [seen], "seen": True, "favourite": True})
    assert left(owner, "mark:seen") == ["Kettle Morning"] and len(left(owner, "mark:unseen")) == len(films) - 1
    assert left(owner, "mark:favourite|genre:Crime") == []
    assert counts(owner, "mark") == {"seen": 1, "unseen": len(films) - 1, "favourite": 1}
    assert left(sign("member"), "mark:seen") == [], "nobody sees another's marks"


def test_nobody_counts_what_they_may_not_see(genres: Database, sign: Sign) -> None:
    child = sign("child")
    assert counts(child, "genre") == {"Drama": 1, "Comedy": 1}
    assert SECRET not in child.get("/api/shelves/films/traits").text
    assert counts(sign("guest"), "genre") == {}


def test_what_changes_is_counted_anew(owner: FlaskClient, genres: Database) -> None:
    film = ids(genres, "movie")["Kettle Morning"]
    said(owner.put(f"/api/entries/{film}/facts/genres", json={"value": ["Western"]}))
    assert counts(owner, "genre") == {"Drama": 1, "Comedy": 1, "Crime": 1, "Western": 1}
    with genres.begin() as db:
        db.execute(text("update entry set year = 1955 where id = :id"), {"id": film})
    assert counts(owner, "decade").get("1950") == 1
    said(owner.put(f"/api/entries/{film}/facts/genres", json={"value": None}))
    assert counts(owner, "genre") == {"Drama": 1, "Comedy": 1, "Crime": 1}


def through(client: FlaskClient, sort: str, shelf: str = "films") -> list[str]:
    """The titles of all pages of a shelf, in an order."""
    whole: list[str] = []
    after = ""
    while after is not None:
        page = said(client.get(f"/api/shelves/{shelf}?sort={sort}&after={after}"))
        whole += [one["title"] for one in page["entries"]]
        after = page["following"]
    return whole


@pytest.mark.parametrize("size", [1, 2, 3])
@pytest.mark.parametrize("sort", SORTS)
def test_every_order_goes_through_all_pages(
    owner: FlaskClient, genres: Database, monkeypatch: pytest.MonkeyPatch, sort: str, size: int
) -> None:
    monkeypatch.setattr("indice.store.browse.PAGE", size)
    whole = through(owner, sort)
    assert sorted(whole) == sorted(ids(genres, "movie")), "each once"
    if sort == "year":
        assert whole[0] == f"{SECRET} Elsewhere" and whole[-1] == f"{SECRET} Nights"
    if sort == "title":
        assert whole == sorted(whole)


MEASURES = {
    "Kettle Morning": (6000, 1080, 4_000_000_000),
    f"{SECRET} Nights": (9000, 720, 9_000_000_000_000),
    f"{SECRET} Below": (5400, 2160, None),
}
"""Seconds, lines and bytes of some; of the others nothing is known."""


@pytest.mark.parametrize(("sort", "place"), [("length", 0), ("resolution", 1), ("size", 2)])
def test_the_largest_come_first_and_what_is_not_known_last(
    owner: FlaskClient, genres: Database, monkeypatch: pytest.MonkeyPatch, sort: str, place: int
) -> None:
    films = ids(genres, "movie")
    with genres.begin() as db:
        for title, id_ in films.items():
            film = db.get_one(Entry, id_)
            film.seconds, film.lines, film.size_bytes = MEASURES.get(title, (None, None, None))
    monkeypatch.setattr("indice.store.browse.PAGE", 2)
    known = sorted((t for t in MEASURES if MEASURES[t][place]), key=lambda title: -(MEASURES[title][place] or 0))
    assert through(owner, sort) == known + sorted(set(films) - set(known))


def test_ones_own_stars_are_an_order_of_ones_own(
    owner: FlaskClient, sign: Sign, genres: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    films = ids(genres, "movie")
    for title, rating in (("Kettle Morning", 3), (f"{SECRET} Nights", 9), (f"{SECRET} Below", 3)):
        owner.put("/api/marks", json={"entry_ids": [films[title]], "rating": rating})
    sign("child").put("/api/marks", json={"entry_ids": [films["Kettle Morning"]], "rating": 10})
    monkeypatch.setattr("indice.store.browse.PAGE", 2)
    best = [f"{SECRET} Nights", *sorted(("Kettle Morning", f"{SECRET} Below"))]
    assert through(owner, "rating") == best + sorted(set(films) - set(best))
    owner.put("/api/marks", json={"entry_ids": [films[f"{SECRET} Nights"]], "rating": 0})
    assert through(owner, "rating")[:2] == best[1:], "stars that are taken off count as none"


@pytest.mark.parametrize("sort", SORTS)
@pytest.mark.parametrize("after", ["x", "WyJ4IiwgMV0", "W10", "WzEsICJhIiwgMiwgM10", "bnVsbA", "WyIxIiwgIjIiLCAiMyJd"])
def test_a_page_that_was_never_given_out_is_said(owner: FlaskClient, genres: Database, sort: str, after: str) -> None:
    answer = owner.get(f"/api/shelves/films?sort={sort}&after={after}")
    assert answer.status_code == 400 or (sort, after) == ("rating", "WzEsICJhIiwgMiwgM10")


def test_what_is_no_trait_is_said(owner: FlaskClient, genres: Database) -> None:
    for traits in ("camera:x", "genre", "nothing:1", "mark:loved"):
        answer = owner.get(f"/api/shelves/films?traits={traits}")
        assert answer.status_code in (200, 404) and (answer.status_code == 404 or answer.get_json()["entries"] == [])
    assert owner.get("/api/shelves/films?sort=added&after=WyJ4IiwgMV0").status_code == 400


def searched(client: FlaskClient, words: str) -> list[str]:
    return sorted(one["title"] for one in said(client.get(f"/api/search?q={quote(words)}"))["entries"])


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        ("year:2004", ["Kettle Morning"]),
        ("year:2005-2006 kind:series", [f"{SECRET} Row", "Kettle Row"]),
        ("kettle kind:film", ["Kettle Morning"]),
        ("genre:drama year:-2003", [f"{SECRET} Nights"]),
        ("genre:drama genre:crime", [f"{SECRET} Elsewhere", f"{SECRET} Nights", "Kettle Morning"]),
        ("age:6", ["Kettle Morning"]),
        ("zanth kind:film year:2002", [f"{SECRET} Unrated"]),
        ("genre:western", []),
    ],
)
def test_filters_among_the_words_of_a_search(
    owner: FlaskClient, genres: Database, words: str, expected: list[str]
) -> None:
    assert searched(owner, words) == sorted(expected)


def test_filters_ask_for_ones_own_marks(owner: FlaskClient, sign: Sign, genres: Database) -> None:
    seen = ids(genres, "movie")["Kettle Morning"]
    episode = next(iter(ids(genres, "episode").values()))
    owner.put("/api/marks", json={"entry_ids": [seen, episode], "seen": True})
    assert searched(owner, "is:seen kind:film") == ["Kettle Morning"]
    assert "Kettle Morning" not in searched(owner, "is:unseen")
    assert len(searched(owner, "is:seen kind:series")) == 1, "a series of which an episode was seen"
    assert searched(sign("member"), "is:seen") == [], "nobody sees another's marks"


def test_filters_find_nothing_that_one_may_not_see(sign: Sign, genres: Database) -> None:
    for words in ("year:2001-2007", "genre:drama", "kind:series", "is:unseen"):
        assert SECRET not in "".join(searched(sign("child"), words))
        assert searched(sign("guest"), words) == []


def test_the_words_of_a_shelf_hold_filters_too(owner: FlaskClient, genres: Database) -> None:
    assert sorted(left(owner, "", words="year:2003-2004")) == ["Kettle Morning", f"{SECRET} Below"]
    assert left(owner, "genre:Drama", words="kettle year:2004") == ["Kettle Morning"]
    assert left(owner, "", words="kettle year:1999") == []


def grouped(client: FlaskClient, shelf: str, group: str, after: str = "", traits: str = "") -> tuple[list[Any], Any]:
    """Each group with how many it holds and the titles that it shows, and what the next page is asked with."""
    told = said(client.get(f"/api/shelves/{shelf}/by/{group}?after={after}&traits={quote(traits)}"))
    rows = [(one["value"], one["count"], [entry["title"] for entry in one["entries"]]) for one in told["groups"]]
    return rows, told["following"]


@pytest.mark.parametrize("looked", [600, 1, 0])
def test_a_shelf_in_groups(owner: FlaskClient, genres: Database, monkeypatch: pytest.MonkeyPatch, looked: int) -> None:
    monkeypatch.setattr("indice.store.groups.LOOKED_THROUGH", looked)
    rows, following = grouped(owner, "films", "genre")
    assert rows == [
        ("Comedy", 2, ["Kettle Morning", f"{SECRET} Below"]),
        ("Drama", 2, ["Kettle Morning", f"{SECRET} Nights"]),
        ("Crime", 1, [f"{SECRET} Elsewhere"]),
    ]
    assert following is None
    # What is narrowed down stays so, and a group shows what is its own.
    assert grouped(owner, "films", "genre", traits="genre:Drama")[0] == [
        ("Drama", 2, ["Kettle Morning", f"{SECRET} Nights"]),
        ("Comedy", 1, ["Kettle Morning"]),
    ]
    years = [int(value) for value, _, _ in grouped(owner, "films", "decade")[0]]
    assert years == sorted(years, reverse=True) and years


def test_groups_go_on_from_page_to_page(owner: FlaskClient, genres: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    whole, _ = grouped(owner, "films", "genre")
    monkeypatch.setattr("indice.store.groups.GROUPS_A_PAGE", 1)
    monkeypatch.setattr("indice.store.groups.SHOWN", 1)
    found: list[Any] = []
    after: str | None = ""
    while after is not None:
        rows, after = grouped(owner, "films", "genre", after)
        found += rows
    assert found == [(value, count, titles[:1]) for value, count, titles in whole]
    assert owner.get("/api/shelves/films/by/genre?after=W10").status_code == 400


def test_groups_show_nobody_what_they_may_not_see(genres: Database, sign: Sign) -> None:
    child = sign("child")
    assert grouped(child, "films", "genre")[0] == [("Comedy", 1, ["Kettle Morning"]), ("Drama", 1, ["Kettle Morning"])]
    assert SECRET not in child.get("/api/shelves/films/by/genre").text
    assert grouped(sign("guest"), "films", "genre")[0] == []
    for shelf, group in (
        ("films", "camera"),
        ("films", "mark"),
        ("photos", "near"),
        ("music", "director"),
        ("x", "genre"),
    ):
        assert child.get(f"/api/shelves/{shelf}/by/{group}").status_code == 404
