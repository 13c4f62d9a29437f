"""Facts as JSON-LD, there and back."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.facts import facts_of_linked, linked_of_facts, plain_facts

FILM = {
    "@context": "https://schema.org",
    "@type": "Movie",
    "name": "Harbour Glass",
    "alternateName": ["Hafenglas"],
    "datePublished": "1987-04-11",
    "duration": "PT1H52M",
    "director": {"@type": "Person", "name": "Ida Marr"},
    "actor": [{"name": "Jon Vell"}, "Ama Reed"],
    "identifier": {"@type": "PropertyValue", "propertyID": "Almanac", "value": "f12"},
}


def test_a_film_is_read() -> None:
    assert facts_of_linked(FILM) == (
        "movie",
        {
            "title": "Harbour Glass",
            "aliases": ["Hafenglas"],
            "date": "1987-04-11",
            "year": 1987,
            "runtime": 6720.0,
            "directors": ["Ida Marr"],
            "cast": ["Jon Vell", "Ama Reed"],
            "ids": {"almanac": "f12"},
        },
    )


@pytest.mark.parametrize(
    ("document", "kind"),
    [
        ({"@graph": [{"@type": "WebSite"}, {"@type": "MusicAlbum", "name": "Kite"}]}, "album"),
        ([{"@type": ["Thing", "TVSeries"], "name": "Kite"}], "series"),
        ({"@type": "https://schema.org/Movie", "name": "Kite"}, "movie"),
        ({"@type": "schema:TVEpisode", "name": "Kite"}, "episode"),
        ({"@type": "Recipe", "name": "Kite"}, None),
        ({"name": "Kite"}, None),
        ([], None),
        (None, None),
        ("Movie", None),
        ({"@type": {"a": 1}}, None),
    ],
)
def test_what_a_document_is_about(document: object, kind: str | None) -> None:
    found = facts_of_linked(document)
    assert (found and found[0]) == kind


@pytest.mark.parametrize(
    ("written", "seconds"),
    [
        ("PT112M", 6720.0),
        ("PT45S", 45.0),
        ("P1DT1H", 90000.0),
        ("PT1H30M10.5S", 5410.5),
        ("soon", None),
        ("P", None),
        (7, None),
    ],
)
def test_durations(written: object, seconds: float | None) -> None:
    found = facts_of_linked({"@type": "Movie", "duration": written})
    assert found is not None
    assert found[1].get("runtime") == seconds


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=20),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(
            st.sampled_from(("@type", "@graph", "name", "duration", "actor", "identifier", "x")), inner, max_size=4
        )
    ),
    max_leaves=20,
)


@given(json_values)
def test_whatever_stands_in_a_sidecar_is_borne(document: object) -> None:
    found = facts_of_linked(document)
    json.dumps(found)
    json.dumps(plain_facts(document))


words = st.text(st.characters(codec="utf-8", categories=("L", "N")), min_size=1, max_size=12)
facts_of_a_film = st.fixed_dictionaries(
    {"title": words},
    optional={
        "plot": words,
        "genres": st.lists(words, min_size=1, max_size=3),
        "cast": st.lists(words, min_size=1, max_size=3),
        "directors": st.lists(words, min_size=1, max_size=2),
        "runtime": st.integers(1, 90000).map(float),
        "rating": words,
        "set": words,
        "tagline": words,
    },
)


@given(facts_of_a_film, st.dictionaries(words.map(str.lower), words, max_size=2))
def test_what_is_written_is_read_again(facts: dict[str, object], ids: dict[str, str]) -> None:
    found = facts_of_linked(json.loads(json.dumps(linked_of_facts("movie", facts, ids))))
    assert found == ("movie", {**facts, **({"ids": {k.lower(): v for k, v in ids.items()}} if ids else {})})


def test_plain_json_gives_known_fields_only() -> None:
    assert plain_facts({"title": "Kite", "cast": "Jon Vell", "year": 1987, "colour": "red", "plot": {"a": 1}}) == {
        "title": "Kite",
        "cast": ["Jon Vell"],
        "year": 1987,
    }
