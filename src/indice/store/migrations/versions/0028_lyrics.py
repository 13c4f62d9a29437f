"""Words of songs: found by what they sing; songs that are known already are looked into again for them"""

from alembic import op

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("create index fact_sung on fact using gin (lower(value ->> 'v') gin_trgm_ops) where field = 'lyrics'")
    op.execute("update file set looked_by = 0 where kind in ('track', 'lyrics')")


def downgrade() -> None:
    op.execute("drop index fact_sung")
