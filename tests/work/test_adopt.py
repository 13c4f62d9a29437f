"""What of a source's fields is kept, and in which form."""

from __future__ import annotations

from typing import Any

import pytest

from indice.work.adopt import _facts as facts_of  # pyright: ignore[reportPrivateUsage]
from indice.work.adopt import first_number, name_of, references_of


@pytest.mark.parametrize(
    ("values", "number"),
    [
        ([3], 3),
        ([3.0], 3),
        (["3"], 3),
        ([" 12 "], 12),
        ([None, "", 4], 4),
        ([True], None),
        (["three"], None),
        ([], None),
    ],
)
def test_numbers_in_whatever_form(values: list[Any], number: int | None) -> None:
    assert first_number({"season": values}, "season") == number


@pytest.mark.parametrize(
    ("cell", "text"), [("Kite", "Kite"), ({"id": "a", "name": "Kite"}, "Kite"), ({"id": "a"}, ""), (7, "7")]
)
def test_texts_of_cells(cell: Any, text: str) -> None:
    assert name_of(cell) == text


@pytest.mark.parametrize(
    ("kind", "fields", "ids"),
    [
        ("series", {"episodes": [{"id": "e1", "name": "One"}, {"id": "e2"}, "loose", {"name": "no id"}]}, ["e1", "e2"]),
        ("album", {"tracks": [{"id": 5}]}, ["5"]),
        ("movie", {"episodes": [{"id": "e1"}]}, []),
        ("series", {}, []),
    ],
)
def test_references(kind: str, fields: dict[str, list[Any]], ids: list[str]) -> None:
    assert references_of(fields, kind) == ids


@pytest.mark.parametrize(
    ("kind", "fields", "facts"),
    [
        (
            "movie",
            {"title": ["Kite", "Other"], "plot": [""], "genres": ["Drama", None]},
            {"title": "Kite", "genres": ["Drama"]},
        ),
        ("movie", {"rating": ["AT: 12", "DE: 16"]}, {"rating": "12", "certificates": ["AT: 12", "DE: 16"]}),
        ("movie", {"rating": ["16"]}, {"rating": "16"}),
        ("movie", {"directors": [{"id": "p1", "name": "Ida Marr"}]}, {"directors": ["Ida Marr"]}),
        ("movie", {"set": [{"id": "c1", "name": "Kites"}]}, {"set": "Kites"}),
        (
            "movie",
            {"artwork": ["a", "b"], "backdrop": ["c", None]},
            {"pictures": {"poster": ["a", "b"], "backdrop": ["c"]}},
        ),
        ("album", {"artwork": ["a"], "tracks": [{"id": "t"}]}, {"pictures": {"cover": ["a"]}}),
        ("artist", {"artwork": ["a"]}, {"pictures": {"portrait": ["a"]}}),
        ("episode", {"artwork": [{"id": "x"}]}, {}),
    ],
)
def test_what_is_kept(kind: str, fields: dict[str, list[Any]], facts: dict[str, Any]) -> None:
    assert facts_of(fields, kind, "AT") == facts
