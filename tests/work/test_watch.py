"""What the system tells of changes is scanned at once, and only there; shares are told from disks."""

from __future__ import annotations

import os
import shutil
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from indice.disk.trial import is_on_share
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Job
from indice.work.queue import perform
from indice.work.requests import request_job
from indice.work.watch import Pending, directories_of, watch_folders

from .test_upkeep import TITLES, House, counts, film, stock


@pytest.fixture
def house(database: Database, settings: Settings, tmp_path: Path) -> House:
    """No library yet."""
    return House(database, settings, tmp_path / "disk")


def part(house: House, library: int, folder: int, *directories: str) -> dict[str, Any]:
    """Scan some directories only, and give what was counted."""
    job_id = request_job(house.database, "scan", library, subject={"only": {str(folder): list(directories)}})
    assert perform(house.database, house.settings, job_id) == "done"
    with house.database.begin() as db:
        return dict(db.get_one(Job, job_id).subject["counts"])


def test_only_what_is_named_is_looked_at(house: House) -> None:
    library = stock(house)
    house.put(f"Films/{film('New Wharf')}")
    house.put(f"Films/{film('Far Wharf')}")
    (house.root / "Films" / film(TITLES[0])).unlink()
    assert part(house, library, 1, "New Wharf (1990)") == counts(new=1)
    assert part(house, library, 1, "Salt Ferry (1990)") == counts(gone=1)
    assert house.scan(library) == counts(new=1, unchanged=6)


def test_a_directory_that_comes_or_goes_takes_all_that_is_below(house: House) -> None:
    library = house.declare("Series", "series")
    for number in (1, 2, 3):
        house.put(f"Series/Wan Moor (2005)/Season 01/Wan Moor - S01E0{number}.mkv")
        house.put(f"Series/Wan Moor (2005)/Season 02/Wan Moor - S02E0{number}.mkv")
        house.put(f"Series/Low Sea (2006)/Season 01/Low Sea - S01E0{number}.mkv")
    house.scan(library)
    house.put("Series/Far Away (2007)/Season 01/Far Away - S01E01.mkv")
    assert part(house, library, 1, "") == counts(new=1)
    shutil.rmtree(house.root / "Series" / "Wan Moor (2005)" / "Season 02")
    assert part(house, library, 1, "Wan Moor (2005)") == counts(gone=3)
    shutil.rmtree(house.root / "Series" / "Low Sea (2006)")
    assert part(house, library, 1, "", "Low Sea (2006)", "Low Sea (2006)/Season 01") == counts(gone=3)
    assert house.scan(library) == counts(unchanged=4)


def test_a_rename_is_a_move_also_in_part(house: House) -> None:
    library = stock(house)
    key = house.key_of(library, film("Salt Ferry"))
    house.move("Films/Salt Ferry (1990)", "Films/Salt Barge (1990)")
    assert part(house, library, 1, "") == counts(moved=1)
    assert house.key_of(library, "Salt Barge (1990)/Salt Ferry (1990).mkv") == key
    house.move("Films/Salt Barge (1990)/Salt Ferry (1990).mkv", f"Films/{film('Salt Barge')}")
    assert part(house, library, 1, "Salt Barge (1990)") == counts(moved=1)
    assert house.scan(library) == counts(unchanged=6)


def test_most_of_a_folder_lost_in_a_part_of_it_is_away(house: House) -> None:
    library = house.declare("Films")
    for number in range(60):
        house.put(f"Films/inner/{film(f'Plain Song {number + 100}')}")
    house.put(f"Films/{film('Alone')}")
    house.scan(library)
    shutil.rmtree(house.root / "Films" / "inner")
    assert part(house, library, 1, "") == counts(away=60)


@pytest.fixture
def watched(house: House) -> Iterator[tuple[House, int]]:
    """A library that is watched, by a thread that scans what is asked for."""
    library = stock(house)
    settings = replace(house.settings, still_seconds=0.5)
    stop = threading.Event()

    def told(job_id: int) -> None:
        perform(house.database, settings, job_id)

    watcher = threading.Thread(
        target=watch_folders, args=(house.database, settings), kwargs={"stop": stop, "told": told}
    )
    watcher.start()
    time.sleep(1.0)
    yield house, library
    stop.set()
    watcher.join(20)
    assert not watcher.is_alive()


