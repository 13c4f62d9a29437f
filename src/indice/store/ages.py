"""From which age each entry may be seen: kept with the entry, so that it is one condition of a question.

The database notes what changes it (`age_due`, by triggers on entries, facts and files); before anything is shown to
somebody who has an age, what is due is settled.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from sqlalchemy import delete, func, select, text
from sqlalchemy.orm import Session

from ..core.facts import best_value
from ..core.facts.ages import age_of
from .among import among
from .bulk import update_rows
from .due import done, is_due, some_due
from .facts import rankings, values_of
from .models import AgeLimit, Entry, File, Folder, Library

__all__ = ["limit_directory", "limits_of", "note_library", "settle_ages"]

AT_ONCE = 20_000
_LOCK = 7802
_AROUND = text(
    """
    with recursive
    below as (
        select id, parent_id from entry where id = any(:ids)
        union select entry.id, entry.parent_id from entry join below on entry.parent_id = below.id
    ),
    above as (
        select id, parent_id from below
        union select entry.id, entry.parent_id from entry join above on entry.id = above.parent_id
    )
    select id from above
    """
)


def settle_ages(db: Session) -> int:
    """Settle the ages of all entries that something has changed of; returns how many there were."""
    if not is_due(db, "age_due"):
        return 0
    db.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
    count = 0
    while (found := some_due(db, "age_due", AT_ONCE))[0]:
        notes, due = found
        _settle(db, due)
        done(db, "age_due", notes)
        count += len(due)
    return count


def _settle(db: Session, due: Sequence[int]) -> None:
    ids = list(db.scalars(_AROUND, {"ids": list(due)}))
    rows = db.execute(
        select(Entry.id, Entry.parent_id, Entry.library_id, Entry.age, Entry.limit_age).where(among(Entry.id, ids))
    ).all()
    known = {row.id: row for row in rows}
    own = _own_ages(db, {row.id: row.library_id for row in rows})
    ages: dict[int, int | None] = {}

    def age(id_: int) -> int | None:
        """Its own, else that of what it lies in; the ways up are short."""
        if id_ not in ages:
            above = known[id_].parent_id
            ages[id_] = own[id_] if own.get(id_) is not None else age(above) if above in known else None
        return ages[id_]

    limits = _limits(db, known)
    changed = [
        {"id": id_, "age": age(id_), "limit_age": limits[id_]}
        for id_, row in known.items()
        if (row.age, row.limit_age) != (age(id_), limits[id_])
    ]
    update_rows(db, Entry, changed)


def _own_ages(db: Session, libraries: Mapping[int, int]) -> dict[int, int | None]:
    order = rankings(db)
    countries = {library.id: library.country for library in db.scalars(select(Library))}
    found: dict[int, int | None] = {}
    for id_, values in values_of(db, list(libraries), fields=("certificates", "rating")).items():
        best = {name: best_value(values.get(name, []), name, order[libraries[id_]]) for name in values}
        rating, certificates = best.get("rating"), best.get("certificates")
        # What a person wrote by hand is the last word; else all that is known of any country counts.
        heard = [rating] if rating is not None and rating.origin == "hand" else [certificates, rating]
        told = [str(one) for value in heard if value is not None for one in _listed(value.value)]
        found[id_] = age_of(told, countries.get(libraries[id_]) or "")
    return found


def _listed(value: Any) -> list[Any]:
    return value if isinstance(value, list) else [value]


def _limits(db: Session, known: Mapping[int, Any]) -> dict[int, int]:
    """From which age by folders: the strictest of its files; of what holds others, the mildest of these."""
    told: dict[int, list[tuple[str, int]]] = defaultdict(list)
    for one in db.scalars(select(AgeLimit)):
        told[one.folder_id].append((one.directory, one.age))
    if not told:
        return dict.fromkeys(known, 0)
    own: dict[int, int] = {}
    query = select(File.entry_id, File.folder_id, File.directory).where(
        among(File.entry_id, known),
        File.state != "missing",
        File.kind.not_in(("artwork", "sidecar", "subtitle", "lyrics")),
    )
    for entry_id, folder_id, directory in db.execute(query):
        age = max((age for below, age in told[folder_id] if _is_below(directory, below)), default=0)
        own[entry_id or 0] = max(own.get(entry_id or 0, 0), age)
    children: dict[int, list[int]] = defaultdict(list)
    outside = select(Entry.id, Entry.parent_id, Entry.limit_age).where(among(Entry.parent_id, known))
    stored: dict[int, int] = {}
    for id_, parent_id, limit_age in db.execute(outside):
        children[parent_id or 0].append(id_)
        stored[id_] = limit_age
    found: dict[int, int] = {}

    def limit(id_: int) -> int:
        if id_ not in found:
            below = [limit(one) if one in known else stored[one] for one in children.get(id_, ())]
            found[id_] = max(own.get(id_, 0), min(below)) if below else own.get(id_, 0)
        return found[id_]

    return {id_: limit(id_) for id_ in known}


def _is_below(directory: str, limit: str) -> bool:
    return not limit or directory == limit or directory.startswith(limit + "/")


def limit_directory(db: Session, folder: Folder, directory: str, age: int | None) -> None:
    """All below a directory is from now on for an age and above; None takes the limit away."""
    db.execute(delete(AgeLimit).where(AgeLimit.folder_id == folder.id, AgeLimit.directory == directory))
    if age is not None:
        db.add(AgeLimit(folder_id=folder.id, directory=directory, age=age))
    db.flush()
    beginning = File.directory == directory
    below = func.starts_with(File.directory, directory + "/") if directory else File.directory.is_not(None)
    ids = select(File.entry_id).where(File.folder_id == folder.id, File.entry_id.is_not(None), beginning | below)
    _note(db, {id_ for id_ in db.scalars(ids) if id_ is not None})


def note_library(db: Session, library_id: int) -> None:
    """The country of a library has changed: its certificates are read anew."""
    _note(db, set(db.scalars(select(Entry.id).where(Entry.library_id == library_id))))


def _note(db: Session, ids: Iterable[int]) -> None:
    statement = text("insert into age_due select unnest(cast(:ids as integer[]))")
    db.execute(statement, {"ids": sorted(ids)})


def limits_of(db: Session) -> list[tuple[AgeLimit, Folder]]:
    """All limits of directories, with their folders."""
    query = select(AgeLimit, Folder).join(Folder, Folder.id == AgeLimit.folder_id)
    return list(db.execute(query.order_by(Folder.shown, AgeLimit.directory)).all())
