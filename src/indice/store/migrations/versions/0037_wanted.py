"""Findings remember the fix whose name was taken, so that they are looked at again when it is free"""

import sqlalchemy as sa
from alembic import op

revision = "0037"
down_revision = "0036"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("finding", sa.Column("wanted", sa.String(), server_default="", nullable=False))


def downgrade() -> None:
    op.drop_column("finding", "wanted")
