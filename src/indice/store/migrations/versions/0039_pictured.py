"""Which files are to give pictures is told by an index of those alone: films and empty files stood in it for ever"""

from alembic import op

revision = "0039"
down_revision = "0038"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("drop index ix_file_pictured_by")
    op.execute(
        "create index ix_file_pictured_by on file (folder_id) where pictured_by < 1"
        " and kind in ('photo', 'artwork', 'track', 'clip', 'episode') and problem = ''"
    )


def downgrade() -> None:
    op.execute("drop index ix_file_pictured_by")
    op.execute("create index ix_file_pictured_by on file (folder_id) where pictured_by < 1")
