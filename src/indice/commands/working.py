"""Commands that have work done and tell what came of it."""

from __future__ import annotations

import contextlib
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from ..errors import IndiceError
from .base import Names, Wait, app, own_database, own_settings, put, run_jobs

if TYPE_CHECKING:
    from ..store.models import Job

__all__: list[str] = []


@app.command()
def scan(
    names: Names = None,
    wait: Wait = False,
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One library a line, as JSON, when all are through.")] = False,
    verify: Annotated[
        bool, typer.Option("--verify", help="Read every byte, and say what has rotted. Takes as long as copying.")
    ] = False,
) -> None:
    """Scan libraries.

    Example:  `./indice scan Films --wait`
    """
    told = _scan_as_json if jsonl else _scan_in_words
    run_jobs("scan", names, wait=wait or jsonl, told=told, subject={"verify": True} if verify else None)


_COUNTS = ("new", "changed", "moved", "gone", "away", "back", "unchanged")


def _scan_as_json(name: str, job: Job) -> str:
    counts = job.subject.get("counts", {})
    began, ended = job.started_at or job.created_at, job.finished_at or job.created_at
    told = {one: counts.get(one, 0) for one in _COUNTS}
    told |= {one: counts[one] for one in ("rotten", "rotten_paths") if one in counts}
    return json.dumps({"library": name, **told, "seconds": round((ended - began).total_seconds(), 3)})


def _scan_in_words(name: str, job: Job) -> str:
    counts = job.subject.get("counts")
    if counts is None or job.state != "done":
        return f"{name}: {job.message or job.state}"
    said = [one for one in _COUNTS if one != "back" or counts.get(one)]
    line = ", ".join(f"{counts.get(one, 0):,} {one}" for one in said)
    if "rotten" not in counts:
        return f"{name}: {line}"
    paths = "".join(f"\n    {path}" for path in counts["rotten_paths"])
    return f"{name}: {line}, {counts['rotten']:,} rotten{paths}"


@app.command()
def away(
    library: Annotated[str, typer.Argument(help="The library.")],
    settle: Annotated[str, typer.Option("--settle", help="gone: they are gone for good. keep: they stay away.")],
) -> None:
    """Say what it means that files are away: a drive that comes back, or gone for good.

    Example:  `./indice away Films --settle gone`
    """
    from ..store.files import settle_away
    from ..store.libraries import libraries_named

    if settle not in ("gone", "keep"):
        raise IndiceError(f"{settle} is neither gone nor keep.", hint="Take --settle gone, or --settle keep.")
    _, database = own_database()
    with database.begin() as db:
        (chosen,) = libraries_named(db, [library])
        count = settle_away(db, chosen.id, gone=settle == "gone")
    print(f"{count} files are {'gone' if settle == 'gone' else 'away, and stay so until they are back'}.")


@app.command()
def watch() -> None:
    """Watch the folders, and scan at once what changes there. Indice does so by itself while it runs.

    Example:  `./indice watch`   (Ctrl-C ends it)
    """
    from ..store.models import Job
    from ..work.queue import perform
    from ..work.watch import watch_folders

    settings, database = own_database()

    def told(job_id: int) -> None:
        perform(database, settings, job_id)
        with database.begin() as db:
            job = db.get_one(Job, job_id)
            print(_scan_in_words(job.title.removeprefix("Scan "), job), flush=True)

    with contextlib.suppress(KeyboardInterrupt):
        watch_folders(database, settings, told=told)


@app.command()
def missing(
    names: Names = None,
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One series, album or film a line, as JSON.")] = False,
    as_csv: Annotated[bool, typer.Option("--csv", help="One missing thing a line, as a table.")] = False,
) -> None:
    """What series, albums and films in parts lack, with what sources know of it.

    Example:  `./indice missing Series --csv > missing.csv`
    """
    import csv
    from dataclasses import asdict
    from datetime import UTC, datetime

    from ..store.lacking import COLUMNS, lacking_page, lines_of
    from ..store.libraries import libraries_named

    _, database = own_database()
    writer = csv.writer(sys.stdout)
    if as_csv:
        writer.writerow(COLUMNS)
    after: str | None = ""
    while after is not None:
        with database.begin() as db:
            ids = [library.id for library in libraries_named(db, names)] if names else None
            today = datetime.now(UTC).date().isoformat()
            page = lacking_page(db, today=today, after=after, limit=500, library_ids=ids)
        for one in page.rows:
            if as_csv:
                writer.writerows(lines_of(one))
            elif jsonl:
                print(json.dumps(asdict(one), ensure_ascii=False))
            else:
                told = ", ".join(f"{lack.group}×{lack.number}{'' if lack.is_out else ' (later)'}" for lack in one.lacks)
                print(f"{one.by + ': ' if one.by else ''}{one.title}: {told}")
        after = page.following


