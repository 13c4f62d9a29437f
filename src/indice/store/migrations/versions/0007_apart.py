"""Candidates of another type, which are shown apart"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("candidate", sa.Column("apart", sa.Text(), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("candidate", "apart")
