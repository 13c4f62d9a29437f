"""What episodes sound like, and their openings and closings"""

import sqlalchemy as sa
from alembic import op

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None


def upgrade() -> None:
    moments = [sa.Column(f"{name}_{end}", sa.Float()) for name in ("opening", "closing") for end in ("from", "to")]
    op.create_table(
        "hearing",
        sa.Column("file_id", sa.Integer(), sa.ForeignKey("file.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("size_bytes", sa.BigInteger(), nullable=False),
        sa.Column("mtime_ns", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("first", sa.LargeBinary(), nullable=False),
        sa.Column("last", sa.LargeBinary(), nullable=False),
        sa.Column("last_from", sa.Float(), nullable=False),
        *moments,
    )


def downgrade() -> None:
    op.drop_table("hearing")
