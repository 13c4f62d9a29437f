"""Films by how long they are, how finely they are drawn and what they take: measures kept with the entry"""

import sqlalchemy as sa
from alembic import op

revision = "0032"
down_revision = "0031"
branch_labels = None
depends_on = None

_MEASURES = {"seconds": sa.Integer(), "lines": sa.Integer(), "size_bytes": sa.BigInteger()}
_NOTED = """
drop trigger trait_file_changed on file;
create trigger trait_file_changed after update on file for each row
  when (new.kind in ('movie', 'photo', 'clip') and (old.entry_id is distinct from new.entry_id
        or old.media is distinct from new.media or old.reading <> new.reading or old.state <> new.state{more}))
  execute function note_trait_file_changed()
"""


def upgrade() -> None:
    for name, kind in _MEASURES.items():
        op.add_column("entry", sa.Column(name, kind))
        op.execute(
            f"create index ix_entry_movie_{name} on entry ((-coalesce({name}, 0)), sort_title, id) where kind = 'movie'"
        )
    op.execute(_NOTED.format(more=" or (new.kind = 'movie' and old.size_bytes <> new.size_bytes)"))
    op.execute("insert into trait_due (entry_id) select id from entry where kind = 'movie'")


def downgrade() -> None:
    op.execute(_NOTED.format(more=""))
    for name in _MEASURES:
        op.execute(f"drop index ix_entry_movie_{name}")
        op.drop_column("entry", name)
