"""Kept sums of traits equal what counting finds, whatever happened to the entries."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import delete, select, text, update

from indice.store.database import Database
from indice.store.models import Entry, Library
from indice.store.trait_sums import fold_sums, whole_counts
from indice.store.traits import count_traits
from indice.store.viewer import Viewer, bind_viewer, may_see

KINDS = ("movie", "photo")
TRAITS = ("genre:Drama", "genre:Crime", "decade:1980", "library:1")
made = st.tuples(
    st.just("make"),
    st.sampled_from(KINDS),
    st.lists(st.sampled_from(TRAITS), unique=True, max_size=3),
    st.sampled_from([None, 0, 12, 18]),
)
changed = st.one_of(
    st.tuples(st.just("traits"), st.integers(0, 5), st.lists(st.sampled_from(TRAITS), unique=True, max_size=3)),
    st.tuples(st.just("age"), st.integers(0, 5), st.sampled_from([None, 6, 18])),
    st.tuples(st.just("limit_age"), st.integers(0, 5), st.sampled_from([0, 16])),
    st.tuples(st.just("library"), st.integers(0, 5), st.just(0)),
    st.tuples(st.just("title"), st.integers(0, 5), st.just("another")),
    st.tuples(st.just("remove"), st.integers(0, 5), st.just(0)),
    st.tuples(st.just("fold"), st.just(0), st.just(0)),
)
VIEWERS = (
    None,
    Viewer(1, role="member", libraries=frozenset({1})),
    Viewer(2, role="member", libraries=frozenset({1, 2}), age=12),
    Viewer(3, role="member", libraries=frozenset({2}), age=12, sees_unrated=False),
)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(made, min_size=1, max_size=6), st.lists(changed, max_size=10))
def test_sums_are_what_counting_finds(
    database: Database,
    libraries: list[int],
    entries: list[tuple[str, str, list[str], int | None]],
    steps: list[tuple[str, int, object]],
) -> None:
    with database.begin() as db:
        db.execute(delete(Entry))
        for number, (_, kind, traits, age) in enumerate(entries):
            row = Entry(library_id=libraries[number % 2], key=f"{number}", handle=f"{number}", kind=kind)
            row.title = row.sort_title = f"{number}"
            row.traits, row.age = traits, age
            db.add(row)
    for what, place, value in steps:
        with database.begin() as db:
            ids = list(db.scalars(select(Entry.id).order_by(Entry.id)))
            one = ids[place % len(ids)] if ids else 0
            if what == "fold":
                fold_sums(db)
            elif what == "remove":
                db.execute(delete(Entry).where(Entry.id == one))
            elif what == "library":
                db.execute(text("update entry set library_id = :to where id = :id"), {"to": libraries[1], "id": one})
            else:
                db.execute(update(Entry).where(Entry.id == one).values({what: value}))
    for viewer in VIEWERS:
        for kind in KINDS:
            with database.begin() as db:
                seen = [Entry.kind == kind]
                if viewer is not None:
                    bind_viewer(db, viewer)
                    seen.append(may_see(viewer))
                assert whole_counts(db, [kind]) == count_traits(db, seen)
                genres = {name: count for name, count in count_traits(db, seen).items() if name.startswith("genre:")}
                assert whole_counts(db, [kind], group="genre") == genres


def test_a_library_that_goes_takes_its_sums_along(database: Database, libraries: list[int]) -> None:
    with database.begin() as db:
        for number in range(6):
            row = Entry(library_id=libraries[number % 2], key=f"{number}", handle=f"{number}", kind="movie")
            row.title = row.sort_title = f"{number}"
            row.traits = ["genre:Drama"]
            db.add(row)
    with database.begin() as db:
        assert whole_counts(db, ["movie"]) == {"genre:Drama": 6}
        db.execute(delete(Library).where(Library.id == libraries[0]))
    with database.begin() as db:
        assert whole_counts(db, ["movie"]) == {"genre:Drama": 3}
        fold_sums(db)
        assert db.execute(text("select library_id, count from trait_sum")).all() == [(libraries[1], 3)]
