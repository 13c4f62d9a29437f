"""Scans killed at whatever moment, again and again, while names change: at the
end all is as if nothing had happened."""

from __future__ import annotations

import os
import random
import shutil
import signal
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PIL import Image

from indice.settings import Settings
from indice.store.database import Database
from indice.work.queue import perform, requeue_lost
from indice.work.requests import request_job

from .conftest import declare, hollow, told
from .test_scan_faults import until_noticed

KILLS = int(os.environ.get("INDICE_KILLS", "10"))
LONGEST_SECONDS = 1.2


def killed(database: Database, settings: Settings, job_id: int, after: float) -> bool:
    """Perform a job in a child that is killed after a while; whether it was still at it."""
    child = os.fork()
    if child == 0:
        try:
            perform(Database(database.url), settings, job_id)
        finally:
            os._exit(0)
    until = time.monotonic() + after
    while time.monotonic() < until:
        if os.waitpid(child, os.WNOHANG)[0]:
            return False
        time.sleep(0.01)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    until_noticed(database, job_id)
    return True


def change(root: Path, dice: random.Random, number: int) -> None:
    """Something that people do to their folders: a name mended, a folder moved, a file gone, a new one."""
    files = sorted(path for path in root.rglob("*") if path.is_file())
    one = dice.choice(files)
    what = dice.randrange(4)
    if what == 0:
        one.rename(one.with_name(f"{number:03d} {one.name[-24:]}"))
    elif what == 1 and one.parent != root:
        one.parent.rename(one.parent.with_name(f"2019-07-{1 + number % 28:02d} Ferry {number}"))
    elif what == 2 and len(files) > 12:
        one.unlink()
    else:
        made = one.with_name(f"Q{number:04d}.jpg")
        Image.new("RGB", (64, 48), (number % 255, 40, number * 7 % 255)).save(made)


def plain(what: dict[str, Any]) -> list[dict[str, Any]]:
    """Entries that are there, without their keys: a key is the first that an entry had, and stays when names change."""
    rows = [row for row in what["entries"] if row.get("state") == "present"]
    bare = [{name: value for name, value in row.items() if name not in ("key", "parent")} for row in rows]
    return sorted(bare, key=repr)


def test_scans_that_are_killed_again_and_again_lose_and_invent_nothing(
    tmp_path: Path, database: Database, settings: Settings, household: Path, scan: Callable[[int], str]
) -> None:
    dice = random.Random(int(os.environ.get("INDICE_KILLS_SEED", "20261128")))
    root = tmp_path / "photos"
    shutil.copytree(household / "photos", root)
    library = declare(database, root, "photos")
    kills = number = 0
    while kills < KILLS:
        number += 1
        change(root, dice, number)
        job_id = request_job(database, "scan", library)
        if killed(database, settings, job_id, dice.uniform(0.02, LONGEST_SECONDS)):
            kills += 1
            assert requeue_lost(database) in ([job_id], []), (
                "it is back in the queue, or was killed before it had begun"
            )
        assert number < KILLS * 20, "scans are over before they can be killed"
    assert scan(library) == "done"
    assert scan(library) == "done"
    assert not hollow(database, library)
    calm = declare(database, shutil.copytree(root, tmp_path / "calm" / "photos"), "photos")
    assert scan(calm) == "done"
    here, there = told(database, library), told(database, calm)
    assert plain(here) == plain(there)
    assert here["findings"] == there["findings"]
    assert sorted(digest for *_, digest in here["pictures"]) == sorted(digest for *_, digest in there["pictures"])
    assert here["pictures"], "there is something to compare"
