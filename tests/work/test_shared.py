"""A file of two episodes is shown on the page of either."""

from __future__ import annotations

from pathlib import Path

from sqlalchemy import select

from indice.settings import Settings
from indice.store.catalog import files_of, shared_files
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Entry
from indice.work.queue import perform
from indice.work.requests import request_job


def test_the_second_episode_of_a_file_knows_the_file(database: Database, settings: Settings, tmp_path: Path) -> None:
    season = tmp_path / "Tern Row (2001)" / "Season 01"
    season.mkdir(parents=True)
    for name in ("Tern Row - S01E01.mkv", "Tern Row - S01E02-E03.mkv", "Tern Row - S01E12.mkv"):
        (season / name).write_bytes(name.encode())
    with database.begin() as db:
        library_id = add_library(
            db, name="Series", kind="series", folders=[bytes(tmp_path)], language="en", country="", sources=[]
        ).id
    perform(database, settings, request_job(database, "scan", library_id))
    with database.begin() as db:
        found = {
            entry.number: (
                len(files_of(db, [entry.id]).get(entry.id, [])),
                [f.shown for f, _ in shared_files(db, entry)],
            )
            for entry in db.scalars(select(Entry).where(Entry.kind == "episode"))
        }
    held = "Tern Row (2001)/Season 01/Tern Row - S01E02-E03.mkv"
    assert found == {1: (1, []), 2: (1, []), 3: (0, [held]), 12: (1, [])}
