"""The interface's description of itself."""

from __future__ import annotations

import re
from typing import Any

import pytest

from indice.web.app import create_app
from indice.web.description import in_sentences


def _said(summary: str, description: str | None = None) -> tuple[str, str | None]:
    operation = {"summary": summary} if description is None else {"summary": summary, "description": description}
    spec: dict[str, Any] = {"paths": {"/api/lamps": {"parameters": [], "get": operation}}}
    told = in_sentences(spec)
    assert isinstance(told, dict)
    got = told["paths"]["/api/lamps"]["get"]
    return got["summary"], got.get("description")


@pytest.mark.parametrize(
    ("summary", "description", "expected"),
    [
        ("Light a lamp.", None, ("Light a lamp.", None)),
        ("Light a lamp. It goes out", "at dawn.", ("Light a lamp.", "It goes out at dawn.")),
        ("Light a lamp, of which", "    there are many.", ("Light a lamp, of which there are many.", None)),
        (
            "Light a lamp; one that",
            "burns stays. 404 when gone.",
            ("Light a lamp; one that burns stays.", "404 when gone."),
        ),
        ("Light a lamp.", "`oil` is needed.\n\n    And a wick.", ("Light a lamp.", "`oil` is needed. And a wick.")),
    ],
)
def test_an_operation_is_summed_up_by_a_sentence(
    summary: str, description: str | None, expected: tuple[str, str | None]
) -> None:
    assert _said(summary, description) == expected


def test_every_operation_says_what_it_is_for() -> None:
    spec = create_app(None, None).spec
    assert isinstance(spec, dict)
    operations = [
        (path, way, told)
        for path, ways in spec["paths"].items()
        for way, told in ways.items()
        if isinstance(told, dict) and way in ("get", "post", "put", "patch", "delete")
    ]
    assert len(operations) > 150
    cut = [(path, way) for path, way, told in operations if not re.search(r"[.;)]$", told.get("summary", ""))]
    assert cut == []
