"""Sources, their keys, and their remembered answers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from ..sources.profile import parse_profile
from .database import Database
from .models import Library, Secret, Source, SourceAnswer, now

__all__ = [
    "add_source",
    "key_of",
    "list_sources",
    "order_sources",
    "recall",
    "remember",
    "remove_source",
    "set_key",
    "sources_of",
]

KEEP = timedelta(days=14)
"""How long an answer is believed."""


def add_source(db: Session, profile_text: str, key: str | None) -> Source:
    """Add a source from its profile, or replace the one of the same name; raises ProfileError."""
    profile = parse_profile(profile_text)
    source = db.scalars(select(Source).where(Source.name == profile.name)).first()
    if source is None:
        source = Source(name=profile.name, url=profile.url, profile=profile_text)
        db.add(source)
    source.url, source.profile, source.problem = profile.url, profile_text, ""
    db.flush()
    if key is not None:
        set_key(db, profile.name, key)
    return source


def remove_source(db: Session, source_id: int) -> None:
    """Forget a source, its key and its answers. Libraries that named it go on with the others."""
    source = db.get_one(Source, source_id)
    for library in db.scalars(select(Library)):
        if source.name in library.sources:
            library.sources = [name for name in library.sources if name != source.name]
    secret = db.get(Secret, f"source:{source.name}")
    if secret is not None:
        db.delete(secret)
    db.delete(source)


def set_key(db: Session, name: str, key: str) -> None:
    """Keep a source's key, apart from everything that is shown."""
    db.merge(Secret(name=f"source:{name}", value=key))


def key_of(db: Session, name: str) -> str:
    """A source's key, empty when there is none."""
    secret = db.get(Secret, f"source:{name}")
    return secret.value if secret else ""


def sources_of(db: Session, library: Library) -> list[Source]:
    """The sources of a library in their order; all when none was chosen."""
    every = {source.name: source for source in db.scalars(select(Source).order_by(Source.position, Source.id))}
    if not library.sources:
        return list(every.values())
    missing = [str(name) for name in library.sources if name not in every]
    if missing:
        raise IndiceError(
            phrase("There is no source called {missing}.", missing=missing[0]),
            hint="Add it with `indice source add PROFILE.toml`.",
        )
    return [every[str(name)] for name in library.sources]


def recall(database: Database, source_id: int, asked: Sequence[str]) -> dict[str, dict[str, Any]]:
    """Remembered answers that are not too old, by fingerprint of the question."""
    found: dict[str, dict[str, Any]] = {}
    with database.begin() as db:
        for start in range(0, len(asked), 2000):
            query = select(SourceAnswer.asked, SourceAnswer.answer).where(
                SourceAnswer.source_id == source_id,
                SourceAnswer.asked.in_(asked[start : start + 2000]),
                SourceAnswer.at > now() - KEEP,
            )
            found |= {key: dict(answer) for key, answer in db.execute(query)}
    return found


def remember(database: Database, source_id: int, answers: Mapping[str, dict[str, Any]]) -> None:
    """Keep answers with their age."""
    if not answers:
        return
    rows = [{"source_id": source_id, "asked": key, "answer": answer, "at": now()} for key, answer in answers.items()]
    statement = insert(SourceAnswer)
    changed = {"answer": statement.excluded.answer, "at": statement.excluded.at}
    with database.begin() as db:
        db.execute(statement.on_conflict_do_update(index_elements=["source_id", "asked"], set_=changed), rows)


def list_sources(db: Session) -> list[Source]:
    """All sources, the one that is asked first at the top."""
    return list(db.scalars(select(Source).order_by(Source.position, Source.id)))


def order_sources(db: Session, ids: Sequence[int]) -> None:
    """From now on sources are asked in this order."""
    for place, source_id in enumerate(ids):
        source = db.get(Source, source_id)
        if source is not None:
            source.position = place
