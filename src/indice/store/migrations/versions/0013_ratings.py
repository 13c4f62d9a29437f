"""One's own ratings and tags"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("mark", sa.Column("rating", sa.SmallInteger()))
    op.add_column("mark", sa.Column("tags", JSONB(), nullable=False, server_default="[]"))


def downgrade() -> None:
    op.drop_column("mark", "tags")
    op.drop_column("mark", "rating")
