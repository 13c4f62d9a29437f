"""Playlists that fill themselves"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("playlist", sa.Column("rule", postgresql.JSONB(), nullable=True))


def downgrade() -> None:
    op.drop_column("playlist", "rule")
