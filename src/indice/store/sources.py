"""Sources, their keys, and their remembered answers."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..errors import IndiceError
from ..sources import parse_profile
from .database import Database
from .models import Library, Secret, Source, SourceAnswer, now

__all__ = ["add_source", "key_of", "recall", "remember", "set_key", "sources_of"]

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
            f"There is no source called {missing[0]}.", hint="Add it with `indice source add PROFILE.toml`."
        )
    return [every[str(name)] for name in library.sources]


def recall(database: Database, source_id: int, asked: str) -> dict[str, object] | None:
    """A remembered answer that is not too old."""
    with database.begin() as db:
        found = db.get(SourceAnswer, (source_id, asked))
        return found.answer if found is not None and found.at > now() - KEEP else None


def remember(database: Database, source_id: int, asked: str, answer: dict[str, object]) -> None:
    """Keep an answer with its age."""
    with database.begin() as db:
        statement = insert(SourceAnswer).values(source_id=source_id, asked=asked, answer=answer, at=now())
        db.execute(
            statement.on_conflict_do_update(index_elements=["source_id", "asked"], set_={"answer": answer, "at": now()})
        )
