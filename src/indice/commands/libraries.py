"""Commands for libraries and sources."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated

import typer

from ..errors import IndiceError
from .base import library_app, own_database, source_app

__all__: list[str] = []


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
    from ..store.libraries import add_library

    _, database = own_database()
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
    from ..store.libraries import libraries_named, set_schedule

    _, database = own_database()
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
    from ..sources.profile import parse_profile
    from ..sources.text_profile import is_text_profile
    from ..store.sources import add_source
    from ..store.text_services import add_text_service

    try:
        text = profile.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise IndiceError(f"{profile} cannot be read: {error}", hint="Give the path of a TOML file.") from error
    _, database = own_database()
    is_text = is_text_profile(text)
    with database.begin() as db:
        name = (add_text_service if is_text else add_source)(db, text, key).name
    for field in () if is_text else parse_profile(text).unknown:
        print(f"{field} is no field that Indice knows; it is left alone.")
    print(f"{'Service' if is_text else 'Source'} {name} is set up. Try: ./indice source test {name}")


@source_app.command("list")
def source_list() -> None:
    """List the sources, and the services of subtitles."""
    from ..store.sources import list_sources
    from ..store.text_services import list_text_services

    _, database = own_database()
    with database.begin() as db:
        for source in (*list_sources(db), *list_text_services(db)):
            print(f"{source.name:20} {source.url}   {source.problem or 'fine'}")


@source_app.command("test")
def source_test(name: Annotated[str, typer.Argument()]) -> None:
    """Ask a source or a service of subtitles what it is, and one thing, and say how it went."""
    from ..store.text_services import list_text_services
    from ..work.subtitles import try_service
    from ..work.try_source import try_source

    _, database = own_database()
    with database.begin() as db:
        service = next((one for one in list_text_services(db) if one.name == name), None)
    print(try_service(database, service) if service is not None else try_source(database, name))
