"""Checking a real folder: what is found in units is what is found at once, and the content of files is looked at."""

from __future__ import annotations

import json
import os
import random
from pathlib import Path
from typing import Any

import pytest

from indice.core.naming.checks import CHECKS, run_checks
from indice.demo.media import write_track
from indice.work.check_folder import check_folder, list_folder
from indice.work.tidy_folder import draft_for_folder, journal_for_folder

CASES = [
    json.loads(line)
    for line in (Path(__file__).parents[1] / "core" / "data" / "naming" / "checks.jsonl")
    .read_text("utf-8")
    .splitlines()
    if line
]
CONTENT = {rule.slug for rule in CHECKS if rule.content} | {"cover-missing"}
PLAIN = [case for case in CASES if "closed" not in case and (isinstance(case["files"], list) or all(set(said) <= {"size"} for said in case["files"].values()))]  # fmt: skip


def build(root: bytes, case: dict[str, Any]) -> None:
    """The case's files on the disk."""
    os.makedirs(root, exist_ok=True)
    for folder in case.get("folders", ()):
        os.makedirs(os.path.join(root, os.fsencode(folder)), exist_ok=True)
    files = case["files"]
    for path in files:
        full = os.path.join(root, os.fsencode(path))
        os.makedirs(os.path.dirname(full), exist_ok=True)
        with open(full, "wb") as file:
            file.write(b"x" * (files[path].get("size", 9) if isinstance(files, dict) else 9))


@pytest.mark.parametrize("case", PLAIN, ids=[case["says"] for case in PLAIN])
def test_units_find_what_a_whole_listing_finds(case: dict[str, Any], tmp_path: Path) -> None:
    root = os.fsencode(tmp_path / "library")
    build(root, case)
    from indice.core.naming.convention import shipped

    convention = shipped(case.get("convention", "Roomy"))
    found = check_folder(root, case["library"], look_inside=False, convention=convention)
    whole = run_checks(list_folder(root, case["library"], look_inside=False, convention=convention))
    assert sorted((f.check, f.path) for f in found) == sorted((f.check, f.path) for f in whole)
    wanted = [(slug, path) for slug, path in case["finds"] if slug not in CONTENT]
    assert sorted((f.check, f.path) for f in found) == sorted(wanted)


MESSY = Path(__file__).parents[1] / "core" / "data" / "unseen-forms.jsonl"


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos"])
@pytest.mark.parametrize("seed", range(4))
def test_units_find_what_a_whole_listing_finds_among_names_of_all_forms(kind: str, seed: int, tmp_path: Path) -> None:
    """Also where subtitles, extras and works lie right in folders that only sort."""
    rows = [json.loads(line) for line in MESSY.read_text("utf-8").splitlines()]
    dice = random.Random(f"{kind} {seed}")
    names = [str(row["path"]).lstrip("/") for row in rows if row["library"] == kind]
    above = ["", "", "Drama/", "Kids/", "2020/", "Rock/", "Drama/Subs/", "Extras/"]
    root = tmp_path / "library"
    for name in dice.sample(names, 80):
        path = root / (dice.choice(above) + name)
        if not path.exists() and not any(up.is_file() for up in path.parents):
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(name.encode())
    found = check_folder(os.fsencode(root), kind, look_inside=False)
    whole = run_checks(list_folder(os.fsencode(root), kind, look_inside=False))
    assert sorted((f.check, f.path, f.fix or "") for f in found) == sorted(
        (f.check, f.path, f.fix or "") for f in whole
    )


def test_what_concerns_several_units(tmp_path: Path) -> None:
    root = tmp_path / "films"
    case = {
        "files": [
            "Kids/Wren Calloway/01 - Ebb.flac",
            "Kids/Wren Calloway/02 - Fen.flac",
            "Kids/Orla Fenn/01 - Kite.flac",
            "Salt Row (1991)/Salt Row (1991).mkv",
            "SALT ROW (1991)/Salt Row (1991).mkv",
        ],
        "folders": ["Drama/Old/Older", "Drama/Empty"],
    }
    build(os.fsencode(root), case)
    found = {(f.check, f.path) for f in check_folder(os.fsencode(root), "movies", look_inside=False)}
    assert found == {("kind-unexpected", "Kids/"), ("case-clash", "Salt Row (1991)/"), ("folder-empty", "Drama/")}


def test_content_is_looked_at(tmp_path: Path) -> None:
    root = tmp_path / "music"
    album = root / "Wren Calloway" / "Tidewrack (2004)"
    for number, title in enumerate(("Ebb", "Low Lamps", "Fen"), 1):
        tags = {"title": title if number != 2 else "Slack", "artist": "Wren Calloway", "album": "Tidewrack"}
        write_track(
            album / f"{number:02d} - {title}.flac",
            title=title,
            seconds=20,
            artist="Wren Calloway",
            tags=tags,
            picture=None,
        )
    (album / "03 - Fen.flac").rename(album / "03 - Fen.mp3")
    os.chmod(album / "01 - Ebb.flac", 0)
    found = {
        (f.check, f.path.rpartition("/")[2] or f.path)
        for f in check_folder(os.fsencode(root), "music", look_inside=True)
    }
    assert found == {
        ("file-unreadable", "01 - Ebb.flac"),
        ("tags-disagree", "02 - Low Lamps.flac"),
        ("extension-wrong", "03 - Fen.mp3"),
        ("cover-missing", "Wren Calloway/Tidewrack (2004)/"),
    }


def test_a_plan_for_a_plain_folder(tmp_path: Path) -> None:
    from indice.core.naming.convention import shipped
    from indice.disk.moves import carry_out

    root = os.fsencode(tmp_path / "films")
    build(root, {"files": ["salt.row.1991.mkv", "Thumbs.db"]})
    plan = draft_for_folder(root, "movies", shipped("Roomy"), ["loose-film"])
    assert [after for _, after in plan.moves] == ["salt row (1991)/salt row (1991).mkv"]
    assert carry_out(journal_for_folder(root, plan, tmp_path / "journal")).done == 1
    assert [f.check for f in check_folder(root, "movies", look_inside=False)] == ["junk"]
