"""How sure and how right the matcher is, on a world of its own seed, over HTTP,
through the whole pipeline but the disk.

Prints automatic precision and recall, the share of waiting ones with the right candidate among the first three,
episodes assigned, requests asked, time, and what went wrong.
Run:  .venv/bin/python -m benchmarks.matching [--seed N] [--films N] [--series N] [--albums N] [--faults] [--wrong N]
"""

from __future__ import annotations

import argparse
import os
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

from sqlalchemy import select, text
from werkzeug.serving import WSGIRequestHandler, make_server

from indice.core.reading.siblings import read_listing
from indice.disk.walk import Seen
from indice.settings import Settings
from indice.standins.almanac import Faults, create_almanac, records_of
from indice.standins.profile import PROFILE
from indice.standins.world import make_world
from indice.store.cluster import Cluster
from indice.store.database import Database, open_database
from indice.store.files import Inside, library_files, save_files, save_probe
from indice.store.libraries import add_library
from indice.store.models import Candidate, Entry, Folder
from indice.store.sources import add_source
from indice.work.grouping import regroup
from indice.work.queue import perform
from indice.work.requests import ensure_queue, request_job
from indice.work.scan import new_file

from .household import Household, make_household


class Quiet(WSGIRequestHandler):
    """Serves without a line for each request, and counts them."""

    protocol_version = "HTTP/1.1"
    asked: Counter[str] = Counter()

    def log_request(self, code: int | str = "-", size: int | str = "-") -> None:
        """Count."""
        Quiet.asked[str(code)] += 1


def declare(database: Database, home: Path, house: Household, kind: str) -> int:
    """A library with these files, as a scan would leave it."""
    folder = home / kind
    folder.mkdir()
    with database.begin() as db:
        library = add_library(
            db, name=kind, kind=kind, folders=[os.fsencode(folder)], language="en", country="", sources=[]
        )
        library_id = library.id
        folder_id = db.scalars(select(Folder.id).where(Folder.library_id == library_id)).one()
    by_folder: dict[str, list[str]] = {}
    for path in house.files[kind]:
        by_folder.setdefault(path.rpartition("/")[0], []).append(path)
    made = [
        new_file(Seen(os.fsencode(path), 1000, 1, 0), reading, [])
        for paths in by_folder.values()
        for path, reading in read_listing(paths, kind).items()
    ]
    with database.begin() as db:
        save_files(db, folder_id, made)
    with database.begin() as db:
        rows = [Inside(file.id, house.files[kind][file.shown]) for file in library_files(db, library_id)]
        save_probe(db, rows)
    regroup(database, library_id)
    return library_id


def judge(database: Database, house: Household, kind: str, library_id: int, wrong: list[str]) -> dict[str, float]:
    """Compare what was decided with the truth."""
    tally: Counter[str] = Counter()
    with database.begin() as db:
        files = {file.shown: file for file in library_files(db, library_id)}
        entries = {entry.id: entry for entry in db.scalars(select(Entry).where(Entry.library_id == library_id))}
        candidates: dict[int, list[str]] = {}
        for row in db.scalars(select(Candidate).order_by(Candidate.score.desc(), Candidate.id)):
            candidates.setdefault(row.entry_id, []).append(row.external_id)
        for path, truth in house.truth.items():
            if path not in house.files[kind]:
                continue
            entry = entries[files[path].entry_id]
            while kind != "movies" and entry.kind not in ("series", "album") and entry.parent_id:
                entry = entries[entry.parent_id]
            tally["known"] += truth is not None
            if entry.state == "settled":
                tally["settled"] += 1
                right = entry.external_id == truth
                tally["right"] += right
                if not right:
                    wrong.append(f"WRONG {kind} {path}: {entry.external_id}, truly {truth}; {entry.note}")
            elif entry.state == "waiting" and truth is not None:
                tally["waiting"] += 1
                near = truth in candidates.get(entry.id, [])[:3]
                tally["near"] += near
                wrong.append(
                    f"waits{'' if near else ' FAR'} {kind} {path}: truly {truth}; {entry.note} "
                    f"{candidates.get(entry.id, [])[:3]}"
                )
            elif truth is not None:
                tally["lost"] += 1
                wrong.append(f"none {kind} {path}: truly {truth}; {entry.note}")
        matched = {path for path in house.episodes if path in house.files[kind]}
        for path in matched:
            entry = entries[files[path].entry_id]
            top = entry
            while top.parent_id:
                top = entries[top.parent_id]
            if top.state == "settled":
                tally["episodes"] += 1
                right = entry.external_id == house.episodes[path]
                tally["episodes right"] += right
                if not right:
                    wrong.append(f"episode {path}: {entry.external_id}, truly {house.episodes[path]}")
    return {
        "precision": 100 * tally["right"] / max(tally["settled"], 1),
        "recall": 100 * tally["right"] / max(tally["known"], 1),
        "among three": 100 * tally["near"] / max(tally["waiting"], 1),
        "episodes": 100 * tally["episodes right"] / max(tally["episodes"], 1),
        **{name: float(tally[name]) for name in ("known", "settled", "waiting", "lost")},
    }


def main() -> None:
    """Build, match, judge, print."""
    parser = argparse.ArgumentParser(description=__doc__)
    for name, value in (("seed", 11), ("films", 800), ("series", 120), ("albums", 400), ("wrong", 25)):
        parser.add_argument(f"--{name}", type=int, default=value)
    parser.add_argument("--faults", action="store_true")
    options = parser.parse_args()
    world = make_world(options.seed)
    house = make_household(world, options.seed, films=options.films, series=options.series, albums=options.albums)
    faults = Faults(quota=25, errors=0.05) if options.faults else None
    app = create_almanac(known=records_of(world), faults=faults)
    server = make_server("127.0.0.1", 0, app, threaded=True, request_handler=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    with tempfile.TemporaryDirectory(prefix="indice-bench-", dir="/tmp") as place:
        os.chmod(place, 0o755)
        settings = Settings(home=Path(place))
        cluster = Cluster(settings.home)
        cluster.start()
        try:
            run(settings, house, f"http://127.0.0.1:{server.server_port}/reconcile", options)
        finally:
            cluster.stop()


def run(settings: Settings, house: Household, url: str, options: Any) -> None:
    """Match every library and print what came of it."""
    database = open_database(settings)
    ensure_queue(database)
    with database.begin() as db:
        profile = "\n".join(line for line in PROFILE.splitlines() if not line.startswith(("artwork", "backdrop")))
        add_source(db, profile.format(url=url), None)  # pictures are drawn on demand, which would measure the painter
    libraries = {kind: declare(database, settings.home, house, kind) for kind in house.files}
    wrong: list[str] = []
    total = 0.0
    for kind, library_id in libraries.items():
        Quiet.asked.clear()
        begun = time.perf_counter()
        state = perform(database, settings, request_job(database, "match", library_id))
        spent = time.perf_counter() - begun
        total += spent
        told = judge(database, house, kind, library_id, wrong)
        print(f"{kind:7} {state} " + "  ".join(f"{name} {value:.2f}" for name, value in told.items()))
        print(f"        {spent:.1f} s, requests {dict(Quiet.asked)}")
    print(f"all matched in {total:.1f} s")
    for line in sorted(wrong, key=lambda line: (line.startswith("waits "), line))[: options.wrong]:
        print("  ", line)
    with database.begin() as db:
        db.execute(text("select 1"))


if __name__ == "__main__":
    main()
