"""What people teach changes readings, and nothing else."""

from __future__ import annotations

import pytest

from indice.core.reading.corrections import Correction, apply_corrections
from indice.core.reading.reader import read_path

HERE = "Room 1912 Winter Print (2013)/Room 1912 Winter Print (2013).mkv"
BESIDE = "Room 1912 Winter Print (2013)/Room 1912 Winter Print (2013).en.srt"


@pytest.mark.parametrize(
    ("correction", "facts"),
    [
        (Correction(path=HERE, siblings=False, field="year", action="drop"), {"title": "Room 1912 Winter Print"}),
        (
            Correction(path=HERE, siblings=False, field="title", action="cut", value="Winter Print"),
            {"title": "Room 1912", "year": 2013},
        ),
        (
            Correction(path=HERE, siblings=False, field="title", action="set", value="Room"),
            {"title": "Room", "year": 2013},
        ),
        (
            Correction(path=HERE, siblings=False, field="title", action="cut", value="Room"),
            {"title": "Room 1912 Winter Print", "year": 2013},
        ),
        (
            Correction(path=HERE, siblings=False, field="title", action="cut", value="elsewhere"),
            {"title": "Room 1912 Winter Print", "year": 2013},
        ),
        (
            Correction(path="other.mkv", siblings=False, field="year", action="drop"),
            {"title": "Room 1912 Winter Print", "year": 2013},
        ),
    ],
    ids=["drop", "cut", "set", "nothing would be left", "nothing to cut", "another file"],
)
def test_corrections(correction: Correction, facts: dict[str, object]) -> None:
    assert apply_corrections(HERE, read_path(HERE, "movies"), [correction]).values() == {"kind": "movie", **facts}


def test_siblings_follow_when_they_should() -> None:
    for siblings in (False, True):
        correction = Correction(path=HERE, siblings=siblings, field="title", action="cut", value="Winter Print")
        read = apply_corrections(BESIDE, read_path(BESIDE, "movies"), [correction])
        assert read.get("title") == ("Room 1912" if siblings else "Room 1912 Winter Print")


def test_the_span_ends_where_the_title_ends() -> None:
    correction = Correction(path=HERE, siblings=False, field="title", action="cut", value="Winter Print")
    fact = apply_corrections(HERE, read_path(HERE, "movies"), [correction]).facts["title"]
    assert HERE[slice(*fact.spans[0])] == "Room 1912"
