"""Songs say how loud they are and who wrote them, photos through which lens; albums are found
by their composers, films by directors"""

from alembic import op

revision = "0033"
down_revision = "0032"
branch_labels = None
depends_on = None

_FIELDS = (
    "'genres', 'year', 'date', 'certificates', 'rating', 'runtime', 'set', 'label', 'people', 'keywords',"
    " 'town', 'country'"
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
_SONG = """
create function note_trait_song_changed() returns trigger language plpgsql as $$
begin
  insert into trait_due (entry_id)
    select distinct parent_id from entry where id in (old.entry_id, new.entry_id) and parent_id is not null;
  return null;
end $$;
create trigger trait_song_changed after update on file for each row
  when (new.kind = 'track'
        and (old.media -> 'tags' -> 'composers' is distinct from new.media -> 'tags' -> 'composers'
             or (old.entry_id is distinct from new.entry_id or old.state <> new.state)
                and (old.media -> 'tags' ? 'composers' or new.media -> 'tags' ? 'composers')))
  execute function note_trait_song_changed()
"""


def _note(fields: str) -> None:
    for name, query in _STATEMENTS:
        op.execute(_NOTE.format(name=name, query=query.format(fields=fields)))


def upgrade() -> None:
    _note(f"{_FIELDS}, 'directors'")
    op.execute(_SONG)
    op.execute("update file set looked_by = 0 where kind in ('track', 'photo')")
    op.execute("insert into trait_due (entry_id) select distinct entry_id from fact where field = 'directors'")


def downgrade() -> None:
    op.execute("drop trigger trait_song_changed on file")
    op.execute("drop function note_trait_song_changed()")
    _note(_FIELDS)
