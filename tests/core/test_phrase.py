"""Texts that know what they were made of."""

from __future__ import annotations

import pickle
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.phrase import Phrase, fill, joined, listed, phrase


@pytest.mark.parametrize(
    ("template", "values", "said"),
    [
        ("{path} cannot be read.", {"path": "/media/films"}, "/media/films cannot be read."),
        ("{n:file|files} moved.", {"n": 1}, "1 file moved."),
        ("{n:file|files} moved.", {"n": 0}, "0 files moved."),
        ("{n:file|files} moved.", {"n": 12}, "12 files moved."),
        ("{size:.1f} MB", {"size": 2.345}, "2.3 MB"),
        ("Write {{name}}.", {}, "Write {name}."),
        ("{why}", {"why": "{path} and {0.__class__}"}, "{path} and {0.__class__}"),
        ("{outer}!", {"outer": phrase("{n} left", n=3)}, "3 left!"),
    ],
)
def test_a_template_is_filled(template: str, values: dict[str, Any], said: str) -> None:
    assert fill(template, values) == said
    assert Phrase(template, values) == said


def test_a_value_is_not_reached_into() -> None:
    with pytest.raises(KeyError):
        fill("{path.__class__}", {"path": "x"})


@pytest.mark.parametrize("count", range(4))
def test_a_list_and_sentences_hold_all_of_their_parts(count: int) -> None:
    parts = [phrase("{n} new", n=number) for number in range(count)]
    assert listed(parts) == ", ".join(parts)
    assert joined(*parts, "") == " ".join(parts)


@given(st.text(max_size=30), st.integers(0, 9))
def test_a_phrase_is_the_same_in_another_process(name: str, number: int) -> None:
    made = phrase("{name}: {inner}", name=name, inner=phrase("{n:file|files}", n=number))
    again = pickle.loads(pickle.dumps(made))
    assert again == made
    assert (again.template, again.values["inner"].values) == (made.template, {"n": number})
