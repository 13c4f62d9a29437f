"""What came into a library is found by its day without looking at what came before."""

from __future__ import annotations

from alembic import op

revision = "0047"
down_revision = "0046"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "create index ix_entry_came on entry (library_id, added_at, sort_title) "
        "where kind in ('movie', 'series', 'album', 'event')"
    )


def downgrade() -> None:
    op.execute("drop index ix_entry_came")
