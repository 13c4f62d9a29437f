"""Scans that are broken off, and drives that go away: the next scan comes to the same as one that nothing disturbed."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import func, select, text

import indice.store.served as served
import indice.work.artwork as artwork
import indice.work.checks as checks
import indice.work.grouping as grouping
import indice.work.inside as inside
import indice.work.scan as scanning
from indice.core.presence import is_away_by_loss
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Artwork, Entry, File, Folder, Job
from indice.work.lease import JOB
from indice.work.queue import perform, requeue_lost
from indice.work.requests import request_job

from .conftest import declare, hollow, told

Scan = Callable[[int], str]


def die_in_scan(database: Database, settings: Settings, library_id: int, where: Any, name: str, nth: int) -> None:
    """Scan in a child that dies at the n-th call of a function."""
    job_id = request_job(database, "scan", library_id)
    real, calls = getattr(where, name), [0]
    child = os.fork()
    if child == 0:

        def counted(*args: Any, **more: Any) -> Any:
            calls[0] += 1
            if calls[0] == nth:
                os._exit(77)
            return real(*args, **more)

        setattr(where, name, counted)
        try:
            perform(Database(database.url), settings, job_id)
        finally:
            os._exit(0)
    _, status = os.waitpid(child, 0)
    assert os.WEXITSTATUS(status) == 77, "it did not come so far"
    until_noticed(database, job_id)


def until_noticed(database: Database, job_id: int) -> None:
    """Wait until the database has seen that a job's holder is gone: it does so a moment after the holder died."""
    held = text("select count(*) from pg_locks where locktype = 'advisory' and classid = :about and objid = :job")
    for _ in range(200):
        with database.begin() as db:
            if not db.scalar(held, {"about": JOB, "job": job_id}):
                return
        time.sleep(0.05)
    raise AssertionError("the lock of a dead holder is still held after 10 s")


MOMENTS = [
    (scanning, "regroup", 1),
    (scanning, "save_files", 1),
    (scanning, "add_serving", 1),
    (served, "save_serving", 1),
    (scanning, "keep_listings", 1),
    (scanning, "fresh_bodies", 1),
    (scanning, "look_inside", 1),
    (inside, "_save_probes", 1),
    (scanning, "local_artwork", 1),
    (artwork, "add_artwork", 3),
    (scanning, "check_changed", 1),
    (checks, "note_done", 1),
]


@pytest.mark.parametrize("kind", ["films", "music", "photos"])
@pytest.mark.parametrize("moment", MOMENTS, ids=lambda moment: f"{moment[1]}-{moment[2]}")
def test_a_scan_that_was_killed_is_made_good_by_the_next(
    tmp_path: Path,
    database: Database,
    settings: Settings,
    household: Path,
    scan: Scan,
    kind: str,
    moment: tuple[Any, str, int],
) -> None:
    if moment[1] == "add_artwork" and kind != "photos":
        pytest.skip("there are not so many pictures")
    if moment[1] in ("add_serving", "save_serving") and kind != "photos":
        pytest.skip("so few names are shown when they have been looked into")
    if moment[1] == "save_files" and kind == "photos":
        pytest.skip("names of which none is known are recorded with their entries")
    library = "movies" if kind == "films" else kind
    other = tmp_path / kind
    shutil.copytree(household / kind, other)
    disturbed = declare(database, other, library)
    die_in_scan(database, settings, disturbed, *moment)
    assert requeue_lost(database)
    assert scan(disturbed) == "done"
    calm = declare(database, household / kind, library)
    assert scan(calm) == "done"
    assert told(database, disturbed)["pictures" if kind == "photos" else "entries"]
    assert told(database, disturbed) == told(database, calm)


def test_a_file_that_was_renamed_keeps_what_was_decided_although_the_scan_was_killed(
    tmp_path: Path, database: Database, settings: Settings, household: Path, scan: Scan
) -> None:
    root = tmp_path / "films"
    shutil.copytree(household / "films", root)
    library = declare(database, root, "movies")
    scan(library)
    with database.begin() as db:
        entry = db.scalars(select(Entry).where(Entry.title == "Tin Lantern 3")).one()
        entry.state, entry.decided_by, entry.external_id, before = "settled", "hand", "x9", entry.id
    (root / "Tin Lantern 3 (1953)").rename(root / "Brass Lantern (1953)")
    (root / "Brass Lantern (1953)" / "Tin Lantern 3 (1953).mp4").rename(
        root / "Brass Lantern (1953)" / "Brass Lantern (1953).mp4"
    )
    die_in_scan(database, settings, library, scanning, "fresh_bodies", 1)
    requeue_lost(database)
    assert scan(library) == "done"
    with database.begin() as db:
        kept = db.get_one(Entry, before)
        assert (kept.state, kept.external_id) == ("settled", "x9")
        assert db.scalar(select(func.count()).select_from(File).where(File.state == "missing")) == 0


