"""Folders where new files land: Indice waits until a thing is complete, finds out
what it is, and files it or proposes to.

A *thing* is a file, or a folder with all that is in it, directly below the intake folder. It is complete when its
sizes and times have stood still for a while and nothing in it is an unfinished download.
"""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

import structlog
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..core.matching.decide import Evidence
from ..core.naming.belongings import with_belongings
from ..core.naming.checks import MAINS, Item, Listing
from ..core.naming.checks.general import is_unfinished
from ..core.phrase import joined, phrase
from ..core.reading.siblings import read_listing
from ..disk.apart import probe_apart
from ..disk.journal import Identity, Journal, PlannedMove
from ..disk.moves import carry_out
from ..disk.walk import is_away, shown, walk
from ..errors import IndiceError
from ..phrases import kept
from ..settings import Settings
from ..store.aliases import alias_of_name
from ..store.conventions import convention_of
from ..store.database import Database
from ..store.jobs import announce
from ..store.models import Arrival, Entry, Folder, Intake, Library, Plan, now
from ..store.paths import exact_path, kept_path
from ..store.sources import sources_of
from .match import Asked, client_for, search
from .tidy import journal_folder

__all__ = ["STILL_SECONDS", "file_arrival", "look_at_intakes", "poll_intakes"]

log = structlog.get_logger()
STILL_SECONDS = 20
"""So long nothing may change before a thing counts as complete."""
_LIBRARIES = {
    "movie": ("movies", "mixed"),
    "episode": ("series", "mixed"),
    "track": ("music", "mixed"),
    "photo": ("photos", "home-videos", "mixed"),
    "clip": ("home-videos", "photos", "mixed"),
}


@dataclass(slots=True)
class _Proposal:
    """Where a thing would go."""

    library: Library | None = None
    moves: list[tuple[bytes, bytes]] = field(default_factory=list)
    sure: bool = False
    why: str = ""


def poll_intakes(database: Database, settings: Settings) -> list[int]:
    """Look once at every intake folder; returns the libraries into which something was filed."""
    with database.begin() as db:
        ids = list(db.scalars(select(Intake.id)))
    filed: list[int] = []
    for intake_id in ids:
        filed += look_at_intakes(database, settings, intake_id)
    return filed


def look_at_intakes(
    database: Database, settings: Settings, intake_id: int, *, still_seconds: float = STILL_SECONDS
) -> list[int]:
    """Look once at an intake folder: note what is new, propose what is complete, file
    what is sure if the owner allowed it."""
    with database.begin() as db:
        intake = db.get(Intake, intake_id)
        if intake is None:
            return []
        root, alone = bytes(intake.path), intake.alone
        problem = (
            "" if os.path.isdir(root) else phrase("The folder is not there. Plug the drive in, or check the share.")
        )
        if intake.problem != problem:
            intake.problem = problem
            announce(db, "arrivals")
        if problem or is_away(root):
            _forget_gone(db, intake_id, set())
            return []
        things = _things(root)
        _forget_gone(db, intake_id, set(things))
        ready = [
            a.id for name, seen in things.items() if (a := _note(db, intake_id, name, seen, still_seconds)) is not None
        ]
    filed: list[int] = []
    for arrival_id in ready:
        library_id = _propose(database, settings, root, arrival_id, alone=alone)
        if library_id is not None:
            filed.append(library_id)
    return filed


def _things(root: bytes) -> dict[str, list[list[Any]]]:
    """Each thing's name → path, size and time of its files."""
    things: dict[str, list[list[Any]]] = {}
    for here in walk(root):
        if any(part.startswith(b".") for part in here.path.split(b"/") if part):
            continue
        for seen in here.files:
            if seen.path.rpartition(b"/")[2].startswith(b"."):
                continue
            name = kept_path(os.fsdecode(seen.path))
            things.setdefault(name.partition("/")[0], []).append([name, seen.size_bytes, seen.mtime_ns])
    return things


