"""Names of people and places are found by parts of them"""

from alembic import op

revision = "0035"
down_revision = "0034"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "create index fact_credited on fact using gin (lower(value ->> 'v') gin_trgm_ops)"
        " where field in ('directors', 'writers', 'cast')"
    )
    op.execute("create index trait_sum_like on trait_sum using gin (lower(trait) gin_trgm_ops)")


def downgrade() -> None:
    op.execute("drop index trait_sum_like")
    op.execute("drop index fact_credited")
