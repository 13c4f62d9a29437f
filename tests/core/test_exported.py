"""The catalog as a table and as a graph: every entry once, whole, and nothing that a table program would carry out."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.facts.exported import COLUMNS, OWN_COLUMNS, graph_node, table_line
from indice.core.facts.linked import facts_of_linked

FILM: dict[str, Any] = {
    "key": "movie:tin lantern:1953",
    "kind": "movie",
    "title": "Tin Lantern",
    "year": 1953,
    "library": "Films",
    "files": ["Tin Lantern (1953)/a, b.mkv"],
    "source": "Almanac",
    "id": "f12",
    "state": "present",
    "added": "2030-01-01T00:00:00+00:00",
    "decision": "automatic",
    "facts": {
        "title": "Tin Lantern",
        "genres": ["Drama", "Sea"],
        "cast": ["Ada Reed"],
        "runtime": 6240.0,
        "plot": "A\nB",
    },
    "seen": True,
    "favourite": False,
    "rating": 8,
    "tags": ["rain"],
}


def test_a_line_of_the_table() -> None:
    told = dict(zip([*COLUMNS, *OWN_COLUMNS], table_line(FILM, is_own=True), strict=True))
    assert told["genres"] == "Drama | Sea" and told["runtime"] == "6240.0" and told["season"] == ""
    assert (told["seen"], told["favourite"], told["rating_own"], told["tags"]) == ("yes", "no", "8", "rain")
    assert told["rating"] == "", "the certificate is another rating than one's own"
    assert len(table_line(FILM, is_own=False)) == len(COLUMNS)


@given(st.text(), st.lists(st.text(), max_size=3))
def test_whatever_a_name_is_the_table_holds_it_and_carries_out_nothing(title: str, genres: list[str]) -> None:
    out = io.StringIO(newline="")
    csv.writer(out).writerow(table_line({**FILM, "title": title, "facts": {"genres": genres}}, is_own=False))
    (line,) = csv.reader(io.StringIO(out.getvalue(), newline=""))
    told = dict(zip(COLUMNS, line, strict=True))
    assert told["title"] in (title, f"'{title}")
    assert not any(cell.startswith(("=", "+", "-", "@", "\t", "\r")) for cell in line)


def test_a_thing_of_the_graph_is_read_again() -> None:
    node = json.loads(json.dumps(graph_node(FILM)))
    assert (node["@id"], node["@type"]) == ("urn:indice:movie:tin%20lantern:1953", "Movie")
    read = facts_of_linked({"@context": "https://schema.org", "@graph": [node]})
    assert read is not None and read[0] == "movie"
    assert read[1]["title"] == "Tin Lantern" and read[1]["genres"] == ["Drama", "Sea"]
    assert {one["propertyID"]: one["value"] for one in node["additionalProperty"]} == {
        "seen": True,
        "rating": 8,
        "tags": ["rain"],
    }
    assert node["associatedMedia"][0]["name"] == "Tin Lantern (1953)/a, b.mkv"


@pytest.mark.parametrize(
    ("kind", "number", "type_", "told"),
    [
        ("episode", 4, "TVEpisode", ("episodeNumber", 4)),
        ("season", 2, "TVSeason", ("seasonNumber", 2)),
        ("track", 7, "MusicRecording", ("position", 7)),
        ("photo", None, "Photograph", ("name", "P1")),
        ("clip", None, "VideoObject", ("name", "P1")),
        ("event", None, "Event", ("name", "P1")),
        ("something new", None, "CreativeWork", ("name", "P1")),
    ],
)
def test_each_kind_is_some_thing(kind: str, number: int | None, type_: str, told: tuple[str, Any]) -> None:
    node = graph_node({"key": "k", "parent": "above it", "kind": kind, "title": "P1", "number": number, "facts": {}})
    assert node["@type"] == type_ and node[told[0]] == told[1]
    assert node["isPartOf"] == [{"@id": "urn:indice:above%20it"}]
