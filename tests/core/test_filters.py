"""Filters among the words of a search."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.catalog import Filters, parse_filters


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("", Filters()),
        ("lantern", Filters("lantern")),
        ("year:1990", Filters(years=(1990, 1990))),
        ("year:1990-1999", Filters(years=(1990, 1999))),
        ("year:1999–1990", Filters(years=(1990, 1999))),
        ("year:-1980", Filters(years=(0, 1980))),
        ("year:2010-", Filters(years=(2010, 9999))),
        ("year:1980s", Filters(years=(1980, 1989))),
        ("jahr:1980er", Filters(years=(1980, 1989))),
        ("lang:de", Filters(traits={"sound": ("de",)})),
        ("lang:German", Filters(traits={"sound": ("de",)})),
        ("sub:pt-br", Filters(traits={"text": ("pt-br",)})),
        ("res:4k", Filters(traits={"resolution": ("2160p",)})),
        ("res:720", Filters(traits={"resolution": ("720p",)})),
        ("age:12+", Filters(traits={"age": ("12",)})),
        ("is:unseen", Filters(marks=("unseen",))),
        ("ist:ungesehen art:film", Filters(kinds=("movie",), marks=("unseen",))),
        ("KIND:Film", Filters(kinds=("movie",))),
        ("kind:film kind:series", Filters(kinds=("movie", "series"))),
        ("tin year:1990-1999 ferry", Filters("tin ferry", years=(1990, 1999))),
        ("unseen", Filters("unseen")),
        ("unseen year:1990", Filters(years=(1990, 1990), marks=("unseen",))),
        ("the seen house", Filters("the seen house")),
        ("ferry: the crossing", Filters("ferry: the crossing")),
        ("Ferry:The", Filters("Ferry:The")),
        ("year:soon", Filters("year:soon")),
        ("year:19", Filters("year:19")),
        ("year:-", Filters("year:-")),
        ("is:tall", Filters("is:tall")),
        ("kind:tin", Filters("kind:tin")),
        ("10:15", Filters("10:15")),
    ],
)
def test_a_search_is_words_and_filters(text: str, expected: Filters) -> None:
    assert parse_filters(text) == expected


def test_a_value_of_several_words_stands_in_quotes_and_is_looked_for_however_it_is_written() -> None:
    assert parse_filters('genre:"science fiction" moth').words == "moth"
    assert {"science fiction", "Science Fiction", "Science fiction"} <= set(
        parse_filters('genre:"science fiction"').traits["genre"]
    )


@given(st.lists(st.text(st.characters(categories=["L", "N"]), min_size=1, max_size=12), max_size=6))
def test_words_without_a_colon_are_never_a_filter(words: list[str]) -> None:
    assert parse_filters(" ".join(words)) == Filters(" ".join(" ".join(words).split()))


@given(st.text(max_size=120))
def test_no_text_is_too_odd(text: str) -> None:
    told = parse_filters(text)
    assert told.is_plain == (told == Filters(told.words))


@given(
    st.permutations(["year:1990-1999", "lang:de", "is:unseen", "kind:film", "tin", "ferry"]),
)
def test_the_order_of_filters_says_nothing(parts: list[str]) -> None:
    told = parse_filters(" ".join(parts))
    assert (told.years, told.kinds, told.marks) == ((1990, 1999), ("movie",), ("unseen",))
    assert sorted(told.words.split()) == ["ferry", "tin"]
