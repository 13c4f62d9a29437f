"""Names that are no entries are found by parts of them, and nobody hears of what they may not see."""

from __future__ import annotations

import pytest
from sqlalchemy import select

from indice.store.database import Database
from indice.store.models import Entry, Fact, Library
from indice.store.named import Named, named_like
from indice.store.viewer import Viewer, bind_viewer

CHILD = Viewer(1, role="member", libraries=frozenset({1}), age=12)
GUEST_OF_ONE = Viewer(2, role="member", libraries=frozenset({1}))


@pytest.fixture
def household(database: Database) -> Database:
    """Two libraries: films of which one is for adults, photos of two towns."""
    with database.begin() as db:
        db.add_all([Library(id=1, name="Films", kind="movies"), Library(id=2, name="Photos", kind="photos")])
        db.flush()
        films = [
            ("Kettle Morning", 6, ["Odile Varn", "Bram Tessel"], ["genre:Heist"]),
            ("Slow Tin", 18, ["Odile Varn"], ["genre:Heist", "director:Odile Varn"]),
        ]
        for title, age, directors, traits in films:
            film = Entry(
                library_id=1,
                kind="movie",
                title=title,
                key=title,
                sort_title=title,
                search=title,
                age=age,
                traits=traits,
            )
            db.add(film)
            db.flush()
            db.add(Fact(entry_id=film.id, field="directors", origin="hand", value={"v": directors}))
            db.add(
                Fact(entry_id=film.id, field="cast", origin="hand", value={"v": ['Jo "Varnish" Ault', "Ирина Вольт"]})
            )
            db.add(Fact(entry_id=film.id, field="writers", origin="hand", value={"v": "Bram Tessel"}))
        for number, town in enumerate(("Varnholm", "Varnholm", "Alt-Varn", "Lisera")):
            photo = f"photo{number}"
            db.add(
                Entry(
                    library_id=2,
                    kind="photo",
                    title=photo,
                    key=photo,
                    sort_title=photo,
                    search=photo,
                    traits=[f"town:{town}", "camera:Varn 3"],
                )
            )
    return database


def told(database: Database, words: str, viewer: Viewer | None = None, limit: int = 20) -> list[tuple[str, str, int]]:
    with database.begin() as db:
        if viewer is not None:
            bind_viewer(db, viewer)
        return [(one.group, one.value, one.count) for one in named_like(db, words, limit=limit)]


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        ("varn", [("town", "Varnholm", 2), ("credit", 'Jo "Varnish" Ault', 2), ("credit", "Odile Varn", 2), ("town", "Alt-Varn", 1)]),
        ("odile v", [("credit", "Odile Varn", 2)]),
        ("TESSEL", [("credit", "Bram Tessel", 2)]),
        ("вольт", [("credit", "Ирина Вольт", 2)]),
        ("heist", [("genre", "Heist", 2)]),
        ("town", []),
        ("genre:heist", []),
        ("va", []),
        ("%_%", []),
        ("", []),
    ],
)  # fmt: skip
def test_names_are_found_by_parts_of_them(
    household: Database, words: str, expected: list[tuple[str, str, int]]
) -> None:
    assert told(household, words) == expected


def test_only_so_many_are_told(household: Database) -> None:
    assert [value for _, value, _ in told(household, "varn", limit=2)] == ["Varnholm", 'Jo "Varnish" Ault']


def test_what_one_may_not_see_is_neither_named_nor_counted(household: Database) -> None:
    assert told(household, "varn", CHILD) == [("credit", 'Jo "Varnish" Ault', 1), ("credit", "Odile Varn", 1)]
    assert told(household, "varnholm", GUEST_OF_ONE) == []
    assert told(household, "heist", CHILD) == [("genre", "Heist", 1)]
    with household.begin() as db:
        db.delete(db.scalars(select(Entry).where(Entry.title == "Kettle Morning")).one())
    assert told(household, "odile", CHILD) == []


def test_it_says_what_a_name_is_of(household: Database) -> None:
    with household.begin() as db:
        assert named_like(db, "varnholm", limit=1) == [Named("town", "Varnholm", "photo", 2)]
