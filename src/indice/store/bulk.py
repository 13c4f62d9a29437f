"""Many rows in one short statement: one array a column goes over the wire, and the text is the same however many they are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache
from typing import Any, cast

from sqlalchemy import Table, TextClause, text
from sqlalchemy.dialects import postgresql
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from ..core.facts.clean import clean_text
from .database import as_json
from .models import Base

__all__ = ["insert_rows", "update_rows"]

_DIALECT = postgresql.dialect()  # type: ignore[no-untyped-call]
AT_ONCE = 5000


def insert_rows(
    db: Session, model: type[Base], rows: Sequence[Mapping[str, Any]], *, tail: str = ""
) -> list[tuple[Any, ...]]:
    """Insert rows that all name the same columns; `tail` follows the statement and may say what a conflict does.

    Returns what a RETURNING in the tail gives.
    """
    if not rows:
        return []
    table = cast(Table, model.__table__)
    names = tuple(rows[0])
    statement = _insert(table, names, tail)
    found: list[tuple[Any, ...]] = []
    for start in range(0, len(rows), AT_ONCE):
        done = db.execute(statement, _columns(table, names, rows[start : start + AT_ONCE]))
        if "returning" in tail:
            found += [tuple(row) for row in done]
    return found


def update_rows(
    db: Session, model: type[Base], rows: Sequence[Mapping[str, Any]], *, also: str = "", where: str = ""
) -> None:
    """Set columns of rows that are told by their `id`; `also` sets more, as SQL, and `where` leaves some alone."""
    table = cast(Table, model.__table__)
    for start in range(0, len(rows), AT_ONCE):
        names = tuple(rows[0])
        db.execute(_update(table, names, also, where), _columns(table, names, rows[start : start + AT_ONCE]))


@cache
def _insert(table: Table, names: tuple[str, ...], tail: str) -> TextClause:
    named = ", ".join(f'"{name}"' for name in names)
    return text(f'insert into "{table.name}" as known ({named}) {_told(table, names)} {tail}')


@cache
def _update(table: Table, names: tuple[str, ...], also: str, where: str) -> TextClause:
    values = [f'"{name}" = told."{name}"' for name in names if name != "id"] + ([also] if also else [])
    return text(
        f'update "{table.name}" as known set {", ".join(values)} from ({_told(table, names)}) as told '
        f"where known.id = told.id{f' and {where}' if where else ''}"
    )


def _told(table: Table, names: Sequence[str]) -> str:
    arrays = ", ".join(f"cast(:{name} as {_carried(table, name)}[])" for name in names)
    named = ", ".join(f'"{name}"' for name in names)
    values = ", ".join(f'cast("{name}" as {_type(table, name)}) as "{name}"' for name in names)
    return f"select {values} from unnest({arrays}) as told ({named})"


def _type(table: Table, name: str) -> str:
    return str(table.c[name].type.compile(_DIALECT))


def _carried(table: Table, name: str) -> str:
    return "text" if isinstance(table.c[name].type, JSONB) else _type(table, name)


def _columns(table: Table, names: Sequence[str], rows: Sequence[Mapping[str, Any]]) -> dict[str, list[Any]]:
    columns: dict[str, list[Any]] = {}
    for name in names:
        values = [row[name] for row in rows]
        if isinstance(table.c[name].type, JSONB):
            values = [None if value is None else as_json(value) for value in values]
        else:
            values = [clean_text(value) if isinstance(value, str) else value for value in values]
        columns[name] = values
    return columns
