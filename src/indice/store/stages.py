"""What each stage of a scan has done of each file, so that one that was broken off is taken up where it was.

A stage notes its version at a file when it has done its work on the file as it is. Whatever changes the file, or what
the stage leans on, sets the note back to 0; a new version of a stage makes all its work due again.
"""

from __future__ import annotations

from collections.abc import Collection

from sqlalchemy import ColumnElement, CursorResult, and_, exists, literal_column, select, text, true, update
from sqlalchemy.orm import InstrumentedAttribute, Session

from .among import among
from .models import GIVES_PICTURES, File, Folder
from .tallies import count_files

__all__ = [
    "CHECKED",
    "GROUPED",
    "LOOKED",
    "PICTURED",
    "READ",
    "Stage",
    "due_files",
    "is_due",
    "note_done",
    "note_due",
    "still_due",
]


class Stage:
    """One stage: its note at a file, its version, and which files it has to do
    with at all (SQL; all where it is empty)."""

    def __init__(self, column: InstrumentedAttribute[int], version: int, of: str = "") -> None:
        self.column = column
        self.version = version
        self._of = of

    def is_due(self) -> ColumnElement[bool]:
        """The condition on files that it has something to do with; letter for letter as it stands in the index."""
        due = self.column < literal_column(str(self.version))
        return and_(due, text(self._of)) if self._of else due


# For each stage there is an index of the files that are due: whoever raises a
# version makes that index anew in a migration.
READ = Stage(File.read_by, 1)
"""Raise the version when reading says something else of the same name."""
LOOKED = Stage(File.looked_by, 1)
PICTURED = Stage(File.pictured_by, 1, of=GIVES_PICTURES)
GROUPED = Stage(File.grouped_by, 3)
CHECKED = Stage(File.checked_by, 1)


def is_due(db: Session, stage: Stage, library_id: int) -> bool:
    """Whether a stage has something to do in a library."""
    folders = select(Folder.id).where(Folder.library_id == library_id)
    return bool(db.scalar(select(exists().where(File.folder_id.in_(folders), stage.is_due()))))


def due_files(db: Session, stage: Stage, library_id: int) -> tuple[list[int], int]:
    """The files that a stage has something to do with, in the order of paths, and how many the library has."""
    folders = select(Folder.id).where(Folder.library_id == library_id)
    due = db.scalars(select(File.id).where(File.folder_id.in_(folders), stage.is_due()).order_by(File.shown))
    return list(due), count_files(db, library_id)


def still_due(db: Session, stage: Stage, ids: Collection[int]) -> list[int]:
    """Those of some files that a stage has something to do with, in the order given."""
    due = set(db.scalars(select(File.id).where(among(File.id, ids), stage.is_due())))
    return [id_ for id_ in ids if id_ in due]


def note_due(db: Session, stage: Stage, *files: ColumnElement[bool]) -> None:
    """A stage has to look at these files again."""
    db.execute(update(File).where(*files).values({stage.column.key: 0}).execution_options(synchronize_session=False))


def note_done(db: Session, stage: Stage, library_id: int, *, among_ids: Collection[int] | None = None) -> int:
    """A stage has done its work on all files of a library, or on some; returns of how many that was not known."""
    folders = select(Folder.id).where(Folder.library_id == library_id)
    done = db.execute(
        update(File)
        .where(File.folder_id.in_(folders), stage.is_due(), true() if among_ids is None else among(File.id, among_ids))
        .values({stage.column.key: stage.version})
        .execution_options(synchronize_session=False)
    )
    count = done.rowcount if isinstance(done, CursorResult) else 0
    if count > MANY:
        # Else the planner takes all for undone until it looks again by itself, and
        # reads the whole table for the next few.
        db.execute(text(f"analyze file ({stage.column.key})"))
    return count


MANY = 5000
"""So many files at once make what the database knows of a stage's column outdated."""
