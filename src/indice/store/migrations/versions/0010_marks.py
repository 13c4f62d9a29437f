"""What each person keeps of an entry: seen, favourite, the moment where they stopped"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "mark",
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("entry_id", sa.Integer(), sa.ForeignKey("entry.id", ondelete="CASCADE"), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True)),
        sa.Column("favourite", sa.Boolean(), nullable=False, server_default="false"),
        sa.Column("position_seconds", sa.Float()),
        sa.Column("duration_seconds", sa.Float()),
        sa.Column("position_at", sa.DateTime(timezone=True)),
        sa.PrimaryKeyConstraint("person_id", "entry_id", name="pk_mark"),
    )
    op.create_index("ix_mark_entry_id", "mark", ["entry_id"])


def downgrade() -> None:
    op.drop_table("mark")
