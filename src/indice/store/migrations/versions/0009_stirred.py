"""Directories that files were moved out of, so that only they are looked at again"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("folder", sa.Column("stirred", JSONB(), nullable=False, server_default="[]"))


def downgrade() -> None:
    op.drop_column("folder", "stirred")
