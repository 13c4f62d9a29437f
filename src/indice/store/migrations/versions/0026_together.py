"""Watching together"""

import sqlalchemy as sa
from alembic import op

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "party",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("host_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("entry_id", sa.Integer(), sa.ForeignKey("entry.id", ondelete="CASCADE"), nullable=False),
        sa.Column("is_paused", sa.Boolean(), nullable=False),
        sa.Column("position_seconds", sa.Float(), nullable=False),
        sa.Column("at_seconds", sa.Float(), nullable=False),
        sa.Column("changed_by", sa.String(), nullable=False),
        sa.Column("began_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "party_guest",
        sa.Column("party_key", sa.String(), sa.ForeignKey("party.key", ondelete="CASCADE"), primary_key=True),
        sa.Column("device", sa.String(), primary_key=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("came_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("beat_at", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("party_guest")
    op.drop_table("party")
