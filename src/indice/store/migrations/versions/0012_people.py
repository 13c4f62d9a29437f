"""Roles, rights and ages of people; from which age each entry may be seen"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

_STATEMENTS = """
create function note_age_{name}() returns trigger language plpgsql as $$
begin
  insert into age_due {query} on conflict do nothing;
  return null;
end $$
"""
_WHOLE = (
    ("entry_new", "entry", "insert", "new", "select id from told"),
    ("fact_new", "fact", "insert", "new", "select entry_id from told where field in ('certificates', 'rating')"),
    (
        "fact_gone",
        "fact",
        "delete",
        "old",
        "select told.entry_id from told where told.field in ('certificates', 'rating')"
        " and exists (select 1 from entry where entry.id = told.entry_id)",
    ),
    ("file_new", "file", "insert", "new", "select entry_id from told where entry_id is not null"),
)
"""What is noted once a statement: name, table, event, which rows, what is due."""
_ROWS = """
create function note_age_{name}() returns trigger language plpgsql as $$
begin
  {lines}
  return null;
end $$
"""
_EACH = (
    (
        "entry_moved",
        "entry",
        ("new.id",),
        "old.parent_id is distinct from new.parent_id or old.library_id <> new.library_id",
    ),
    ("fact_changed", "fact", ("new.entry_id",), "new.field in ('certificates', 'rating')"),
    (
        "file_moved",
        "file",
        ("new.entry_id", "old.entry_id"),
        "old.entry_id is distinct from new.entry_id or old.path <> new.path"
        " or (old.state = 'missing') <> (new.state = 'missing')",
    ),
)
"""What is noted for each row that is changed so, and for no other: name, table, what is due, when.
Rows of a statement cannot be told apart by joining those before with those after: nothing says how
many they are, and the join takes for ever."""


def upgrade() -> None:
    op.add_column("person", sa.Column("role", sa.String(), nullable=False, server_default="member"))
    op.execute("update person set role = 'owner' where is_owner")
    op.drop_column("person", "is_owner")
    op.add_column("person", sa.Column("age", sa.SmallInteger()))
    op.add_column("person", sa.Column("unrated", sa.String(), nullable=False, server_default="hide"))
    op.add_column("person", sa.Column("pin_hash", sa.String(), nullable=False, server_default=""))
    op.add_column("person_session", sa.Column("lifted_until", sa.DateTime(timezone=True)))
    op.create_table(
        "grant_",
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("library_id", sa.Integer(), sa.ForeignKey("library.id", ondelete="CASCADE"), nullable=False),
        sa.Column("download", sa.Boolean(), nullable=False, server_default="true"),
        sa.PrimaryKeyConstraint("person_id", "library_id", name="pk_grant"),
    )
    op.create_index("ix_grant_library_id", "grant_", ["library_id"])
    op.create_table(
        "age_limit",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("folder_id", sa.Integer(), sa.ForeignKey("folder.id", ondelete="CASCADE"), nullable=False),
        sa.Column("directory", sa.String(), nullable=False),
        sa.Column("age", sa.SmallInteger(), nullable=False),
        sa.UniqueConstraint("folder_id", "directory"),
    )
    op.add_column("entry", sa.Column("age", sa.SmallInteger()))
    op.add_column("entry", sa.Column("limit_age", sa.SmallInteger(), nullable=False, server_default="0"))
    op.execute("create table age_due (entry_id integer primary key)")
    op.execute("insert into age_due select id from entry")
    for name, table, event, which, query in _WHOLE:
        op.execute(_STATEMENTS.format(name=name, query=query))
        op.execute(
            f"create trigger age_{name} after {event} on {table} referencing {which} table as told"
            f" for each statement execute function note_age_{name}()"
        )
    for name, table, due, when in _EACH:
        lines = " ".join(
            f"insert into age_due select {id_} where {id_} is not null on conflict do nothing;" for id_ in due
        )
        op.execute(_ROWS.format(name=name, lines=lines))
        op.execute(
            f"create trigger age_{name} after update on {table}"
            f" for each row when ({when}) execute function note_age_{name}()"
        )


def downgrade() -> None:
    for name, table, *_ in (*_WHOLE, *_EACH):
        op.execute(f"drop trigger age_{name} on {table}")
        op.execute(f"drop function note_age_{name}")
    op.execute("drop table age_due")
    op.drop_column("entry", "limit_age")
    op.drop_column("entry", "age")
    op.drop_table("age_limit")
    op.drop_table("grant_")
    op.drop_column("person_session", "lifted_until")
    for column in ("pin_hash", "unrated", "age"):
        op.drop_column("person", column)
    op.add_column("person", sa.Column("is_owner", sa.Boolean(), nullable=False, server_default="false"))
    op.execute("update person set is_owner = role = 'owner'")
    op.drop_column("person", "role")
