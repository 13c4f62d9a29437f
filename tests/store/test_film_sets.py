"""Sets of films: what a source knows of them, what is here, and who is told what is not."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.core.catalog.lacking import SetFilm, films_lacking
from indice.core.titles import sort_title
from indice.store.database import Database
from indice.store.film_sets import KnownSet, keep_sets, lacking_beside, sets_page, what_sets_lack
from indice.store.lacking import lacking_page
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, FilmSet, FilmSetFilm, Source
from indice.store.traits import settle_traits

TODAY = "2031-05-14"
GANNET = KnownSet(
    "The Gannet films",
    (
        SetFilm("g1", "Gannet Weather", "1988-02-01"),
        SetFilm("g2", "Gannet Wire", "1991"),
        SetFilm("g3", "A Gannet at the Door", "1995-11"),
        SetFilm("g4", "Gannet, Once More", "2033"),
    ),
)


class Films:
    """A library of films, and two sources."""

    def __init__(self, database: Database, folder: Path) -> None:
        self.database = database
        with database.begin() as db:
            for place, name in enumerate(("First", "Second")):
                db.add(Source(name=name, url="http://127.0.0.1:1/", profile="", position=place))
            self.libraries = [
                add_library(
                    db, name=name, kind="movies", folders=[os.fsencode(folder / name)], language="en", country="",
                    sources=[],
                ).id
                for name in ("Old", "New")
            ]  # fmt: skip
            db.flush()
            self.sources = list(db.scalars(select(Source.id).order_by(Source.position)))

    def add(self, title: str, year: int | None = None, source: int | None = None, known: str = "", at: int = 0) -> int:
        with self.database.begin() as db:
            film = Entry(
                library_id=self.libraries[at], kind="movie", title=title, sort_title=sort_title(title), year=year,
                key=f"{title} {year} {at}", source_id=None if source is None else self.sources[source],
                external_id=known or None, state="settled" if known else "waiting",
            )  # fmt: skip
            db.add(film)
            db.flush()
            return film.id

    def know(self, *sets: tuple[str, KnownSet], source: int = 0) -> None:
        with self.database.begin() as db:
            keep_sets(db, self.sources[source], dict(sets))

    def lacks(self) -> dict[str, list[str]]:
        """Title of a set → titles that it lacks."""
        with self.database.begin() as db:
            sets = sets_page(db, None, 100)
            told = what_sets_lack(db, sets, today=TODAY)
            return {one.title: [lack.title for lack in told[one.id]] for one in sets if one.id in told}


@pytest.fixture
def films(database: Database, tmp_path: Path) -> Films:
    for name in ("Old", "New"):
        (tmp_path / name).mkdir()
    return Films(database, tmp_path)


@pytest.mark.parametrize(
    ("titles", "missing"),
    [
        ([], [2, 3, 4]),
        ([("gannet wire", 1991)], [3, 4]),
        ([("gannet wire", 1992)], [3, 4]),
        ([("gannet wire", 1993)], [2, 3, 4]),
        ([("gannet wire", None)], [3, 4]),
        ([("gannet at the door", 1995)], [2, 4]),
        ([("door", 1995)], [2, 3, 4]),
    ],
)
def test_what_is_called_so_is_not_looked_for(titles: list[tuple[str, int | None]], missing: list[int]) -> None:
    told = films_lacking(GANNET.films, {"g1"}, titles, today=TODAY)
    assert [lack.number for lack in told] == missing
    assert [lack.is_out for lack in told] == [lack.number != 4 for lack in told]
    assert all(lack.is_known for lack in told)


def test_only_sets_of_which_something_is_here(films: Films) -> None:
    films.know(("s1", GANNET), ("s2", KnownSet("Others", (SetFilm("o1", "Other", "2001"),))))
    assert films.lacks() == {}
    films.add("Gannet Weather", 1988, 0, "g1")
    assert films.lacks() == {"The Gannet films": ["Gannet Wire", "A Gannet at the Door", "Gannet, Once More"]}
    films.add("Gannet Wire", 1991, 0, "g2", at=1)
    assert films.lacks() == {"The Gannet films": ["A Gannet at the Door", "Gannet, Once More"]}


def test_a_number_of_another_source_says_nothing(films: Films) -> None:
    films.know(("s1", GANNET))
    films.add("Gannet Weather", 1988, 0, "g1")
    films.add("Quite Another", 2004, 1, "g2")
    assert "Gannet Wire" in films.lacks()["The Gannet films"]
    films.add("Gannet Wire", 1991, 1, "z9")
    assert "Gannet Wire" not in films.lacks()["The Gannet films"], "it is here, another source knows it"


def test_a_namesake_that_the_source_told_apart_is_not_the_film(films: Films) -> None:
    films.know(("s1", GANNET))
    films.add("Gannet Weather", 1988, 0, "g1")
    films.add("Gannet Wire", 1991, 0, "g77")
    assert "Gannet Wire" in films.lacks()["The Gannet films"]


def test_what_is_said_later_counts(films: Films) -> None:
    films.know(("s1", GANNET))
    films.add("Gannet Weather", 1988, 0, "g1")
    films.know(("s1", KnownSet("Gannet", GANNET.films[1::-1])))
    assert films.lacks() == {"Gannet": ["Gannet Wire"]}
    with films.database.begin() as db:
        assert list(db.scalars(select(FilmSetFilm.title).order_by(FilmSetFilm.place))) == [
            "Gannet Wire",
            "Gannet Weather",
        ]
        db.delete(db.get_one(Source, films.sources[0]))
    with films.database.begin() as db:
        assert db.scalars(select(FilmSet)).all() == [], "it goes with its source"


@pytest.mark.parametrize("limit", [1, 2, 3, 60])
def test_pages_hold_each_set_once(films: Films, limit: int) -> None:
    for number in range(5):
        known = KnownSet(
            ["Ash", "The Bay", "Bay", "", "Ö"][number],
            tuple(SetFilm(f"f{number}{n}", f"{number} {n}", "1990") for n in range(2)),
        )
        films.know((f"s{number}", known))
        films.add(f"{number} 0", 1990, 0, f"f{number}0", at=number % 2)
    films.know(("whole", KnownSet("Whole", (SetFilm("f00", "0 0", "1990"),))))
    told: list[str] = []
    after: str | None = ""
    while after is not None:
        with films.database.begin() as db:
            page = lacking_page(db, today=TODAY, after=after, limit=limit)
        told += [one.title for one in page.rows]
        after = page.following
    assert sorted(told) == sorted(["Ash", "The Bay", "Bay", "", "Ö"])
    with films.database.begin() as db:
        page = lacking_page(db, today=TODAY, library_ids=[films.libraries[1]])
    assert {one.title for one in page.rows} == {"The Bay", ""}


def test_beside_the_films_whatever_a_person_calls_their_set(films: Films) -> None:
    films.know(("s1", GANNET), ("s2", KnownSet("All that blows", (*GANNET.films[:1], SetFilm("w", "Wind", "1970")))))
    one, two = films.add("Gannet Weather", 1988, 0, "g1"), films.add("Gannet Wire", 1991, 0, "g2")
    alone = films.add("Nobody asked", 1990)
    with films.database.begin() as db:
        both, none = [db.get_one(Entry, id_) for id_ in (one, two)], [db.get_one(Entry, alone)]
        told = lacking_beside(db, {"Birds": both, "Else": none, "Empty": []}, today=TODAY)
    assert {name: [lack.title for lack in lacks] for name, lacks in told.items()} == {
        "Birds": ["A Gannet at the Door", "Gannet, Once More"]
    }


def test_who_keeps_the_catalog_is_told(films: Films, owner: FlaskClient) -> None:
    films.know(("s1", GANNET))
    for number, title in enumerate(("Gannet Weather", "Gannet Wire"), 1):
        film = films.add(title, 1988, 0, f"g{number}")
        with films.database.begin() as db:
            db.add(Fact(entry_id=film, field="set", origin="source:First", value={"v": "The Gannet films"}))
    with films.database.begin() as db:
        settle_traits(db, limit=100)
    (row,) = owner.get("/api/missing").get_json()["rows"]
    assert (row["kind"], row["title"], [one["number"] for one in row["lacks"]]) == ("set", "The Gannet films", [3, 4])
    page = owner.get("/api/with?field=set&value=The Gannet films").get_json()
    assert [(one["title"], one["is_out"]) for one in page["lacks"]] == [
        ("A Gannet at the Door", True),
        ("Gannet, Once More", False),
    ]
    (group,) = owner.get("/api/shelves/films/by/set").get_json()["groups"]
    assert (group["value"], group["count"], len(group["lacks"])) == ("The Gannet films", 2, 2)
    assert owner.get("/api/shelves/films/by/decade").get_json()["groups"][0]["lacks"] == []
