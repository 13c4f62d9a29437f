"""Files that could not be read are found without looking at all others."""

from __future__ import annotations

from alembic import op

revision = "0046"
down_revision = "0045"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("create index ix_file_unread on file (id) where problem <> '' and state = 'present'")


def downgrade() -> None:
    op.execute("drop index ix_file_unread")
