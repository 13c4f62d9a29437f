"""The command line: thin commands, heavy imports only where they are needed."""

from __future__ import annotations

import contextlib
import gc
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .errors import IndiceError

if TYPE_CHECKING:
    from collections.abc import Callable

    from .disk.moves import Outcome
    from .settings import Settings
    from .store.models import Job

__all__ = ["main"]

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


def _settings():
    from .settings import Settings

    try:
        return Settings.load()
    except ValueError as error:
        raise IndiceError(str(error)) from error


def _database():
    from .store.database import open_database
    from .work.requests import ensure_queue

    settings = _settings()
    database = open_database(settings)
    ensure_queue(database)
    return settings, database


@app.command()
def demo(
    host: Annotated[str | None, typer.Option(help="Address to bind to; this machine only by default.")] = None,
    port: Annotated[int | None, typer.Option(help="Port; the next free one is taken when it is in use.")] = None,
) -> None:
    """Run Indice with a made-up household, to try it.

    Example:  `./indice demo`  and open the address that it prints.
    """
    _serve(host, port, demo=True)


@app.command()
def start(
    host: Annotated[str | None, typer.Option(help="Address to bind to; this machine only by default.")] = None,
    port: Annotated[int | None, typer.Option(help="Port; the next free one is taken when it is in use.")] = None,
) -> None:
    """Run Indice with your own folders.

    Example:  `./indice start --host 0.0.0.0 --port 8080`
    """
    _serve(host, port, demo=False)


def _serve(host: str | None, port: int | None, *, demo: bool) -> None:
    from dataclasses import replace

    settings = _settings()
    if demo and not os.environ.get("INDICE_HOME"):
        settings = replace(settings, home=settings.home.with_name(settings.home.name + "-demo"))
    settings = replace(settings, host=host or settings.host, port=port or settings.port)
    from .held import said_by_holder

    is_free = said_by_holder(settings.home / "indice.lock") is None
    warm_up = _start_database_early(settings) if is_free and not settings.database_url else None
    from .service import Service

    if warm_up is not None:
        warm_up.join()
    raise typer.Exit(Service(settings, demo=demo, say=lambda text: print(text, flush=True)).run())


def _start_database_early(settings: Settings):
    """Start the private database while the rest of the program is still loading. What goes wrong is
    told later, when it is asked for again."""
    from threading import Thread

    from .store.cluster import Cluster

    def start() -> None:
        with contextlib.suppress(IndiceError, OSError):
            Cluster(settings.home, settings.database_networks).start()

    thread = Thread(target=start, daemon=True)
    thread.start()
    return thread


@app.command()
def stop() -> None:
    """Stop what runs for the data folder (and for the demo's).

    Example:  `INDICE_HOME=/srv/indice ./indice stop`
    """
    from dataclasses import replace

    from .service import stop_all

    settings = _settings()
    stopped = stop_all(settings)
    if not os.environ.get("INDICE_HOME"):
        stopped += [
            f"the demo's {name}"
            for name in stop_all(replace(settings, home=settings.home.with_name(settings.home.name + "-demo")))
        ]
    print("Stopped: " + ", ".join(stopped) + "." if stopped else "Nothing was running.")


@app.command()
def status() -> None:
    """Say what runs."""
    from .service import running
    from .store.cluster import Cluster

    settings = _settings()
    found = running(settings)
    print(f"Data folder  {settings.home}")
    print(f"Web server   {found.address if found else 'not running'}")
    database = (
        "another server (INDICE_DATABASE_URL)"
        if settings.database_url
        else "running"
        if Cluster(settings.home).is_running()
        else "not running"
    )
    print(f"Database     {database}")
    for trouble in found.troubles if found else ():
        print(f"             {trouble['at']}  The {trouble['name']} {trouble['what']}.")


@app.command()
def doctor() -> None:
    """Say what is installed, reachable, readable, and how much space is free, each with what to do.

    Ends with 1 when something needs doing.
    """
    from .doctor import examine

    settings = _settings()
    worst = 0
    for finding in examine(settings):
        print(f"{'ok  ' if finding.fine else 'MEND'}  {finding.what}: {finding.state}")
        if not finding.fine:
            worst = 1
            print(f"      → {finding.remedy}")
    raise typer.Exit(worst)


