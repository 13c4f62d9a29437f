"""Today: what came in, what waits, what runs, and how the collection stands."""

from __future__ import annotations

from datetime import datetime

from apiflask import APIBlueprint
from flask import g
from sqlalchemy.orm import Session

from ..held import said_by_holder
from ..store.arrivals import came_in
from ..store.catalog import waiting_counts
from ..store.deeds import new_devices
from ..store.files import absences, unlike_told, unreadable_files
from ..store.jobs import ACTIVE, recent_jobs, recent_troubles
from ..store.libraries import away_libraries, library_names
from ..store.people import unusual_guesses
from ..store.tallies import library_states
from ..work.storage import is_low
from .common import begin, cards_of, iso, job_out, say, settings, viewer
from .jobs import line_out
from .schemas import JobLineOut
from .schemas_house import AbsenceOut, Arrival, GuessOut, LibraryPicture, NewcomerOut, Today, Trouble, TroublesOut

__all__ = ["bp"]

ARRIVALS_SHOWN = 12
"""Of what came in on one day into one library."""
TROUBLES_SHOWN = 8
bp = APIBlueprint("today", __name__, url_prefix="/api", tag="Today")


@bp.get("/today")
@bp.output(Today)
def read_today() -> Today:
    """Everything that the first page shows."""
    with begin() as db:
        since = g.person.previous_visit_at
        away = away_libraries(db)
        return Today(
            since=iso(since),
            arrivals=_arrivals(db, since),
            libraries=[
                LibraryPicture(
                    id=lib.id, name=lib.name, kind=lib.kind, states=states, size_bytes=size, away=lib.id in away
                )
                for lib, states, size in library_states(db)
            ],
            jobs=[job_out(job) for job in recent_jobs(db, limit=6) if job.state in ACTIVE or job.state == "failed"],
            waiting=waiting_counts(db),
            little_room=is_low(settings()) if viewer().is_owner else None,
            troubles=_troubles(db),
            guesses=[
                GuessOut(name=one.name, address=one.address, wrong=one.wrong, at=one.at.isoformat())
                for one in unusual_guesses(db)
            ],
            newcomers=[
                NewcomerOut(
                    person=one.person,
                    device=str(one.values.get("device", "")),
                    address=one.address,
                    at=one.at.isoformat(),
                )
                for one in (new_devices(db) if viewer().is_owner else ())
            ],
            absences=[
                AbsenceOut(library_id=folder.library_id, folder=folder.shown, files=count)
                for folder, count in absences(db)
            ],
        )


def _arrivals(db: Session, since: datetime | None) -> list[Arrival]:
    """What came in since somebody was here, by day and library, the newest day first."""
    groups = came_in(db, since, shown=ARRIVALS_SHOWN)
    names = library_names(db)
    cards = {card.id: card for card in cards_of(db, [entry for group in groups for entry in group.entries])}
    return [
        Arrival(
            at=group.day.isoformat(),
            library=names.get(group.library_id, ""),
            entries=[cards[entry.id] for entry in group.entries],
            total=group.total,
        )
        for group in groups
    ]


def _troubles(db: Session) -> list[JobLineOut]:
    """Files that cannot be read, as long as that is so, and what went wrong in the last jobs beside them."""
    files = [
        JobLineOut(at=one.added_at.isoformat(), level="warning", path=one.path, text=say(one.problem))
        for one in unreadable_files(db, limit=TROUBLES_SHOWN)
    ]
    lines = recent_troubles(db, limit=TROUBLES_SHOWN)
    known = {one.path for one in files} | unlike_told(db, {line.path for line, kind in lines if kind == "scan"})
    told = [line_out(line) for line, kind in lines if kind != "scan" or line.path not in known]
    return [*told, *files][:TROUBLES_SHOWN]


@bp.get("/troubles")
@bp.output(TroublesOut)
def list_troubles() -> TroublesOut:
    """Processes of Indice that ended without being told to, and were started again; the newest first."""
    said = said_by_holder(settings().home / "indice.lock") or {}
    return TroublesOut(troubles=[Trouble(**one) for one in reversed(said.get("troubles", []))])
