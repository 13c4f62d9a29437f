"""When a library is scanned by itself"""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("library", sa.Column("schedule", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("library", "schedule")
