"""Which of several values is shown."""

from __future__ import annotations

import pytest

from indice.core.facts import Ranking, Value, best_value, certificate_for


@pytest.mark.parametrize(
    ("values", "shown"),
    [
        ([Value("a", "name"), Value("b", "source:Almanac")], "b"),
        ([Value("a", "name"), Value("b", "tags")], "b"),
        ([Value("a", "hand"), Value("b", "source:Almanac")], "a"),
        ([Value("a", "name", locked=True), Value("b", "hand")], "a"),
        ([Value("b", "source:B"), Value("a", "source:A")], "a"),
    ],
    ids=["source before name", "tags before name", "a person's word wins", "a lock wins", "ties by name"],
)
def test_the_highest_ranking_value_is_shown(values: list[Value], shown: str) -> None:
    best = best_value(values)
    assert best is not None
    assert best.value == shown


def test_nothing_is_shown_where_nothing_is_known() -> None:
    assert best_value([]) is None


OWN = Ranking(sources=("Second", "First"), own_first=frozenset(("plot",)))


@pytest.mark.parametrize(
    ("field", "values", "shown"),
    [
        ("title", [Value("a", "source:First"), Value("b", "source:Second")], "b"),
        ("title", [Value("a", "source:Unnamed"), Value("b", "source:First")], "b"),
        ("plot", [Value("a", "source:First"), Value("b", "tags")], "b"),
        ("plot", [Value("a", "file"), Value("b", "sidecar")], "b"),
        ("plot", [Value("a", "hand"), Value("b", "sidecar")], "a"),
        ("title", [Value("a", "tags"), Value("b", "source:First")], "b"),
        ("title", [Value("a", "file"), Value("b", "name")], "b"),
    ],
    ids=[
        "sources in the library's order",
        "an unnamed source comes last",
        "own files first in a field",
        "a sidecar before the container",
        "a person's word before all",
        "other fields as ever",
        "a container's title is believed last",
    ],
)
def test_a_library_has_its_own_order(field: str, values: list[Value], shown: str) -> None:
    best = best_value(values, field, OWN)
    assert best is not None
    assert best.value == shown


@pytest.mark.parametrize(
    ("texts", "country", "shown"),
    [
        (["AT: 12", "DE: 16"], "AT", "12"),
        (["12 (AT)", "16 (DE)"], "DE", "16"),
        (["AT 12", "16"], "FR", "16"),
        (["AT: 12", "DE: 16"], "FR", "12 (AT)"),
        (["16"], "", "16"),
        ([" "], "AT", None),
        ([], "AT", None),
    ],
)
def test_certificates(texts: list[str], country: str, shown: str | None) -> None:
    assert certificate_for(texts, country) == shown
