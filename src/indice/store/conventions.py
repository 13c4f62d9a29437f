"""Conventions: those that ship and those that people wrote, by name."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.naming.convention import SHIPPED, Convention, ConventionError, read_convention, shipped, write_convention
from ..core.phrase import phrase
from ..errors import IndiceError
from .models import Convention as Row
from .models import Folder, Library, now

__all__ = [
    "convention_of",
    "conventions_by_folder",
    "delete_convention",
    "followers_of",
    "list_conventions",
    "save_convention",
]


def convention_of(db: Session, name: str) -> Convention:
    """A convention by its name; one's own wins over one that ships. An unknown or broken one gives Roomy."""
    row = db.scalars(select(Row).where(Row.name == name)).first()
    try:
        return read_convention(row.text) if row is not None else shipped(name)
    except ConventionError:
        return shipped("Roomy")


def list_conventions(db: Session) -> list[tuple[Convention, bool, list[str]]]:
    """Every convention, whether it is one's own, and the libraries that follow it."""
    own = {row.name for row in db.scalars(select(Row))}
    users: dict[str, list[str]] = {}
    for library, convention in db.execute(select(Library.name, Library.convention).order_by(Library.name)):
        users.setdefault(convention, []).append(library)
    names = [*SHIPPED, *sorted(own - set(SHIPPED))]
    return [(convention_of(db, name), name in own, users.get(name, [])) for name in names]


def save_convention(db: Session, text: str, *, was: str | None = None) -> Convention:
    """Keep a convention, in place of the one it `was` before; raises :class:`IndiceError` where it cannot be used."""
    try:
        convention = read_convention(text)
    except ConventionError as error:
        raise IndiceError(
            error.message,
            hint=phrase("Template: {slot}.", slot=error.slot) if error.slot else "",
            reference="convention-wrong",
        ) from error
    if was is not None and was != convention.name:
        _must_be_free(db, convention.name)
        for library in db.scalars(select(Library).where(Library.convention == was)):
            library.convention = convention.name
    elif was is None:
        _must_be_free(db, convention.name)
    row = db.scalars(select(Row).where(Row.name == (was or convention.name))).first()
    if row is None:
        row = Row(name=convention.name, text="")
        db.add(row)
    row.name, row.text, row.at = convention.name, write_convention(convention), now()
    db.flush()
    return convention


def _must_be_free(db: Session, name: str) -> None:
    taken = db.scalars(select(Row).where(Row.name == name)).first() is not None
    if taken or name.casefold() in {known.casefold() for known in SHIPPED}:
        raise IndiceError(
            phrase("A convention is called {name} already.", name=name),
            hint="Choose another name.",
            reference="name-taken",
        )


def delete_convention(db: Session, name: str) -> None:
    """Forget one's own convention; libraries that followed it follow what ships, by the same name or Roomy."""
    row = db.scalars(select(Row).where(Row.name == name)).first()
    if row is None:
        raise IndiceError("There is no such convention of your own.", reference="convention-unknown", status=404)
    db.delete(row)
    if name not in SHIPPED:
        for library in db.scalars(select(Library).where(Library.convention == name)):
            library.convention = "Roomy"
    db.flush()


def followers_of(db: Session, convention: str) -> list[int]:
    """Libraries whose names follow a convention."""
    return list(db.scalars(select(Library.id).where(Library.convention == convention)))


def conventions_by_folder(db: Session) -> dict[int, Convention]:
    """The convention that the files of each folder follow."""
    rows = db.execute(select(Folder.id, Library.convention).join(Library)).all()
    known = {name: convention_of(db, name) for name in {name for _, name in rows}}
    return {folder_id: known[name] for folder_id, name in rows}