@app.command()
def read(
    paths: Annotated[list[str] | None, typer.Argument(help="Paths relative to the library's folder.")] = None,
    library: Annotated[str, typer.Option(help="movies, series, music, photos, home-videos or mixed.")] = "mixed",
    jsonl: Annotated[
        bool,
        typer.Option(
            "--jsonl", help='Read {"path", "library"} a line from standard input, put out one reading a line.'
        ),
    ] = False,
) -> None:
    """Say what names state, and why.

    Example:  `./indice read "Harbour Glass (1987)/Harbour Glass (1987).mkv" --library movies`
    """
    if jsonl:
        raise typer.Exit(read_jsonl())
    from .core.reading.explain import explain
    from .core.reading.reader import read_path

    for path in paths or []:
        print(explain(path, read_path(path, library), colour=sys.stdout.isatty()))


def read_jsonl() -> int:
    """Readings of a stream, one line in, one line out, flat in memory; returns the exit status."""
    from .core.reading.model import LIBRARIES
    from .core.reading.reader import read_path

    status = 0
    dumps = json.dumps
    write = sys.stdout.write
    for number, line in enumerate(sys.stdin, 1):
        if not line.strip():
            continue
        try:
            asked = json.loads(line)
            path, library = asked["path"], asked.get("library", "mixed")
            if not isinstance(path, str) or library not in LIBRARIES:
                raise ValueError(f"library is one of {', '.join(LIBRARIES)}, and path is text")
        except (ValueError, KeyError, TypeError) as error:
            print(
                f'indice read: line {number} is not like {{"path": "…", "library": "movies"}}: {error}', file=sys.stderr
            )
            write('{"kind": "other"}\n')
            status = 1
            continue
        write(dumps(read_path(path, library).values()) + "\n")
    return status


@app.command()
def check(
    folder: Annotated[Path, typer.Argument(help="The library's folder.")],
    library: Annotated[str, typer.Option(help="movies, series, music, photos, home-videos or mixed.")] = "mixed",
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One finding a line, as JSON.")] = False,
    names_only: Annotated[bool, typer.Option("--names-only", help="Do not look inside files.")] = False,
    convention: Annotated[str, typer.Option(help="A convention by its name, or a TOML file.")] = "Roomy",
) -> None:
    """Say what is wrong with the names below a folder. Needs no server and no database.

    Example:  `./indice check /media/films --library movies`

    Ends with 0 where nothing is found, 1 where something is, 2 where it could not run.
    """
    from .core.naming.checks import as_json
    from .work.check_folder import check_folder

    chosen = _convention(convention)
    _must_be_library(library)
    if not os.access(folder, os.R_OK | os.X_OK) or not folder.is_dir():
        raise IndiceError(f"{folder} is no folder that can be read.", hint="Give the folder of the library.")
    findings = check_folder(os.fsencode(folder), library, look_inside=not names_only, convention=chosen)
    lines: list[str] = []
    for finding in findings:
        if jsonl:
            lines.append(json.dumps(as_json(finding)))
        else:
            lines.append(f"{finding.path}: {finding.check}: {finding.message}")
            if finding.fix:
                lines.append(f"    {'→' if finding.fix_kind == 'safe' else '→ (look first)'} {finding.fix}")
    sys.stdout.buffer.write("".join(f"{line}\n" for line in lines).encode("utf-8", "surrogateescape"))
    sys.stdout.flush()
    if names_only:
        print("Checks of content were skipped (--names-only).", file=sys.stderr)
    if not jsonl:
        print(f"{len(findings)} findings." if findings else "Nothing to mend.", file=sys.stderr)
    raise typer.Exit(1 if any(finding.severity != "note" for finding in findings) else 0)


