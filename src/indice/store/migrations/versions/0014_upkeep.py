"""What files hold, what directories looked like, keys of entries that stay, and entries whose files are gone"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY, JSONB

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_STAGES = ("looked_by", "pictured_by", "grouped_by", "checked_by")


def upgrade() -> None:
    op.add_column("file", sa.Column("sample", sa.LargeBinary()))
    op.add_column("file", sa.Column("digest", sa.LargeBinary()))
    op.add_column("file", sa.Column("rotten_at", sa.DateTime(timezone=True)))
    op.add_column("file", sa.Column("gone_at", sa.DateTime(timezone=True)))
    op.execute("update file set gone_at = now() where state = 'missing'")
    op.create_index("ix_file_size_bytes", "file", ["size_bytes"])
    op.create_index("ix_file_digest", "file", ["digest"], postgresql_where=sa.text("digest is not null"))
    for stage in _STAGES:
        op.create_index(f"ix_file_{stage}", "file", ["folder_id"], postgresql_where=sa.text(f"{stage} < 1"))
    op.create_index("ix_file_absent", "file", ["folder_id", "state"], postgresql_where=sa.text("state <> 'present'"))
    op.create_index("ix_file_undigested", "file", ["folder_id", "id"], postgresql_where=sa.text("digest is null"))
    op.drop_index("ix_file_folder_directory", "file")
    op.create_index(
        "ix_file_folder_directory", "file", ["folder_id", "directory"], postgresql_include=["state", "kind"]
    )
    op.create_table(
        "listing",
        sa.Column("folder_id", sa.Integer(), sa.ForeignKey("folder.id", ondelete="CASCADE"), nullable=False),
        sa.Column("path", sa.LargeBinary(), nullable=False),
        sa.Column("signature", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("folder_id", "path", name="pk_listing"),
    )
    op.add_column("entry", sa.Column("handle", sa.String(), nullable=False, server_default=""))
    op.execute("update entry set handle = key")
    op.create_index("ix_entry_library_handle", "entry", ["library_id", "handle"])
    op.create_index("ix_entry_kind_added_at", "entry", ["kind", "added_at"])
    op.create_index(
        "ix_entry_day",
        "entry",
        [sa.text("substr(moment, 6, 5)")],
        postgresql_where=sa.text("kind in ('photo', 'clip')"),
    )
    op.create_table(
        "gone",
        sa.Column("entry_id", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("library_id", sa.Integer(), sa.ForeignKey("library.id", ondelete="CASCADE"), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("files", ARRAY(sa.Integer()), nullable=False),
        sa.Column("records", JSONB(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_gone_library_id_key", "gone", ["library_id", "key"])
    op.create_index("ix_gone_files", "gone", ["files"], postgresql_using="gin")
    op.create_table(
        "likeness",
        sa.Column("file_id", sa.Integer(), sa.ForeignKey("file.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("made_by", sa.SmallInteger(), nullable=False),
        sa.Column("of", sa.LargeBinary()),
        sa.Column("data", sa.LargeBinary()),
    )
    op.create_table(
        "distinct_files",
        sa.Column("one_id", sa.Integer(), sa.ForeignKey("file.id", ondelete="CASCADE"), nullable=False),
        sa.Column("other_id", sa.Integer(), sa.ForeignKey("file.id", ondelete="CASCADE"), nullable=False),
        sa.PrimaryKeyConstraint("one_id", "other_id", name="pk_distinct_files"),
    )
    op.create_table(
        "twin",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("files", ARRAY(sa.Integer()), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("twin")
    op.drop_table("distinct_files")
    op.drop_table("likeness")
    op.drop_table("gone")
    for name in ("day", "kind_added_at", "library_handle"):
        op.drop_index(f"ix_entry_{name}", "entry")
    op.drop_column("entry", "handle")
    op.drop_table("listing")
    op.drop_index("ix_file_folder_directory", "file")
    op.create_index("ix_file_folder_directory", "file", ["folder_id", "directory"])
    for name in ("undigested", "absent", *_STAGES, "digest"):
        op.drop_index(f"ix_file_{name}", "file")
    op.drop_index("ix_file_size_bytes", "file")
    for column in ("gone_at", "rotten_at", "digest", "sample"):
        op.drop_column("file", column)
