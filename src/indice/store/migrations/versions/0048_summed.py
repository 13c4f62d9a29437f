"""How the files of a whole folder stand is kept beside the counts of its directories."""

from __future__ import annotations

from alembic import op

revision = "0048"
down_revision = "0047"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "create unlogged table tally_sum (folder_id integer not null, state text not null, files bigint not null,"
        " bytes bigint not null, primary key (folder_id, state))"
    )
    op.execute("insert into tally_sum select folder_id, state, sum(files), sum(bytes) from tally group by 1, 2")


def downgrade() -> None:
    op.execute("drop table tally_sum")