@app.command()
def tidy(
    folder: Annotated[Path, typer.Argument(help="The library's folder.")],
    library: Annotated[str, typer.Option(help="movies, series, music, photos, home-videos or mixed.")],
    convention: Annotated[str, typer.Option(help="A convention by its name, or a TOML file.")] = "Roomy",
    check_slugs: Annotated[
        list[str] | None, typer.Option("--check", help="Only what this check would mend; can be given several times.")
    ] = None,
    apply: Annotated[bool, typer.Option("--apply", help="Do it. `./indice undo` takes it back.")] = False,
) -> None:
    """Say how the names below a folder should be, and with `--apply` make them so. Needs no server and no database.

    Example:  `./indice tidy /media/films --library movies`

    Ends with 0 when all is (or was made) tidy, 1 when something waits or was left alone, 2 where it could not run.
    """
    from .work.tidy_folder import draft_for_folder, journal_for_folder

    chosen = _convention(convention)
    _must_be_library(library)
    if not folder.is_dir() or not os.access(folder, os.R_OK | os.X_OK):
        raise IndiceError(f"{folder} is no folder that can be read.", hint="Give the folder of the library.")
    root = os.fsencode(folder.resolve())
    plan = draft_for_folder(root, library, chosen, check_slugs or [])
    for before, after in plan.moves:
        _put(f"{before}\n    → {after}")
    for conflict in plan.conflicts:
        _put(f"{conflict.before}\n    ✗ {conflict.after}: {conflict.why}")
    if not apply:
        _put(f"{len(plan.moves)} files would move, {len(plan.conflicts)} would stay because of a conflict.")
        raise typer.Exit(1 if plan.moves or plan.conflicts else 0)
    _mend_journals()
    if not plan.steps:
        _put("There is nothing to do.")
        raise typer.Exit(1 if plan.conflicts else 0)
    from .disk.moves import carry_out

    journal = journal_for_folder(root, plan, _settings().home / "journal")
    outcome = carry_out(journal)
    _say_outcome(outcome, "moved")
    _put(f"`./indice undo {journal.id}` takes it back.")
    raise typer.Exit(1 if outcome.left or outcome.stopped or plan.conflicts else 0)


@app.command()
def undo(
    plan: Annotated[str | None, typer.Argument(help="The plan's id; the last one when none is given.")] = None,
    listed: Annotated[bool, typer.Option("--list", help="Only list the plans that can be undone.")] = False,
) -> None:
    """Take back what `tidy --apply`, or a plan in the browser, has done. What has changed since is left alone.

    Example:  `./indice undo`
    """
    from .disk.journal import journals
    from .disk.moves import find_journal
    from .disk.moves import undo as take_back

    folder = _settings().home / "journal"
    if listed:
        for journal in journals(folder):
            if not journal.undoes and (journal.moves() or journal.relinked()):
                _put(f"{journal.id}  {len(journal.moves())} files  {journal.title}")
        return
    _mend_journals()
    _, outcome = take_back(find_journal(folder, plan), folder)
    _say_outcome(outcome, "moved back")
    raise typer.Exit(1 if outcome.left or outcome.stopped else 0)


def _put(text: str) -> None:
    """A line for a person, whatever bytes its names are made of."""
    sys.stdout.buffer.write(f"{text}\n".encode("utf-8", "surrogateescape"))
    sys.stdout.flush()


def _mend_journals() -> None:
    from .disk.moves import mend_all

    for journal, said in mend_all(_settings().home / "journal"):
        _put(f"The plan {journal.id} was broken off. {said or 'No file was on its way.'}")


def _say_outcome(outcome: Outcome, verb: str) -> None:
    for path, why in outcome.left:
        _put(f"{os.fsdecode(path)}: left alone. {why}")
    _put(f"{outcome.done} files {verb}, {len(outcome.left)} left alone.")
    if outcome.why:
        _put(outcome.why)


def _must_be_library(kind: str) -> None:
    from .core.reading.model import LIBRARIES

    if kind not in LIBRARIES:
        raise IndiceError(f"There is no kind of library called {kind}.", hint=f"Take one of {', '.join(LIBRARIES)}.")


def _convention(wanted: str):
    """A convention by its name or from a TOML file."""
    from .core.naming.convention import ConventionError, read_convention, shipped

    try:
        if wanted.endswith(".toml") or "/" in wanted:
            return read_convention(Path(wanted).read_text("utf-8"))
        return shipped(wanted)
    except ConventionError as error:
        raise IndiceError(str(error), hint="See docs/conventions.md.") from error
    except (OSError, UnicodeDecodeError) as error:
        raise IndiceError(f"{wanted} cannot be read.", hint="Give a TOML file, or the name of a convention.") from error


