"""Checks: every defect is found, its healthy twin is left alone, and what rules say of themselves is true."""

from __future__ import annotations

import json
from collections import defaultdict
from pathlib import Path
from typing import Any

import pytest

from indice.core.naming.checks import CHECKS, Finding, Item, Listing, run_checks
from indice.core.naming.checks.handbook import handbook
from indice.core.naming.convention import shipped
from indice.core.reading.siblings import read_listing

CASES = [
    json.loads(line)
    for name in ("checks.jsonl", "checks-forms.jsonl")
    for line in (Path(__file__).parent / "data" / "naming" / name).read_text("utf-8").splitlines()
    if line
]
CONTRACT = [
    "loose-film",
    "year-missing",
    "folder-disagrees",
    "several-films",
    "versions-unlabelled",
    "part-missing",
    "release-words",
    "number-unreadable",
    "season-folder-missing",
    "season-folder-disagrees",
    "special-misplaced",
    "episode-missing",
    "episode-twice",
    "series-split",
    "track-number-missing",
    "track-missing",
    "track-twice",
    "tags-disagree",
    "tags-missing",
    "albums-mixed",
    "cover-missing",
    "date-unknown",
    "date-disagrees",
    "event-unnamed",
    "copy-marked",
    "subtitle-stray",
    "subtitle-language-missing",
    "lyrics-stray",
    "kind-unexpected",
    "character-unsafe",
    "name-reserved",
    "name-too-long",
    "name-encoding",
    "case-clash",
    "file-empty",
    "file-unfinished",
    "extension-wrong",
    "file-unreadable",
    "folder-empty",
    "junk",
]


def listing_of(
    library: str,
    files: list[str] | dict[str, dict[str, Any]],
    *,
    folders: tuple[str, ...] = (),
    closed: dict[str, str] | None = None,
    inside: bool = True,
    convention: str = "Roomy",
) -> Listing:
    """A library of these files, as a walk would list it."""
    meta = files if isinstance(files, dict) else {path: {} for path in files}
    by_folder: dict[str, list[str]] = defaultdict(list)
    for path in meta:
        by_folder[path.rpartition("/")[0]].append(path)
    items: list[Item] = []
    for names in by_folder.values():
        for path, reading in read_listing(names, library).items():
            said = dict(meta[path])
            wrong = said.pop("wrong_format", None)
            items.append(
                Item(
                    path=path,
                    kind=reading.kind,
                    reading={name: fact.value for name, fact in reading.facts.items()},
                    size_bytes=said.pop("size", 1000),
                    wrong_format=tuple(wrong) if wrong else None,
                    **said,
                )
            )
    return Listing(
        library=library,
        items=items,
        folders=folders,
        closed=closed or {},
        looked_inside=inside,
        convention=shipped(convention),
    )


def found_in(case: dict[str, Any]) -> list[Finding]:
    """The findings of a case of the table."""
    return run_checks(
        listing_of(
            case["library"],
            case["files"],
            folders=tuple(case.get("folders", ())),
            closed=case.get("closed"),
            inside=not case.get("names_only"),
            convention=case.get("convention", "Roomy"),
        )
    )


@pytest.mark.parametrize("case", CASES, ids=[case["says"] for case in CASES])
def test_checks(case: dict[str, Any]) -> None:
    found = sorted([finding.check, finding.path] for finding in found_in(case))
    assert found == sorted(case["finds"])


def test_every_check_of_the_contract_is_there_and_has_a_case() -> None:
    assert sorted(rule.slug for rule in CHECKS) == sorted(CONTRACT)
    assert {slug for case in CASES for slug, _ in case["finds"]} == set(CONTRACT)


@pytest.mark.parametrize("rule", CHECKS, ids=[rule.slug for rule in CHECKS])
def test_a_rule_explains_itself(rule: Any) -> None:
    assert rule.title and rule.why.endswith((".", "?")) and rule.looks_at and rule.before
    assert rule.severity in ("problem", "advice", "note")


@pytest.mark.parametrize("case", CASES, ids=[case["says"] for case in CASES])
def test_a_fix_lands_on_a_free_name_and_cures(case: dict[str, Any]) -> None:
    paths = set(case["files"])
    promised: dict[str, str] = {}
    for finding in found_in(case):
        assert (finding.fix is None) == (not finding.moves)
        for before, after in finding.moves:
            assert before in paths
            assert after not in paths or any(after == other for other, _ in finding.moves)
            assert promised.setdefault(after, before) == before


def test_the_handbook_is_made_from_the_rules() -> None:
    page = Path(__file__).resolve().parents[2] / "docs" / "checks.md"
    assert page.read_text("utf-8") == handbook(), "run ./indice handbook docs/checks.md"


def test_a_check_can_be_switched_off() -> None:
    listing = listing_of("movies", ["Tin Orchard.mkv"])
    assert [f.check for f in run_checks(listing, off=frozenset(("loose-film",)))] == ["year-missing"]
    assert [f.check for f in run_checks(listing, only=frozenset(("loose-film",)))] == ["loose-film"]


def test_no_fix_takes_a_taken_name() -> None:
    listing = listing_of(
        "movies", ["salt.row.1991.mkv", "Salt Row (1991)/Salt Row (1991).mkv", "Salt Row (1991)/poster.jpg"]
    )
    finding = next(f for f in run_checks(listing) if f.check == "loose-film")
    assert finding.fix is None and finding.moves == ()


def test_what_belongs_to_a_file_goes_along() -> None:
    listing = listing_of(
        "movies",
        [
            "Harbour Glass/Harbour Glass (1987).mkv",
            "Harbour Glass/Harbour Glass (1987).en.srt",
            "Harbour Glass/poster.jpg",
            "Harbour Glass/Trailers/Harbour Glass.mp4",
        ],
    )
    finding = next(f for f in run_checks(listing) if f.check == "year-missing")
    assert finding.fix == "Harbour Glass (1987)/"
    assert dict(finding.moves)["Harbour Glass/Trailers/Harbour Glass.mp4"] == (
        "Harbour Glass (1987)/Trailers/Harbour Glass.mp4"
    )
    assert len(finding.moves) == 4