def _forget_gone(db: Session, intake_id: int, there: set[str]) -> None:
    gone = delete(Arrival).where(Arrival.intake_id == intake_id, Arrival.state != "filed", Arrival.path.not_in(there))
    db.execute(gone)


def _note(db: Session, intake_id: int, name: str, seen: list[list[Any]], still_seconds: float) -> Arrival | None:
    """Keep what a thing looks like; returns it when it has just become complete."""
    known = db.scalars(select(Arrival).where(Arrival.intake_id == intake_id, Arrival.path == name)).first()
    if known is None or known.state == "filed":
        if known is not None:
            db.delete(known)
            db.flush()
        known = Arrival(intake_id=intake_id, path=name, seen=seen, still_since=now(), at=now())
        db.add(known)
        db.flush()
        announce(db, "arrivals")
    if known.seen != seen:
        known.seen, known.still_since, known.state, known.why = seen, now(), "growing", ""
        announce(db, "arrivals")
    if known.state != "growing":
        return None
    if any(is_unfinished(path.rpartition("/")[2]) for path, _, _ in seen):
        known.why = phrase("A download in it is not finished.")
        return None
    if now() - known.still_since < timedelta(seconds=still_seconds):
        return None
    return known


def _propose(database: Database, settings: Settings, root: bytes, arrival_id: int, *, alone: bool) -> int | None:
    with database.begin() as db:
        arrival = db.get_one(Arrival, arrival_id)
        proposal = _find_place(database, db, root, arrival)
        arrival.library_id = proposal.library.id if proposal.library else None
        arrival.moves = [[kept_path(os.fsdecode(b)), kept_path(os.fsdecode(a))] for b, a in proposal.moves]
        arrival.why = proposal.why
        arrival.state = "proposed" if proposal.moves else "unknown"
        announce(db, "arrivals")
    if alone and proposal.sure and proposal.moves:
        return file_arrival(database, settings, arrival_id)
    return None


def _find_place(database: Database, db: Session, root: bytes, arrival: Arrival) -> _Proposal:
    paths = [exact_path(path) for path, _, _ in arrival.seen]
    items = _items(paths, arrival)
    counts = Counter(item.kind for item in items if item.kind in MAINS)
    if not counts:
        return _Proposal(why=phrase("Nothing in it is a film, an episode, music or a picture."))
    kind = counts.most_common(1)[0][0]
    libraries = [
        library
        for wanted in _LIBRARIES[kind]
        for library in db.scalars(select(Library).where(Library.kind == wanted).order_by(Library.id))
    ]
    if not libraries:
        return _Proposal(why=phrase("There is no library for it ({kind}).", kind=kind))
    library = libraries[0]
    folder = db.scalars(
        select(Folder).where(Folder.library_id == library.id, Folder.state == "present").order_by(Folder.id)
    ).first()
    if folder is None:
        return _Proposal(library, why=phrase("The drive of {name} is not there.", name=library.name))
    mine = [item for item in items if item.kind == kind or item.kind not in MAINS]
    known, sure, why = _identify(database, db, library, kind, [i for i in mine if i.kind == kind], root)
    for item in mine:
        item.known = known.get(item.path, {})
    listing = Listing(library=library.kind, items=mine, convention=convention_of(db, library.convention))
    wanted = [
        (item.path, path)
        for item in mine
        if item.kind == kind
        and (path := listing.convention.path(kind, {**item.reading, **item.known}, item.extension, original=item.stem))
    ]
    moves = with_belongings(listing, wanted) if wanted else ()
    alike = [other for other in libraries if other.kind == library.kind]
    proposal = _Proposal(library, why=why, sure=sure and len(alike) == 1)
    if len(wanted) < counts[kind]:
        proposal.sure, proposal.why = False, phrase("The name says too little to file it.")
    target = bytes(folder.path)
    for before, after in moves:
        end = os.path.join(target, os.fsencode(after))
        if os.path.lexists(end):
            path = shown(os.fsencode(after))
            return _Proposal(library, why=phrase("{path} is in {name} already.", path=path, name=library.name))
        proposal.moves.append((os.path.join(root, os.fsencode(before)), end))
    return proposal