def await_counts(house: House, wanted: dict[str, int]) -> float:
    """Wait until scans since the first have counted so much in all; returns how long it took."""
    began = time.monotonic()
    summed: dict[str, int] = {}
    while time.monotonic() - began < 20:
        with house.database.begin() as db:
            jobs = db.scalars(select(Job).where(Job.kind == "scan", Job.state == "done").order_by(Job.id)).all()[1:]
            told = [job.subject["counts"] for job in jobs if "counts" in job.subject]
        summed = {name: sum(one[name] for one in told) for name in wanted}
        if summed == wanted:
            return time.monotonic() - began
        time.sleep(0.1)
    raise AssertionError(f"{summed} is not {wanted}")


def test_a_new_file_is_in_the_catalog_by_itself(watched: tuple[House, int]) -> None:
    house, library = watched
    house.put(f"Films/{film('New Wharf')}")
    await_counts(house, {"new": 1})
    assert any(row["title"] == "New Wharf" for row in house.rows(library).values())


def test_a_file_that_is_written_for_a_while_comes_when_it_is_whole(watched: tuple[House, int]) -> None:
    house, library = watched
    place = house.root / "Films" / film("Slow Copy")
    place.parent.mkdir()
    with place.open("wb") as out:
        for _ in range(20):
            out.write(b"more" * 1000)
            out.flush()
            time.sleep(0.1)
    await_counts(house, {"new": 1})
    with house.database.begin() as db:
        assert db.scalars(select(Job.id).where(Job.state == "failed")).all() == []
    assert any(row["title"] == "Slow Copy" for row in house.rows(library).values())


def test_moves_and_removals_are_noticed(watched: tuple[House, int]) -> None:
    house, library = watched
    key = house.key_of(library, film("Tin Orchard"))
    house.move(f"Films/{film('Tin Orchard')}", f"Films/{film('Tin Meadow')}")
    await_counts(house, {"moved": 1})
    assert house.key_of(library, film("Tin Meadow")) == key
    shutil.rmtree(house.root / "Films" / "Grey Sexton (1990)")
    await_counts(house, {"moved": 1, "gone": 1})


def test_paths_are_told_by_their_directories(tmp_path: Path) -> None:
    root = os.fsencode(tmp_path)
    (tmp_path / "a" / "b").mkdir(parents=True)
    told = [root + b"/a/b", root + b"/a/x.mkv", root + b"/.indice-bin/1/x.mkv", root + b"elsewhere/y.mkv", root + b"/z"]
    assert directories_of(root, told) == {b"a", b"a/b", b""}


def test_many_changes_become_one_scan_of_all() -> None:
    pending = Pending()
    pending.add(1, 1, [b"a", b"caf\xe9"])
    assert pending.take(1) == {"only": {"1": ["a", "caf\uefe9"]}}
    for number in range(500):
        pending.add(2, 1, [str(number).encode()])
    pending.add(2, 1, [b"more"])
    assert pending.take(2) == {} and pending.changed == {}


MOUNTS = """\
22 1 8:1 / / rw,relatime shared:1 - ext4 /dev/sda1 rw
40 22 0:40 / /mnt/films rw,relatime shared:2 - nfs4 house:/films rw
41 22 0:41 / /mnt/my\\040music rw,relatime - cifs //house/music rw
42 22 8:2 / /mnt/films/local rw,relatime - ext4 /dev/sdb1 rw
43 22 0:43 / /mnt/far rw - fuse.sshfs somebody@far: rw
44 22 0:44 / /mnt/near rw - fuse.joined a:b rw
"""


@pytest.mark.parametrize(
    ("path", "remote"),
    [
        ("/mnt/films", True),
        ("/mnt/films/a/b", True),
        ("/mnt/filmsandmore", False),
        ("/mnt/films/local/x", False),
        ("/mnt/my music/x", True),
        ("/mnt/far", True),
        ("/mnt/near", False),
        ("/srv", False),
    ],
)
def test_shares_are_told_from_disks(path: str, remote: bool) -> None:
    assert is_on_share(path.encode(), MOUNTS.encode()) is remote
