"""What a library believes first and writes back, aliases, and several pictures of one origin"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    empty = sa.text("'[]'::jsonb")
    op.add_column("library", sa.Column("own_first", postgresql.JSONB(), nullable=False, server_default=empty))
    op.add_column("library", sa.Column("writes", postgresql.JSONB(), nullable=False, server_default=empty))
    op.add_column("artwork", sa.Column("place", sa.Integer(), nullable=False, server_default="0"))
    op.drop_constraint("uq_artwork_entry_id_origin_role", "artwork")
    op.create_unique_constraint(
        "uq_artwork_entry_id_origin_role_place", "artwork", ["entry_id", "origin", "role", "place"]
    )
    op.add_column("plan", sa.Column("kind", sa.Text(), nullable=False, server_default="tidy"))
    op.create_table(
        "alias",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("said", sa.Text(), nullable=False),
        sa.Column(
            "source_id",
            sa.Integer(),
            sa.ForeignKey("source.id", name="fk_alias_source_id_source", ondelete="CASCADE"),
        ),
        sa.Column("external_id", sa.Text()),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("kind", "said", name="uq_alias_kind_said"),
    )


def downgrade() -> None:
    op.drop_table("alias")
    op.drop_column("plan", "kind")
    op.drop_constraint("uq_artwork_entry_id_origin_role_place", "artwork")
    op.execute("delete from artwork where place > 0")
    op.create_unique_constraint("uq_artwork_entry_id_origin_role", "artwork", ["entry_id", "origin", "role"])
    op.drop_column("artwork", "place")
    op.drop_column("library", "writes")
    op.drop_column("library", "own_first")
