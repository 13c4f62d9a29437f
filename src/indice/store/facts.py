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

__all__ = ["put_facts", "rankings", "values_of"]


def put_facts(db: Session, facts: Iterable[tuple[int, str, Mapping[str, Any]]], *, only_new: bool = False) -> None:
    """Record values: entry, origin, field → value. A locked value stays as it is; with `only_new` every known one."""
    rows = [
        {"entry_id": entry_id, "field": name, "origin": origin, "value": {"v": value}}
        for entry_id, origin, values in facts
        for name, value in values.items()
        if value not in (None, "", [])
    ]
    unique = {(row["entry_id"], row["field"], row["origin"]): row for row in rows}
    chosen = list(unique.values())
    for start in range(0, len(chosen), FACTS_AT_ONCE):
        batch = chosen[start : start + FACTS_AT_ONCE]
        db.execute(
            _PUT_NEW_FACTS if only_new else _PUT_FACTS,
            {"told": as_json(batch), "at": now()},
        )


FACTS_AT_ONCE = 5000
_TOLD_FACTS = """
    insert into fact as known (entry_id, field, origin, value, at, locked)
    select entry_id, field, origin, value, cast(:at as timestamptz), false
    from jsonb_to_recordset(cast(:told as jsonb)) as told (entry_id integer, field text, origin text, value jsonb)
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
    return {
        library.id: Ranking(tuple(map(str, library.sources)), frozenset(map(str, library.own_first)))
        for library in db.scalars(select(Library))
    }
