"""Many rows in one statement, with columns that are the same in all of them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import delete, select

from indice.store.bulk import insert_rows, update_rows
from indice.store.database import Database
from indice.store.files import save_files
from indice.store.models import File, Listing

from ..work.test_grouping_near import as_found, empty_library


@pytest.fixture
def folder_id(database: Database, tmp_path: Any) -> int:
    """A folder of a library that holds nothing."""
    with database.begin() as db:
        return empty_library(db, "movies", tmp_path)[1]


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(st.dictionaries(st.binary(min_size=1, max_size=30), st.binary(max_size=20), max_size=12))
def test_binary_values_come_back_as_they_were(database: Database, folder_id: int, rows: dict[bytes, bytes]) -> None:
    told = [{"path": path, "signature": signature} for path, signature in rows.items()]
    with database.begin() as db:
        db.execute(delete(Listing))
        insert_rows(db, Listing, told, fixed={"folder_id": folder_id})
    with database.begin() as db:
        found = {bytes(one.path): bytes(one.signature) for one in db.scalars(select(Listing))}
    assert found == rows


def test_what_is_the_same_in_all_rows_is_told_once(database: Database, folder_id: int) -> None:
    with database.begin() as db:
        made = save_files(db, folder_id, [as_found(db, "movies", f"Tin Bell {n} (2001).mkv") for n in range(3)])
        assert [one.is_new for one in made] == [True] * 3
        again = save_files(db, folder_id, [as_found(db, "movies", "Tin Bell 1 (2001).mkv")])
        assert [(one.path, one.is_new) for one in again] == [(b"Tin Bell 1 (2001).mkv", False)]
    with database.begin() as db:
        files = list(db.scalars(select(File)))
    assert {(f.state, f.problem, f.serves, f.looked_by, f.media, f.gone_at) for f in files} == {
        ("present", "", "", 0, None, None)
    }
    assert len({f.added_at for f in files}) == 1


def test_no_rows_are_no_statement(database: Database, folder_id: int) -> None:
    with database.begin() as db:
        assert insert_rows(db, File, [], fixed={"folder_id": folder_id}) == []
        assert save_files(db, folder_id, []) == []


def test_moments_and_nothing_are_told_apart(database: Database, folder_id: int) -> None:
    moment = datetime(2026, 3, 4, 5, 6, 7, tzinfo=UTC)
    with database.begin() as db:
        first, second = save_files(
            db, folder_id, [as_found(db, "movies", path) for path in ("Fen (1981).mkv", "Gull (1982).mkv")]
        )
        update_rows(db, File, [{"id": first.id, "gone_at": moment}, {"id": second.id, "gone_at": None}])
    with database.begin() as db:
        assert db.get_one(File, first.id).gone_at == moment
        assert db.get_one(File, second.id).gone_at is None
