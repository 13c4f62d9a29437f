"""Traits of entries: what shelves are narrowed down by, kept with the entry, and what of it is due"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

_NOTE = """
create function note_trait_{name}() returns trigger language plpgsql as $$
begin
  insert into trait_due {query} on conflict do nothing;
  return null;
end $$
"""
_FIELDS = "('genres', 'year', 'date', 'certificates', 'rating', 'runtime', 'set', 'label', 'people', 'keywords')"
_KINDS = "('movie', 'photo', 'clip')"
_STATEMENTS = (
    ("entry_new", "entry", "insert", "new", "select id from told"),
    ("fact_new", "fact", "insert", "new", f"select distinct entry_id from told where field in {_FIELDS}"),
    ("fact_changed", "fact", "update", "new", f"select distinct entry_id from told where field in {_FIELDS}"),
    (
        "fact_gone",
        "fact",
        "delete",
        "old",
        f"select distinct told.entry_id from told join entry on entry.id = told.entry_id where field in {_FIELDS}",
    ),
    ("file_new", "file", "insert", "new", f"select entry_id from told where entry_id is not null and kind in {_KINDS}"),
)
"""What is noted once a statement: name, table, event, which rows, what is due."""
_ROW = f"""
create function note_trait_file_changed() returns trigger language plpgsql as $$
begin
  insert into trait_due
    select entry.id from entry where entry.id in (old.entry_id, new.entry_id) on conflict do nothing;
  return null;
end $$;
create trigger trait_file_changed after update on file for each row
  when (new.kind in {_KINDS} and (old.entry_id is distinct from new.entry_id or old.media is distinct from new.media
        or old.reading <> new.reading or old.state <> new.state))
  execute function note_trait_file_changed()
"""
_TITLE = """
create function note_trait_entry_changed() returns trigger language plpgsql as $$
begin
  insert into trait_due values (new.id) on conflict do nothing;
  return null;
end $$;
create trigger trait_entry_changed after update on entry for each row
  when (old.year is distinct from new.year or old.age is distinct from new.age or old.library_id <> new.library_id)
  execute function note_trait_entry_changed()
"""


def upgrade() -> None:
    op.add_column("entry", sa.Column("traits", ARRAY(sa.Text()), nullable=False, server_default="{}"))
    op.execute("create table trait_due (entry_id integer primary key)")
    op.execute("insert into trait_due select id from entry where kind in ('movie', 'series', 'album', 'photo', 'clip')")
    for name, table, event, which, query in _STATEMENTS:
        op.execute(_NOTE.format(name=name, query=query))
        op.execute(
            f"create trigger trait_{name} after {event} on {table} referencing {which} table as told"
            f" for each statement execute function note_trait_{name}()"
        )
    op.execute(_ROW)
    op.execute(_TITLE)
    op.execute("create index ix_entry_traits on entry using gin (traits) where traits <> '{}'")
    for kind in ("movie", "series"):
        op.execute(
            f"create index ix_entry_{kind}_year on entry ((-coalesce(year, 0)), sort_title, id) where kind = '{kind}'"
        )
        op.execute(f"create index ix_entry_{kind}_added on entry (added_at, id) where kind = '{kind}'")


def downgrade() -> None:
    for kind in ("movie", "series"):
        op.execute(f"drop index ix_entry_{kind}_year")
        op.execute(f"drop index ix_entry_{kind}_added")
    op.execute("drop index ix_entry_traits")
    for name, table, *_ in (*_STATEMENTS, ("file_changed", "file"), ("entry_changed", "entry")):
        op.execute(f"drop trigger trait_{name} on {table}")
        op.execute(f"drop function note_trait_{name}()")
    op.execute("drop table trait_due")
    op.drop_column("entry", "traits")
