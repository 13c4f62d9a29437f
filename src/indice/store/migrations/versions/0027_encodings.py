"""Conversions that other machines carry"""

import sqlalchemy as sa
from alembic import op

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("machine", sa.Column("converts", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("machine", sa.Column("ffmpeg", sa.String(), nullable=False, server_default=""))
    op.create_table(
        "encoding",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("playing_key", sa.String(), sa.ForeignKey("playing.key", ondelete="CASCADE"), nullable=False),
        sa.Column("track", sa.String(), nullable=False),
        sa.Column("folder", sa.String(), nullable=False),
        sa.Column("first", sa.Integer(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("wanted", sa.Integer(), nullable=False),
        sa.Column("machine_id", sa.Integer(), sa.ForeignKey("machine.id", ondelete="CASCADE")),
        sa.Column("speed", sa.Float(), nullable=False),
        sa.Column("is_ended", sa.Boolean(), nullable=False),
        sa.Column("beat_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_encoding_playing_key", "encoding", ["playing_key"])


def downgrade() -> None:
    op.drop_table("encoding")
    op.drop_column("machine", "ffmpeg")
    op.drop_column("machine", "converts")
