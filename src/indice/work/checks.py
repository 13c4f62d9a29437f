"""Runs the core's checks over the records of a library, and keeps the findings."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import islice
from typing import Any

from sqlalchemy import delete, select, text

from ..core.naming.checks import Finding as Found
from ..core.naming.checks import settle
from ..disk.names import names_on_disk
from ..phrases import kept
from ..store.bulk import AT_ONCE, insert_rows
from ..store.database import Database
from ..store.files import settle_stirred
from ..store.models import Finding, Folder, Library
from ..store.paths import kept_path
from ..store.plans import excuses_of
from ..store.stages import CHECKED, note_done
from ..store.tallies import freshen
from .check_parts import hits_of_folder

__all__ = ["check_library", "rows_of"]


def check_library(database: Database, library_id: int) -> int:
    """Check every folder of a library; the new findings take the place of the old. Returns their number."""
    count = 0
    with database.begin() as db:
        freshen(db, exactly=True)
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        db.execute(delete(Finding).where(Finding.library_id == library_id))
        excused = excuses_of(db, library_id)
        off = frozenset(slug for slug, loudness in library.checks.items() if loudness == "off")
        for folder in db.scalars(select(Folder).where(Folder.library_id == library_id)):
            if folder.state == "away":
                continue
            found = settle(hits_of_folder(db, library, folder, off=off), names_on_disk(bytes(folder.path)))
            wanted = (f for f in found if (f.check, kept_path(f.path)) not in excused)
            while some := list(islice(wanted, AT_ONCE)):
                count += len(some)
                insert_rows(db, Finding, rows_of(some, library, folder.id))
        note_done(db, CHECKED, library_id)
        settle_stirred(db, library_id)
        if count > AT_ONCE:
            db.execute(text("analyze finding"))  # else the planner takes the table for as short as it was
    return count


def rows_of(found: Sequence[Found], library: Library, folder_id: int) -> list[dict[str, Any]]:
    """Findings as they are kept."""
    return [
        {
            "library_id": library.id,
            "folder_id": folder_id,
            "check": finding.check,
            "severity": library.checks.get(finding.check, finding.severity),
            "path": kept_path(finding.path),
            "message": kept_path(kept(finding.message)),
            "fix": kept_path(finding.fix) if finding.fix else None,
            "fix_kind": finding.fix_kind,
            "also": [{"before": kept_path(before), "after": kept_path(after)} for before, after in finding.moves]
            or [{"before": kept_path(path), "after": None} for path in finding.also],
            "missing": list(finding.missing),
            "wanted": kept_path(finding.wanted),
        }
        for finding in found
    ]