AFTER_MOVES = [
    (scanning, "show_new", 1),
    (scanning, "settle_moves", 1),
    (scanning, "mark_state", 1),
    (scanning, "raise_floor", 1),
    (scanning, "forget_gone", 1),
    (scanning, "regroup", 1),
    (grouping, "apply_grouping", 1),
    (grouping, "note_done", 1),
    (scanning, "local_artwork", 1),
]


@pytest.mark.parametrize("moment", AFTER_MOVES, ids=lambda moment: moment[1])
def test_what_was_kept_of_a_renamed_photo_stays_although_the_folder_changed_again_after_the_scan_was_killed(
    tmp_path: Path,
    database: Database,
    settings: Settings,
    household: Path,
    scan: Scan,
    moment: tuple[Any, str, int],
) -> None:
    """The second scan reads the whole folder anew, and is long enough to show its
    names before it has put them together."""
    root = tmp_path / "photos"
    shutil.copytree(household / "photos", root)
    library = declare(database, root, "photos")
    scan(library)
    folder = root / "2019-07-20 Ferry"
    with database.begin() as db:
        before = db.scalars(select(File.entry_id).where(File.shown.endswith("P0004.jpg"))).one()
    (folder / "P0004.jpg").rename(folder / "On the pier.jpg")
    die_in_scan(database, settings, library, *moment)
    requeue_lost(database)
    (folder / "P0017.jpg").unlink()
    assert scan(library) == "done"
    with database.begin() as db:
        assert db.scalars(select(File.entry_id).where(File.shown.endswith("On the pier.jpg"))).one() == before
    assert not hollow(database, library)


def test_entries_shown_for_files_that_had_only_moved_are_gone_with_a_scan_that_was_killed(
    tmp_path: Path, database: Database, settings: Settings, household: Path, scan: Scan
) -> None:
    root = tmp_path / "photos"
    shutil.copytree(household / "photos", root)
    library = declare(database, root, "photos")
    scan(library)
    (root / "2019-07-20 Ferry").rename(root / "2019-07-20 Over the water")
    die_in_scan(database, settings, library, scanning, "regroup", 1)
    requeue_lost(database)
    (root / "2019-07-20 Over the water").rename(root / "2019-07-20 Back home")
    assert scan(library) == "done"
    with database.begin() as db:
        assert db.scalars(select(Entry.title).where(Entry.kind == "event")).all() == ["Back home"]
    assert not hollow(database, library)


def test_siblings_of_a_file_that_comes_later_are_read_beside_it(
    tmp_path: Path, database: Database, scan: Scan, household: Path
) -> None:
    first, second = tmp_path / "one", tmp_path / "two"
    names = [f"Ada Reed - Weir {number} - {101 + number}.mp3" for number in range(4)]
    for root in (first, second):
        (root / "Slow Weir").mkdir(parents=True)
    for name in names:
        (first / "Slow Weir" / name).write_bytes(b"x")
    (second / "Slow Weir" / names[0]).write_bytes(b"x")
    library = declare(database, second, "music")
    scan(library)
    for name in names[1:]:
        (second / "Slow Weir" / name).write_bytes(b"x")
    scan(library)
    at_once = declare(database, first, "music")
    scan(at_once)
    assert told(database, library) == told(database, at_once)


@pytest.mark.parametrize(
    ("known", "lost", "same_device", "away"),
    [
        (430, 430, True, True),
        (430, 215, True, False),
        (430, 216, True, True),
        (50, 50, True, False),
        (51, 26, True, True),
        (50, 50, False, True),
        (4, 2, False, False),
        (4, 3, False, True),
        (0, 0, False, False),
    ],
)
def test_away_is_told_by_share_and_disk(known: int, lost: int, same_device: bool, away: bool) -> None:
    assert is_away_by_loss(known, lost, same_device=same_device) is away


def many(root: Path, count: int) -> None:
    """A folder of many photos' names."""
    for number in range(count):
        (root / f"{number:03d}").mkdir(parents=True)
        (root / f"{number:03d}" / f"P{number:04d}.jpg").write_bytes(b"x")


def states(database: Database) -> dict[str, int]:
    """How many files are in which state."""
    with database.begin() as db:
        return dict(db.execute(select(File.state, func.count()).group_by(File.state)).all())


def test_a_stray_file_at_the_mount_point_does_not_make_everything_missing(
    tmp_path: Path, database: Database, scan: Scan
) -> None:
    root = tmp_path / "drive"
    many(root, 60)
    library = declare(database, root, "photos")
    scan(library)
    root.rename(tmp_path / "unplugged")
    root.mkdir()
    (root / "note.txt").write_text("stray")
    scan(library)
    assert states(database) == {"away": 60, "present": 1}
    scan(library)
    assert states(database) == {"away": 60, "present": 1}
    shutil.rmtree(root)
    (tmp_path / "unplugged").rename(root)
    scan(library)
    assert states(database) == {"present": 60, "missing": 1}