@library_app.command("add")
def library_add(
    name: Annotated[str, typer.Argument()],
    folders: Annotated[list[Path], typer.Argument(help="One or more folders.")],
    kind: Annotated[str, typer.Option(help="movies, series, music, photos, home-videos or mixed.")],
    language: Annotated[str, typer.Option(help="Language of titles and texts.")] = "en",
    country: Annotated[str, typer.Option(help="Country, for certificates and dates.")] = "",
    source: Annotated[list[str] | None, typer.Option(help="Sources in their order; all when none is named.")] = None,
) -> None:
    """Declare a library.

    Example:  `./indice library add Films --kind movies /media/films --language de --country AT`
    """
    from .store.libraries import add_library

    _, database = _database()
    with database.begin() as db:
        made = add_library(
            db,
            name=name,
            kind=kind,
            folders=[os.fsencode(folder.absolute()) for folder in folders],
            language=language,
            country=country,
            sources=source or [],
        )
        print(f"Library {made.name} is declared. Next: ./indice scan {made.name} --wait")


@library_app.command("schedule")
def library_schedule(
    name: Annotated[str, typer.Argument()],
    when: Annotated[str, typer.Argument(help="`nightly at 3`, `every 6 hours`, or off.")],
) -> None:
    """Scan a library by itself at times, besides what the watch sees.

    Example:  `./indice library schedule Films "nightly at 3"`
    """
    from .store.libraries import libraries_named, set_schedule

    _, database = _database()
    with database.begin() as db:
        library = libraries_named(db, [name])[0]
        set_schedule(library, "" if when.casefold() == "off" else when)
        print(f"{library.name} is scanned {library.schedule or 'when something changes'}.")


@source_app.command("add")
def source_add(
    profile: Annotated[Path, typer.Argument(help="The profile, a TOML file.")],
    key: Annotated[str | None, typer.Option(help="Its key, kept apart and never shown again.")] = None,
) -> None:
    """Add a metadata source or a service of subtitles, or replace the one of the same name.

    Example:  `./indice source add almanac.toml --key SECRET`
    """
    from .sources.profile import parse_profile
    from .sources.text_profile import is_text_profile
    from .store.sources import add_source
    from .store.text_services import add_text_service

    try:
        text = profile.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise IndiceError(f"{profile} cannot be read: {error}", hint="Give the path of a TOML file.") from error
    _, database = _database()
    is_text = is_text_profile(text)
    with database.begin() as db:
        name = (add_text_service if is_text else add_source)(db, text, key).name
    for field in () if is_text else parse_profile(text).unknown:
        print(f"{field} is no field that Indice knows; it is left alone.")
    print(f"{'Service' if is_text else 'Source'} {name} is set up. Try: ./indice source test {name}")


@source_app.command("list")
def source_list() -> None:
    """List the sources, and the services of subtitles."""
    from .store.sources import list_sources
    from .store.text_services import list_text_services

    _, database = _database()
    with database.begin() as db:
        for source in (*list_sources(db), *list_text_services(db)):
            print(f"{source.name:20} {source.url}   {source.problem or 'fine'}")


@source_app.command("test")
def source_test(name: Annotated[str, typer.Argument()]) -> None:
    """Ask a source or a service of subtitles what it is, and one thing, and say how it went."""
    from .store.text_services import list_text_services
    from .work.subtitles import try_service
    from .work.try_source import try_source

    _, database = _database()
    with database.begin() as db:
        service = next((one for one in list_text_services(db) if one.name == name), None)
    print(try_service(database, service) if service is not None else try_source(database, name))


PasswordFile = Annotated[
    str, typer.Option("--password-file", help="A file that holds the password; - is what is typed in.")
]
RoleOption = Annotated[str | None, typer.Option("--role", help="owner, librarian, member or guest.")]
LibraryOption = Annotated[list[str] | None, typer.Option("--library", help="A library that is given to them.")]
AgeOption = Annotated[str | None, typer.Option("--age", help="What they see is for this age; none: for any.")]
UnratedOption = Annotated[str | None, typer.Option("--unrated", help="show or hide what has no certificate.")]
DownloadOption = Annotated[bool | None, typer.Option("--download/--no-download", help="Whether they may save files.")]
ShareOption = Annotated[bool | None, typer.Option("--share/--no-share", help="Whether they may share by a link.")]
TidyOption = Annotated[bool | None, typer.Option("--tidy/--no-tidy", help="Whether they may mend and describe it.")]


def _password(file: str) -> str | None:
    """The hash of the password in a file; None when no file is named."""
    if not file:
        return None
    from argon2 import PasswordHasher

    try:
        said = sys.stdin.readline() if file == "-" else Path(file).read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise IndiceError(f"{file} cannot be read.", hint="Give the path of a file that holds the password.") from error
    password = said.splitlines()[0] if said.splitlines() else ""
    if len(password) < 8:
        raise IndiceError("A password has 8 letters at least.")
    return PasswordHasher().hash(password)


