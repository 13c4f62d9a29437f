"""Findings that concern a change are found by the paths they name: each change read all of them, twice"""

from alembic import op

revision = "0042"
down_revision = "0041"
branch_labels = None
depends_on = None

COLUMNS = {"path": "", "fix": " where fix is not null", "wanted": " where wanted <> ''"}


def upgrade() -> None:
    for name, which in COLUMNS.items():
        op.execute(f'create index ix_finding_named_{name} on finding (folder_id, {name} collate "C"){which}')
    op.execute("create index ix_finding_named_also on finding (folder_id) where also <> '[]'")


def downgrade() -> None:
    for name in (*COLUMNS, "also"):
        op.execute(f"drop index ix_finding_named_{name}")
