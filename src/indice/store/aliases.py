"""What decisions teach: this name means that thing. Kept, shown, removable, and heeded before any source is asked."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.reading.scan import without_accents
from ..errors import IndiceError
from .models import Alias, Entry, Fact, Source, now

__all__ = ["alias_of_name", "aliases_of", "forget_alias", "list_aliases", "said", "teach_alias", "unteach_alias"]

_SAYING = ("title", "year", "artist")


def said(title: str, year: Any = None, artist: Any = None) -> str:
    """What a name says, in a form in which case, accents and signs make no difference."""
    return "|".join((without_accents(title), str(year or ""), without_accents(str(artist or ""))))


def _names_of(db: Session, entries: Sequence[Entry]) -> dict[int, dict[str, Any]]:
    """What the names say of entries, where nobody told better."""
    names: dict[int, dict[str, Any]] = {entry.id: {} for entry in entries}
    query = select(Fact.entry_id, Fact.origin, Fact.field, Fact.value).where(
        Fact.entry_id.in_(names), Fact.origin.in_(("name", "tags")), Fact.field.in_(_SAYING)
    )
    for entry_id, origin, field, value in sorted(db.execute(query), key=lambda row: row[1] == "name"):
        names[entry_id][field] = (
            value.get("v") if origin == "name" or field not in names[entry_id] else names[entry_id][field]
        )
    return names


def teach_alias(db: Session, entry: Entry, source_id: int | None, external_id: str | None, title: str) -> None:
    """From now on what this entry is called means this thing of a source, or with None: nothing that any knows."""
    names = _names_of(db, [entry])[entry.id]
    name = str(names.get("title") or entry.title)
    row = {
        "kind": entry.kind,
        "said": said(name, names.get("year"), names.get("artist")),
        "name": name + (f" ({names['year']})" if names.get("year") else ""),
        "source_id": source_id,
        "external_id": external_id,
        "title": title,
        "at": now(),
    }
    statement = insert(Alias).values(row)
    db.execute(statement.on_conflict_do_update(index_elements=["kind", "said"], set_=row))


def unteach_alias(db: Session, entry: Entry) -> None:
    """Forget what a decision on this entry taught."""
    names = _names_of(db, [entry])[entry.id]
    spoken = said(str(names.get("title") or entry.title), names.get("year"), names.get("artist"))
    db.execute(delete(Alias).where(Alias.kind == entry.kind, Alias.said == spoken))


def aliases_of(db: Session, entries: Sequence[Entry]) -> dict[int, Alias]:
    """The alias of each entry whose name was taught."""
    every = {(alias.kind, alias.said): alias for alias in db.scalars(select(Alias))}
    if not every:
        return {}
    names = _names_of(db, entries)
    found: dict[int, Alias] = {}
    for entry in entries:
        own = names[entry.id]
        spoken = said(str(own.get("title") or entry.title), own.get("year"), own.get("artist"))
        alias = every.get((entry.kind, spoken))
        if alias is not None:
            found[entry.id] = alias
    return found


def alias_of_name(db: Session, kind: str, title: str, year: Any, artist: Any) -> Alias | None:
    """The alias of a name, or None when nobody taught one."""
    return db.scalars(select(Alias).where(Alias.kind == kind, Alias.said == said(title, year, artist))).first()


def list_aliases(db: Session) -> list[tuple[Alias, str]]:
    """All aliases with the names of their sources, newest first."""
    sources: dict[int, str] = dict(db.execute(select(Source.id, Source.name)).all())
    return [
        (alias, sources.get(alias.source_id or 0, "")) for alias in db.scalars(select(Alias).order_by(Alias.at.desc()))
    ]


def forget_alias(db: Session, alias_id: int) -> None:
    """Remove an alias; what was decided by it stays. Raises IndiceError when it is gone already."""
    alias = db.get(Alias, alias_id)
    if alias is None:
        raise IndiceError("This was forgotten already.", reference="alias-unknown", status=404)
    db.delete(alias)
