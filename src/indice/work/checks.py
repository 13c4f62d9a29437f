"""Runs the core's checks over the records of a library, and keeps the findings."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, defer

from ..core.naming.checks import Finding as Found
from ..core.naming.checks import Item, Listing, run_checks
from ..store.bulk import insert_rows
from ..store.catalog import facts_for_names
from ..store.conventions import convention_of
from ..store.database import Database
from ..store.files import settle_stirred
from ..store.models import File, Finding, Folder, Library
from ..store.paths import kept_path
from ..store.plans import excuses_of
from ..store.stages import CHECKED, note_done

__all__ = ["check_library", "folders_on_disk", "item_of", "listing_of", "rows_of"]


def item_of(file: File, known: Mapping[str, Any] | None = None) -> Item:
    """A record as checks see it; `known` is what the catalog says of it."""
    media = file.media or {}
    looked = file.media is not None
    moment = media.get("taken")
    return Item(
        path=os.fsdecode(bytes(file.path)),
        kind=file.kind,
        reading=file.reading,
        size_bytes=file.size_bytes,
        tags=media.get("tags") if looked else None,
        has_picture=media.get("has_picture") if looked else None,
        taken=moment,
        original=media.get("original") or (moment if file.kind == "clip" else None),
        wrong_format=tuple(media["wrong_format"]) if media.get("wrong_format") else None,
        problem=file.problem if file.problem.startswith("No permission") else "",
        known=known or {},
    )


def listing_of(db: Session, library: Library, folder: Folder) -> Listing:
    """A library's folder as checks and plans see it. Folders that hold no file are looked for on the disk."""
    query = select(File).where(File.folder_id == folder.id, File.state != "missing")
    items: list[Item] = []
    looked = False
    same: dict[str, str] = {}
    for files in db.scalars(query.options(defer(File.marks)).execution_options(yield_per=5000)).partitions():
        known = facts_for_names(db, files)
        for file in files:
            item = item_of(file, known.get(file.entry_id or 0))
            item.reading, item.folder = _told_once(file.reading, same), same.setdefault(item.folder, item.folder)
            items.append(item)
        looked = looked or any(file.media is not None for file in files)
    return Listing(
        library=library.kind,
        items=items,
        folders=folders_on_disk(bytes(folder.path)),
        looked_inside=looked,
        convention=convention_of(db, library.convention),
    )


def _told_once(reading: Mapping[str, Any], same: dict[str, str]) -> dict[str, Any]:
    """A reading that shares its names of fields, and its texts, with those before: most say the same."""
    return {
        same.setdefault(name, name): same.setdefault(value, value) if isinstance(value, str) else value
        for name, value in reading.items()
    }


def folders_on_disk(root: bytes, below: str = "") -> list[str]:
    """Every folder below one of a library's folders, the one that it begins with among them, but for hidden ones."""
    start = os.path.join(root, os.fsencode(below)) if below else root
    found = [below] if below and os.path.isdir(start) else []
    for place, names, _ in os.walk(start):
        names[:] = [name for name in names if not name.startswith(b".")]
        found += [os.fsdecode(os.path.relpath(os.path.join(place, name), root)) for name in names]
    return found


def check_library(database: Database, library_id: int) -> int:
    """Check every folder of a library; the new findings take the place of the old. Returns their number."""
    count = 0
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        db.execute(delete(Finding).where(Finding.library_id == library_id))
        excused = excuses_of(db, library_id)
        off = frozenset(slug for slug, loudness in library.checks.items() if loudness == "off")
        for folder in db.scalars(select(Folder).where(Folder.library_id == library_id)):
            if folder.state == "away":
                continue
            found = [
                finding
                for finding in run_checks(listing_of(db, library, folder), off=off)
                if (finding.check, kept_path(finding.path)) not in excused
            ]
            rows = rows_of(found, library, folder.id)
            count += len(rows)
            insert_rows(db, Finding, rows)
        note_done(db, CHECKED, library_id)
        settle_stirred(db, library_id)
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
            "message": kept_path(finding.message),
            "fix": kept_path(finding.fix) if finding.fix else None,
            "fix_kind": finding.fix_kind,
            "also": [{"before": kept_path(before), "after": kept_path(after)} for before, after in finding.moves]
            or [{"before": kept_path(path), "after": None} for path in finding.also],
            "missing": list(finding.missing),
            "wanted": kept_path(finding.wanted),
        }
        for finding in found
    ]
