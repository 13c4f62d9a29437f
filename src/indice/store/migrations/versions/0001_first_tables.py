"""First tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "library",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("language", sa.Text(), nullable=False),
        sa.Column("country", sa.Text(), nullable=False),
        sa.Column("sources", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("scanned_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_library")),
        sa.UniqueConstraint("name", name=op.f("uq_library_name")),
    )
    op.create_table(
        "person",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("password_hash", sa.Text(), nullable=False),
        sa.Column("language", sa.Text(), nullable=False),
        sa.Column("is_owner", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("visited_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("previous_visit_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
        sa.UniqueConstraint("name", name=op.f("uq_person_name")),
    )
    op.create_table(
        "secret",
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("value", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_secret")),
    )
    op.create_table(
        "setting",
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("value", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_setting")),
    )
    op.create_table(
        "source",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("url", sa.Text(), nullable=False),
        sa.Column("profile", sa.Text(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("checked_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_source")),
        sa.UniqueConstraint("name", name=op.f("uq_source_name")),
    )
    op.create_table(
        "entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("parent_id", sa.Integer(), nullable=True),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("sort_title", sa.Text(), nullable=False),
        sa.Column("search", sa.Text(), nullable=False),
        sa.Column("year", sa.Integer(), nullable=True),
        sa.Column("season", sa.Integer(), nullable=True),
        sa.Column("number", sa.Integer(), nullable=True),
        sa.Column("disc", sa.Integer(), nullable=True),
        sa.Column("moment", sa.Text(), nullable=True),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("decided_by", sa.Text(), nullable=True),
        sa.Column("source_id", sa.Integer(), nullable=True),
        sa.Column("external_id", sa.Text(), nullable=True),
        sa.Column("score", sa.Double(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["library_id"], ["library.id"], name=op.f("fk_entry_library_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["parent_id"], ["entry.id"], name=op.f("fk_entry_parent_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["source_id"], ["source.id"], name=op.f("fk_entry_source_id"), ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_entry")),
        sa.UniqueConstraint("library_id", "key", name=op.f("uq_entry_library_id_key")),
    )
    op.create_index(op.f("ix_entry_added_at"), "entry", ["added_at"], unique=False)
    op.create_index("ix_entry_library_kind", "entry", ["library_id", "kind"], unique=False)
    op.create_index(op.f("ix_entry_parent_id"), "entry", ["parent_id"], unique=False)
    op.create_index(op.f("ix_entry_state"), "entry", ["state"], unique=False)
    op.create_table(
        "folder",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("path", sa.LargeBinary(), nullable=False),
        sa.Column("shown", sa.Text(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["library_id"], ["library.id"], name=op.f("fk_folder_library_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_folder")),
        sa.UniqueConstraint("path", name=op.f("uq_folder_path")),
    )
    op.create_index(op.f("ix_folder_library_id"), "folder", ["library_id"], unique=False)
    op.create_table(
        "job",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=True),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("step", sa.Text(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("rate", sa.Double(), nullable=False),
        sa.Column("current", sa.Text(), nullable=False),
        sa.Column("message", sa.Text(), nullable=False),
        sa.Column("stop_wanted", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("started_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("beat_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("finished_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["library_id"], ["library.id"], name=op.f("fk_job_library_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job")),
    )
    op.create_index(op.f("ix_job_state"), "job", ["state"], unique=False)
    op.create_table(
        "source_answer",
        sa.Column("source_id", sa.Integer(), nullable=False),
        sa.Column("asked", sa.Text(), nullable=False),
        sa.Column("answer", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["source_id"], ["source.id"], name=op.f("fk_source_answer_source_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("source_id", "asked", name=op.f("pk_source_answer")),
    )
    op.create_table(
        "artwork",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("entry_id", sa.Integer(), nullable=False),
        sa.Column("role", sa.Text(), nullable=False),
        sa.Column("origin", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("blur", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_artwork_entry_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_artwork")),
        sa.UniqueConstraint("entry_id", "origin", "role", name=op.f("uq_artwork_entry_id_origin_role")),
    )
    op.create_index(op.f("ix_artwork_entry_id"), "artwork", ["entry_id"], unique=False)
    op.create_table(
        "candidate",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("entry_id", sa.Integer(), nullable=False),
        sa.Column("source_id", sa.Integer(), nullable=False),
        sa.Column("external_id", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("description", sa.Text(), nullable=False),
        sa.Column("score", sa.Double(), nullable=False),
        sa.Column("parts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("fields", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_candidate_entry_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["source_id"], ["source.id"], name=op.f("fk_candidate_source_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_candidate")),
        sa.UniqueConstraint(
            "entry_id", "source_id", "external_id", name=op.f("uq_candidate_entry_id_source_id_external_id")
        ),
    )
    op.create_index(op.f("ix_candidate_entry_id"), "candidate", ["entry_id"], unique=False)
    op.create_table(
        "decision",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("entry_id", sa.Integer(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("external_id", sa.Text(), nullable=True),
        sa.Column("before", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("undone_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_decision_entry_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_decision")),
    )
    op.create_index(op.f("ix_decision_entry_id"), "decision", ["entry_id"], unique=False)
    op.create_table(
        "fact",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("entry_id", sa.Integer(), nullable=False),
        sa.Column("field", sa.Text(), nullable=False),
        sa.Column("origin", sa.Text(), nullable=False),
        sa.Column("value", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("locked", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_fact_entry_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fact")),
        sa.UniqueConstraint("entry_id", "field", "origin", name=op.f("uq_fact_entry_id_field_origin")),
    )
    op.create_index(op.f("ix_fact_entry_id"), "fact", ["entry_id"], unique=False)
    op.create_table(
        "file",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("folder_id", sa.Integer(), nullable=False),
        sa.Column("path", sa.LargeBinary(), nullable=False),
        sa.Column("shown", sa.Text(), nullable=False),
        sa.Column("directory", sa.Text(), nullable=False),
        sa.Column("size_bytes", sa.BigInteger(), nullable=False),
        sa.Column("mtime_ns", sa.BigInteger(), nullable=False),
        sa.Column("inode", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("reading", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("marks", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("media", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("entry_id", sa.Integer(), nullable=True),
        sa.Column("serves", sa.Text(), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_file_entry_id"), ondelete="SET NULL"),
        sa.ForeignKeyConstraint(["folder_id"], ["folder.id"], name=op.f("fk_file_folder_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_file")),
        sa.UniqueConstraint("folder_id", "path", name=op.f("uq_file_folder_id_path")),
    )
    op.create_index(op.f("ix_file_added_at"), "file", ["added_at"], unique=False)
    op.create_index(op.f("ix_file_entry_id"), "file", ["entry_id"], unique=False)
    op.create_index("ix_file_folder_directory", "file", ["folder_id", "directory"], unique=False)
    op.create_table(
        "finding",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("folder_id", sa.Integer(), nullable=False),
        sa.Column("check", sa.Text(), nullable=False),
        sa.Column("severity", sa.Text(), nullable=False),
        sa.Column("path", sa.Text(), nullable=False),
        sa.Column("message", sa.Text(), nullable=False),
        sa.Column("fix", sa.Text(), nullable=True),
        sa.Column("fix_kind", sa.Text(), nullable=True),
        sa.Column("also", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(["folder_id"], ["folder.id"], name=op.f("fk_finding_folder_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["library_id"], ["library.id"], name=op.f("fk_finding_library_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_finding")),
    )
    op.create_index("ix_finding_library_check", "finding", ["library_id", "check"], unique=False)
    op.create_table(
        "job_line",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("level", sa.Text(), nullable=False),
        sa.Column("path", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_job_line_job_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job_line")),
    )
    op.create_index(op.f("ix_job_line_job_id"), "job_line", ["job_id"], unique=False)
    op.execute("create index ix_entry_search_trgm on entry using gin (search gin_trgm_ops)")
    op.execute("create index ix_file_shown_trgm on file using gin (shown gin_trgm_ops)")


def downgrade() -> None:
    op.drop_index(op.f("ix_job_line_job_id"), table_name="job_line")
    op.drop_table("job_line")
    op.drop_index("ix_finding_library_check", table_name="finding")
    op.drop_table("finding")
    op.drop_index("ix_file_folder_directory", table_name="file")
    op.drop_index(op.f("ix_file_entry_id"), table_name="file")
    op.drop_index(op.f("ix_file_added_at"), table_name="file")
    op.drop_table("file")
    op.drop_index(op.f("ix_fact_entry_id"), table_name="fact")
    op.drop_table("fact")
    op.drop_index(op.f("ix_decision_entry_id"), table_name="decision")
    op.drop_table("decision")
    op.drop_index(op.f("ix_candidate_entry_id"), table_name="candidate")
    op.drop_table("candidate")
    op.drop_index(op.f("ix_artwork_entry_id"), table_name="artwork")
    op.drop_table("artwork")
    op.drop_table("source_answer")
    op.drop_index(op.f("ix_job_state"), table_name="job")
    op.drop_table("job")
    op.drop_index(op.f("ix_folder_library_id"), table_name="folder")
    op.drop_table("folder")
    op.drop_index(op.f("ix_entry_state"), table_name="entry")
    op.drop_index(op.f("ix_entry_parent_id"), table_name="entry")
    op.drop_index("ix_entry_library_kind", table_name="entry")
    op.drop_index(op.f("ix_entry_added_at"), table_name="entry")
    op.drop_table("entry")
    op.drop_table("source")
    op.drop_table("setting")
    op.drop_table("secret")
    op.drop_table("person")
    op.drop_table("library")
