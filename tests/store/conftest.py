"""What tests of questions to the database have in common."""

from __future__ import annotations

import pytest

from indice.store.database import Database
from indice.store.models import Library


@pytest.fixture
def libraries(database: Database) -> list[int]:
    """Two libraries of films."""
    with database.begin() as db:
        found = [Library(name=name, kind="movies") for name in ("First", "Second")]
        db.add_all(found)
        db.flush()
        return [one.id for one in found]
