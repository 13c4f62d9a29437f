"""Today tells which files cannot be read for as long as that is so, and not only after the scan that saw it first."""

from __future__ import annotations

import os
from pathlib import Path

from flask.testing import FlaskClient

from indice.settings import Settings
from indice.store.database import Database
from indice.store.files import unreadable_files
from indice.store.libraries import add_library
from indice.work.queue import perform
from indice.work.requests import request_job

from ..playing.zoo import make
from .kettle import FILM, said

MANY_JOBS = 14
"""So many later Today looks at the logs of other jobs only."""


def test_what_cannot_be_read_is_told_until_it_can(
    owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    whole = make(FILM, tmp_path, seconds=2).read_bytes()
    root = tmp_path / "films"
    names = [f"{title} (2004)/{title} (2004).mp4" for title in ("Kettle Morning", "Slow Tin", "Wren Parade")]
    for name, content in zip(names, (b"", b"", whole), strict=True):
        (root / name).parent.mkdir(parents=True)
        (root / name).write_bytes(content)
    with database.begin() as db:
        library = add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(root)], language="en", country="", sources=[]
        ).id

    def told() -> list[str]:
        return sorted(line["path"] for line in said(owner.get("/api/today"))["troubles"])

    def scan() -> None:
        assert perform(database, settings, request_job(database, "scan", library)) == "done"

    empty = [str(root / name) for name in names[:2]]
    scan()
    assert told() == empty, "each once, though the log of the scan names it, too"
    for _ in range(MANY_JOBS):
        scan()
    assert told() == empty
    (root / names[0]).write_bytes(whole)
    (root / names[1]).unlink()
    scan()
    assert told() == [], "though the logs of the scans before still name them"
    with database.begin() as db:
        assert unreadable_files(db, limit=8) == []
