"""Many rows in one short statement: they go over the wire as one text of JSON, and the
statement is the same however many they are.

Arrays of columns would have each value turned into text by the driver, in Python: three times as slow.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from functools import cache
from typing import Any, cast

from sqlalchemy import DateTime, LargeBinary, Table, TextClause, text
from sqlalchemy.dialects import postgresql
from sqlalchemy.orm import Session

from ..phrases import kept as kept_phrase
from .database import as_json
from .models import Base, KeptPhrase

__all__ = ["AT_ONCE", "insert_rows", "update_rows"]

_DIALECT = postgresql.dialect()  # type: ignore[no-untyped-call]
AT_ONCE = 5000
"""So many rows go in one statement."""


def insert_rows(
    db: Session,
    model: type[Base],
    rows: Sequence[Mapping[str, Any]],
    *,
    fixed: Mapping[str, Any] | None = None,
    tail: str = "",
) -> list[tuple[Any, ...]]:
    """Insert rows that all name the same columns; `fixed` are columns that are the same in all of them.

    `tail` follows the statement and may say what a conflict does. Returns what a RETURNING in the tail gives.
    """
    if not rows:
        return []
    table = cast(Table, model.__table__)
    names = tuple(rows[0])
    same = {f"same_{name}": value for name, value in (fixed or {}).items()}
    statement = _insert(table, names, tuple(fixed or ()), tail)
    found: list[tuple[Any, ...]] = []
    for start in range(0, len(rows), AT_ONCE):
        done = db.execute(statement, _rows(table, names, rows[start : start + AT_ONCE]) | same)
        if "returning" in tail:
            found += [tuple(row) for row in done]
    return found


def update_rows(
    db: Session,
    model: type[Base],
    rows: Sequence[Mapping[str, Any]],
    *,
    also: str = "",
    where: str = "",
    kept: tuple[str, ...] = (),
) -> None:
    """Set columns of rows that are told by their `id`; `also` sets more, as SQL, and `where` leaves some alone.

    Of the columns that are `kept` nothing is taken away: None leaves what is there.
    """
    table = cast(Table, model.__table__)
    for start in range(0, len(rows), AT_ONCE):
        names = tuple(rows[0])
        db.execute(_update(table, names, also, where, kept), _rows(table, names, rows[start : start + AT_ONCE]))


@cache
def _insert(table: Table, names: tuple[str, ...], fixed: tuple[str, ...], tail: str) -> TextClause:
    named = ", ".join(f'"{name}"' for name in (*names, *fixed))
    return text(f'insert into "{table.name}" as known ({named}) {_told(table, names, fixed)} {tail}')


@cache
def _update(table: Table, names: tuple[str, ...], also: str, where: str, kept: tuple[str, ...]) -> TextClause:
    values = [
        f'"{name}" = coalesce(told."{name}", known."{name}")' if name in kept else f'"{name}" = told."{name}"'
        for name in names
        if name != "id"
    ] + ([also] if also else [])
    return text(
        f'update "{table.name}" as known set {", ".join(values)} from ({_told(table, names)}) as told '
        f"where known.id = told.id{f' and {where}' if where else ''}"
    )


def _told(table: Table, names: Sequence[str], fixed: Sequence[str] = ()) -> str:
    columns = ", ".join(f'"{name}" {_carried(table, name)}' for name in names)
    same = (f"cast(:same_{name} as {table.c[name].type.compile(_DIALECT)})" for name in fixed)
    values = ", ".join([*(_value(table, name) for name in names), *same])
    return f"select {values} from jsonb_to_recordset(cast(:rows as jsonb)) as told ({columns})"


def _is_binary(table: Table, name: str) -> bool:
    return isinstance(table.c[name].type, LargeBinary)


def _carried(table: Table, name: str) -> str:
    return "text" if _is_binary(table, name) else str(table.c[name].type.compile(_DIALECT))


def _value(table: Table, name: str) -> str:
    return f'decode("{name}", \'hex\') as "{name}"' if _is_binary(table, name) else f'"{name}"'


def _rows(table: Table, names: Sequence[str], rows: Sequence[Mapping[str, Any]]) -> dict[str, str]:
    """Rows as JSON; binary values as hexadecimal digits, moments as ISO 8601."""
    turned: dict[str, Callable[[Any], Any]] = {name: _hex for name in names if _is_binary(table, name)}
    turned |= {name: _iso for name in names if isinstance(table.c[name].type, DateTime)}
    turned |= {name: kept_phrase for name in names if isinstance(table.c[name].type, KeptPhrase)}
    told = [{name: row[name] for name in names} for row in rows]
    for name, turn in turned.items():
        for row in told:
            row[name] = turn(row[name])
    return {"rows": as_json(told)}


def _hex(value: bytes | None) -> str | None:
    return None if value is None else bytes(value).hex()


def _iso(value: datetime | None) -> str | None:
    return None if value is None else value.isoformat()
