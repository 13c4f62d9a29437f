"""Checking what a change reaches comes to the same findings as checking everything."""

from __future__ import annotations

import os
import random
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from indice.store.database import Database
from indice.store.files import mark_state, save_files
from indice.store.libraries import add_library
from indice.store.models import File, Finding, Folder
from indice.store.plans import follow_moves
from indice.store.stages import GROUPED
from indice.work import check_changed as checking
from indice.work.check_changed import check_changed
from indice.work.checks import check_library

from .test_check_folder import PLAIN, build
from .test_grouping_near import as_found

KINDS = sorted({case["library"] for case in PLAIN})


def found(db: Session) -> list[tuple[str, str, str | None]]:
    """Every finding with its cure."""
    return sorted((f.check, f.path, f.fix) for f in db.scalars(select(Finding)))


def told_apart(cases: list[dict[str, Any]]) -> dict[str, Any]:
    """Many cases in one library, each in a folder that only sorts, so that they do not touch."""
    files: dict[str, Any] = {}
    folders: list[str] = []
    for number, case in enumerate(cases):
        above = f"{chr(65 + number % 26)}/"
        if any(f"{above}{path}" in files for path in case["files"]) or number >= 26:
            continue
        said = case["files"] if isinstance(case["files"], dict) else {path: {} for path in case["files"]}
        files |= {above + path: value for path, value in said.items()}
        folders += [above + folder for folder in case.get("folders", ())]
    return {"files": files, "folders": folders}


def change(db: Session, folder: Folder, root: Path, draw: random.Random, kind: str) -> None:
    """Something is taken away, brought back, moved or added, on the disk and in the records."""
    files = list(db.scalars(select(File).where(File.folder_id == folder.id).order_by(File.id)))
    what = draw.choice(("go", "back", "move", "new"))
    if what == "go":
        file = draw.choice([file for file in files if file.state == "present"])
        (root / os.fsdecode(file.path)).unlink()
        mark_state(db, [file.id], "missing")
    elif what == "back":
        for file in files:
            if file.state == "missing":
                place = root / os.fsdecode(file.path)
                place.parent.mkdir(parents=True, exist_ok=True)
                place.write_bytes(b"x" * 9)
                mark_state(db, [file.id], "present")
                break
    elif what == "move":
        file, near = (draw.choice([f for f in files if f.state == "present"]) for _ in range(2))
        before, top = os.path.join(os.fsencode(root), bytes(file.path)), os.fsencode(root)
        name = b"moved " + os.path.basename(bytes(file.path))
        after = os.path.join(top, os.path.dirname(bytes(near.path)), name)
        if not os.path.exists(after):
            os.rename(before, after)
            follow_moves(db, {before: after})
    else:
        near = draw.choice(files)
        path = f"{near.directory}/{draw.choice(('Slow Ferry (1999).mkv', '07 - Ash.flac', 'IMG_20190811_101500.jpg', 'x.srt'))}"
        if not (root / path).exists():
            (root / path).parent.mkdir(parents=True, exist_ok=True)
            (root / path).write_bytes(b"x" * 9)
            save_files(db, folder.id, [as_found(db, kind, path)])


@pytest.mark.parametrize("seed", range(2))
@pytest.mark.parametrize("kind", KINDS)
def test_in_part_as_in_whole(
    database: Database, kind: str, seed: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    draw = random.Random(f"{kind} {seed}")
    cases = [case for case in PLAIN if case["library"] == kind and case.get("convention", "Roomy") == "Roomy"]
    draw.shuffle(cases)
    case = told_apart(cases)
    build(os.fsencode(tmp_path), case)
    with database.begin() as db:
        db.execute(text("create sequence test_inode"))
        library_id = add_library(
            db, name="L", kind=kind, folders=[os.fsencode(tmp_path)], language="en", country="", sources=[]
        ).id
        folder_id = db.scalars(select(Folder.id)).one()
        save_files(db, folder_id, [as_found(db, kind, path) for path in case["files"]])
    check_library(database, library_id)
    wholes: list[int] = []
    monkeypatch.setattr(checking, "check_library", lambda *told: wholes.append(1) or check_library(*told))
    for round_ in range(12):
        with database.begin() as db:
            change(db, db.get_one(Folder, folder_id), tmp_path, draw, kind)
            db.execute(text(f"update file set grouped_by = {GROUPED.version}"))
        check_changed(database, library_id)
        with database.begin() as db:
            in_part = found(db)
        check_library(database, library_id)
        with database.begin() as db:
            assert in_part == found(db), f"round {round_}"
    assert len(wholes) < 12, "nothing was ever checked in part"