def _items(paths: Sequence[str], arrival: Arrival) -> list[Item]:
    by_folder: dict[str, list[str]] = {}
    for path in paths:
        by_folder.setdefault(path.rpartition("/")[0], []).append(path)
    sizes = {exact_path(path): size for path, size, _ in arrival.seen}
    return [
        Item(
            path=path,
            kind=reading.kind,
            reading={name: fact.value for name, fact in reading.facts.items()},
            size_bytes=sizes[path],
        )
        for names in by_folder.values()
        for path, reading in read_listing(names, "mixed").items()
    ]


def _identify(
    database: Database, db: Session, library: Library, kind: str, items: Sequence[Item], root: bytes
) -> tuple[Mapping[str, dict[str, Any]], bool, str]:
    """What is known of the items beyond their names, whether that is sure, and why, in words."""
    if kind in ("photo", "clip"):
        return _moments(items, root)
    first = items[0].reading
    evidence, work = _evidence(kind, items, root)
    if not evidence.titles:
        return {}, False, phrase("The name gives no title.")
    entry = db.scalars(
        select(Entry).where(Entry.library_id == library.id, Entry.kind == work, Entry.state == "settled")
        .where(Entry.search.contains(evidence.titles[0].casefold(), autoescape=True))
        .order_by(Entry.id)
    ).first()  # fmt: skip
    if entry is not None and work == "series" and first.get("year") in (None, entry.year):
        known = {"series": entry.title, **({"year": entry.year} if entry.year else {})}
        return (
            {item.path: dict(known) for item in items},
            True,
            phrase("{title} is in {name}.", title=entry.title, name=library.name),
        )
    alias = alias_of_name(db, work, evidence.titles[0], evidence.year, (*evidence.artists, None)[0])
    if alias is not None and alias.external_id is None:
        return {}, False, "You said that no source knows it."
    for source in sources_of(db, library):
        try:
            with client_for(database, source, library=library) as client:
                if work not in client.profile.kinds:
                    continue
                if alias is not None and alias.source_id == source.id and alias.external_id is not None:
                    found = client.extend([alias.external_id], work).get(alias.external_id, {})
                    return (
                        _known(kind, items, found),
                        True,
                        phrase("You said that this name means {title}.", title=alias.title),
                    )
                answer = search(client, [Asked(Entry(kind=work, title=evidence.titles[0]), evidence)])[0]
                verdict, fields = answer.verdict, answer.fields
        except IndiceError as error:
            log.warning("intake_source_down", source=source.name, problem=error.message)
            continue
        if verdict.state == "settled":
            found = fields[verdict.ranked[0][0].id]
            return _known(kind, items, found), True, f"{source.name}: {verdict.note}"
    return {}, False, phrase("No source is sure what it is.")


def _moments(items: Sequence[Item], root: bytes) -> tuple[dict[str, dict[str, Any]], bool, str]:
    known: dict[str, dict[str, Any]] = {}
    for item in items:
        taken = item.reading.get("taken") or probe_apart(
            os.path.join(root, os.fsencode(item.path)), item.kind
        ).media.get("taken")
        if taken:
            known[item.path] = {"taken": taken}
    sure = len(known) == len(items)
    return known, sure, phrase("Each has its date.") if sure else phrase("Some have no date.")


