"""Tries a source: is it there, does it speak the protocol, does it take the key."""

from __future__ import annotations

from sqlalchemy import select

from ..core.phrase import phrase
from ..errors import IndiceError
from ..store.database import Database
from ..store.models import Source, now
from .match import client_for

__all__ = ["try_source"]


def try_source(database: Database, name: str) -> str:
    """Say how it went, in words; raises IndiceError that says what is wrong, and notes it beside the source."""
    with database.begin() as db:
        source = db.scalars(select(Source).where(Source.name == name)).first()
    if source is None:
        raise IndiceError(
            phrase("There is no source called {name}.", name=name),
            hint="`indice source list` shows those that are.",
            reference="source-unknown",
            status=404,
        )
    problem = ""
    try:
        with client_for(database, source) as client:
            manifest = client.manifest()
            kind = next(iter(client.profile.kinds.values()))
            client.reconcile(
                [{"query": f"Indice asks whether you are there, {now().isoformat()}", "type": kind.type, "limit": 1}]
            )
        return phrase(
            "{name} answers, speaks version {versions}, and takes {n} questions at a time.",
            name=manifest["name"],
            versions=", ".join(map(str, manifest.get("versions", ["?"]))),
            n=manifest.get("batchSize", 25),
        )
    except IndiceError as error:
        problem = f"{error.message} {error.hint}".strip()
        raise
    finally:
        with database.begin() as db:
            kept = db.get_one(Source, source.id)
            kept.problem, kept.checked_at = problem, now()
