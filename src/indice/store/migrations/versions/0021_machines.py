"""Machines that work along"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "machine",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("pid", sa.Integer(), nullable=False),
        sa.Column("is_home", sa.Boolean(), nullable=False),
        sa.Column("can", postgresql.JSONB(), nullable=False),
        sa.Column("sees", postgresql.JSONB(), nullable=False),
        sa.Column("began_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("beat_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("helps_id", sa.Integer(), nullable=True),
        sa.Column("done", sa.Integer(), nullable=False, server_default="0"),
    )
    op.add_column("job", sa.Column("machine_id", sa.Integer(), nullable=True))


def downgrade() -> None:
    op.drop_column("job", "machine_id")
    op.drop_table("machine")
