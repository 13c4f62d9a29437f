"""Invitations into the household"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "invitation",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("digest", sa.String(), nullable=False, unique=True),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("libraries", JSONB(), nullable=False),
        sa.Column("age", sa.SmallInteger()),
        sa.Column("unrated", sa.String(), nullable=False),
        sa.Column("downloads", sa.Boolean(), nullable=False),
        sa.Column("ends_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_by_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("used_at", sa.DateTime(timezone=True)),
        sa.Column("used_by_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="SET NULL")),
    )


def downgrade() -> None:
    op.drop_table("invitation")
