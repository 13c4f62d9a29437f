"""Which files are old acquaintances under another name: by hand, and by laws that hold whatever lies on the disk."""

from __future__ import annotations

from collections.abc import Hashable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.identity import Body, Record, Stamp, recognise, same_as_found


def record(
    number: int, name: str, stamp: tuple[int, int, int], content: str | None = None, *, lost: bool = True
) -> Record:
    """A file that was known."""
    return Record(number, Stamp(*stamp), name, lost, content)


def body(number: int, name: str, stamp: tuple[int, int, int], *, new: bool = True) -> Body:
    """A file that was found."""
    return Body(number, Stamp(*stamp), name, new)


def holding(**contents: str) -> dict[int, str]:
    """Number of a body, as `b12`, → what it holds."""
    return {int(name[1:]): content for name, content in contents.items()}


def found(records: list[Record], bodies: list[Body], contents: dict[int, str] | None = None) -> dict[int, int]:
    """What is recognised, with contents told by hand."""
    held = contents or {}
    return recognise(records, bodies, lambda one: held.get(one.id))


@pytest.mark.parametrize(
    ("records", "bodies", "contents", "wanted"),
    [
        pytest.param([record(1, "a.mkv", (5, 9, 1))], [body(2, "b.mkv", (5, 9, 1))], {}, {2: 1}, id="renamed"),
        pytest.param([record(1, "a.mkv", (5, 9, 1))], [body(2, "b.mkv", (5, 9, 2))], {}, {}, id="inode used again"),
        pytest.param([record(1, "a.mkv", (0, 9, 1))], [body(2, "b.mkv", (0, 9, 1))], {}, {}, id="no inode at all"),
        pytest.param(
            [record(1, "a.mkv", (5, 9, 1), "x")],
            [body(2, "b.mkv", (6, 9, 2))],
            {2: "x"},
            {2: 1},
            id="copied and deleted",
        ),
        pytest.param(
            [record(1, "a.mkv", (5, 9, 1), "x")],
            [body(2, "b.mkv", (6, 9, 2))],
            {2: "y"},
            {},
            id="as large, and another",
        ),
        pytest.param(
            [record(1, "a.mkv", (5, 0, 1), "x")],
            [body(2, "b.mkv", (6, 0, 2))],
            {2: "x"},
            {},
            id="empty files are all alike",
        ),
        pytest.param(
            [record(1, "a.mkv", (5, 9, 1), lost=False), record(2, "b.mkv", (6, 9, 2), lost=False)],
            [body(1, "a.mkv", (6, 9, 2), new=False), body(2, "b.mkv", (5, 9, 1), new=False)],
            {},
            {1: 2, 2: 1},
            id="swapped",
        ),
        pytest.param(
            [record(1, "a.mkv", (5, 9, 1), "x", lost=False)],
            [body(1, "a.mkv", (5, 9, 3), new=False), body(2, "b.mkv", (7, 9, 2))],
            {1: "y", 2: "x"},
            {},
            id="a copy of what was changed afterwards is a copy",
        ),
        pytest.param(
            [record(1, "x/a.mkv", (5, 9, 1), "x"), record(2, "y/b.mkv", (6, 9, 1), "x")],
            [body(3, "z/b.mkv", (7, 9, 1)), body(4, "z/a.mkv", (8, 9, 1))],
            {3: "x", 4: "x"},
            {3: 2, 4: 1},
            id="among equals the same name",
        ),
    ],
)
def test_by_hand(records: list[Record], bodies: list[Body], contents: dict[int, str], wanted: dict[int, int]) -> None:
    assert found(records, bodies, contents) == wanted


def test_a_digest_that_differs_is_no_move() -> None:
    told = recognise(
        [record(1, "a.mkv", (5, 9, 1), "x")], [body(2, "b.mkv", (6, 9, 2))], lambda _: "x", lambda *_: False
    )
    assert told == {}


def test_nothing_is_read_where_no_size_fits() -> None:
    def read(_: Body) -> Hashable:
        raise AssertionError("it was read")

    assert recognise([record(1, "a.mkv", (5, 9, 1), "x")], [body(2, "b.mkv", (6, 10, 2))], read) == {}


stamps = st.tuples(st.integers(0, 6), st.integers(0, 3), st.integers(0, 3))
names = st.sampled_from(["a.mkv", "b.mkv", "x/a.mkv", "x/b.avi", "y/c.mkv"])
contents = st.sampled_from(["p", "q", None])


@st.composite
def disks(draw: st.DrawFn) -> tuple[list[Record], list[Body], dict[int, str]]:
    """Records 1 to n and bodies; a body of a record's number lies at its path."""
    records = [
        record(number, draw(names), draw(stamps), draw(contents), lost=draw(st.booleans()))
        for number in range(1, draw(st.integers(0, 6)) + 1)
    ]
    bodies = [body(one.id, one.name, draw(stamps), new=False) for one in records if not one.is_lost]
    bodies += [body(number, draw(names), draw(stamps)) for number in range(20, 20 + draw(st.integers(0, 6)))]
    held = {one.id: text for one in bodies if (text := draw(contents)) is not None}
    return records, bodies, held


@given(disks())
def test_laws(disk: tuple[list[Record], list[Body], dict[int, str]]) -> None:
    records, bodies, held = disk
    told = found(records, bodies, held)
    of_record, of_body = {one.id: one for one in records}, {one.id: one for one in bodies}
    assert set(told) <= set(of_body) and set(told.values()) <= set(of_record)
    assert len(set(told.values())) == len(told), "no record lies at two places"
    assert all(number != known for number, known in told.items()), "what stayed where it was is no move"
    for number, known in told.items():
        one, other = of_body[number], of_record[known]
        assert one.stamp.size_bytes == other.stamp.size_bytes
        assert one.stamp == other.stamp or held.get(number) == other.content
    free = [one for one in records if one.id not in told.values()]
    for one in bodies:
        if one.id not in told and one.stamp.inode:
            assert not [other for other in free if other.stamp == one.stamp and other.id != one.id], (
                "none is overlooked"
            )
    assert found(records, bodies, held) == told


def test_a_record_that_was_known_before_goes_before_one_seen_on_its_way() -> None:
    stamp = Stamp(7, 100, 5)
    known = Record(3, stamp, "Ferry 0/P1.jpg")
    passing = Record(9, stamp, "Ferry 1/P1.jpg", is_passing=True)
    body = Body(12, stamp, "Ferry 1/P1.jpg")
    found = recognise([passing, known], [body], lambda _: None)
    assert found == {12: 3}, "also where the other is called alike"
    assert same_as_found([passing, known], set(found.values())) == {9}


def test_a_passing_record_of_another_file_is_not_the_same() -> None:
    known = Record(3, Stamp(7, 100, 5), "Ferry 0/P1.jpg")
    other = Record(9, Stamp(8, 100, 5), "Ferry 1/P2.jpg", is_passing=True)
    nameless = Record(10, Stamp(0, 100, 5), "Ferry 1/P3.jpg", is_passing=True)
    assert same_as_found([known, other, nameless], {3}) == set()
    alone = Body(12, other.stamp, "Ferry 2/P2.jpg")
    assert recognise([known, other], [alone], lambda _: None) == {12: 9}, "where it is the only one it is followed"
    assert same_as_found([known, other], {9}) == set()
