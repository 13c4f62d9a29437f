"""Libraries and their folders."""

from __future__ import annotations

import os
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..core.reading.model import LIBRARIES
from ..core.schedule import read_schedule
from ..errors import IndiceError
from .ages import note_library
from .models import Entry, Folder, Library, Source
from .shown import refresh_shown

__all__ = [
    "add_library",
    "all_folders",
    "away_libraries",
    "edit_library",
    "has_library",
    "libraries_named",
    "library_names",
    "remove_library",
]


def add_library(
    db: Session, *, name: str, kind: str, folders: Sequence[bytes], language: str, country: str, sources: Sequence[str]
) -> Library:
    """Declare a library; raises IndiceError when the name or a folder is taken, or a folder cannot be read."""
    name = name.strip()
    if not name:
        raise IndiceError("A library needs a name.", reference="name-missing")
    if kind not in LIBRARIES:
        raise IndiceError(
            phrase("There is no kind of library called {kind}.", kind=kind),
            hint=phrase("Known are {libraries}.", libraries=", ".join(LIBRARIES)),
            reference="kind-unknown",
        )
    if not folders:
        raise IndiceError("A library needs at least one folder.", reference="folder-missing")
    if db.scalars(select(Library).where(Library.name == name)).first() is not None:
        raise IndiceError(
            phrase("There is a library called {name} already.", name=name),
            hint="Choose another name.",
            reference="name-taken",
            status=409,
        )
    _must_be_sources(db, sources)
    library = Library(name=name, kind=kind, language=language, country=country, sources=list(sources))
    db.add(library)
    db.flush()
    for path in folders:
        db.add(
            Folder(
                library_id=library.id,
                path=_usable(db, path),
                shown=os.fsdecode(path).encode("utf-8", "replace").decode(),
            )
        )
        db.flush()
    return library


def _must_be_sources(db: Session, names: Sequence[str]) -> None:
    for name in names:
        if db.scalars(select(Source).where(Source.name == name)).first() is None:
            raise IndiceError(
                phrase("There is no source called {name}.", name=name),
                hint="Add it with `indice source add PROFILE.toml`.",
                reference="source-unknown",
            )


def edit_library(
    db: Session,
    library_id: int,
    *,
    name: str,
    language: str,
    country: str,
    sources: Sequence[str],
    own_first: Sequence[str],
    writes: Sequence[str],
    schedule: str | None = None,
) -> None:
    """Change a library's settings; what its entries show follows the new order of origins.

    Raises IndiceError when the library or a source is unknown, or the name is taken.
    """
    library = db.get(Library, library_id)
    if library is None:
        raise IndiceError("There is no such library.", reference="library-unknown", status=404)
    name = name.strip()
    other = db.scalars(select(Library).where(Library.name == name, Library.id != library_id)).first()
    if not name or other is not None:
        raise IndiceError(
            phrase("There is a library called {name} already.", name=name) if name else "A library needs a name.",
            hint="Choose another name.",
            reference="name-taken",
            status=409,
        )
    _must_be_sources(db, sources)
    if schedule is not None:
        set_schedule(library, schedule)
    if library.country != country:
        note_library(db, library_id)
    reorders = (list(library.sources), list(library.own_first)) != (list(sources), list(own_first))
    library.name, library.language, library.country = name, language, country
    library.sources, library.own_first, library.writes = list(sources), list(own_first), list(writes)
    db.flush()
    if reorders:
        ids = list(db.scalars(select(Entry.id).where(Entry.library_id == library_id)))
        for start in range(0, len(ids), 2000):
            refresh_shown(db, ids[start : start + 2000])


def set_schedule(library: Library, text: str) -> None:
    """Scan a library by itself at times; raises :class:`IndiceError` for what is no schedule."""
    try:
        found = read_schedule(text)
    except ValueError as error:
        raise IndiceError(
            phrase("{text} is no schedule.", text=text),
            hint="Say `nightly at 3`, `every 6 hours`, or nothing.",
            reference="schedule-wrong",
            status=422,
        ) from error
    library.schedule = str(found or "")


def _usable(db: Session, path: bytes) -> bytes:
    """A folder that exists, can be read, and overlaps no other library's."""
    shown = os.fsdecode(path).encode("utf-8", "replace").decode()
    path = os.path.normpath(path)
    if not os.path.isabs(path):
        raise IndiceError(
            phrase("{path} is no whole path.", path=shown), hint="Begin with a slash.", reference="folder-relative"
        )
    if not os.path.isdir(path):
        raise IndiceError(
            phrase("{path} does not exist, or is no folder.", path=shown),
            hint="Is the drive plugged in? Check the spelling.",
            reference="folder-missing",
        )
    if not os.access(path, os.R_OK | os.X_OK):
        raise IndiceError(
            phrase("{path} cannot be read.", path=shown),
            hint="Give the account that runs Indice read access to it.",
            reference="folder-unreadable",
        )
    for other in db.scalars(select(Folder)):
        known = bytes(other.path)
        if path == known or path.startswith(known + b"/") or known.startswith(path + b"/"):
            raise IndiceError(
                phrase("{path} overlaps {other}, which a library has already.", path=shown, other=other.shown),
                hint="Two libraries that overlap would show everything twice. Choose another folder.",
                reference="folder-overlaps",
                status=409,
            )
    return path


def libraries_named(db: Session, names: Sequence[str]) -> list[Library]:
    """Libraries of these names, all when there is none; raises IndiceError for one that is unknown."""
    every = {library.name: library for library in db.scalars(select(Library).order_by(Library.id))}
    for name in names:
        if name not in every:
            raise IndiceError(
                phrase("There is no library called {name}.", name=name),
                hint=phrase("There are {every}.", every=", ".join(every) or "none yet"),
                reference="library-unknown",
                status=404,
            )
    return [every[name] for name in names] if names else list(every.values())


def remove_library(db: Session, library_id: int) -> None:
    """Forget a library; nothing on disk is touched."""
    library = db.get(Library, library_id)
    if library is None:
        raise IndiceError("There is no such library.", reference="library-unknown", status=404)
    db.delete(library)


def library_names(db: Session) -> dict[int, str]:
    """Names of all libraries by their numbers."""
    return dict(db.execute(select(Library.id, Library.name)).all())


def has_library(db: Session) -> bool:
    """Whether any library is declared."""
    return db.scalar(select(Library.id).limit(1)) is not None


def all_folders(db: Session) -> list[Folder]:
    """The folders of all libraries."""
    return list(db.scalars(select(Folder).order_by(Folder.id)))


def away_libraries(db: Session) -> set[int]:
    """Libraries of which a folder is not there."""
    return set(db.scalars(select(Folder.library_id).where(Folder.state == "away")))