@app.command()
def duplicates(
    names: Names = None, jsonl: Annotated[bool, typer.Option("--jsonl", help="One group a line, as JSON.")] = False
) -> None:
    """Say what is there twice: the same bytes, the same work, the same shot, the same recording. Changes nothing.

    Example:  `./indice duplicates Photos --jsonl`
    """
    from ..store.libraries import libraries_named
    from ..work.duplicates import find_duplicates

    _, database = own_database()
    with database.begin() as db:
        chosen = [library.id for library in libraries_named(db, names or [])]
    done = 0

    def say(what: str, count: int) -> None:
        nonlocal done
        done += count
        if sys.stderr.isatty() and count:
            print(f"\r{what}: {done:,}", end="", file=sys.stderr, flush=True)

    count = 0
    for group in find_duplicates(database, chosen, say):
        count += 1
        keep = group.files[0]
        if jsonl:
            files = [
                {"library": one.library, "path": one.path, "size": one.size_bytes, "quality": one.quality}
                for one in group.files
            ]
            told = {"kind": group.kind, "files": files, "keep": keep.path, "library": keep.library, "why": group.why}
            put(json.dumps(told, ensure_ascii=False))
            continue
        put(f"{group.kind}  {group.why}")
        for one in group.files:
            put(f"    {'keep ' if one is keep else '     '}{one.library}: {one.path}   {one.quality}")
    if not jsonl:
        print(f"{count} groups." if count else "Nothing is there twice.", file=sys.stderr)


@app.command("empty-bin")
def empty_bin(
    names: Names = None,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask; there is no way back.")] = False,
) -> None:
    """Delete for good what was put aside as duplicates. By itself that happens after 30 days.

    Example:  `./indice empty-bin Photos`
    """
    from ..store.libraries import libraries_named
    from ..work.bins import empty_bins

    _, database = own_database()
    with database.begin() as db:
        chosen = {library.id: library.name for library in libraries_named(db, names or [])}
    if not yes:
        typer.confirm(f"Delete for good what lies in the bins of {', '.join(chosen.values())}?", abort=True)
    print(f"{empty_bins(database, days=0, library_ids=chosen)} groups were deleted.")


@app.command()
def match(
    names: Names = None,
    wait: Wait = False,
    again: Annotated[bool, typer.Option("--again", help="Also what waits or was not found.")] = False,
) -> None:
    """Ask the sources what things are.

    Example:  `./indice match Films --wait`
    """
    run_jobs("match-again" if again else "match", names, wait=wait)


@app.command()
def export(
    names: Names = None,
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One entry a line, as JSON; the default.")] = False,
    jsonld: Annotated[bool, typer.Option("--jsonld", help="One JSON-LD graph in the schema.org vocabulary.")] = False,
    as_csv: Annotated[bool, typer.Option("--csv", help="One entry a line, as a table.")] = False,
    person: Annotated[str, typer.Option("--person", help="Also what this person has seen and marked.")] = "",
) -> None:
    """Put out the catalog: as lines of JSON, as JSON-LD, or as a table.

    Example:  `./indice export Films --csv --person Nell > films.csv`
    """
    import csv

    from ..core.facts.exported import COLUMNS, OWN_COLUMNS, graph_node, table_line
    from ..store.export import export_entries
    from ..store.household import viewer_named
    from ..store.libraries import libraries_named

    if jsonl + jsonld + as_csv > 1:
        raise IndiceError("One form at a time.", hint="Take --jsonl, --jsonld or --csv.")
    _, database = own_database()
    writer = csv.writer(sys.stdout)
    with database.begin() as db:
        viewer = viewer_named(db, person) if person else None
        rows = (row for library in libraries_named(db, names or []) for row in export_entries(db, library, viewer))
        if as_csv:
            writer.writerow([*COLUMNS, *(OWN_COLUMNS if person else ())])
            writer.writerows(table_line(row, is_own=bool(person)) for row in rows)
            return
        if jsonld:
            print('{"@context": "https://schema.org", "@graph": [')
        for place, row in enumerate(rows):
            line = json.dumps(graph_node(row) if jsonld else row, ensure_ascii=False)
            print(f"{',' if jsonld and place else ''}{line}")
        if jsonld:
            print("]}")


