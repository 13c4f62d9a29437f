"""Disks that run full: of the journal, of the data folder, of the database. Words
instead of loss, and on when there is room."""

from __future__ import annotations

import os
import random
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from sqlalchemy import func, select
from sqlalchemy.exc import OperationalError

from indice.disk.journal import Journal, PlannedMove
from indice.disk.moves import carry_out, find_journal, mend_all, undo
from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database
from indice.store.models import Artwork, Job
from indice.work.queue import perform, requeue_lost
from indice.work.requests import ensure_queue, request_job

from .conftest import declare, told

Scan = Callable[[int], str]


class Disk:
    """A small file system of its own in memory."""

    def __init__(self, size: str) -> None:
        self.path = Path(tempfile.mkdtemp(prefix="indice-disk-", dir="/tmp"))
        self.path.chmod(0o755)
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={size},mode=755", "tmpfs", str(self.path)],
            capture_output=True,
            check=False,
        )
        if mounted.returncode:
            self.path.rmdir()
            pytest.skip("no file system may be mounted here")

    def fill(self) -> Path:
        """Leave no room on it."""
        filler = self.path / "filler"
        with filler.open("wb", buffering=0) as file:
            for size in (1 << 16, 1 << 12):
                try:
                    while True:
                        file.write(b"x" * size)
                except OSError:
                    continue
        return filler

    def close(self) -> None:
        """Take it away."""
        subprocess.run(["umount", "-l", str(self.path)], check=False)
        self.path.rmdir()


@pytest.fixture
def disk() -> Iterator[Callable[[str], Disk]]:
    """Makes small file systems."""
    made: list[Disk] = []

    def make(size: str) -> Disk:
        made.append(Disk(size))
        return made[-1]

    yield make
    for one in made:
        one.close()


def test_a_full_disk_of_the_journal(tmp_path: Path, disk: Callable[[str], Disk]) -> None:
    root, small = tmp_path / "films", disk("512k")
    home = small.path / "journal"
    root.mkdir()
    names = [f"{number:04d}" for number in range(800)]
    for name in names:
        (root / name).write_text(name)
    steps = [PlannedMove(os.fsencode(root / name), os.fsencode(root / "new" / name)) for name in names]
    journal = Journal.create(home, steps, title="Full", roots=[os.fsencode(root)])
    (small.path / "filler").write_bytes(bytes(270_000))
    outcome = carry_out(journal)
    assert outcome.stopped and "full" in outcome.why and 0 < outcome.done < 800
    moved = {path.name for path in (root / "new").iterdir()}
    assert len(moved) == outcome.done == len(Journal.read(journal.path).moves())
    (small.path / "filler").unlink()
    _, undone = undo(find_journal(home, None), home)
    assert undone.done == outcome.done and sorted(path.name for path in root.iterdir()) == names


def test_a_full_disk_of_the_data_folder(
    tmp_path: Path, disk: Callable[[str], Disk], database: Database, settings: Settings, household: Path
) -> None:
    small = disk("4m")
    chosen = replace(settings, home=small.path / "home")
    shutil.copytree(household / "photos", tmp_path / "photos")
    library = declare(database, tmp_path / "photos", "photos")
    filler = small.fill()
    job_id = request_job(database, "scan", library)
    assert perform(database, chosen, job_id) == "failed"
    with database.begin() as db:
        assert "full" in db.get_one(Job, job_id).message or "No space" in db.get_one(Job, job_id).message
    filler.unlink()
    assert perform(database, chosen, request_job(database, "scan", library)) == "done"
    with database.begin() as db:
        assert db.scalar(select(func.count()).select_from(Artwork)) == 30
    assert not list(small.path.rglob("*.part"))


def test_a_full_disk_of_the_database(
    tmp_path: Path, disk: Callable[[str], Disk], settings: Settings, household: Path
) -> None:
    small = disk("180m")
    cluster = Cluster(small.path)
    database = Database(cluster.start())
    try:
        database.migrate()
        ensure_queue(database)
        shutil.copytree(household / "photos", tmp_path / "photos")
        library = declare(database, tmp_path / "photos", "photos")
        job_id = request_job(database, "scan", library)
        filler = small.fill()
        assert perform(database, settings, job_id) in ("queued", "failed", "lost", "gone")
        filler.unlink()
        database.engine.dispose()
        deadline = time.monotonic() + 60
        state = ""
        while state != "done" and time.monotonic() < deadline:
            if not cluster.is_running():
                cluster.start()
            try:
                requeue_lost(database)
                state = perform(database, settings, request_job(database, "scan", library))
            except OperationalError:
                time.sleep(1)
        assert state == "done"
        calm = declare(database, household / "photos", "photos")
        perform(database, settings, request_job(database, "scan", calm))
        assert told(database, library) == told(database, calm)
    finally:
        database.engine.dispose()
        cluster.stop("immediate")


def test_killed_again_and_again_with_foreign_hands_in_between_nothing_is_lost(tmp_path: Path) -> None:
    """Copies to another disk, renames and swaps; after each kill somebody writes to a file, or puts one in the way."""
    shm = Path("/dev/shm")
    if not shm.is_dir() or os.stat(shm).st_dev == os.stat(tmp_path).st_dev:
        pytest.skip("there is no second file system here")
    dice = random.Random(20261127)
    root, home, other = tmp_path / "films", tmp_path / "journal", shm / f"indice-hands-{os.getpid()}"
    root.mkdir()
    other.mkdir()
    try:
        names = [f"{number:03d}" for number in range(300)]
        for name in names:
            (root / name).write_text(f"<{name}>" * 2000)
        steps: list[PlannedMove] = []
        for number, name in enumerate(names):
            if number % 3 == 0:
                steps.append(PlannedMove(os.fsencode(root / name), os.fsencode(other / name)))
            elif number % 3 == 1:
                aside, second = root / f".indice-aside-{number}", root / names[number + 1]
                for before, after in ((second, aside), (root / name, second), (aside, root / name)):
                    steps.append(PlannedMove(os.fsencode(before), os.fsencode(after)))
        journal = Journal.create(home, steps, title="Hands", roots=[os.fsencode(root), os.fsencode(other)])
        written: list[str] = []
        for turn in range(60):
            child = os.fork()
            if child == 0:
                try:
                    carry_out(Journal.read(journal.path))
                    os._exit(0)
                except BaseException:
                    os._exit(1)
            time.sleep(dice.random() * 0.02)
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            # Nobody writes into a hidden copy that was broken off: it is ours, and is removed.
            files = [p for folder in (root, other) for p in folder.iterdir() if p.is_file() and p.suffix != ".part"]
            for _ in range(2):
                path, mark = dice.choice(files), f"[mark {turn} {dice.random()}]"
                if not path.exists():
                    continue
                if dice.random() < 0.5:
                    with path.open("a") as file:
                        file.write(mark)
                else:
                    fresh = path.with_name("fresh")
                    fresh.write_text(path.read_text() + mark)
                    os.replace(fresh, path)
                written.append(mark)
            if dice.random() < 0.3:
                place = root / dice.choice(names)
                if not place.exists():
                    place.write_text(mark := f"[new {turn}]")
                    written.append(mark)
            mend_all(home)
        carry_out(Journal.read(journal.path))
        everything = [path.read_text() for folder in (root, other) for path in folder.rglob("*") if path.is_file()]
        for name in names:
            assert any(f"<{name}>" * 2000 in body for body in everything), f"{name} is lost"
        for mark in written:
            assert any(mark in body for body in everything), f"{mark} is lost"
    finally:
        shutil.rmtree(other)
