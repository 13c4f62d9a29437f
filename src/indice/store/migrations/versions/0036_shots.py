"""A raw file and the moments around a photo are the photo's: everything is put together anew once"""

import sqlalchemy as sa
from alembic import op

revision = "0036"
down_revision = "0035"
branch_labels = None
depends_on = None


def _due_below(version: int) -> None:
    op.drop_index("ix_file_grouped_by", "file")
    op.create_index("ix_file_grouped_by", "file", ["folder_id"], postgresql_where=sa.text(f"grouped_by < {version}"))


def upgrade() -> None:
    _due_below(2)


def downgrade() -> None:
    _due_below(1)
