"""Names of files are searched apart: each change of a file wrote its path's letters to their index anew"""

from alembic import op

revision = "0038"
down_revision = "0037"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("drop index ix_file_shown_trgm")
    op.execute("drop index ix_fact_entry_id")  # facts are found by the beginning of uq_fact_entry_id_field_origin
    op.execute("""
create table file_name (
  file_id integer not null constraint pk_file_name primary key
    constraint fk_file_name_file_id references file on delete cascade,
  name text not null
)
""")
    op.execute("insert into file_name select id, substring(shown from '[^/]*$') from file")
    op.execute("create index ix_file_name_like on file_name using gin (name gin_trgm_ops)")
    op.execute("""
create function note_file_names() returns trigger language plpgsql as $$
begin
  insert into file_name select id, substring(shown from '[^/]*$') from told;
  return null;
end $$;
create trigger file_name_new after insert on file referencing new table as told for each statement
  execute function note_file_names();
create function note_file_name() returns trigger language plpgsql as $$
begin
  update file_name set name = substring(new.shown from '[^/]*$') where file_id = new.id;
  return null;
end $$;
create trigger file_name_changed after update of shown on file for each row
  when (old.shown is distinct from new.shown)
  execute function note_file_name()
""")


def downgrade() -> None:
    for name in ("file_name_new", "file_name_changed"):
        op.execute(f"drop trigger {name} on file")
    op.execute("drop function note_file_names()")
    op.execute("drop function note_file_name()")
    op.execute("drop table file_name")
    op.execute("create index ix_fact_entry_id on fact (entry_id)")
    op.execute("create index ix_file_shown_trgm on file using gin (shown gin_trgm_ops)")
