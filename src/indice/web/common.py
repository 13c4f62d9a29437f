"""What the resources share: the database at hand, and how records become what goes over the wire."""

from __future__ import annotations

from collections.abc import Generator, Mapping, Sequence
from contextlib import AbstractContextManager, contextmanager
from datetime import datetime
from typing import Any, cast

from flask import current_app, g, request
from sqlalchemy.orm import Session

from ..core.naming.convention import Convention
from ..phrases import revived, told
from ..settings import Settings
from ..store.cards import cards_for
from ..store.database import Database
from ..store.found import find
from ..store.front import places_in_series
from ..store.marks import marks_of
from ..store.models import Artwork, Entry, File, Job
from ..store.models import Mark as MarkRow
from ..store.viewer import Viewer, bind_viewer
from .schemas import EntryCard, FileOut, JobOut, JobState, Mark, MarkOut, Picture

__all__ = [
    "base",
    "begin",
    "begin_for_all",
    "card_of",
    "cards_of",
    "database",
    "entry_at",
    "file_out",
    "iso",
    "job_out",
    "language",
    "mark_out",
    "picture_out",
    "placed_cards_of",
    "say",
    "settings",
    "viewer",
]


def settings() -> Settings:
    """The settings of this application."""
    return current_app.extensions["indice"][0]


def database() -> Database:
    """The database of this application."""
    return current_app.extensions["indice"][1]


@contextmanager
def begin() -> Generator[Session]:
    """A session inside one transaction; it brings up only what who asks may see."""
    with database().begin() as db:
        if "share_key" in g and "viewer" not in g:
            raise PermissionError("Nothing is told before a link has been opened.")
        if "viewer" in g:
            bind_viewer(db, g.viewer)
        yield db


def begin_for_all() -> AbstractContextManager[Session]:
    """A session that is bound by nobody's rights: for what concerns everybody, such as how many play."""
    return database().begin()


def viewer() -> Viewer:
    """Who asks."""
    return g.viewer


def base() -> str:
    """Where the addresses that an answer names begin: below a share's own place for who comes by it."""
    return f"/api/shared/{g.share_key}" if "share_key" in g else "/api"


def language() -> str:
    """The language of who asks; of somebody without an account, the one that their browser prefers."""
    if "person" in g:
        return str(g.person.language)
    return request.accept_languages.best_match(["en", "de"]) or "en"


def say(text: str) -> str:
    """A text in the language of who asks."""
    return told(text, language())


def iso(moment: datetime | None) -> str | None:
    """A moment as it goes over the wire."""
    return moment.isoformat() if moment else None


def entry_at(db: Session, entry_id: int) -> Entry:
    """An entry of the catalog; raises IndiceError when there is none of this number."""
    return find(db, Entry, entry_id)


def picture_out(picture: Artwork | None) -> Picture | None:
    """A picture, without its entry."""
    return (
        Picture(digest=picture.digest, width=picture.width, height=picture.height, blur=picture.blur)
        if picture
        else None
    )


def card_of(
    entry: Entry,
    picture: Artwork | None,
    *,
    subtitle: str = "",
    count: int = 0,
    mark: MarkRow | None = None,
    moves: bool = False,
) -> EntryCard:
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
        mark=mark_out(mark),
        seconds=entry.seconds,
        lines=entry.lines,
        size_bytes=entry.size_bytes,
        moves=moves,
    )


def cards_of(
    db: Session, entries: Sequence[Entry], *, pictures: Mapping[int, list[Artwork]] | None = None
) -> list[EntryCard]:
    """Entries as lists show them, with their pictures, counts and second lines."""
    marks = marks_of(db, viewer(), [entry.id for entry in entries])
    return [
        card_of(
            card.entry,
            card.picture,
            subtitle=card.above,
            count=card.below,
            mark=marks.get(card.entry.id),
            moves=card.moves,
        )
        for card in cards_for(db, entries, pictures=pictures)
    ]


def placed_cards_of(db: Session, entries: Sequence[Entry]) -> list[EntryCard]:
    """Entries as rows of mixed kinds show them: an episode says its series, and its place in it."""
    places = places_in_series(db, entries)
    return [
        card.model_copy(update={"subtitle": _place(*places[card.id])}) if card.id in places else card
        for card in cards_of(db, entries)
    ]


def _place(series: str, season: int | None, number: int | None) -> str:
    return f"{series} {season}×{number}" if season is not None and number is not None else series


def mark_out(mark: MarkRow | None) -> MarkOut | None:
    """What a person keeps of an entry."""
    if mark is None:
        return None
    at, whole = mark.position_seconds, mark.duration_seconds
    share = at / whole if at is not None and whole else 0.0
    return MarkOut(
        seen=mark.seen_at is not None,
        favourite=mark.favourite,
        rating=mark.rating,
        tags=[str(tag) for tag in mark.tags],
        note=mark.note,
        share=round(min(share, 1.0), 4),
        position_seconds=at,
    )


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
        marks=[
            Mark(field=m["field"], value=m["value"], spans=m["spans"], rule=say(revived(m["rule"]))) for m in file.marks
        ],
        media=file.media,
        problem=say(file.problem),
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
        title=say(job.title),
        state=cast(JobState, job.state),
        step=say(job.step),
        done=job.done,
        total=job.total,
        rate=round(job.rate, 1),
        seconds_left=left,
        current=job.current,
        message=say(job.message),
        created_at=job.created_at.isoformat(),
        finished_at=iso(job.finished_at),
    )
