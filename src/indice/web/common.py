"""What the resources share: the database at hand, and how records become what goes over the wire."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import AbstractContextManager
from datetime import datetime
from typing import Any, cast

from flask import current_app
from sqlalchemy import func, select, true
from sqlalchemy.orm import Session, aliased

from ..core.naming.convention import Convention
from ..errors import IndiceError
from ..settings import Settings
from ..store.among import among
from ..store.catalog import artwork_of, main_picture
from ..store.conventions import convention_of
from ..store.database import Database
from ..store.models import Artwork, Entry, File, Folder, Job, Library
from .schemas import EntryCard, FileOut, JobOut, JobState, Mark, Picture

__all__ = [
    "begin",
    "card_of",
    "cards_of",
    "conventions_by_folder",
    "database",
    "entry_at",
    "file_out",
    "iso",
    "job_out",
    "picture_out",
    "settings",
]


def settings() -> Settings:
    """The settings of this application."""
    return current_app.extensions["indice"][0]


def database() -> Database:
    """The database of this application."""
    return current_app.extensions["indice"][1]


def begin() -> AbstractContextManager[Session]:
    """A session inside one transaction."""
    return database().begin()


def iso(moment: datetime | None) -> str | None:
    """A moment as it goes over the wire."""
    return moment.isoformat() if moment else None


def entry_at(db: Session, entry_id: int) -> Entry:
    """An entry of the catalog; raises IndiceError when there is none of this number."""
    entry = db.get(Entry, entry_id)
    if entry is None:
        raise IndiceError(
            "There is no such entry.",
            hint="It may have been removed by a scan. Load the page again.",
            reference="entry-unknown",
            status=404,
        )
    return entry


def picture_out(picture: Artwork | None) -> Picture | None:
    """A picture, without its entry."""
    return (
        Picture(digest=picture.digest, width=picture.width, height=picture.height, blur=picture.blur)
        if picture
        else None
    )


def card_of(entry: Entry, picture: Artwork | None, *, subtitle: str = "", count: int = 0) -> EntryCard:
    """An entry as a list shows it."""
    return EntryCard(
        id=entry.id,
        kind=entry.kind,
        title=entry.title,
        subtitle=subtitle,
        year=entry.year,
        state=entry.state,
        moment=entry.moment,
        added_at=entry.added_at.isoformat(),
        picture=picture_out(picture),
        count=count,
    )


def cards_of(db: Session, entries: Sequence[Entry]) -> list[EntryCard]:
    """Entries as lists show them, with their pictures, counts and second lines."""
    if not entries:
        return []
    ids = [entry.id for entry in entries]
    pictures = artwork_of(db, ids)
    counts: dict[int, int] = {}
    below = select(Entry.parent_id, func.count()).where(among(Entry.parent_id, ids)).group_by(Entry.parent_id)
    counts.update({parent: count for parent, count in db.execute(below) if parent is not None})
    above = {entry.parent_id for entry in entries if entry.parent_id}
    parents: dict[int, str] = (
        dict(db.execute(select(Entry.id, Entry.title).where(among(Entry.id, above))).all()) if above else {}
    )
    borrowed = _borrowed_pictures(
        db, [entry for entry in entries if main_picture(entry.kind, pictures.get(entry.id, [])) is None]
    )
    return [
        card_of(
            entry,
            main_picture(entry.kind, pictures.get(entry.id, [])) or borrowed.get(entry.id),
            subtitle=parents.get(entry.parent_id or 0, ""),
            count=counts.get(entry.id, 0),
        )
        for entry in entries
    ]


_HOLDER = aliased(Entry)


def _borrowed_pictures(db: Session, entries: Sequence[Entry]) -> dict[int, Artwork]:
    """A picture from below for events and artists, from above for tracks."""
    found: dict[int, Artwork] = {}
    holders = [entry.id for entry in entries if entry.kind in ("event", "artist")]
    if holders:
        first = (
            select(Artwork)
            .join(Entry, Artwork.entry_id == Entry.id)
            .where(Entry.parent_id == _HOLDER.id)
            .order_by(Entry.id, Artwork.id)
            .limit(1)
            .lateral()
        )
        picture = aliased(Artwork, first)
        query = select(_HOLDER.id, picture).join(picture, true()).where(_HOLDER.id.in_(holders))
        found.update(dict(db.execute(query).all()))
    tracks = {entry.id: entry.parent_id for entry in entries if entry.kind == "track" and entry.parent_id}
    if tracks:
        above = artwork_of(db, set(tracks.values()))
        for entry_id, parent_id in tracks.items():
            cover = main_picture("album", above.get(parent_id or 0, []))
            if cover is not None:
                found[entry_id] = cover
    return found


def conventions_by_folder(db: Session) -> dict[int, Convention]:
    """The convention that the files of each folder follow."""
    rows = db.execute(select(Folder.id, Library.convention).join(Library)).all()
    known = {name: convention_of(db, name) for name in {name for _, name in rows}}
    return {folder_id: known[name] for folder_id, name in rows}


def file_out(
    file: File,
    *,
    convention: Convention,
    state: str = "",
    entry: Entry | None = None,
    facts: dict[str, Any] | None = None,
) -> FileOut:
    """A file as screens show it; `facts` of its entry make its tidy path better than its own name can."""
    stem, _, extension = file.shown.rpartition("/")[2].rpartition(".")
    return FileOut(
        id=file.id,
        folder_id=file.folder_id,
        path=file.shown,
        directory=file.directory,
        name=file.shown.rpartition("/")[2],
        kind=file.kind,
        state=state or file.state,
        size_bytes=file.size_bytes,
        serves=file.serves,
        marks=[Mark(field=m["field"], value=m["value"], spans=m["spans"], rule=m["rule"]) for m in file.marks],
        media=file.media,
        problem=file.problem,
        entry_id=file.entry_id,
        entry_title=entry.title if entry else None,
        tidy=convention.path(file.kind, {**file.reading, **(facts or {})}, extension, original=stem),
    )


def job_out(job: Job) -> JobOut:
    """A job with the time that it will still take, as far as that can be told."""
    left = (
        round((job.total - job.done) / job.rate)
        if job.state == "running" and job.rate > 0 and job.total > job.done
        else None
    )
    return JobOut(
        id=job.id,
        kind=job.kind,
        title=job.title,
        state=cast(JobState, job.state),
        step=job.step,
        done=job.done,
        total=job.total,
        rate=round(job.rate, 1),
        seconds_left=left,
        current=job.current,
        message=job.message,
        created_at=job.created_at.isoformat(),
        finished_at=iso(job.finished_at),
    )
