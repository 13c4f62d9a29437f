"""Passkeys: keys of devices by which people sign in"""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "passkey",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "person_id", sa.Integer(), sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("credential_id", sa.LargeBinary(), nullable=False, unique=True),
        sa.Column("public_key", sa.LargeBinary(), nullable=False),
        sa.Column("sign_count", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True)),
    )


def downgrade() -> None:
    op.drop_table("passkey")