def _evidence(kind: str, items: Sequence[Item], root: bytes) -> tuple[Evidence, str]:
    first = items[0].reading
    if kind == "movie":
        seconds = sum(
            probe_apart(os.path.join(root, os.fsencode(item.path)), "movie").media.get("seconds") or 0 for item in items
        )
        titles = tuple(str(first[name]) for name in ("title", "alt_title") if first.get(name))
        return Evidence(titles=titles, year=first.get("year"), minutes=seconds / 60 or None), "movie"
    if kind == "episode":
        numbers = frozenset(
            (i.reading["season"], n)
            for i in items
            if i.reading.get("season") is not None
            for n in i.reading.get("episodes") or ()
        )
        titles = (str(first["series"]),) if first.get("series") else ()
        return Evidence(titles=titles, year=first.get("year"), episodes=numbers), "series"
    tags = [probe_apart(os.path.join(root, os.fsencode(item.path)), "track").media for item in items]
    told = [media.get("tags") or {} for media in tags]
    for item, tag in zip(items, told, strict=True):
        item.reading = {
            **item.reading,
            **{k: tag[k] for k in ("artist", "album_artist", "album", "title", "track", "disc", "year") if tag.get(k)},
        }
    first = items[0].reading
    return Evidence(
        titles=(str(first["album"]),) if first.get("album") else (),
        year=first.get("year"),
        artists=tuple(str(first[name]) for name in ("album_artist", "artist") if first.get(name)),
        tracks=tuple(str(item.reading.get("title")) for item in items if item.reading.get("title")),
        seconds=tuple(float(media.get("seconds") or 0) for media in tags),
    ), "album"


def _known(kind: str, items: Sequence[Item], fields: Mapping[str, list[Any]]) -> dict[str, dict[str, Any]]:
    title = str((fields.get("title") or [""])[0])
    year = str((fields.get("date") or [""])[0])[:4]
    name = {"movie": "title", "episode": "series", "track": "album"}[kind]
    facts: dict[str, Any] = {name: title} if title else {}
    if year.isdigit():
        facts["year"] = int(year)
    return {item.path: dict(facts) for item in items}


def file_arrival(database: Database, settings: Settings, arrival_id: int) -> int:
    """Move a thing to where it was proposed, by a plan that can be undone; returns
    the library, which wants a scan then."""
    with database.begin() as db:
        journal, plan, library_id = _plan_to_file(db, settings, arrival_id)
        plan_id = plan.id
    outcome = carry_out(journal)
    with database.begin() as db:
        plan = db.get_one(Plan, plan_id)
        plan.state = "stopped" if outcome.stopped else "done"
        plan.left = [[kept_path(os.fsdecode(path)), kept_path(kept(why))] for path, why in outcome.left]
        arrival = db.get(Arrival, arrival_id)
        if arrival is not None:
            problem = outcome.left[0][1] if outcome.left else outcome.why
            arrival.state = "left" if problem else "filed"
            arrival.why = problem or joined(phrase("Filed into {title}.", title=plan.title), arrival.why)
            arrival.at = now()
        announce(db, "arrivals")
        announce(db, "plans")
    return library_id


def _plan_to_file(db: Session, settings: Settings, arrival_id: int) -> tuple[Journal, Plan, int]:
    """The plan by which a thing goes to where it was proposed, with its journal, and into which library.

    Both are kept before anything moves.
    """
    arrival = db.get(Arrival, arrival_id)
    if arrival is None or not arrival.moves or arrival.library_id is None:
        raise IndiceError(
            "There is nothing to file.", hint="It may have been moved already.", reference="arrival-gone", status=404
        )
    library = db.get_one(Library, arrival.library_id)
    intake = db.get_one(Intake, arrival.intake_id)
    roots = [
        bytes(intake.path),
        *(bytes(f.path) for f in db.scalars(select(Folder).where(Folder.library_id == library.id))),
    ]
    seen = {
        os.path.join(roots[0], os.fsencode(exact_path(p))): Identity(size, mtime) for p, size, mtime in arrival.seen
    }
    steps = [
        PlannedMove(before, os.fsencode(exact_path(after)), seen.get(before))
        for before, after in ((os.fsencode(exact_path(b)), a) for b, a in arrival.moves)
    ]
    journal = Journal.create(journal_folder(settings), steps, title=library.name, roots=roots)
    plan = Plan(
        library_id=library.id,
        title=library.name,
        state="running",
        journal=journal.id,
        moves=[[0, before, after] for before, after in arrival.moves],
        conflicts=[],
        left=[],
        applied_at=now(),
    )
    db.add(plan)
    db.flush()
    return journal, plan, library.id
