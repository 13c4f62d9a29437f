"""Who is in most films: found by what nobody's number exceeds, and the same as
counting everybody finds, for whoever asks."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import delete, select, text

from indice.store import cast
from indice.store.cast import cast_of_most, even_cast, note_cast
from indice.store.database import Database
from indice.store.models import Entry
from indice.store.viewer import Viewer, bind_viewer

NAMES = ("Ada Quill", "Bo Tarn", "Cleo_Vane", "Dara Ümit", "Eli Frost", "Fenna Drost")
FILM = Entry.kind == "movie"
Film = tuple[list[str], int | None]
films = st.lists(
    st.tuples(st.lists(st.sampled_from(NAMES), unique=True, max_size=4), st.sampled_from([None, 0, 12, 18])),
    max_size=12,
)


def fill(database: Database, libraries: list[int], made: list[Film], *, noted: bool = True) -> None:
    """Films with who is in them, in both libraries by turns; noted as settling them would."""
    with database.begin() as db:
        db.execute(delete(Entry))
        db.execute(text("delete from cast_name"))
        for number, (names, age) in enumerate(made):
            row = Entry(library_id=libraries[number % 2], key=f"{number}", handle=f"{number}", kind="movie")
            row.title = row.sort_title = f"{number}"
            row.cast_names, row.age = names, age
            db.add(row)
        if noted:
            note_cast(db, [("movie", (), names) for names, _ in made])


def seen_by(viewer: Viewer | None, libraries: list[int], made: list[Film]) -> Counter[str]:
    """How many films of each name somebody may see, counted here."""
    found: Counter[str] = Counter()
    for number, (names, age) in enumerate(made):
        is_given = viewer is None or libraries[number % 2] in viewer.libraries
        if is_given and (viewer is None or viewer.age is None or age is None or age <= viewer.age):
            found.update(names)
    return found


def asked(database: Database, viewer: Viewer | None, *, like: str = "", limit: int = 3) -> list[tuple[str, int]]:
    with database.begin() as db:
        if viewer is not None:
            bind_viewer(db, viewer)
        return cast_of_most(db, "movie", [FILM], like=like, limit=limit)


@pytest.mark.parametrize("at_once", [(1, 1), (2, 3), (80, 400)])
@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
@given(made=films, age=st.sampled_from([None, 6, 18]), of_all=st.booleans(), limit=st.integers(1, 4))
def test_those_in_most_are_what_counting_finds(
    database: Database,
    libraries: list[int],
    at_once: tuple[int, int],
    made: list[Film],
    age: int | None,
    of_all: bool,
    limit: int,
) -> None:
    fill(database, libraries, made)
    given_ = frozenset(libraries if of_all else libraries[:1])
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(cast, "_AT_ONCE", at_once)
        for viewer in (None, Viewer(1, role="member", libraries=given_, age=age)):
            found = asked(database, viewer, limit=limit)
            wanted = seen_by(viewer, libraries, made)
            assert all(wanted[name] == count for name, count in found), "each number is the true one"
            numbers = sorted(wanted.values(), reverse=True)[:limit]
            assert [count for _, count in found] == numbers, "and nobody is in more"


def test_letters_are_letters_and_names_that_nobody_may_see_are_not_told(
    database: Database, libraries: list[int]
) -> None:
    fill(database, libraries, [(["Ada Quill", "Cleo_Vane"], 18), (["Ada Quill"], 0), (["Dara Ümit"], None)])
    child = Viewer(1, role="member", libraries=frozenset(libraries), age=6)
    assert asked(database, None) == [("Ada Quill", 2), ("Cleo_Vane", 1), ("Dara Ümit", 1)]
    assert asked(database, child) == [("Ada Quill", 1), ("Dara Ümit", 1)]
    assert asked(database, None, like=r"%\_%") == [("Cleo_Vane", 1)]
    assert asked(database, child, like="%cleo%") == []
    assert asked(database, None, like="%ümit%") == [("Dara Ümit", 1)]
    assert asked(database, Viewer(2, role="guest")) == []


def noted(database: Database) -> dict[str, int]:
    with database.begin() as db:
        rows = db.execute(text("select name, most from cast_name where most > 0"))
        return dict(tuple(row) for row in rows)


def test_what_has_gone_is_told_no_more_and_counted_anew_later(database: Database, libraries: list[int]) -> None:
    fill(database, libraries, [(["Ada Quill", "Bo Tarn"], 0), (["Ada Quill"], 0)])
    with database.begin() as db:
        db.execute(delete(Entry).where(Entry.title == "0"))
    assert asked(database, None) == [("Ada Quill", 1)], "though more are noted"
    assert noted(database) == {"Ada Quill": 2, "Bo Tarn": 1}
    with database.begin() as db:
        even_cast(db)
    assert noted(database) == {"Ada Quill": 1}


def test_what_came_by_another_way_is_counted(database: Database, libraries: list[int]) -> None:
    fill(database, libraries, [(["Ada Quill", "Bo Tarn"], 0), (["Ada Quill"], 0)], noted=False)
    with database.begin() as db:
        even_cast(db)
    assert noted(database) == {"Ada Quill": 2, "Bo Tarn": 1}
    assert asked(database, None) == [("Ada Quill", 2), ("Bo Tarn", 1)]


def test_a_cast_that_changes_moves_the_numbers_along(database: Database, libraries: list[int]) -> None:
    fill(database, libraries, [(["Ada Quill", "Bo Tarn"], 0)])
    with database.begin() as db:
        film = db.scalars(select(Entry)).one()
        note_cast(db, [("movie", film.cast_names, ["Bo Tarn", "Eli Frost"]), ("movie", ["Bo Tarn"], ["Bo Tarn"])])
        film.cast_names = ["Bo Tarn", "Eli Frost"]
    assert noted(database) == {"Bo Tarn": 1, "Eli Frost": 1}
    with database.begin() as db:
        note_cast(db, [])
    assert asked(database, None) == [("Bo Tarn", 1), ("Eli Frost", 1)]
