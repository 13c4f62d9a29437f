"""The right to tidy; a person's picture, looks, bounds of playing, and whether others may see what they watched"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

_OF_A_PERSON = (
    sa.Column("picture", sa.LargeBinary()),
    sa.Column("looks", JSONB(), nullable=False, server_default="{}"),
    sa.Column("tells_seen", sa.Boolean(), nullable=False, server_default="false"),
    sa.Column("most_streams", sa.Integer()),
    sa.Column("away_kbps", sa.Integer()),
)


def upgrade() -> None:
    op.add_column("grant_", sa.Column("tidy", sa.Boolean(), nullable=False, server_default="false"))
    for column in _OF_A_PERSON:
        op.add_column("person", column)


def downgrade() -> None:
    op.drop_column("grant_", "tidy")
    for column in _OF_A_PERSON:
        op.drop_column("person", column.name)
