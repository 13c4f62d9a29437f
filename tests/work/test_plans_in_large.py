"""A plan for some files of a library is what it would be if all files of it were looked at."""

from __future__ import annotations

import random
from pathlib import Path

import pytest
from sqlalchemy import event, select

from indice.core.naming.plan import as_it_should_be, make_plan
from indice.phrases import kept
from indice.store.database import Database
from indice.store.files import save_files
from indice.store.models import File, Finding, Folder, Library
from indice.store.tallies import freshen
from indice.work.items import listing_of
from indice.work.tidy import Wish, draft_plan

from .test_grouping_near import as_found, empty_library, names

FOLDERS = (
    "",
    "Tin Bell (2001)/",
    "tin bell (2001)/",
    "Kids/Gull (1982)/",
    "Kids/",
    "Ébène/",
    "E\u0301bène/",
    "Gull/Extras/",
)
NAMES = ("Tin Bell (2001).mkv", "tin bell (2001).MKV", "Gull.mkv", "Kids", "poster.jpg", "Ébène.mkv", "Tin Bell (2001)")


@pytest.mark.parametrize("seed", range(12))
def test_a_plan_is_as_if_all_were_looked_at(database: Database, tmp_path: Path, seed: int) -> None:
    draw = random.Random(f"plan {seed}")
    with database.begin() as db:
        library_id, folder_id = empty_library(db, "movies", tmp_path)
        drawn = {draw.choice(FOLDERS) + draw.choice(NAMES) for _ in range(14)}
        paths = sorted(path for path in drawn if not any(other.startswith(path + "/") for other in drawn))
        save_files(db, folder_id, [as_found(db, "movies", path) for path in paths])
        moves = [
            (draw.choice([*paths, "gone.mkv"]), draw.choice(FOLDERS) + draw.choice((*NAMES, "new.mkv")))
            for _ in range(5)
        ]
        wanted = dict(reversed(moves))
        for before, after in wanted.items():
            told = {"library_id": library_id, "folder_id": folder_id, "check": "no-year", "severity": "advice"}
            also = [{"before": before, "after": after}]
            db.add(Finding(**told, path=before, message="", fix=after, fix_kind="safe", also=also, missing=[]))
            db.flush()
        findings = list(db.scalars(select(Finding.id).order_by(Finding.id)))
    with database.begin() as db:
        plan = draft_plan(db, library_id, Wish(findings=findings))
        expected = make_plan(list(wanted.items()), paths)
        assert [(before, after) for _, before, after in plan.moves] == list(expected.moves)
        assert [tuple(row) for row in plan.conflicts] == [(c.before, c.after, kept(c.why)) for c in expected.conflicts]


def test_a_plan_for_one_file_reads_no_more_than_its_folders(database: Database, tmp_path: Path) -> None:
    read: list[int] = []
    with database.begin() as db:
        library_id, folder_id = empty_library(db, "movies", tmp_path)
        paths = [f"Lantern {n} (1990)/lantern {n}.{kind}" for n in range(150) for kind in ("mkv", "srt")]
        save_files(db, folder_id, [as_found(db, "movies", path) for path in paths])
        also = [{"before": "Lantern 7 (1990)/lantern 7.mkv", "after": "Lantern 7 (1990)/Lantern 7 (1990).mkv"}]
        told = {"library_id": library_id, "folder_id": folder_id, "check": "no-year", "severity": "advice"}
        db.add(Finding(**told, path=also[0]["before"], message="", fix=also[0]["after"], also=also, missing=[]))
        db.flush()
        finding = db.scalars(select(Finding.id)).one()
    with database.begin() as db:
        link = db.connection()

        @event.listens_for(link, "after_cursor_execute")
        def count(_1: object, cursor: object, statement: str, *_: object) -> None:
            if "FROM file" in statement and "SELECT file.path" in statement:
                read.append(cursor.rowcount)  # type: ignore[attr-defined]

        plan = draft_plan(db, library_id, Wish(findings=[finding]))
        assert len(plan.moves) == 1
        assert read == [2], "the two files of its folder, of 300"
        assert len(list(db.scalars(select(File.id)))) == 300


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos", "mixed"])
@pytest.mark.parametrize("seed", range(3))
def test_a_folder_as_it_should_be_is_so_within_the_whole(
    database: Database, tmp_path: Path, kind: str, seed: int
) -> None:
    """Each folder, and some files, by themselves: the moves are those that a
    look at the whole library gives for them."""
    draw = random.Random(f"should {kind} {seed}")
    with database.begin() as db:
        library_id, folder_id = empty_library(db, kind, tmp_path)
        drawn = {
            names(draw.choice(("movies", "series", "music", "photos")) if kind == "mixed" else kind, draw)
            for _ in range(60)
        }
        sorted_apart = {f"{draw.choice(('Kids', 'Drama', 'A-F'))}/{path}" for path in draw.sample(sorted(drawn), 12)}
        paths = sorted(drawn | sorted_apart)
        save_files(db, folder_id, [as_found(db, kind, path) for path in paths])
        for path in paths:
            (tmp_path / path).parent.mkdir(parents=True, exist_ok=True)
            (tmp_path / path).touch()
    with database.begin() as db:
        freshen(db, exactly=True)
        whole = listing_of(db, db.get_one(Library, library_id), db.get_one(Folder, folder_id))
        folders = {path[:place] for path in paths for place, letter in enumerate(path) if letter == "/"}
        moved = 0
        for below in sorted(folders | set(draw.sample(paths, 10))):
            chosen = {path for path in paths if path == below or path.startswith(f"{below}/")}
            expected = make_plan(as_it_should_be(whole, paths=chosen), paths)
            plan = draft_plan(db, library_id, Wish(below=below))
            assert [(before, after) for _, before, after in plan.moves] == list(expected.moves), below
            moved += len(plan.moves)
        assert moved
