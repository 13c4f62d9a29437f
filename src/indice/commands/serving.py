"""Commands that start, stop and look after Indice."""

from __future__ import annotations

import contextlib
import os
from typing import TYPE_CHECKING, Annotated

import typer

from ..errors import IndiceError
from .base import app, own_settings

if TYPE_CHECKING:
    from ..settings import Settings

__all__ = ["status"]


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

    settings = own_settings()
    if demo and not os.environ.get("INDICE_HOME"):
        settings = replace(settings, home=settings.home.with_name(settings.home.name + "-demo"))
    settings = replace(settings, host=host or settings.host, port=port or settings.port)
    from ..held import said_by_holder

    is_free = said_by_holder(settings.home / "indice.lock") is None
    warm_up = _start_database_early(settings) if is_free and not settings.database_url else None
    from ..service import Service

    if warm_up is not None:
        warm_up.join()
    raise typer.Exit(Service(settings, demo=demo, say=lambda text: print(text, flush=True)).run())


def _start_database_early(settings: Settings):
    """Start the private database while the rest of the program is still loading. What goes wrong is
    told later, when it is asked for again."""
    from threading import Thread

    from ..store.cluster import Cluster

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

    from ..service import stop_all

    settings = own_settings()
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
    from ..service import running
    from ..store.cluster import Cluster

    settings = own_settings()
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
    from ..doctor import examine

    settings = own_settings()
    worst = 0
    for finding in examine(settings):
        print(f"{'ok  ' if finding.fine else 'MEND'}  {finding.what}: {finding.state}")
        if not finding.fine:
            worst = 1
            print(f"      → {finding.remedy}")
    raise typer.Exit(worst)
