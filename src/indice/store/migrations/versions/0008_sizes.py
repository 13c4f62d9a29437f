"""Shelves paged by key, and states of folders that are counted once"""

from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

_COUNTED = ("file", "entry", "finding")


def upgrade() -> None:
    op.execute("create index ix_entry_shelf on entry (kind, sort_title, (coalesce(year, 0)), id)")
    op.execute("create index ix_entry_year on entry (kind, year)")
    op.execute(
        "create index ix_entry_taken on entry ((coalesce(moment, '')) desc, id desc) where kind in ('photo', 'clip')"
    )
    op.execute(
        "create index ix_entry_month on entry ((left(coalesce(moment, ''), 7)), moment) where kind in ('photo', 'clip')"
    )
    op.execute("create index ix_entry_search_prefix on entry (search text_pattern_ops)")
    op.execute("create index ix_finding_path on finding (folder_id, path)")
    op.execute("create index ix_fact_value on fact using gin ((value -> 'v') jsonb_path_ops)")
    # What can be counted again is not written to the log of the database: after a crash it is counted anew.
    op.execute(
        "create unlogged table tally (folder_id integer not null, directory text not null, state text not null,"
        " files integer not null, bytes bigint not null)"
    )
    op.execute("create index ix_tally_folder_directory on tally (folder_id, directory text_pattern_ops)")
    op.execute("create unlogged table tally_change (id bigserial)")
    op.execute("create unlogged table tally_done (at timestamptz not null, seconds double precision not null)")
    op.execute(
        "create function note_tally_change() returns trigger language plpgsql as"
        " $$ begin insert into tally_change default values; return null; end $$"
    )
    for table in _COUNTED:
        op.execute(
            f"create trigger tally_{table} after insert or update or delete on {table}"
            " for each statement execute function note_tally_change()"
        )


def downgrade() -> None:
    for table in _COUNTED:
        op.execute(f"drop trigger tally_{table} on {table}")
    op.execute("drop function note_tally_change")
    for table in ("tally", "tally_change", "tally_done"):
        op.execute(f"drop table {table}")
    for index in (
        "entry_shelf",
        "entry_year",
        "entry_taken",
        "entry_month",
        "entry_search_prefix",
        "finding_path",
        "fact_value",
    ):
        op.execute(f"drop index ix_{index}")
