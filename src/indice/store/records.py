"""All records as lines of JSON, and back: what a backup holds."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sqlalchemy import Connection, text

from .models import Base

__all__ = ["KEPT", "AsLines", "is_empty", "read_records", "settle_numbers", "settle_parents", "write_records"]

_EPHEMERAL = frozenset(
    (
        *("playing", "source_answer", "listing", "likeness", "twin", "job", "job_line", "machine"),
        *(
            "hearing",
            "encoding",
            "party",
            "party_guest",
            "guess",
            "person_session",
            "device_sign_in",
            "share_view",
            "deed",
            "file_name",
        ),
    )
)
"""Tables of the moment, or of what can be asked and looked at again."""
KEPT: tuple[str, ...] = tuple(table.name for table in Base.metadata.sorted_tables if table.name not in _EPHEMERAL)
"""Tables that a backup holds, those that others name first."""
AT_ONCE = 2000
AsLines = Iterator[str]


def read_records(link: Connection, name: str) -> AsLines:
    """The rows of a table, a JSON object each, in the order of their numbers."""
    table = Base.metadata.tables[name]
    order = ", ".join(f'told."{column.name}"' for column in table.primary_key.columns)
    query = text(f'select to_jsonb(told)::text from "{name}" as told order by {order}')
    streamed = link.execution_options(stream_results=True, yield_per=AT_ONCE).execute(query)
    for (row,) in streamed:
        yield row


def write_records(link: Connection, name: str, lines: Sequence[str]) -> None:
    """Insert rows as they were read. What they hold is taken as data: a column
    that the table does not have is left out."""
    if name not in KEPT:
        raise ValueError(f"{name} is no table that a backup holds.")
    rows = f"[{','.join(lines)}]"
    told = f'select * from jsonb_populate_recordset(null::"{name}", cast(:rows as jsonb))'
    if name == "entry":  # they name one another: first all, then who holds whom
        columns = list(link.execute(text("select * from entry limit 0")).keys())
        wanted = ", ".join("null" if column == "parent_id" else column for column in columns)
        told = f"select {wanted} from jsonb_populate_recordset(null::entry, cast(:rows as jsonb))"
    link.execute(text(f'insert into "{name}" {told}'), {"rows": rows})


_PARENTS = text(
    "update entry set parent_id = told.parent_id"
    " from jsonb_to_recordset(cast(:rows as jsonb)) as told (id integer, parent_id integer)"
    " where entry.id = told.id and told.parent_id is not null"
)


def settle_parents(link: Connection, lines: Sequence[str]) -> None:
    """Let entries know again what holds them."""
    link.execute(_PARENTS, {"rows": f"[{','.join(lines)}]"})


def settle_numbers(link: Connection) -> None:
    """New rows get numbers after those that are there, and those of what is put
    aside: it may come back with its own."""
    for name in KEPT:
        if "id" not in Base.metadata.tables[name].columns:
            continue
        sequence = link.execute(text("select pg_get_serial_sequence(:name, 'id')"), {"name": name}).scalar()
        if sequence:
            link.execute(text(_NUMBERS.format(name=name)), {"sequence": sequence})


_NUMBERS = """
    select setval(:sequence, greatest(1, coalesce(max(id), 0)), max(id) is not null) from (
        select id from "{name}"
        union all
        select cast(told ->> 'id' as integer) from gone, jsonb_path_query(gone.records, '$."{name}"[*]') as told
    ) as taken
"""


def is_empty(link: Connection) -> bool:
    """Whether nobody has begun to use this database."""
    return not any(
        link.execute(text(f'select exists (select 1 from "{name}")')).scalar()
        for name in ("person", "library", "source")
    )
