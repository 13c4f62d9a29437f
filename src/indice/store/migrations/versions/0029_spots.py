"""Where photos were taken: a number that sorts by place, and towns and countries among the traits"""

import sqlalchemy as sa
from alembic import op

revision = "0029"
down_revision = "0028"
branch_labels = None
depends_on = None

_FIELDS = "'genres', 'year', 'date', 'certificates', 'rating', 'runtime', 'set', 'label', 'people', 'keywords'"
_NOTE = """
create or replace function note_trait_{name}() returns trigger language plpgsql as $$
begin
  insert into trait_due {query} on conflict do nothing;
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
    op.add_column("entry", sa.Column("spot", sa.BigInteger()))
    op.execute(
        "create index ix_entry_spot on entry (spot) include (id, kind, library_id, age, limit_age) where "
        "spot is not null"
    )
    _note(f"{_FIELDS}, 'town', 'country'")
    op.execute(
        "insert into trait_due select distinct entry_id from file"
        " where kind in ('photo', 'clip') and entry_id is not null on conflict do nothing"
    )


def downgrade() -> None:
    _note(_FIELDS)
    op.execute("drop index ix_entry_spot")
    op.drop_column("entry", "spot")
