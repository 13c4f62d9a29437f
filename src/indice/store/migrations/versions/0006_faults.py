"""What each stage has done of each file, sessions and guesses as records, folders that know their disk"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

STAGES = ("read_by", "looked_by", "pictured_by", "grouped_by", "checked_by")


def upgrade() -> None:
    for name in STAGES:
        op.add_column("file", sa.Column(name, sa.SmallInteger(), nullable=False, server_default="0"))
    op.execute("update file set looked_by = 1 where media is not null")
    op.add_column("folder", sa.Column("device", sa.BigInteger()))
    op.add_column("folder", sa.Column("floor", sa.Integer()))
    op.add_column("job", sa.Column("tries", sa.Integer(), nullable=False, server_default="0"))
    op.create_table(
        "person_session",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "person_id",
            sa.Integer(),
            sa.ForeignKey("person.id", name="fk_person_session_person_id_person", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("device", sa.Text(), nullable=False),
        sa.Column("address", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("digest", name="uq_person_session_digest"),
    )
    op.create_index("ix_person_session_person_id", "person_session", ["person_id"])
    op.create_table(
        "guess",
        sa.Column("name", sa.Text(), primary_key=True),
        sa.Column("address", sa.Text(), primary_key=True),
        sa.Column("wrong", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("until", sa.DateTime(timezone=True)),
    )
    op.create_index("ix_guess_at", "guess", ["at"])
    # Whoever sets up first makes this row; its key lets nobody be the second.
    op.execute(
        "insert into setting (name, value) select 'first-owner', jsonb_build_object('person', min(id)) "
        "from person where is_owner having count(*) > 0"
    )


def downgrade() -> None:
    op.execute("delete from setting where name = 'first-owner'")
    op.drop_table("guess")
    op.drop_table("person_session")
    op.drop_column("job", "tries")
    op.drop_column("folder", "floor")
    op.drop_column("folder", "device")
    for name in STAGES:
        op.drop_column("file", name)
