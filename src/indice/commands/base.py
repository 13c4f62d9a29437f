"""What all commands share: their application, settings, the database, and jobs that are waited for."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from ..errors import IndiceError

if TYPE_CHECKING:
    from collections.abc import Callable

    from ..store.models import Job

__all__ = [
    "Names",
    "Wait",
    "app",
    "folder_app",
    "library_app",
    "must_be_library",
    "own_database",
    "own_settings",
    "person_app",
    "put",
    "run_jobs",
    "source_app",
]

app = typer.Typer(
    no_args_is_help=True,
    add_completion=True,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    help="Indice keeps a household's films, series, music and photos in order.\n\nTry it:  `./indice demo`",
)
library_app = typer.Typer(no_args_is_help=True, help="Libraries: named sets of folders of one kind.")
source_app = typer.Typer(no_args_is_help=True, help="Metadata sources, described by a profile in TOML.")
person_app = typer.Typer(help="The people of the household.", no_args_is_help=True)
folder_app = typer.Typer(help="Folders of libraries.", no_args_is_help=True)
app.add_typer(library_app, name="library")
app.add_typer(source_app, name="source")
app.add_typer(person_app, name="person")
app.add_typer(folder_app, name="folder")

Wait = Annotated[
    bool, typer.Option("--wait", help="Come back when the work is done; ends with 1 when something failed.")
]
Names = Annotated[list[str] | None, typer.Argument(help="Libraries; all when none is named.")]


def own_settings():
    from ..settings import Settings

    try:
        return Settings.load()
    except ValueError as error:
        raise IndiceError(str(error)) from error


def own_database():
    from ..store.database import open_database
    from ..work.requests import ensure_queue

    settings = own_settings()
    database = open_database(settings)
    ensure_queue(database)
    return settings, database


def put(text: str) -> None:
    """A line for a person, whatever bytes its names are made of."""
    sys.stdout.buffer.write(f"{text}\n".encode("utf-8", "surrogateescape"))
    sys.stdout.flush()


def must_be_library(kind: str) -> None:
    from ..core.reading.model import LIBRARIES

    if kind not in LIBRARIES:
        raise IndiceError(f"There is no kind of library called {kind}.", hint=f"Take one of {', '.join(LIBRARIES)}.")


def run_jobs(
    kind: str,
    names: list[str] | None,
    *,
    wait: bool,
    told: Callable[[str, Job], str] | None = None,
    subject: dict[str, Any] | None = None,
) -> None:
    """Run a job of each library, or hand it to the workers; `told` says what came of one, when all are through.

    Not before: what one library has lost another may have found.
    """
    from ..service import running
    from ..store.libraries import libraries_named
    from ..store.models import Job
    from ..work.queue import perform
    from ..work.requests import Queue, request_job

    settings, database = own_database()
    with database.begin() as db:
        chosen = [(library.id, library.name) for library in libraries_named(db, names or [])]
    done: list[tuple[str, int]] = []
    for library_id, name in chosen:
        job_id = request_job(database, kind, library_id, subject=subject)
        if wait:
            perform(database, settings, job_id)
            done.append((name, job_id))
        else:
            Queue(database).defer(job_id)
            print(f"{name}: waits to be done.")
    failed = False
    for name, job_id in done:
        with database.begin() as db:
            job = db.get_one(Job, job_id)
            said = told(name, job) if told is not None else f"{name}: {job.message or job.state}"
            print(said, file=sys.stderr if job.state == "failed" else sys.stdout)
            failed = failed or job.state != "done"
    if not wait and running(settings) is None:
        _spawn_worker(settings.home)
    raise typer.Exit(1 if failed else 0)


def _spawn_worker(home: Path) -> None:
    """A worker that ends when the queue is empty."""
    import subprocess

    from ..held import MARK, mark_of
    from ..logs import open_log

    out = open_log(home / "logs", "worker")
    subprocess.Popen(
        [sys.executable, "-m", "indice.cli", "worker", "--once"],
        stdout=out,
        stderr=out,
        start_new_session=True,
        env={**os.environ, "INDICE_HOME": str(home), MARK: mark_of(home)},
    )
    os.close(out)
