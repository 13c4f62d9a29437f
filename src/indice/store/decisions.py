"""What entries are: what is proposed, what is decided, and taking it back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import ColumnElement, delete, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..errors import IndiceError
from .among import among
from .entries import descendants
from .models import Artwork, Candidate, Decision, Entry, Fact, now
from .shown import note_names, refresh_shown

__all__ = [
    "confirm",
    "decided_by_hand",
    "entries_to_match",
    "forget_candidates",
    "forget_sources",
    "has_entries_to_match",
    "restore",
    "save_candidates",
    "snapshot",
    "tell_candidates",
]


def entries_to_match(db: Session, library_id: int, *, again: bool = False) -> list[Entry]:
    """Films, series and albums that no source was asked about, or whose answer a person has not decided."""
    states = ("unseen", "none", "waiting") if again else ("unseen",)
    return list(db.scalars(select(Entry).where(*_to_match(library_id, states)).order_by(Entry.sort_title, Entry.id)))


def has_entries_to_match(db: Session, library_id: int) -> bool:
    """Whether there is any that no source was asked about."""
    return db.scalar(select(Entry.id).where(*_to_match(library_id, ("unseen",))).limit(1)) is not None


def _to_match(library_id: int, states: Sequence[str]) -> tuple[ColumnElement[bool], ...]:
    return (
        Entry.library_id == library_id,
        Entry.kind.in_(("movie", "series", "album")),
        Entry.state.in_(states),
        Entry.decided_by.is_distinct_from("hand"),
    )


def forget_candidates(db: Session, entry_ids: Sequence[int]) -> None:
    """Remove what was proposed before."""
    db.execute(delete(Candidate).where(among(Candidate.entry_id, entry_ids)))


def save_candidates(db: Session, rows: Sequence[dict[str, Any]]) -> None:
    """Record candidates."""
    if rows:
        db.execute(insert(Candidate).on_conflict_do_nothing(), list(rows))


def snapshot(db: Session, entry: Entry) -> dict[str, Any]:
    """The state of an entry and of what lies below it, for taking a decision back."""
    return {
        "state": entry.state,
        "decided_by": entry.decided_by,
        "source_id": entry.source_id,
        "external_id": entry.external_id,
        "score": entry.score,
        "note": entry.note,
    }


def restore(db: Session, decision: Decision) -> Entry | None:
    """Take a decision back: the entry stands as before, the facts of its source are gone."""
    entry = db.get(Entry, decision.entry_id)
    if entry is None:
        return None
    family = forget_sources(db, entry.id)
    for name, value in decision.before.items():
        setattr(entry, name, value)
    decision.undone_at = now()
    db.flush()
    refresh_shown(db, [entry.id, *family])
    note_names(db, [entry.id])
    return entry


def forget_sources(db: Session, entry_id: int) -> list[int]:
    """Forget what sources said of an entry and of what lies below it; returns the ids of the latter."""
    family = descendants(db, entry_id)
    concerned = [entry_id, *family]
    db.execute(delete(Fact).where(among(Fact.entry_id, concerned), Fact.origin.startswith("source:"), ~Fact.locked))
    db.execute(delete(Artwork).where(among(Artwork.entry_id, concerned), Artwork.origin.startswith("source:")))
    db.execute(update(Entry).where(among(Entry.id, family)).values(external_id=None, source_id=None))
    return family


def decided_by_hand(db: Session, *, limit: int) -> list[Entry]:
    """What people decided last and have not taken back."""
    query = select(Entry).join(Decision, Decision.entry_id == Entry.id)
    decided = query.where(Decision.by == "hand", Decision.undone_at.is_(None)).order_by(Decision.id.desc())
    return list(dict.fromkeys(db.scalars(decided.limit(limit))))


def confirm(db: Session, entry: Entry) -> None:
    """A person says that what was taken automatically is right; raises :class:`IndiceError` when nothing was."""
    if entry.state != "settled" or entry.external_id is None:
        raise IndiceError("Nothing was taken here.", hint="Decide first what it is.", reference="entry-unsettled")
    db.add(Decision(entry_id=entry.id, by="hand", external_id=entry.external_id, before=snapshot(db, entry)))
    entry.decided_by = "hand"


def tell_candidates(db: Session, told: Sequence[Mapping[str, Any]]) -> None:
    """More was found out of candidates."""
    if told:
        db.execute(update(Candidate), [dict(row) for row in told])
