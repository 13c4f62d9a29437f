"""Commands that keep Indice itself: backups, installing, upgrading, moving."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from ..errors import IndiceError
from .base import app, own_database, own_settings

__all__: list[str] = []


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="The archive to write.")]) -> None:
    """Write one archive of the whole catalog: all that is known, decided, written and chosen by hand.

    It holds no media. It holds the keys of sources: keep it as you keep a key.

    Example:  `./indice backup /media/backup/indice.zip`
    """
    from ..work.backup import back_up

    settings, database = own_database()
    size = back_up(database, settings, file)
    print(f"{file} is written, {size / 1e6:.1f} MB. On another machine: ./indice restore {file.name}")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="An archive that `backup` wrote.")]) -> None:
    """Bring a backup into an empty data folder.

    Example:  `INDICE_HOME=/srv/indice ./indice restore indice.zip`
    """
    from ..service import running
    from ..work.backup import restore as bring_back

    settings = own_settings()
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
    from ..installing import Wanted, install, unit_of

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
    from ..upgrading import upgrade

    upgrade(own_settings(), print)


@app.command("move-data")
def move_data_to(
    target: Annotated[Path, typer.Argument(help="An empty folder, or one that is not there yet.")],
) -> None:
    """Move the data folder (database, pictures, journals) to another disk; Indice must not run.

    Example:  `./indice stop && ./indice move-data /mnt/large/indice && ./indice start`
    """
    from ..moving import move_data

    settings = own_settings()
    move_data(settings, target, print)
    print(f"The data folder is {target.absolute()} now. Every start finds it there.")
