"""Tables of names, one a family, in text files: what each states, looked at line by line. All names are made up."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from indice.core.reading.reader import read_path

ROWS = [
    pytest.param(row["path"], row["library"], row["expect"], id=f"{table.stem}: {row['path']}")
    for table in sorted((Path(__file__).parent / "data").glob("*.jsonl"))
    for row in map(json.loads, table.read_text("utf-8").splitlines())
]


@pytest.mark.parametrize(("path", "library", "expect"), ROWS)
def test_a_name_says_what_the_table_says(path: str, library: str, expect: dict[str, Any]) -> None:
    assert read_path(path, library).values() == expect
