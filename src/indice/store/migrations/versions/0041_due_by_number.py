"""What a stage has to do is found by folder and number, not by walking through all of it for each bunch of files;
new episodes and songs, which have no traits, are not noted to be given some"""

from alembic import op

revision = "0041"
down_revision = "0040"
branch_labels = None
depends_on = None

DUE = {
    "looked_by": "looked_by < 1",
    "grouped_by": "grouped_by < 2",
    "checked_by": "checked_by < 1",
    "pictured_by": "pictured_by < 1 and kind in ('photo', 'artwork', 'track', 'clip', 'episode') and problem = ''",
}


def _made_of(columns: str) -> None:
    for stage, due in DUE.items():
        op.execute(f"drop index ix_file_{stage}")
        op.execute(f"create index ix_file_{stage} on file ({columns}) where {due}")


def _note_new(which: str) -> None:
    op.execute(f"""
create or replace function note_trait_entry_new() returns trigger language plpgsql as $$
begin
  insert into trait_due (entry_id) select id from told{which};
  return null;
end $$
""")


def upgrade() -> None:
    _made_of("folder_id, id")
    _note_new(" where kind in ('movie', 'series', 'album', 'photo', 'clip')")


def downgrade() -> None:
    _made_of("folder_id")
    _note_new("")
