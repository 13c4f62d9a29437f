"""Who is in a film or series, kept with the entry, so that shelves can be narrowed down to it"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY

revision = "0045"
down_revision = "0044"
branch_labels = None
depends_on = None

_FIELDS = (
    "'genres', 'year', 'date', 'certificates', 'rating', 'runtime', 'set', 'label', 'people', 'keywords',"
    " 'town', 'country', 'directors'"
)
_NOTE = """
create or replace function note_trait_{name}() returns trigger language plpgsql as $$
begin
  insert into trait_due (entry_id) {query};
  return null;
end $$
"""
_STATEMENTS = (
    ("fact_new", "select distinct entry_id from told where field in ({fields})"),
    ("fact_changed", "select distinct entry_id from told where field in ({fields})"),
    (
        "fact_gone",
        "select distinct told.entry_id from told join entry on entry.id = told.entry_id where field in ({fields})",
    ),
)


def _note(fields: str) -> None:
    for name, query in _STATEMENTS:
        op.execute(_NOTE.format(name=name, query=query.format(fields=fields)))


def upgrade() -> None:
    op.add_column("entry", sa.Column("cast_names", ARRAY(sa.Text()), nullable=False, server_default="{}"))
    op.execute("create index ix_entry_cast on entry using gin (cast_names) where cast_names <> '{}'")
    op.execute("create table cast_name (kind text, name text, most integer not null, primary key (kind, name))")
    op.execute("create index ix_cast_name_most on cast_name (kind, most desc, name)")
    op.execute("create index ix_cast_name_like on cast_name using gin (lower(name) gin_trgm_ops)")
    _note(f"{_FIELDS}, 'cast'")
    op.execute(
        "insert into trait_due (entry_id) select distinct entry_id from fact join entry on entry.id = entry_id"
        " where field = 'cast' and kind in ('movie', 'series')"
    )


def downgrade() -> None:
    _note(_FIELDS)
    op.execute("drop table cast_name")
    op.execute("drop index ix_entry_cast")
    op.drop_column("entry", "cast_names")
