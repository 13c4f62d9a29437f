"""Facts changed by hand, and pictures chosen by hand"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("artwork", sa.Column("chosen", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "fact_change",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "entry_id",
            sa.Integer(),
            sa.ForeignKey("entry.id", name="fk_fact_change_entry_id", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("field", sa.Text(), nullable=False),
        sa.Column("before", postgresql.JSONB(), nullable=False),
        sa.Column("after", postgresql.JSONB(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_fact_change_entry_id", "fact_change", ["entry_id"])


def downgrade() -> None:
    op.drop_table("fact_change")
    op.drop_column("artwork", "chosen")
