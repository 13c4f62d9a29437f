"""A small household of real files, and what can be said of a library after all that was done to it."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from sqlalchemy import select
from sqlalchemy.orm import aliased

from indice.demo.media import write_track, write_video
from indice.settings import Settings
from indice.store.database import Database
from indice.store.export import export_entries
from indice.store.libraries import add_library
from indice.store.models import Artwork, Entry, File, Finding, Library
from indice.work.queue import perform
from indice.work.requests import request_job


@pytest.fixture(scope="session")
def household(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Films, an album and photos, with something to find in each."""
    root = tmp_path_factory.mktemp("faulty")
    for number in range(6):
        name = f"Tin Lantern {number} ({1950 + number})"
        write_video(root / "films" / name / f"{name}.mp4", title=name, year=1950 + number, minutes=2, height=90)
    (root / "films" / "Loose Kite 1999.mkv").write_bytes(b"cut off")
    for number in (1, 2, 4):
        write_track(
            root / "music" / "Ada Reed" / "Slow Weir (1991)" / f"{number:02d} - Weir {number}.flac",
            title=f"Weir {number}",
            seconds=3,
            artist="Ada Reed",
            tags={"title": f"Weir {number}", "artist": "Ada Reed", "album": "Slow Weir", "tracknumber": str(number)},
        )
    for number in range(30):
        path = root / "photos" / "2019-07-20 Ferry" / f"P{number:04d}.jpg"
        path.parent.mkdir(parents=True, exist_ok=True)
        Image.new("RGB", (64, 48), (number * 8, 90, 120)).save(path)
    return root


def declare(database: Database, root: Path, kind: str) -> int:
    """A library of one folder."""
    with database.begin() as db:
        return add_library(
            db,
            name=f"{kind} {root.parent.name} {root.name}",
            kind=kind,
            folders=[os.fsencode(root)],
            language="en",
            country="",
            sources=[],
        ).id


@pytest.fixture
def scan(database: Database, settings: Settings) -> Callable[[int], str]:
    """Scan a library here and now; returns the state in which the job ended."""

    def run(library_id: int) -> str:
        return perform(database, settings, request_job(database, "scan", library_id))

    return run


def told(database: Database, library_id: int) -> dict[str, Any]:
    """Everything that a scan leaves behind, without numbers, moments and places."""
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        entries = [
            {name: value for name, value in row.items() if name not in ("library", "folder", "page", "play", "added")}
            for row in export_entries(db, library)
        ]
        keys = dict(db.execute(select(Entry.id, Entry.key).where(Entry.library_id == library_id)).all())
        files = [
            (f.shown, f.kind, f.state, f.problem, sorted(f.media or {}), keys.get(f.entry_id or 0), f.serves, f.reading)
            for f in db.scalars(select(File).order_by(File.shown))
            if f.entry_id in keys or f.entry_id is None
        ]
        findings = sorted(
            (f.check, f.path, f.fix) for f in db.scalars(select(Finding).where(Finding.library_id == library_id))
        )
        pictures = sorted(
            (keys[a.entry_id], a.role, a.origin, a.digest)
            for a in db.scalars(select(Artwork).where(Artwork.entry_id.in_(keys)))
        )
    return {
        "entries": sorted(entries, key=lambda row: row["key"]),
        "files": files,
        "findings": findings,
        "pictures": pictures,
    }


def hollow(database: Database, library_id: int) -> list[str]:
    """Keys of entries that hold neither a file nor another entry: a scan leaves none."""
    below = aliased(Entry)
    with database.begin() as db:
        has_file = select(File.id).where(File.entry_id == Entry.id).exists()
        has_more = select(below.id).where(below.parent_id == Entry.id).exists()
        return list(db.scalars(select(Entry.key).where(Entry.library_id == library_id, ~has_file, ~has_more)))
