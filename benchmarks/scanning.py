"""How fast scans are: a first one of many names, one of nothing new, one of a single new file, and one name mended.

    python -m benchmarks.scanning --files 20000

The files are empty, in folders of seasons, so that nothing is looked into and only names and records are measured.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import tempfile
import time
from collections.abc import Callable, Generator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from threading import Thread

from sqlalchemy import func, select

from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database, open_database
from indice.store.libraries import add_library
from indice.store.models import File, Finding
from indice.work.queue import perform
from indice.work.requests import ensure_queue, request_job, request_plan
from indice.work.tidy import Wish, draft_plan

SEASONS, EPISODES = 2, 20


def write_names(root: Path, files: int) -> int:
    """Empty files of made-up series; returns how many there are."""
    written = 0
    for series in range(max(1, files // (SEASONS * EPISODES))):
        for season in range(1, SEASONS + 1):
            folder = root / f"Harbour Tale {series} ({1980 + series % 40})" / f"Season {season:02d}"
            folder.mkdir(parents=True)
            for number in range(1, EPISODES + 1):
                name = f"Harbour Tale {series} - S{season:02d}E{number:02d} - Tide {number} of {series}.mkv"
                (folder / name).touch()
                written += 1
    return written


@contextmanager
def catalog() -> Generator[tuple[Database, Settings, Path]]:
    """A database of its own that is gone afterwards, and a folder for the library."""
    with tempfile.TemporaryDirectory(prefix="indice-bench-", dir="/tmp") as place:
        os.chmod(place, 0o755)
        settings = replace(Settings.load({"INDICE_HOME": place}), browse_roots="/")
        cluster = Cluster(settings.home)
        cluster.start()
        try:
            database = open_database(settings)
            ensure_queue(database)
            yield database, settings, Path(place) / "library"
        finally:
            cluster.stop("immediate")


def forget_peak() -> None:
    """Let the kernel count the most memory of this process anew (proc(5), clear_refs)."""
    Path("/proc/self/clear_refs").write_text("5")


def peak_memory() -> int:
    """The most memory of this process since then, in MB (VmHWM of proc(5))."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmHWM:")) // 1024


def measure(says: str, count: int, work: Callable[[], object]) -> None:
    """Do it once, and print how long it took on the clock and in this process, and the most memory it had."""
    forget_peak()
    clock, processor = time.perf_counter(), time.process_time()
    came = work()
    clock, processor = time.perf_counter() - clock, time.process_time() - processor
    print(
        f"{says:<34} {clock:8.2f} s, {processor:7.2f} s of the processor, {count / clock:8.0f} a second, "
        f"{count / processor:8.0f} a processor second, "
        f"{peak_memory():5d} MB   {came}"
    )


def watch_names(database: Database, count: int, began: float) -> None:
    """Say when all files have an entry that the household sees, which is long before the scan is through."""
    shown = select(func.count()).select_from(File).where(File.entry_id.is_not(None))
    while True:
        with database.begin() as db:
            if (db.scalar(shown) or 0) >= count:
                break
        time.sleep(0.5)
    took = time.perf_counter() - began
    print(f"{'all names are shown after':<34} {took:8.2f} s, {count / took:8.0f} a second")


def measure_find(root: Path, count: int) -> None:
    """How long `find` takes to say the same of each file, for the ratio."""
    asked = ["find", str(root), "-printf", "%p %s %T@ %i\\n"]
    measure("find of the same", count, lambda: subprocess.run(asked, stdout=subprocess.DEVNULL, check=True).returncode)


def main() -> None:
    """Scan, scan again, add one file, mend one name."""
    told = argparse.ArgumentParser(description=__doc__)
    told.add_argument("--files", type=int, default=20_000)
    wanted = told.parse_args()
    with catalog() as (database, settings, root):
        count = write_names(root, wanted.files)
        with database.begin() as db:
            library_id = add_library(
                db, name="Tales", kind="series", folders=[os.fsencode(root)], language="en", country="", sources=[]
            ).id

        def scan() -> str:
            return perform(database, settings, request_job(database, "scan", library_id))

        watcher = Thread(target=watch_names, args=(database, count, time.perf_counter()), daemon=True)
        watcher.start()
        measure(f"first scan of {count} names", count, scan)
        watcher.join(1)
        measure("nothing new", count, scan)
        measure("nothing new, again", count, scan)
        measure_find(root, count)
        season = next(root.glob("Harbour Tale 0 *")) / "Season 01"
        (season / "harbour.tale.0.s01e99.2160p.x265.mkv").touch()
        measure("one new file", 1, scan)
        with database.begin() as db:
            mended = db.scalars(select(Finding.id).where(Finding.check == "release-words")).all()
            plan_id = draft_plan(db, library_id, Wish(findings=list(mended))).id
        measure("one name mended", 1, lambda: perform(database, settings, request_plan(database, "tidy", plan_id)))


if __name__ == "__main__":
    main()