def _age(said: str | None) -> Any:
    if said is None or said.isdigit():
        return None if said is None else int(said)
    if said.lower() == "none":
        return "none"
    raise IndiceError(f"{said} is no age.", hint="Give a number of years, or none.")


@person_app.command("add")
def person_add(
    name: Annotated[str, typer.Argument()],
    password_file: PasswordFile = "",
    role: RoleOption = None,
    library: LibraryOption = None,
    age: AgeOption = None,
    unrated: UnratedOption = None,
    download: DownloadOption = None,
    share: ShareOption = None,
    tidy: TidyOption = None,
) -> None:
    """Add somebody to the household.

    Example:  `./indice person add Nell --library Films --age 10 --password-file -`
    """
    from .store.household import Change, add_person

    change = Change(
        role=role,
        libraries=library,
        age=_age(age),
        unrated=unrated,
        password_hash=_password(password_file),
        downloads=download,
        shares=share,
        tidies=tidy,
    )
    _, database = _database()
    with database.begin() as db:
        made = add_person(db, name, change)
        print(f"{made.name} is one of the household now.")
        if not made.password_hash:
            print("Nobody can sign in so yet: set a password with ./indice person set NAME --password-file FILE")


@person_app.command("set")
def person_set(
    name: Annotated[str, typer.Argument()],
    password_file: PasswordFile = "",
    role: RoleOption = None,
    library: LibraryOption = None,
    age: AgeOption = None,
    unrated: UnratedOption = None,
    download: DownloadOption = None,
    share: ShareOption = None,
    tidy: TidyOption = None,
) -> None:
    """Change what is said of somebody; --library takes the place of the list before.

    Example:  `./indice person set Nell --library Films --library Series --age 12`
    """
    from .store.household import Change, change_person, the_person

    change = Change(
        role=role,
        libraries=library,
        age=_age(age),
        unrated=unrated,
        password_hash=_password(password_file),
        downloads=download,
        shares=share,
        tidies=tidy,
    )
    _, database = _database()
    with database.begin() as db:
        change_person(db, the_person(db, name), change)
        print("It is changed.")


@person_app.command("remove")
def person_remove(name: Annotated[str, typer.Argument()]) -> None:
    """Remove somebody, with their marks and sessions."""
    from .store.household import remove_person, the_person

    _, database = _database()
    with database.begin() as db:
        remove_person(db, the_person(db, name))
        print(f"{name} is gone.")


@person_app.command("list")
def person_list(jsonl: Annotated[bool, typer.Option("--jsonl", help="One person a line, as JSON.")] = False) -> None:
    """List everybody."""
    from .store.household import members
    from .store.libraries import library_names

    _, database = _database()
    with database.begin() as db:
        names = library_names(db)
        for one in members(db):
            given = [names[id_] for id_ in one.libraries]
            told = {
                "name": one.person.name,
                "role": one.person.role,
                "libraries": given,
                "age": one.person.age,
                "unrated": one.person.unrated,
                "download": one.downloads,
                "share": one.shares,
                "tidy": one.tidies,
            }
            plain = f"{one.person.name:20} {one.person.role:10} {one.person.age or '':3} {', '.join(given)}"
            print(json.dumps(told, ensure_ascii=False) if jsonl else plain.rstrip())


@folder_app.command("limit")
def folder_limit(path: Annotated[Path, typer.Argument()], age: Annotated[str, typer.Option("--age")]) -> None:
    """Let all in a folder be for an age and above; none takes the limit away.

    Example:  `./indice folder limit /media/films/Cellar --age 18`
    """
    from .store.ages import limit_directory
    from .store.files import folder_at

    years = _age(age)
    _, database = _database()
    with database.begin() as db:
        folder, directory = folder_at(db, str(path.absolute()))
        limit_directory(db, folder, directory, None if years == "none" else years)
        print("The limit is set." if years != "none" else "The limit is gone.")


