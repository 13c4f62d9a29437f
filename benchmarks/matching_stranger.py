"""How sure and how right the matcher is with a service that it has nothing in common with; by what is hard.

Run:  PYTHONPATH=src .venv/bin/python -m benchmarks.matching_stranger [--seed N] [--films N] [--series N] [--albums N] [--wrong N]
"""

from __future__ import annotations

import argparse
import os
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path
from types import SimpleNamespace
from typing import Any, cast

from sqlalchemy import select
from werkzeug.serving import WSGIRequestHandler, make_server

from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database, open_database
from indice.store.files import library_files
from indice.store.models import Candidate, Entry
from indice.store.sources import add_source
from indice.work.queue import perform
from indice.work.requests import ensure_queue, request_job

from .matching import declare
from .stranger import PROFILE, Truth, entries, make_household, make_service, make_world


class Quiet(WSGIRequestHandler):
    """Says nothing of requests."""

    protocol_version = "HTTP/1.1"

    def log_request(self, code: int | str = "-", size: int | str = "-") -> None:
        """Nothing."""


def judge(
    database: Database, truth: Truth, kind: str, library_id: int, wrong: list[str]
) -> tuple[Counter[str], dict[str, Counter[str]]]:
    """Compare what was decided with the truth: all in all, and by what is hard."""
    tally: Counter[str] = Counter()
    hard: dict[str, Counter[str]] = {}
    with database.begin() as db:
        files = {file.shown: file for file in library_files(db, library_id)}
        known = {entry.id: entry for entry in db.scalars(select(Entry).where(Entry.library_id == library_id))}
        ranked: dict[int, list[str]] = {}
        for row in db.scalars(select(Candidate).order_by(Candidate.score.desc(), Candidate.id)):
            ranked.setdefault(row.entry_id, []).append(row.external_id)
        for path in entries(truth, kind):
            entry = known[cast(int, files[path].entry_id)]
            while kind != "movies" and entry.kind not in ("series", "album") and entry.parent_id:
                entry = known[entry.parent_id]
            right, row = truth.right[path], hard.setdefault(truth.hard[path], Counter())
            for counts in (tally, row):
                counts["known"] += bool(right)
                counts["knowable"] += bool(right) and path not in truth.unknowable
                counts["told"] += (
                    entry.state == "settled" and entry.external_id in right and path not in truth.unknowable
                )
                counts["settled"] += entry.state == "settled"
                counts["right"] += entry.state == "settled" and entry.external_id in right
                counts["waiting"] += entry.state == "waiting" and bool(right)
                counts["near"] += entry.state == "waiting" and bool(right & set(ranked.get(entry.id, [])[:3]))
            if entry.state == "settled" and entry.external_id not in right:
                wrong.append(
                    f"WRONG [{truth.hard[path]}] {path}: {entry.external_id}, truly {sorted(right)}; {entry.note}"
                )
            elif entry.state != "settled" and right:
                wrong.append(
                    f"{entry.state} [{truth.hard[path]}] {path}: truly {sorted(right)}; {entry.note} "
                    f"{ranked.get(entry.id, [])[:3]}"
                )
        for path, part in truth.episodes.items() if kind == "series" else ():
            entry = known[cast(int, files[path].entry_id)]
            top = entry
            while top.parent_id:
                top = known[top.parent_id]
            if top.state == "settled":
                tally["episodes"] += 1
                tally["episodes right"] += entry.external_id == part
    return tally, hard


def show(name: str, tally: Counter[str]) -> str:
    """A line of the table."""
    alone = 100 * tally["right"] / tally["settled"] if tally["settled"] else 100.0
    share = 100 * tally["right"] / tally["known"] if tally["known"] else 0.0
    knowable = 100 * tally["told"] / tally["knowable"] if tally["knowable"] else 100.0
    return (
        f"{name:42} known {tally['known']:4}  decided alone, right {alone:6.2f} %  of the known {share:6.2f} "
        f"%, of the knowable {knowable:6.2f} %  waiting {tally['waiting']:3}, among three {tally['near']:3}"
    )


def main() -> None:
    """Build, match, judge, print."""
    parser = argparse.ArgumentParser(description=__doc__)
    for name, value in (("seed", 5), ("films", 800), ("series", 120), ("albums", 400), ("wrong", 25)):
        parser.add_argument(f"--{name}", type=int, default=value)
    options = parser.parse_args()
    world = make_world(
        options.seed, films=options.films * 3 // 2, series=options.series * 2, albums=options.albums * 3 // 2
    )
    truth = make_household(world, options.seed, films=options.films, series=options.series, albums=options.albums)
    asked: dict[str, int] = {}
    server = make_server("127.0.0.1", 0, make_service(world, asked), threaded=True, request_handler=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    with tempfile.TemporaryDirectory(prefix="indice-bench-", dir="/tmp") as place:
        os.chmod(place, 0o755)
        settings = Settings(home=Path(place))
        cluster = Cluster(settings.home)
        cluster.start()
        try:
            run(settings, truth, f"http://127.0.0.1:{server.server_port}/reconcile", options, asked)
        finally:
            cluster.stop("immediate")


def run(settings: Settings, truth: Truth, url: str, options: Any, asked: dict[str, int]) -> None:
    """Match every library and print what came of it."""
    database = open_database(settings)
    ensure_queue(database)
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url), None)
    wrong: list[str] = []
    for kind in truth.files:
        library_id = declare(database, settings.home, cast(Any, SimpleNamespace(files=truth.files)), kind)
        asked.clear()
        began = time.perf_counter()
        state = perform(database, settings, request_job(database, "match", library_id))
        tally, hard = judge(database, truth, kind, library_id, wrong)
        print(show(f"{kind} ({state}, {time.perf_counter() - began:.1f} s, {dict(asked)})"[:60], tally))
        if tally["episodes"]:
            print(
                f"    episodes right {100 * tally['episodes right'] / tally['episodes']:.2f} % of {tally['episodes']}"
            )
        for name, row in sorted(hard.items()):
            print("   ", show(name, row))
    for line in sorted(wrong)[: options.wrong]:
        print("  ", line)


if __name__ == "__main__":
    main()
