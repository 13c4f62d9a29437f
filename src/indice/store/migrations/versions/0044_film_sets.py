"""Sets of films as sources know them, so that what one of them lacks can be told"""

import sqlalchemy as sa
from alembic import op

revision = "0044"
down_revision = "0043"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "film_set",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("source_id", sa.Integer, sa.ForeignKey("source.id", ondelete="CASCADE"), nullable=False),
        sa.Column("external_id", sa.Text, nullable=False),
        sa.Column("title", sa.Text, nullable=False),
        sa.Column("sort_title", sa.Text, nullable=False),
        sa.UniqueConstraint("source_id", "external_id"),
    )
    op.create_index("ix_film_set_sort_title", "film_set", ["sort_title", "id"])
    op.create_table(
        "film_set_film",
        sa.Column("set_id", sa.Integer, sa.ForeignKey("film_set.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("place", sa.Integer, primary_key=True),
        sa.Column("external_id", sa.Text, nullable=False),
        sa.Column("title", sa.Text, nullable=False),
        sa.Column("date", sa.Text, nullable=False, server_default=""),
    )
    op.create_index("ix_film_set_film_external_id", "film_set_film", ["external_id"])
    op.execute(
        "create index ix_entry_film_of_source on entry (external_id, source_id)"
        " where kind = 'movie' and external_id is not null"
    )


def downgrade() -> None:
    op.execute("drop index ix_entry_film_of_source")
    op.drop_table("film_set_film")
    op.drop_table("film_set")
