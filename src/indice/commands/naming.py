"""Commands that read and mend names; they need no database."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from ..errors import IndiceError
from .base import app, must_be_library, own_settings, put

if TYPE_CHECKING:
    from ..disk.moves import Outcome

__all__ = ["read_jsonl", "tidy"]


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
    from ..core.reading.explain import explain
    from ..core.reading.reader import read_path

    for path in paths or []:
        print(explain(path, read_path(path, library), colour=sys.stdout.isatty()))


def read_jsonl() -> int:
    """Readings of a stream, one line in, one line out, flat in memory; returns the exit status."""
    from ..core.reading.model import LIBRARIES
    from ..core.reading.reader import read_path

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
    from ..core.naming.checks import as_json
    from ..work.check_folder import check_folder

    chosen = _convention(convention)
    must_be_library(library)
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
    from ..work.tidy_folder import draft_for_folder, journal_for_folder

    chosen = _convention(convention)
    must_be_library(library)
    if not folder.is_dir() or not os.access(folder, os.R_OK | os.X_OK):
        raise IndiceError(f"{folder} is no folder that can be read.", hint="Give the folder of the library.")
    root = os.fsencode(folder.resolve())
    plan = draft_for_folder(root, library, chosen, check_slugs or [])
    for before, after in plan.moves:
        put(f"{before}\n    → {after}")
    for conflict in plan.conflicts:
        put(f"{conflict.before}\n    ✗ {conflict.after}: {conflict.why}")
    if not apply:
        put(f"{len(plan.moves)} files would move, {len(plan.conflicts)} would stay because of a conflict.")
        raise typer.Exit(1 if plan.moves or plan.conflicts else 0)
    _mend_journals()
    if not plan.steps:
        put("There is nothing to do.")
        raise typer.Exit(1 if plan.conflicts else 0)
    from ..disk.moves import carry_out

    journal = journal_for_folder(root, plan, own_settings().home / "journal")
    outcome = carry_out(journal)
    _say_outcome(outcome, "moved")
    put(f"`./indice undo {journal.id}` takes it back.")
    raise typer.Exit(1 if outcome.left or outcome.stopped or plan.conflicts else 0)


@app.command()
def undo(
    plan: Annotated[str | None, typer.Argument(help="The plan's id; the last one when none is given.")] = None,
    listed: Annotated[bool, typer.Option("--list", help="Only list the plans that can be undone.")] = False,
) -> None:
    """Take back what `tidy --apply`, or a plan in the browser, has done. What has changed since is left alone.

    Example:  `./indice undo`
    """
    from ..disk.journal import journals
    from ..disk.moves import find_journal
    from ..disk.moves import undo as take_back

    folder = own_settings().home / "journal"
    if listed:
        for journal in journals(folder):
            if not journal.undoes and (journal.moves() or journal.relinked()):
                put(f"{journal.id}  {len(journal.moves())} files  {journal.title}")
        return
    _mend_journals()
    _, outcome = take_back(find_journal(folder, plan), folder)
    _say_outcome(outcome, "moved back")
    raise typer.Exit(1 if outcome.left or outcome.stopped else 0)


def _mend_journals() -> None:
    from ..disk.moves import mend_all

    for journal, said in mend_all(own_settings().home / "journal"):
        put(f"The plan {journal.id} was broken off. {said or 'No file was on its way.'}")


def _say_outcome(outcome: Outcome, verb: str) -> None:
    for path, why in outcome.left:
        put(f"{os.fsdecode(path)}: left alone. {why}")
    put(f"{outcome.done} files {verb}, {len(outcome.left)} left alone.")
    if outcome.why:
        put(outcome.why)


def _convention(wanted: str):
    """A convention by its name or from a TOML file."""
    from ..core.naming.convention import ConventionError, read_convention, shipped

    try:
        if wanted.endswith(".toml") or "/" in wanted:
            return read_convention(Path(wanted).read_text("utf-8"))
        return shipped(wanted)
    except ConventionError as error:
        raise IndiceError(str(error), hint="See docs/conventions.md.") from error
    except (OSError, UnicodeDecodeError) as error:
        raise IndiceError(f"{wanted} cannot be read.", hint="Give a TOML file, or the name of a convention.") from error
