"""Commands for people, and for folders that are for an age."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from ..errors import IndiceError
from .base import folder_app, own_database, person_app

__all__: list[str] = []

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
    from ..store.household import Change, add_person

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
    _, database = own_database()
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
    from ..store.household import Change, change_person, the_person

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
    _, database = own_database()
    with database.begin() as db:
        change_person(db, the_person(db, name), change)
        print("It is changed.")


@person_app.command("remove")
def person_remove(name: Annotated[str, typer.Argument()]) -> None:
    """Remove somebody, with their marks and sessions."""
    from ..store.household import remove_person, the_person

    _, database = own_database()
    with database.begin() as db:
        remove_person(db, the_person(db, name))
        print(f"{name} is gone.")


@person_app.command("list")
def person_list(jsonl: Annotated[bool, typer.Option("--jsonl", help="One person a line, as JSON.")] = False) -> None:
    """List everybody."""
    from ..store.household import members
    from ..store.libraries import library_names

    _, database = own_database()
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
    from ..store.ages import limit_directory
    from ..store.files import folder_at

    years = _age(age)
    _, database = own_database()
    with database.begin() as db:
        folder, directory = folder_at(db, str(path.absolute()))
        limit_directory(db, folder, directory, None if years == "none" else years)
        print("The limit is set." if years != "none" else "The limit is gone.")
