"""Notes"""

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("mark", sa.Column("note", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("mark", "note")
