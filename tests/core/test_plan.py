"""Plans: order, rings, collisions, and the law that doing the steps gives what was wanted."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from indice.core.naming.plan import Plan, as_it_should_be, make_plan

from .test_checks import listing_of


def carried_out(plan: Plan, names: set[str]) -> dict[str, str]:
    """Where every file lies after the steps; fails when a step takes a name that is taken."""
    where = {name: name for name in names}
    for step in plan.steps:
        assert step.before in where, step
        assert step.after not in where, step
        above = step.after
        while above := above.rpartition("/")[0]:
            assert above not in where, f"{step}: a file lies where its folder will"
        where[step.after] = where.pop(step.before)
    return {origin: place for place, origin in where.items()}


@pytest.mark.parametrize(
    ("moves", "names", "steps", "conflicts"),
    [
        ([("a", "b")], ["a"], 1, []),
        ([("a", "b"), ("b", "c")], ["a", "b"], 2, []),
        ([("a", "b"), ("b", "a")], ["a", "b"], 3, []),
        ([("a", "b"), ("b", "c"), ("c", "a"), ("d", "e")], ["a", "b", "c", "d"], 5, []),
        ([("a", "A")], ["a"], 2, []),
        ([("a", "b")], ["a", "b"], 0, ["a"]),
        ([("a", "B")], ["a", "b"], 0, ["a"]),
        ([("a", "c"), ("b", "c")], ["a", "b"], 0, ["a", "b"]),
        ([("a", "c"), ("b", "C")], ["a", "b"], 0, ["a", "b"]),
        ([("a", "b"), ("b", "x")], ["a", "b", "x"], 0, ["a", "b"]),
        ([("a", "b/c")], ["a", "b"], 0, ["a"]),
        ([("a", "b")], ["a", "b/c"], 0, ["a"]),
        ([("a", "b"), ("c", "b/d")], ["a", "c"], 1, ["a"]),
        ([("a", "../b")], ["a"], 0, ["a"]),
        ([("a", "b//c")], ["a"], 0, ["a"]),
        ([("a", "x" * 256)], ["a"], 0, ["a"]),
        ([("gone", "b")], ["a"], 0, ["gone"]),
        ([("a", "b"), ("a", "c")], ["a"], 1, ["a"]),
        ([("a", "a")], ["a"], 0, []),
        ([("a", "d/a"), ("A", "b"), ("d/a", "a")], ["a", "A", "d/a"], 4, []),
        ([("a", "A"), ("A", "b")], ["a", "A"], 3, []),
        ([("a", "d/x"), ("d", "e")], ["a", "d"], 2, []),
        ([("a", "a/x")], ["a"], 2, []),
        ([("a", "d/x"), ("d", "a/y")], ["a", "d"], 3, []),
    ],
)
def test_plans(moves: list[tuple[str, str]], names: list[str], steps: int, conflicts: list[str]) -> None:
    plan = make_plan(moves, names)
    assert len(plan.steps) == steps
    assert [conflict.before for conflict in plan.conflicts] == conflicts
    assert all(conflict.why.endswith(".") for conflict in plan.conflicts)
    carried_out(plan, set(names))


def test_two_names_that_differ_in_case_are_two_where_the_system_says_so() -> None:
    assert len(make_plan([("a", "B")], ["a", "b"], folds_case=False).steps) == 1


paths = st.sampled_from(["a", "b", "c", "A", "d/a", "d/b", "d/e/f", "e", "d", "é", "e\u0301"])


@given(st.lists(st.tuples(paths, paths), max_size=9), st.sets(paths, max_size=9), st.booleans())
@settings(max_examples=600, deadline=None)
def test_the_steps_do_what_was_wanted_and_nothing_else(
    moves: list[tuple[str, str]], names: set[str], folds_case: bool
) -> None:
    names = {name for name in names if not any(other.startswith(name + "/") for other in names)}
    plan = make_plan(moves, names, folds_case=folds_case)
    where = carried_out(plan, names)
    assert set(where) == names
    for origin, place in where.items():
        assert place == dict(plan.moves).get(origin, origin)
    moved = {c.before for c in plan.conflicts} | {before for before, _ in plan.moves}
    assert {before for before, after in moves if before != after} <= moved


@given(st.lists(st.tuples(paths, paths), max_size=6), st.sets(paths, max_size=14))
@settings(max_examples=600, deadline=None)
def test_what_lies_elsewhere_makes_no_difference(moves: list[tuple[str, str]], names: set[str]) -> None:
    """It is enough to know of the files in directories that moves begin or end
    in, by any spelling, and in those above."""
    names = {name for name in names if not any(other.startswith(name + "/") for other in names)}
    near = {""}
    for path in (path for move in moves for path in move):
        while path := path.rpartition("/")[0]:
            near.add(path.casefold())
    around = {name for name in names if name.rpartition("/")[0].casefold() in near}
    folders = {name[:place] for name in names for place, letter in enumerate(name) if letter == "/"}
    assert make_plan(moves, around, folders) == make_plan(moves, names)


def test_a_whole_library_as_it_should_be() -> None:
    listing = listing_of(
        "movies",
        [
            "harbour.glass.1987.1080p.mkv",
            "harbour.glass.1987.1080p.en.srt",
            "Tin Orchard (2001)/Tin Orchard (2001).mkv",
            "Salt Row/Salt Row (1991).avi",
            "Salt Row/poster.jpg",
            "Salt Row/Trailers/teaser.mp4",
        ],
    )
    assert dict(as_it_should_be(listing)) == {
        "harbour.glass.1987.1080p.mkv": "harbour glass (1987)/harbour glass (1987).mkv",
        "harbour.glass.1987.1080p.en.srt": "harbour glass (1987)/harbour glass (1987).en.srt",
        "Salt Row/Salt Row (1991).avi": "Salt Row (1991)/Salt Row (1991).avi",
        "Salt Row/poster.jpg": "Salt Row (1991)/poster.jpg",
        "Salt Row/Trailers/teaser.mp4": "Salt Row (1991)/Trailers/teaser.mp4",
    }


def test_what_is_tidy_stays() -> None:
    listing = listing_of(
        "series",
        [
            "Drama/Lantern Street (2011)/Season 01/Lantern Street - S01E01 - The Key.mkv",
            "Drama/Lantern Street (2011)/Season 01/Lantern Street - S01E01 - The Key.en.srt",
            "Drama/Lantern Street (2011)/poster.jpg",
        ],
    )
    assert as_it_should_be(listing) == ()


def test_what_goes_beside_is_called_as_the_convention_says() -> None:
    names = [
        "Harbour Glass (1987)/Harbour Glass (1987).mkv",
        "Harbour Glass (1987)/Harbour.Glass.1987.English.forced.srt",
        "Harbour Glass (1987)/Harbour Glass (1987)-poster.jpg",
        "Harbour Glass (1987)/Subs/2_German.srt",
        "Harbour Glass (1987)/Bloopers/on the pier.mp4",
        "Harbour Glass (1987)/one.srt",
    ]
    assert dict(as_it_should_be(listing_of("movies", names))) == {
        names[1]: "Harbour Glass (1987)/Harbour Glass (1987).en.forced.srt",
        names[2]: "Harbour Glass (1987)/poster.jpg",
        names[3]: "Harbour Glass (1987)/Harbour Glass (1987).de.srt",
    }
    flat = dict(as_it_should_be(listing_of("movies", names, convention="Flat")))
    assert flat[names[0]] == "Harbour Glass (1987).mkv"
    assert flat[names[2]] == "Harbour Glass (1987)-poster.jpg"
    assert flat[names[4]] == "Harbour Glass (1987) - on the pier bloopers.mp4"


def test_two_that_would_get_one_name_keep_their_endings() -> None:
    names = [
        "Salt Row (1991)/Salt Row (1991).mkv",
        "Salt Row (1991)/Salt Row (1991).eng.srt",
        "Salt Row (1991)/Salt Row (1991).english.srt",
    ]
    assert as_it_should_be(listing_of("movies", names)) == ()


def test_bringing_into_form_twice_changes_nothing_more() -> None:
    names = [
        "harbour.glass.1987.1080p.mkv",
        "harbour.glass.1987.1080p.eng.srt",
        "Salt Row/Salt Row (1991).avi",
        "Salt Row/folder.jpg",
        "Salt Row/Trailers/first trailer.mp4",
    ]
    for convention in ("Roomy", "Flat", "Careful", "Shoebox"):
        moved = dict(as_it_should_be(listing_of("movies", names, convention=convention)))
        after = [moved.get(name, name) for name in names]
        again = as_it_should_be(listing_of("movies", after, convention=convention))
        assert again == (), convention
