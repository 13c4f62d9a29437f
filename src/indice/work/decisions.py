"""A person's decisions on what entries are. Each teaches an alias, so that it is not asked again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from sqlalchemy import select

from ..core.phrase import phrase
from ..errors import IndiceError
from ..store.aliases import teach_alias, unteach_alias
from ..store.database import Database
from ..store.decisions import forget_sources, restore, snapshot
from ..store.jobs import announce
from ..store.models import Candidate, Decision, Entry, Library, Source, now
from ..store.shown import note_names, refresh_shown
from .adopt import adopt
from .artwork import Offer
from .match import client_for

__all__ = ["keep_name", "take_back", "take_candidates"]


def keep_name(database: Database, entry_id: int) -> None:
    """None of the candidates: the entry keeps what its name says."""
    with database.begin() as db:
        entry = db.get_one(Entry, entry_id)
        db.add(Decision(entry_id=entry.id, by="hand", external_id=None, before=snapshot(db, entry)))
        family = forget_sources(db, entry.id) if entry.external_id else []
        entry.state, entry.decided_by, entry.source_id, entry.external_id = "none", "hand", None, None
        db.flush()
        refresh_shown(db, [entry.id, *family])
        note_names(db, [entry.id])
        entry.note = phrase("You said that it is none of these.")
        teach_alias(db, entry, None, None, entry.title)
        for topic in ("matches", "catalog"):
            announce(db, topic)


def take_candidates(database: Database, chosen: Mapping[int, int]) -> dict[int, list[Offer]]:
    """Take a candidate for each entry (entry → candidate). Returns the pictures to fetch, by source.

    Raises :class:`IndiceError` when a candidate is gone, before anything is taken.
    """
    by_source: dict[int, list[tuple[int, str]]] = defaultdict(list)
    with database.begin() as db:
        for entry_id, candidate_id in chosen.items():
            candidate = db.get(Candidate, candidate_id)
            if candidate is None or candidate.entry_id != entry_id:
                raise IndiceError(
                    phrase("That candidate is gone."),
                    hint=phrase("Load the page again."),
                    reference="candidate-unknown",
                    status=404,
                )
            if candidate.apart:
                raise IndiceError(
                    phrase("“{name}” is of another kind.", name=candidate.name),
                    hint=phrase("Search with other words."),
                    reference="candidate-apart",
                )
            by_source[candidate.source_id].append((entry_id, candidate.external_id))
        sources = {source_id: db.get_one(Source, source_id) for source_id in by_source}
        libraries = {id_: db.get_one(Library, db.get_one(Entry, id_).library_id) for id_ in chosen}
    offers: dict[int, list[Offer]] = {}
    for source_id, mine in by_source.items():
        with client_for(database, sources[source_id], library=libraries[mine[0][0]]) as client:
            offers[source_id] = [
                offer
                for entry_id, external_id in mine
                for offer in adopt(database, client, sources[source_id], entry_id, external_id, by="hand")
            ]
        with database.begin() as db:
            for entry_id, external_id in mine:
                entry = db.get_one(Entry, entry_id)
                teach_alias(db, entry, source_id, external_id, entry.title)
    return offers


def take_back(database: Database, entry_id: int) -> dict[int, list[Offer]]:
    """Take the last decision on an entry back: it stands as before, with what was known of it then.

    Returns the pictures to fetch, by source. Raises :class:`IndiceError` when nothing was decided.
    """
    with database.begin() as db:
        decision = db.scalars(
            select(Decision)
            .where(Decision.entry_id == entry_id, Decision.undone_at.is_(None))
            .order_by(Decision.id.desc())
        ).first()
        if decision is None:
            raise IndiceError(phrase("Nothing was decided here."), reference="decision-unknown", status=404)
        entry = db.get_one(Entry, entry_id)
        if decision.by == "hand":
            unteach_alias(db, entry)
        same = decision.before.get("external_id") == decision.external_id and decision.external_id is not None
        if same:
            entry.decided_by = decision.before.get("decided_by")
            decision.undone_at = now()
        else:
            restore(db, decision)
        for topic in ("matches", "catalog"):
            announce(db, topic)
        if same or entry.state != "settled" or entry.external_id is None or entry.source_id is None:
            return {}
        source, library = db.get_one(Source, entry.source_id), db.get_one(Library, entry.library_id)
        external_id, by = entry.external_id, entry.decided_by or "automatic"
    with client_for(database, source, library=library) as client:
        return {source.id: adopt(database, client, source, entry_id, external_id, by=by, record=False)}
