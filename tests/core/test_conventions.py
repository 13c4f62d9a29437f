"""Conventions: what templates may do, what they refuse, and that they survive being taken out and brought in."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from indice.core.naming.convention import (
    SHIPPED,
    SLOTS,
    Convention,
    ConventionError,
    read_convention,
    safe_name,
    shipped,
    write_convention,
)
from indice.core.naming.values import SAMPLES

FILM = {"title": "The Étang: A/B?", "year": 1994, "part": 2, "edition": "Director's Cut"}


def film(template: str, *, file_system: str = "any") -> str | None:
    """What a template makes of a film."""
    return Convention("Test", "", file_system, {"movie": template}).path("movie", FILM, "MKV", original="x.y")


@pytest.mark.parametrize(
    ("template", "path"),
    [
        ("{{ title }}", "The Étang - A-B.mkv"),
        ("{{ title }}/{{ title }} {{ year }}", "The Étang - A-B/The Étang - A-B 1994.mkv"),
        ("{{ title | article_last }}", "Étang - A-B, The.mkv"),
        ("{{ title | letter }}/{{ year }}", "E/1994.mkv"),
        ("{{ title | plain }}", "The Etang - A-B.mkv"),
        ("{{ title | case('upper') }}", "THE ÉTANG - A-B.mkv"),
        ("{{ title | short(9) }}", "The Étang.mkv"),
        ("{{ part | pad(3) }}", "002.mkv"),
        ("{{ version | wrap(' - ') }}{{ year }}", "1994.mkv"),
        ("{{ part | wrap('Part ', '/') }}{{ year }}", "Part 2/1994.mkv"),
        ("{% if year > 1990 %}new{% else %}old{% endif %}", "new.mkv"),
        ("{{ version or edition }}", "Director's Cut.mkv"),
        ("{{ original }}", "x.y.mkv"),
        ("../{{ year }}", "1994.mkv"),
        ("/{{ year }}//x", "1994/x.mkv"),
        ("{{ version }}", None),
        ("con", "con_.mkv"),
    ],
)
def test_templates(template: str, path: str | None) -> None:
    assert film(template) == path


def test_file_systems() -> None:
    assert film("{{ title }}", file_system="linux") == "The Étang: A-B?.mkv"
    assert film("{{ title }}", file_system="strict") == "The Etang - A-B.mkv"


@pytest.mark.parametrize(
    ("template", "said"),
    [
        ("{{ titel }}", "no value titel"),
        ("{{ title", "unexpected"),
        ("{{ title | nope }}", "nope"),
        ("{% for a in title %}{{ a }}{% endfor %}", "no for"),
        ("{{ title.__class__ }}", "no getattr"),
        ("{{ title[0] }}", "no getitem"),
        ("{{ title * 999999999 }}", "no mul"),
        ("{{ title() }}", "no call"),
        ("{% include 'x' %}", "no include"),
        ("{% set a = 1 %}", "no assign"),
        ("x" * 2001, "longer"),
    ],
)
def test_what_a_template_may_not_do(template: str, said: str) -> None:
    with pytest.raises(ConventionError, match=said) as error:
        film(template)
    assert error.value.slot == "movie"


def test_an_error_says_its_line() -> None:
    with pytest.raises(ConventionError) as error:
        film("{{ title }}\n{{ yaer }}")
    assert error.value.line == 2


@pytest.mark.parametrize(
    "text", ["no toml =", "about = 'x'", "name = 'x'\nfile_system = 'fat'", "name = 'x'\n[templates]\nfilm = 'x'", "name = 'x'\n[templates]\nmovie = 3", "name = 'x'\ntemplates = 3"]
)  # fmt: skip
def test_what_is_no_convention(text: str) -> None:
    with pytest.raises(ConventionError):
        read_convention(text)


@pytest.mark.parametrize("name", SHIPPED)
def test_what_ships_names_everything_and_survives_a_round(name: str) -> None:
    convention = shipped(name)
    assert set(convention.templates) == set(SLOTS)
    assert read_convention(write_convention(convention)) == convention
    for slot, facts in SAMPLES.items():
        kind = {"special": "episode", "dated": "episode", "running": "episode", "compilation": "track"}.get(slot, slot)
        assert convention.path(kind, {**facts, "main": "A/B"}, "x", original="IMG_1")


def test_an_unknown_one_is_said() -> None:
    with pytest.raises(ConventionError, match="These ship"):
        shipped("Cosy")


@given(st.text(max_size=300), st.sampled_from(("any", "strict", "linux")))
@settings(max_examples=300, deadline=None)
def test_a_safe_name_is_safe_and_stays_so(text: str, file_system: str) -> None:
    name = safe_name(text, file_system=file_system)
    assert name and "/" not in name and "\0" not in name
    assert len(name.encode("utf-8", "surrogatepass")) <= 250
    assert safe_name(name, file_system=file_system) == name
    if file_system != "linux":
        assert not set(name) & set('<>:"\\|?*') and name == name.strip(" ") and not name.endswith(".")


@pytest.mark.parametrize("name", SHIPPED)
def test_a_recording_keeps_its_day(name: str) -> None:
    facts = {"title": "Town Hall", "date": "2009-06-12"}
    assert "(2009-06-12)" in shipped(name).path("movie", facts, "mkv")
    assert "(2009)" in shipped(name).path("movie", {**facts, "year": 2009}, "mkv")
