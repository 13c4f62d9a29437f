"""Who plays what at the moment, and how it reaches them"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "playing",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("entry_id", sa.Integer(), sa.ForeignKey("entry.id", ondelete="CASCADE"), nullable=False),
        sa.Column("file_id", sa.Integer(), sa.ForeignKey("file.id", ondelete="CASCADE"), nullable=False),
        sa.Column("mode", sa.String(), nullable=False),
        sa.Column("reasons", JSONB(), nullable=False),
        sa.Column("plan", JSONB(), nullable=False),
        sa.Column("device", sa.String(), nullable=False, server_default=""),
        sa.Column("began_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("beat_at", sa.DateTime(timezone=True), nullable=False),
    )
    for column in ("person_id", "entry_id", "file_id", "beat_at"):
        op.create_index(f"ix_playing_{column}", "playing", [column])


def downgrade() -> None:
    op.drop_table("playing")
