"""Storage: what is kept is counted and cleaned, and little room is said before it is none."""

from __future__ import annotations

import os
import shutil
import time
from pathlib import Path
from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import text

import indice.work.storage as storage
from indice.disk.thumbnails import thumbnail_path
from indice.disk.walk import BIN
from indice.settings import Settings
from indice.store.database import Database
from indice.store.machines import join
from indice.store.models import Artwork, Entry, Folder, Gone, Job

from .kettle import Sign, ids, said


def write(path: Path, size: int, *, days_ago: float = 2) -> None:
    """A file of so many bytes that was written so long ago."""
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(b"x" * size)
    moment = time.time() - days_ago * 86400
    os.utime(path, (moment, moment))


def held(owner: FlaskClient) -> dict[str, int]:
    """What is kept → bytes."""
    return {one["what"]: one["size_bytes"] for one in said(owner.get("/api/storage"))["held"]}


def test_what_is_kept_is_counted(owner: FlaskClient, household: Database, settings: Settings, tmp_path: Path) -> None:
    shutil.rmtree(settings.home / "thumbnails", ignore_errors=True)
    for place in range(256):
        write(settings.home / "thumbnails" / f"{place:02x}" / f"{place:032x}-240.webp", 1000)
    write(settings.home / "segments" / "a" / "picture" / "1.m4s", 5000)
    with household.begin() as db:
        root = Path(os.fsdecode(db.query(Folder).first().path))
    write(root / os.fsdecode(BIN) / "7-20260101000000" / "old.mkv", 700)
    told = said(owner.get("/api/storage"))
    sizes = {one["what"]: one for one in told["held"]}
    assert sizes["pictures"]["size_bytes"] == 256_000 and sizes["pictures"]["is_about"], "a part is counted"
    assert (sizes["segments"]["size_bytes"], sizes["bins"]["size_bytes"]) == (5000, 700)
    assert sizes["segments"]["limit_bytes"] == 2048 * 10**6 and sizes["database"]["size_bytes"] > 10**6
    assert [one["size_bytes"] for one in told["held"]] == sorted(
        (one["size_bytes"] for one in told["held"]), reverse=True
    )
    (disk,) = told["disks"]
    assert disk["holds"] == ["data", "library"] and 0 < disk["free_bytes"] < disk["total_bytes"]


def test_only_what_nothing_shows_is_cleaned(owner: FlaskClient, household: Database, settings: Settings) -> None:
    shown, gone, orphan, young = (f"{number:032x}" for number in (11, 12, 13, 14))
    with household.begin() as db:
        entry = db.get_one(Entry, ids(household, "movie")["Kettle Morning"])
        db.add(Artwork(entry_id=entry.id, role="thumb", origin="hand", digest=shown, width=9, height=9, blur=""))
        put_aside = {"artwork": [{"digest": gone}], "entry": []}
        db.add(Gone(entry_id=99_999, library_id=entry.library_id, key="x", files=[], records=put_aside))
    for digest in (shown, gone, orphan):
        write(thumbnail_path(settings.home, digest, 240), 10)
        write(thumbnail_path(settings.home, digest, 480), 100)
    write(thumbnail_path(settings.home, young, 240), 10, days_ago=0)
    write(settings.home / "thumbnails" / "00" / "a letter.txt", 10)
    assert said(owner.post("/api/storage/clean", json={"what": "pictures"}))["freed_bytes"] == 110
    left = {path.name.split("-")[0] for path in (settings.home / "thumbnails").rglob("*.webp")}
    assert {shown, gone, young} <= left and orphan not in left
    assert (settings.home / "thumbnails" / "00" / "a letter.txt").is_file(), "what is not ours is left alone"


def test_segments_and_bins_are_cleaned(owner: FlaskClient, household: Database, settings: Settings) -> None:
    write(settings.home / "segments" / "a" / "picture" / "1.m4s", 5000)
    assert said(owner.post("/api/storage/clean", json={"what": "segments"}))["freed_bytes"] == 5000
    with household.begin() as db:
        root = Path(os.fsdecode(db.query(Folder).first().path))
    write(root / os.fsdecode(BIN) / "7-20260101000000" / "old.mkv", 700)
    write(root / os.fsdecode(BIN) / "mine" / "kept.mkv", 10)
    assert said(owner.post("/api/storage/clean", json={"what": "bins"}))["freed_bytes"] == 700
    assert (root / os.fsdecode(BIN) / "mine" / "kept.mkv").is_file()
    assert owner.post("/api/storage/clean", json={"what": "database"}).status_code == 422


def test_little_room_is_told_to_the_owner_alone(
    owner: FlaskClient, sign: Sign, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert said(owner.get("/api/today"))["little_room"] is None
    monkeypatch.setattr(storage.shutil, "disk_usage", lambda _: SimpleNamespace(free=700_000_000, total=10**10))
    assert said(owner.get("/api/today"))["little_room"] == 700_000_000
    assert said(sign("librarian").get("/api/today"))["little_room"] is None
    assert sign("librarian").get("/api/storage").status_code == 403


def test_machines_are_shown_with_what_they_do(owner: FlaskClient, household: Database) -> None:
    with household.begin() as db:
        home = join(db, name="shelf", pid=1, is_home=True, can=["scan"], sees=[])
        attic = join(db, name="attic", pid=2, is_home=False, can=["inside"], sees=[("/a", "/b")])
        join(db, name="cellar", pid=3, is_home=False, can=["match"], sees=[])
        job = Job(kind="scan", title="Scan Films", state="running", machine_id=home)
        db.add(job)
        db.flush()
        db.execute(text("update machine set helps_id = :job, done = 48 where id = :id"), {"job": job.id, "id": attic})
        db.execute(text("update machine set beat_at = now() - interval '1 minute' where name = 'cellar'"))
    told = said(owner.get("/api/jobs/machines"))["machines"]
    assert [(one["name"], one["job"], one["helps"], one["is_silent"]) for one in told] == [
        ("shelf", "Scan Films", False, False),
        ("attic", "Scan Films", True, False),
        ("cellar", None, False, True),
    ]
    assert told[1]["sees"] == [["/a", "/b"]] and told[1]["done"] == 48