def _run_jobs(
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
    from .service import running
    from .store.libraries import libraries_named
    from .store.models import Job
    from .work.queue import perform
    from .work.requests import Queue, request_job

    settings, database = _database()
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

    from .held import MARK, mark_of
    from .logs import open_log

    out = open_log(home / "logs", "worker")
    subprocess.Popen(
        [sys.executable, "-m", "indice.cli", "worker", "--once"],
        stdout=out,
        stderr=out,
        start_new_session=True,
        env={**os.environ, "INDICE_HOME": str(home), MARK: mark_of(home)},
    )
    os.close(out)


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
    _run_jobs("scan", names, wait=wait or jsonl, told=told, subject={"verify": True} if verify else None)


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
    from .store.files import settle_away
    from .store.libraries import libraries_named

    if settle not in ("gone", "keep"):
        raise IndiceError(f"{settle} is neither gone nor keep.", hint="Take --settle gone, or --settle keep.")
    _, database = _database()
    with database.begin() as db:
        (chosen,) = libraries_named(db, [library])
        count = settle_away(db, chosen.id, gone=settle == "gone")
    print(f"{count} files are {'gone' if settle == 'gone' else 'away, and stay so until they are back'}.")


@app.command()
def watch() -> None:
    """Watch the folders, and scan at once what changes there. Indice does so by itself while it runs.

    Example:  `./indice watch`   (Ctrl-C ends it)
    """
    from .store.models import Job
    from .work.queue import perform
    from .work.watch import watch_folders

    settings, database = _database()

    def told(job_id: int) -> None:
        perform(database, settings, job_id)
        with database.begin() as db:
            job = db.get_one(Job, job_id)
            print(_scan_in_words(job.title.removeprefix("Scan "), job), flush=True)

    with contextlib.suppress(KeyboardInterrupt):
        watch_folders(database, settings, told=told)


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="The archive to write.")]) -> None:
    """Write one archive of the whole catalog: all that is known, decided, written and chosen by hand.

    It holds no media. It holds the keys of sources: keep it as you keep a key.

    Example:  `./indice backup /media/backup/indice.zip`
    """
    from .work.backup import back_up

    settings, database = _database()
    size = back_up(database, settings, file)
    print(f"{file} is written, {size / 1e6:.1f} MB. On another machine: ./indice restore {file.name}")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="An archive that `backup` wrote.")]) -> None:
    """Bring a backup into an empty data folder.

    Example:  `INDICE_HOME=/srv/indice ./indice restore indice.zip`
    """
    from .service import running
    from .work.backup import restore as bring_back

    settings = _settings()
    if running(settings) is not None:
        raise IndiceError(f"Indice runs in {settings.home}.", hint="Stop it first: ./indice stop")
    counts = bring_back(settings, file)
    told = f"{counts.get('entry', 0):,} entries, {counts.get('library', 0)} libraries, {counts.get('person', 0)} people"
    print(f"{told} are back. Next: ./indice start, and scan.")


@app.command()
def install(
    account: Annotated[
        str, typer.Option(help="The account that it runs as; it is made where there is none.")
    ] = "indice",
    home: Annotated[Path | None, typer.Option("--home", help="The data folder.")] = None,
    group: Annotated[
        list[str] | None, typer.Option("--group", help="A group that may read the films; may be given several times.")
    ] = None,
    only_print: Annotated[bool, typer.Option("--print", help="Show the unit, and do nothing.")] = False,
) -> None:
    """Make a service of Indice: it starts with the machine, and runs as an account of its own.

    Example:  `sudo ./indice install --group media`
    """
    from .installing import Wanted, install, unit_of

    wanted = Wanted(account, (home or Path("/var/lib/indice")).absolute(), tuple(group or ()))
    if only_print:
        print(unit_of(wanted), end="")
        return
    install(wanted, print)


@app.command()
def upgrade() -> None:
    """Bring the records to the version of the program; what was before is kept, and put back when it fails.

    Example:  `./indice stop && git pull && ./indice upgrade && ./indice start`
    """
    from .upgrading import upgrade

    upgrade(_settings(), print)


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

    from .store.lacking import COLUMNS, lacking_page, lines_of
    from .store.libraries import libraries_named

    _, database = _database()
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


@app.command("move-data")
def move_data_to(
    target: Annotated[Path, typer.Argument(help="An empty folder, or one that is not there yet.")],
) -> None:
    """Move the data folder (database, pictures, journals) to another disk; Indice must not run.

    Example:  `./indice stop && ./indice move-data /mnt/large/indice && ./indice start`
    """
    from .moving import move_data

    settings = _settings()
    move_data(settings, target, print)
    print(f"The data folder is {target.absolute()} now. Every start finds it there.")


