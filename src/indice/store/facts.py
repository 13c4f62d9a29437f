"""Facts: what names, files, sources and people say of entries, and whom a library believes first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from ..core.facts import Ranking, Value
from .among import among
from .database import as_json
from .models import Fact, Library, now

__all__ = ["put_facts", "ranking_of", "rankings", "values_of"]


def put_facts(db: Session, facts: Iterable[tuple[int, str, Mapping[str, Any]]], *, only_new: bool = False) -> None:
    """Record values: entry, origin, field → value. A locked value stays as it is; with `only_new` every known one."""
    said: dict[tuple[int, str], Mapping[str, Any]] = {}
    for entry_id, origin, values in facts:
        before = said.get((entry_id, origin))
        if before is not None:
            values = {**before, **{name: value for name, value in values.items() if value not in (None, "", [])}}
        said[entry_id, origin] = values
    told = [[entry_id, origin, values] for (entry_id, origin), values in said.items()]
    for start in range(0, len(told), TOLD_AT_ONCE):
        batch = told[start : start + TOLD_AT_ONCE]
        db.execute(_PUT_NEW_FACTS if only_new else _PUT_FACTS, {"told": as_json(batch), "at": now()})


TOLD_AT_ONCE = 2000
"""So many entries with all that one origin says of them go into one statement."""
_TOLD_FACTS = """
    insert into fact as known (entry_id, field, origin, value, at, locked)
    select (told -> 0)::integer, said.key, told ->> 1, jsonb_build_object('v', said.value),
        cast(:at as timestamptz), false
    from jsonb_array_elements(cast(:told as jsonb)) as told, jsonb_each(told -> 2) as said
    where said.value not in ('null', '""', '[]')
    on conflict (entry_id, field, origin)
    """
_PUT_NEW_FACTS = text(_TOLD_FACTS + "do nothing")
_PUT_FACTS = text(
    _TOLD_FACTS
    + """
    do update set value = excluded.value, at = excluded.at
    where not known.locked and known.value <> excluded.value
    """
)


def values_of(
    db: Session, entry_ids: Sequence[int], *, fields: Sequence[str] | None = None
) -> dict[int, dict[str, list[Value]]]:
    """All values of entries, or those of some fields: entry → field → values of all origins."""
    found: dict[int, dict[str, list[Value]]] = defaultdict(lambda: defaultdict(list))
    query = select(Fact).where(among(Fact.entry_id, entry_ids))
    for fact in db.scalars(query if fields is None else query.where(Fact.field.in_(fields))):
        found[fact.entry_id][fact.field].append(Value(fact.value.get("v"), fact.origin, fact.at, fact.locked))
    return found


def rankings(db: Session) -> dict[int, Ranking]:
    """The order in which each library believes origins, by the library's id."""
    return {library.id: _ranking(library) for library in db.scalars(select(Library))}


def ranking_of(db: Session, library_id: int) -> Ranking:
    """The order in which a library believes origins."""
    return _ranking(db.get_one(Library, library_id))


def _ranking(library: Library) -> Ranking:
    return Ranking(tuple(map(str, library.sources)), frozenset(map(str, library.own_first)))