@app.command()
def worker(
    database: Annotated[
        str,
        typer.Option(
            "--database", metavar="URL", help="The catalog's database, as `./indice machines` says it at home."
        ),
    ] = "",
    sees: Annotated[
        list[str] | None,
        typer.Option("--sees", metavar="THERE=HERE", help="Where a folder lies at home, and where it is seen here."),
    ] = None,
    can: Annotated[str, typer.Option("--can", help="What it does: scan, match, inside, convert.")] = "inside",
    data: Annotated[
        Path | None,
        typer.Option("--data", help="Where the data folder of home is seen here; scan, match and convert need it."),
    ] = None,
    name: Annotated[str, typer.Option("--name", help="What it is called in House.")] = "",
    jobs: Annotated[int, typer.Option("--jobs", min=1, max=64, help="Jobs, or conversions, side by side.")] = 1,
    once: Annotated[bool, typer.Option("--once", hidden=True)] = False,
) -> None:
    """Work along on another machine: it takes jobs of the catalog, and looks into files, until it is stopped.

    Example:  `./indice worker --database postgresql://… --sees /media/films=/mnt/films --can inside`
    """
    from ..logs import set_up_logs
    from ..work.queue import run_worker

    set_up_logs()
    url = database or (own_settings().database_url if sees else "")
    if url:
        _work_along(url, sees or [], can, data, name, jobs)
        return
    if sees:
        raise IndiceError(
            "--sees needs --database, or INDICE_DATABASE_URL.", hint="`./indice machines` at home says what to write."
        )
    settings, records = own_database()
    run_worker(records, settings, wait=not once)


def _work_along(url: str, sees: list[str], can: str, data: Path | None, name: str, jobs: int) -> None:
    import tempfile
    from dataclasses import replace

    from sqlalchemy.exc import ArgumentError

    from ..store.database import Database
    from ..work.machines import Along, read_can, read_sees
    from ..work.queue import run_worker

    told = read_can(can)
    along = Along(can=told, name=name, sees=read_sees(sees), converts=jobs if "convert" in told else 0)
    if data is None and set(along.can) - {"inside"}:
        raise IndiceError(
            "Scans and matches make pictures, conversions make segments; both lie in the data folder of home.",
            hint="Say where it is seen here with --data, or take --can inside.",
        )
    if data is not None and not os.access(data, os.W_OK | os.X_OK):
        raise IndiceError(
            f"{data} is not there, or cannot be written to.", hint="Mount it, and let this account write."
        )
    try:
        records = Database(url)
    except ArgumentError as error:
        raise IndiceError(f"{url} is no address of a database.", hint="It begins with postgresql://") from error
    records.must_be_current()
    with tempfile.TemporaryDirectory(prefix="indice-") as own:
        settings = replace(own_settings(), home=data or Path(own), database_url=url, worker_jobs=jobs)
        print(f"Working along: {', '.join(along.can)}. Ctrl C ends it.", flush=True)
        run_worker(records, settings, along=along)


@app.command()
def machines() -> None:
    """Who does the work, and how another machine can work along.

    Example:  `INDICE_DATABASE_NETWORKS=192.168.1.0/24 ./indice start`, then  `./indice machines`
    """
    from ..store.cluster import Cluster
    from ..store.machines import is_silent, machines_now

    settings, database = own_database()
    with database.begin() as db:
        for machine, job in machines_now(db):
            doing = "silent" if is_silent(machine) else f"{job.title}, {job.step}" if job is not None else "waits"
            where = "at home" if machine.is_home else "works along"
            print(f"{machine.name}  {where}  {', '.join(machine.can)}  {doing}")
    urls = (
        [settings.database_url]
        if settings.database_url
        else Cluster(settings.home, settings.database_networks).urls_from_outside()
    )
    if not urls:
        print("Other machines cannot work along: the setting database_networks lets none reach the database.")
    for url in urls:
        print(f"On another machine:  ./indice worker --database {url} --sees /folder/here=/folder/there")
