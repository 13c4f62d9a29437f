"""Entries whose files are gone: out of the catalog, kept whole for a while, and back when a file is back.

An entry and all that is kept of it (facts, pictures, marks, decisions …) is put aside as the rows that it was,
whatever tables there are; so nothing that asks the catalog has to leave it out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import timedelta
from typing import Any

import structlog
from sqlalchemy import Column, ForeignKey, delete, func, literal_column, select, text
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from .among import among, among_words
from .database import as_json
from .models import Base, Entry, File, Folder, Gone, now

__all__ = [
    "bring_back",
    "forget_gone",
    "gone_entries",
    "libraries_of_entries",
    "pictures_put_aside",
    "put_aside",
    "remove_empty",
    "with_keys",
]

log = structlog.get_logger()
_NOT_KEPT = frozenset(("entry", "file", "playing"))


def _kept_tables() -> dict[str, str]:
    """Tables that tell something of an entry, with the column that names it."""
    found: dict[str, str] = {}
    for table in Base.metadata.sorted_tables:
        for column in table.columns:
            if table.name not in _NOT_KEPT and any(key.column.table.name == "entry" for key in column.foreign_keys):
                found[table.name] = column.name
    return found


def put_aside(db: Session, library_id: int, entry_ids: Collection[int]) -> set[int]:
    """Put those of these entries aside whose files are all missing, and what held nothing but such; returns which.

    They are not removed here. Entries that never had a file of their own, nor hold one that had, are not kept.
    """
    files: dict[int, list[int]] = defaultdict(list)
    query = select(File.entry_id, File.id).where(among(File.entry_id, entry_ids), File.state == "missing")
    for entry_id, file_id in db.execute(query):
        files[entry_id or 0].append(file_id)
    entries = {e.id: e for e in db.scalars(select(Entry).where(among(Entry.id, entry_ids)))}
    kept: dict[int, list[int]] = dict(files)
    for entry_id in files:
        above = entries[entry_id].parent_id if entry_id in entries else None
        while above is not None and above in entries:
            kept.setdefault(above, [])
            above = entries[above].parent_id
    kept = {entry_id: ids for entry_id, ids in kept.items() if entry_id in entries}
    if not kept:
        return set()
    records: dict[int, dict[str, list[Any]]] = defaultdict(dict)
    for name, column in {"entry": "id", **_kept_tables()}.items():
        rows = db.execute(
            text(
                f'select "{column}", jsonb_agg(to_jsonb(told)) from "{name}" as told where "{column}" = any(:ids) '
                f"group by 1"
            ),
            {"ids": sorted(kept)},
        )
        for entry_id, found in rows:
            records[entry_id][name] = found
    db.execute(delete(Gone).where(among(Gone.entry_id, kept)))
    for entry_id, ids in kept.items():
        db.add(
            Gone(
                entry_id=entry_id,
                library_id=library_id,
                key=entries[entry_id].key,
                files=ids,
                records=records[entry_id],
            )
        )
    db.flush()
    return set(kept)


def bring_back(db: Session, library_id: int) -> list[int]:
    """Entries of which a file is back, in whatever library, stand again as they were; returns their ids."""
    returned = db.scalars(
        text(
            "select distinct gone.entry_id from gone, unnest(gone.files) as held (id)"
            " join file on file.id = held.id join folder on folder.id = file.folder_id"
            " where file.state <> 'missing' and (gone.library_id = :library or folder.library_id = :library)"
        ),
        {"library": library_id},
    )
    return _restore(db, list(returned))


def with_keys(db: Session, library_id: int, keys: Iterable[str]) -> dict[str, int]:
    """Bring back what is gone of a library and had one of these keys; returns key → id."""
    wanted = list(keys)
    query = select(Gone.entry_id).where(Gone.library_id == library_id, among_words(Gone.key, wanted))
    restored = _restore(db, list(db.scalars(query)))
    if not restored:
        return {}
    found = select(Entry.key, Entry.id).where(among(Entry.id, restored), among_words(Entry.key, wanted))
    return dict(db.execute(found).all())


def _restore(db: Session, entry_ids: Collection[int]) -> list[int]:
    """Put entries back as they were, those that hold them first; one that cannot be put back is left where it is."""
    if not entry_ids:
        return []
    gone = {one.entry_id: one for one in db.scalars(select(Gone).where(among(Gone.entry_id, entry_ids)))}
    pending = list(gone.values())
    while pending:
        above = {row.get("parent_id") for one in pending for row in one.records.get("entry", [])} - {None, *gone}
        pending = list(db.scalars(select(Gone).where(among(Gone.entry_id, above)))) if above else []
        gone |= {one.entry_id: one for one in pending}
    restored: list[int] = []
    for one in sorted(gone.values(), key=lambda one: _depth(one, gone)):
        try:
            with db.begin_nested():
                if _put_back(db, one):
                    restored.append(one.entry_id)
        except SQLAlchemyError as error:
            log.warning("entry_not_restored", entry_id=one.entry_id, error=str(error))
    return restored


def _depth(one: Gone, gone: dict[int, Gone]) -> int:
    depth, walked = 0, one
    while depth < 8:
        rows = walked.records.get("entry", [])
        above = gone.get(rows[0].get("parent_id") or 0) if rows else None
        if above is None:
            break
        depth, walked = depth + 1, above
    return depth


def _put_back(db: Session, one: Gone) -> bool:
    """One entry with all that was kept of it; False when another has taken its place."""
    (row,) = one.records["entry"]
    if row.get("parent_id") is not None and db.get(Entry, row["parent_id"]) is None:
        row = {**row, "parent_id": None}
    if not _insert(db, "entry", [row]):
        return False
    for name in _kept_tables():
        if one.records.get(name):
            _insert(db, name, one.records[name])
    db.execute(
        text("update file set entry_id = :entry where id = any(:files) and entry_id is null"),
        {"entry": one.entry_id, "files": one.files},
    )
    db.delete(one)
    db.flush()
    return True


def _insert(db: Session, name: str, rows: list[Any]) -> int:
    """Insert rows as they were kept, but for those that name somebody or something that is not there any more."""
    table = Base.metadata.tables[name]
    held = [
        f'(told."{column.name}" is null or exists (select 1 from "{key.column.table.name}" as held'
        f' where held."{key.column.name}" = told."{column.name}"))'
        for column, key in _references(table.columns)
    ]
    where = f" where {' and '.join(held)}" if held else ""
    columns = ", ".join(f'"{column.name}"' for column in table.columns)
    done = db.execute(
        text(
            f'insert into "{name}" ({columns}) select {columns} from jsonb_populate_recordset(null::"{name}",'
            f" cast(:rows as jsonb)) as told{where} on conflict do nothing returning 1"
        ),
        {"rows": as_json(rows)},
    )
    return len(done.all())


def _references(columns: Iterable[Column[Any]]) -> list[tuple[Column[Any], ForeignKey]]:
    return [(column, key) for column in columns for key in column.foreign_keys]


def gone_entries(db: Session, library_id: int) -> list[Gone]:
    """What is gone of a library, in the order of its numbers."""
    return list(db.scalars(select(Gone).where(Gone.library_id == library_id).order_by(Gone.entry_id)))


def forget_gone(db: Session, library_id: int, *, days: int) -> None:
    """Forget entries and records of files that are gone for longer than so many days."""
    before = now() - timedelta(days=days)
    db.execute(delete(Gone).where(Gone.library_id == library_id, Gone.at < before))
    folders = select(Folder.id).where(Folder.library_id == library_id)
    db.execute(
        delete(File)
        .where(File.folder_id.in_(folders), File.state == "missing", File.gone_at < before)
        .execution_options(synchronize_session=False)
    )


def libraries_of_entries(db: Session, entry_ids: Collection[int]) -> set[int]:
    """The libraries that entries are in."""
    return set(db.scalars(select(Entry.library_id).where(among(Entry.id, entry_ids))))


_WITH_ABOVE = text(
    """
    with recursive above as (
        select id, parent_id from entry where id = any(:ids)
        union
        select entry.id, entry.parent_id from entry join above on entry.id = above.parent_id
    )
    select id from above
    """
)
_EMPTY = text(
    """
    delete from entry where id = any(:ids) and library_id = :library
      and not exists (select 1 from file where file.entry_id = entry.id)
      and not exists (select 1 from entry child where child.parent_id = entry.id)
    returning id
    """
)


def remove_empty(db: Session, library_id: int, entry_ids: Collection[int]) -> None:
    """Remove those of a library's entries, and of what holds them, that hold nothing any more."""
    ids = list(db.scalars(_WITH_ABOVE, {"ids": sorted(entry_ids)}))
    while db.execute(_EMPTY, {"ids": ids, "library": library_id}).all():
        pass


def pictures_put_aside(db: Session) -> set[str]:
    """Pictures of entries that are put aside."""
    digests = func.jsonb_path_query(Gone.records, literal_column("'$.artwork[*].digest'"))
    return {str(digest) for digest in db.scalars(select(digests))}
