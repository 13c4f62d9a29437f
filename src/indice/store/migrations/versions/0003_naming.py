"""Conventions, excuses, plans and intake"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def _library(table: str, *, nullable: bool = False) -> sa.Column[int]:
    return sa.Column(
        "library_id",
        sa.Integer(),
        sa.ForeignKey("library.id", name=f"fk_{table}_library_id", ondelete="CASCADE"),
        nullable=nullable,
    )


def upgrade() -> None:
    op.add_column("library", sa.Column("convention", sa.Text(), nullable=False, server_default="Roomy"))
    op.add_column("library", sa.Column("checks", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.add_column("finding", sa.Column("missing", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.add_column("job", sa.Column("subject", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.create_table(
        "convention",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("name", name="uq_convention_name"),
    )
    op.create_table(
        "excuse",
        sa.Column("id", sa.Integer(), primary_key=True),
        _library("excuse"),
        sa.Column("check", sa.Text(), nullable=False),
        sa.Column("path", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("library_id", "check", "path", name="uq_excuse_library_id_check_path"),
    )
    op.create_table(
        "plan",
        sa.Column("id", sa.Integer(), primary_key=True),
        _library("plan", nullable=True),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("journal", sa.Text(), nullable=False),
        sa.Column("moves", postgresql.JSONB(), nullable=False),
        sa.Column("conflicts", postgresql.JSONB(), nullable=False),
        sa.Column("left", postgresql.JSONB(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("applied_at", sa.DateTime(timezone=True)),
    )
    op.create_index("ix_plan_library_id", "plan", ["library_id"])
    op.create_table(
        "intake",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("path", sa.LargeBinary(), nullable=False),
        sa.Column("shown", sa.Text(), nullable=False),
        sa.Column("alone", sa.Boolean(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.UniqueConstraint("path", name="uq_intake_path"),
    )
    op.create_table(
        "arrival",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "intake_id",
            sa.Integer(),
            sa.ForeignKey("intake.id", name="fk_arrival_intake_id", ondelete="CASCADE"),
            nullable=False,
        ),
        _library("arrival", nullable=True),
        sa.Column("path", sa.Text(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.Column("seen", postgresql.JSONB(), nullable=False),
        sa.Column("moves", postgresql.JSONB(), nullable=False),
        sa.Column("still_since", sa.DateTime(timezone=True), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("intake_id", "path", name="uq_arrival_intake_id_path"),
    )


def downgrade() -> None:
    for table in ("arrival", "intake", "plan", "excuse", "convention"):
        op.drop_table(table)
    op.drop_column("job", "subject")
    op.drop_column("finding", "missing")
    op.drop_column("library", "checks")
    op.drop_column("library", "convention")
