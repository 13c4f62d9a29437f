"""Raw files in a folder of their own are of the shots beside it: what was put together is put together once more"""

from alembic import op

revision = "0043"
down_revision = "0042"
branch_labels = None
depends_on = None


def _due_below(version: int) -> None:
    op.execute("drop index ix_file_grouped_by")
    op.execute(f"create index ix_file_grouped_by on file (folder_id, id) where grouped_by < {version}")


def upgrade() -> None:
    _due_below(3)


def downgrade() -> None:
    op.execute("update file set grouped_by = 2 where grouped_by > 2")
    _due_below(2)
