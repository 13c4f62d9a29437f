"""Profiles drafted from what a service names."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.sources.draft import draft_profile, guess_field, guess_kind
from indice.sources.profile import parse_profile


def named(*names: str) -> list[dict[str, str]]:
    return [{"id": f"P{place}", "name": name} for place, name in enumerate(names)]


@pytest.mark.parametrize(
    ("types", "kinds"),
    [
        (named("Film", "TV series", "Person"), {"movie": "P0", "series": "P1"}),
        (named("motion picture", "Song", "Band"), {"movie": "P0", "track": "P1", "artist": "P2"}),
        (named("Boat"), {}),
        ([{"id": "Movie"}], {"movie": "Movie"}),
    ],
)
def test_kinds(types: list[dict[str, str]], kinds: dict[str, str]) -> None:
    assert guess_kind(types) == kinds


@pytest.mark.parametrize(
    ("kind", "names", "fields"),
    [
        ("movie", ("name", "release date", "duration", "starring"), {"title": 0, "date": 1, "runtime": 2, "cast": 3}),
        ("movie", ("alsoKnownAs", "screen_writer", "Label"), {"aliases": 0, "title": 2}),
        ("album", ("title", "label", "performed by", "has track"), {"title": 0, "label": 1, "artists": 2, "tracks": 3}),
        ("movie", ("title", "still", "poster"), {"title": 0, "backdrop": 1, "artwork": 2}),
    ],
)
def test_fields(kind: str, names: tuple[str, ...], fields: dict[str, int]) -> None:
    assert guess_field(kind, named(*names)) == {field: f"P{place}" for field, place in fields.items()}


def test_a_draft_can_be_read() -> None:
    text = draft_profile(
        "http://a.test/", {"name": 'The "Best" one'}, named("Film"), {"P0": named("title", "year", "plot")}
    )
    profile = parse_profile(text)
    assert (profile.name, profile.kinds["movie"].type) == ('The "Best" one', "P0")
    assert set(profile.kinds["movie"].fields) == {"title", "date", "plot"}
    assert "# not found: " in text


names = st.text(max_size=30)


@given(names, st.lists(names, max_size=4), st.lists(names, max_size=6))
def test_whatever_a_service_says_the_draft_is_a_profile(name: str, types: list[str], properties: list[str]) -> None:
    rows = [{"id": text, "name": text} for text in types] + named("Film")
    text = draft_profile("http://a.test/", {"name": name}, rows, {row["id"]: named(*properties) for row in rows})
    profile = parse_profile(text)
    assert "movie" in profile.kinds
