"""Values from outside at the door: what a record can hold passes, everything else costs itself."""

from __future__ import annotations

import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.facts.clean import DEEPEST, clean_fact, clean_facts, clean_text, clean_value

JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(),
    lambda inner: st.lists(inner, max_size=5) | st.dictionaries(st.text(max_size=8), inner, max_size=5),
    max_leaves=30,
)


@pytest.mark.parametrize(
    ("field", "value", "kept"),
    [
        ("year", 1987, 1987),
        ("year", "1987", 1987),
        ("year", 1987.0, 1987),
        ("year", 1987.5, None),
        ("year", 10**30, None),
        ("year", float("inf"), None),
        ("year", "²", None),
        ("year", True, None),
        ("season", 0, 0),
        ("season", -1, None),
        ("runtime", "102,5", 102.5),
        ("runtime", 0, None),
        ("runtime", float("nan"), None),
        ("date", "1987", "1987"),
        ("date", "1987-13", None),
        ("date", "1987-04-31T25:00", "1987-04-31T25:00"),
        ("date", {"name": "1987-04"}, "1987-04"),
        ("title", 1931, "1931"),
        ("title", "a\0b", "a\ufffdb"),
        ("title", "\ud800", None),
        ("title", "  ", None),
        ("title", ["Kite", "Weir"], "Kite"),
        ("title", {"id": "x", "name": "Kite"}, "Kite"),
        ("genres", ["a", None, 7, ["x"], {"name": "b"}], ["a", "7", "b"]),
        ("genres", [], None),
        ("cast", "Ada", "Ada"),
    ],
)
def test_a_field_holds_what_it_can(field: str, value: Any, kept: Any) -> None:
    assert clean_fact(field, value) == kept


def test_one_bad_value_leaves_the_others() -> None:
    kept, left = clean_facts({"title": "Kite", "runtime": math.inf, "year": "soon", "plot": "", "genres": ["a"]})
    assert kept == {"title": "Kite", "genres": ["a"]} and left == ["runtime", "year"]


@given(JSON)
def test_what_passes_is_json_that_a_database_takes(value: Any) -> None:
    text = json.dumps(clean_value(value), allow_nan=False)
    assert "\\u0000" not in text and clean_value(json.loads(text)) == json.loads(text)


@given(st.sampled_from(("title", "year", "runtime", "date", "genres", "other")), JSON)
def test_cleaning_twice_changes_nothing_more(field: str, value: Any) -> None:
    once = clean_fact(field, value)
    assert once is None or clean_fact(field, once) == once


@given(st.text())
def test_text_keeps_its_length_and_its_fit_letters(text: str) -> None:
    clean = clean_text(text)
    assert len(clean) == len(text) and clean.encode("utf-8") is not None
    assert all(a == b or b == "\ufffd" for a, b in zip(text, clean, strict=True))


def test_what_is_nested_too_deeply_is_cut_off() -> None:
    value: Any = "core"
    for _ in range(1000):
        value = [value]
    text = json.dumps(clean_value(value))
    assert text.count("[") == DEEPEST
