"""Towns and countries of places: what is to be looked up"""

from alembic import op

revision = "0031"
down_revision = "0030"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("create table place_due (entry_id integer not null, id bigint generated always as identity primary key)")
    op.execute("create index ix_place_due_entry_id on place_due (entry_id)")
    op.execute("insert into place_due select id from entry where spot is not null")
    op.execute("update file set looked_by = 0 where kind = 'clip'")  # clips say where they were taken, too
    op.execute("""
create function note_place() returns trigger language plpgsql as $$
begin
  insert into place_due values (new.id);
  return null;
end $$;
create trigger place_changed after update of spot on entry for each row
  when (old.spot is distinct from new.spot)
  execute function note_place()
""")


def downgrade() -> None:
    op.execute("drop trigger place_changed on entry")
    op.execute("drop function note_place()")
    op.execute("drop table place_due")