@pytest.mark.parametrize("stage", ["walk", "probe", "thumbnail"])
def test_a_drive_pulled_at_any_stage_is_away_and_all_is_well_when_it_is_back(
    tmp_path: Path,
    database: Database,
    scan: Scan,
    household: Path,
    stage: str,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    root, elsewhere = tmp_path / "photos", tmp_path / "unplugged"
    shutil.copytree(household / "photos", root)
    library = declare(database, root, "photos")
    where, name = {
        "walk": (scanning, "read_listing"),
        "probe": (inside, "probe_apart"),
        "thumbnail": (artwork, "thumbnails_apart"),
    }[stage]
    real, calls = getattr(where, name), [0]

    def pulled(*args: Any, **more: Any) -> Any:
        calls[0] += 1
        if calls[0] == (1 if stage == "walk" else 5):
            root.rename(elsewhere)
        return real(*args, **more)

    with monkeypatch.context() as patch:
        patch.setattr(where, name, pulled)
        state = scan(library)
    if stage != "thumbnail":
        assert state == "failed"
        with database.begin() as db:
            job = db.scalars(select(Job).order_by(Job.id.desc())).first()
            assert job is not None and "went away" in job.message
            assert db.scalars(select(Folder.state)).one() == "away"
        assert "missing" not in states(database)
    elsewhere.rename(root)
    assert scan(library) == "done"
    with database.begin() as db:
        assert {(f.state, f.problem) for f in db.scalars(select(File))} == {("present", "")}
        assert db.scalar(select(func.count()).select_from(Artwork)) == 30
    calm = declare(database, household / "photos", "photos")
    scan(calm)
    assert told(database, library) == told(database, calm)


def test_a_permission_that_is_given_later_is_noticed(tmp_path: Path, database: Database, scan: Scan) -> None:
    file = tmp_path / "films" / "Kite (1999)" / "Kite (1999).json"
    file.parent.mkdir(parents=True)
    (file.parent / "Kite (1999).mkv").write_bytes(b"x")
    file.write_text('{"title": "Kite"}')
    library = declare(database, tmp_path / "films", "movies")
    real = inside.probe_apart

    def closed(path: bytes, kind: str) -> Any:
        found = real(path, kind)
        if path.endswith(b".json"):
            found.problem, found.out_of_reach = "No permission to read it.", True
        return found

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(inside, "probe_apart", closed)
        scan(library)
    with database.begin() as db:
        assert db.scalars(select(File.problem).where(File.kind == "sidecar")).one().startswith("No permission")
    scan(library)
    with database.begin() as db:
        told_now = db.scalars(select(File).where(File.kind == "sidecar")).one()
        assert told_now.problem == "" and told_now.media == {"about": "", "facts": {"title": "Kite"}}


BAD_SIDECARS = {
    "surrogate": b'{"title": "Kite \\ud800", "plot": "A kite."}',
    "nul": b'{"title": "Kite\\u0000", "plot": "A kite."}',
    "endless": b'{"runtime": Infinity, "plot": "A kite."}',
    "no number": b'{"runtime": NaN, "plot": "A kite."}',
    "huge": b'{"year": ' + b"9" * 400 + b', "runtime": 1e999, "plot": "A kite."}',
    "other type": b'{"title": {"name": ["x"]}, "year": "next", "genres": 7, "plot": "A kite."}',
    "deep": b'{"plot": "A kite.", "x": ' + b"[" * 5000 + b"]" * 5000 + b"}",
    "linked": b'{"@type": "Movie", "name": "Kite \\udfff", "duration": "PT999999999999999999999H", '
    b'"description": "A kite.", "datePublished": "soon"}',
}


@pytest.mark.parametrize("what", BAD_SIDECARS)
def test_one_bad_value_costs_itself_and_nothing_else(tmp_path: Path, database: Database, scan: Scan, what: str) -> None:
    folder = tmp_path / "films" / "Kite (1999)"
    folder.mkdir(parents=True)
    (folder / "Kite (1999).mkv").write_bytes(b"x")
    (folder / "Kite (1999).json").write_bytes(BAD_SIDECARS[what])
    (tmp_path / "films" / "Weir (2001)").mkdir()
    (tmp_path / "films" / "Weir (2001)" / "Weir (2001).mkv").write_bytes(b"x")
    library = declare(database, tmp_path / "films", "movies")
    assert scan(library) == "done"
    with database.begin() as db:
        assert db.scalar(select(func.count()).select_from(Entry)) == 2
        sidecar = db.scalars(select(File).where(File.kind == "sidecar")).one()
        if what == "deep":
            assert "no JSON" in sidecar.problem
        else:
            assert (sidecar.media or {})["facts"]["plot"] == "A kite."
