"""Arrays arrive in the database as they were, whatever stands in them."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from indice.store.among import among, among_sizes, among_words
from indice.store.database import Database

WORDS = st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\0"), max_size=12)
TOUCHY = ['"', "\\", '\\"', ",", "{", "}", "{}", "", " ", "null", "NULL", "'", '","', "\u2003", "é", "日本"]
QUIETLY = settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)


def back(db: Session, kind: str, values: list[Any]) -> Any:
    """What the database makes of a list."""
    return db.execute(text(f"select cast(:told as {kind}[])"), {"told": values}).scalar_one()


@QUIETLY
@given(st.lists(st.one_of(WORDS, st.sampled_from(TOUCHY)), max_size=9))
@example(TOUCHY)
@example([""])
def test_texts(database: Database, words: list[str]) -> None:
    with database.begin() as db:
        assert back(db, "text", words) == words


@QUIETLY
@given(st.lists(st.integers(-(2**63), 2**63 - 1), max_size=9))
def test_numbers(database: Database, numbers: list[int]) -> None:
    with database.begin() as db:
        assert back(db, "bigint", numbers) == numbers


@QUIETLY
@given(st.lists(st.one_of(st.none(), st.sampled_from(TOUCHY)), max_size=6))
def test_texts_and_nothing(database: Database, words: list[str | None]) -> None:
    with database.begin() as db:
        assert back(db, "text", words) == words


def test_truth_and_bytes_and_lists_in_lists(database: Database) -> None:
    with database.begin() as db:
        assert back(db, "boolean", [True, False]) == [True, False]
        assert back(db, "bytea", [b"\0\\", b""]) == [b"\0\\", b""]
        assert back(db, "integer", [[1, 2], [3, 4]]) == [[1, 2], [3, 4]]


def test_a_text_that_no_text_of_the_database_can_be_is_refused(database: Database) -> None:
    with pytest.raises(DBAPIError), database.begin() as db:
        back(db, "text", ["a", "b\0c"])


def test_a_number_that_is_too_large_is_refused(database: Database) -> None:
    with pytest.raises(DBAPIError), database.begin() as db:
        back(db, "integer", [1, 2**31])


def test_what_is_asked_for_among_many(database: Database) -> None:
    """More than single parameters could be."""
    numbers = func.generate_series(1, 100_000).table_valued("n").render_derived()
    with database.begin() as db:
        query = select(func.count()).select_from(numbers)
        assert db.scalar(query.where(among(numbers.c.n, range(1, 90_001)))) == 90_000
        assert db.scalar(query.where(among_sizes(numbers.c.n, [5, 2**40]))) == 1
        words = [f'"{n}\\' for n in range(70_000)]
        written = func.concat('"', numbers.c.n, "\\")
        assert db.scalar(query.where(among_words(written, words))) == 69_999