@app.command()
def duplicates(
    names: Names = None, jsonl: Annotated[bool, typer.Option("--jsonl", help="One group a line, as JSON.")] = False
) -> None:
    """Say what is there twice: the same bytes, the same work, the same shot, the same recording. Changes nothing.

    Example:  `./indice duplicates Photos --jsonl`
    """
    from .store.libraries import libraries_named
    from .work.duplicates import find_duplicates

    _, database = _database()
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
            _put(json.dumps(told, ensure_ascii=False))
            continue
        _put(f"{group.kind}  {group.why}")
        for one in group.files:
            _put(f"    {'keep ' if one is keep else '     '}{one.library}: {one.path}   {one.quality}")
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
    from .store.libraries import libraries_named
    from .work.bins import empty_bins

    _, database = _database()
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
    _run_jobs("match-again" if again else "match", names, wait=wait)


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

    from .core.facts.exported import COLUMNS, OWN_COLUMNS, graph_node, table_line
    from .store.export import export_entries
    from .store.household import viewer_named
    from .store.libraries import libraries_named

    if jsonl + jsonld + as_csv > 1:
        raise IndiceError("One form at a time.", hint="Take --jsonl, --jsonld or --csv.")
    _, database = _database()
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
    from .logs import set_up_logs
    from .work.queue import run_worker

    set_up_logs()
    url = database or (_settings().database_url if sees else "")
    if url:
        _work_along(url, sees or [], can, data, name, jobs)
        return
    if sees:
        raise IndiceError(
            "--sees needs --database, or INDICE_DATABASE_URL.", hint="`./indice machines` at home says what to write."
        )
    settings, records = _database()
    run_worker(records, settings, wait=not once)


def _work_along(url: str, sees: list[str], can: str, data: Path | None, name: str, jobs: int) -> None:
    import tempfile
    from dataclasses import replace

    from sqlalchemy.exc import ArgumentError

    from .store.database import Database
    from .work.machines import Along, read_can, read_sees
    from .work.queue import run_worker

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
        settings = replace(_settings(), home=data or Path(own), database_url=url, worker_jobs=jobs)
        print(f"Working along: {', '.join(along.can)}. Ctrl C ends it.", flush=True)
        run_worker(records, settings, along=along)


@app.command()
def machines() -> None:
    """Who does the work, and how another machine can work along.

    Example:  `INDICE_DATABASE_NETWORKS=192.168.1.0/24 ./indice start`, then  `./indice machines`
    """
    from .store.cluster import Cluster
    from .store.machines import is_silent, machines_now

    settings, database = _database()
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


@app.command(hidden=True)
def openapi(target: Annotated[Path, typer.Argument()]) -> None:
    """Write the API's description to a file."""
    from .web.app import create_app

    target.write_text(json.dumps(create_app(None, None).spec, indent=1, ensure_ascii=False) + "\n", "utf-8")


@app.command(hidden=True)
def handbook(target: Annotated[Path, typer.Argument()]) -> None:
    """Write the documentation of all checks to a file."""
    from .core.naming.checks.handbook import handbook as written

    target.write_text(written(), "utf-8")


@app.command("test", context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def run_tests(context: typer.Context) -> None:
    """Run everything: linters, types, tests with real PostgreSQL, files and browser, front-end checks.

    Example:  `./indice test`  or only some:  `./indice test tests/core -k year`
    """
    from .testing import run_all

    raise typer.Exit(run_all(context.args))


def _act_as_owner() -> None:
    from .account import act_as_owner

    command = next((word for word in sys.argv[1:] if not word.startswith("-")), "")
    if command:
        act_as_owner(command, _settings().home)


def main() -> None:
    """Run the command; errors that have a message for a person end with 2 and no trace."""
    gc.set_threshold(20_000, 20, 20)  # what is loaded stays: looking through it again and again is a tenth of a command
    if sys.argv[1:3] == ["read", "--jsonl"] and len(sys.argv) == 3:
        raise SystemExit(read_jsonl())
    try:
        if not os.geteuid():
            _act_as_owner()
        app(prog_name="indice")
    except IndiceError as error:
        print(f"indice: {error.message}", file=sys.stderr)
        if error.hint:
            print(f"        {error.hint}", file=sys.stderr)
        raise SystemExit(2) from None
    except BrokenPipeError:
        os._exit(0)


if __name__ == "__main__":
    main()
