"""Playlists, shares by link, tokens of scripts, sign-in of devices by a code, and the log of what concerns rights"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

MOMENT = sa.DateTime(timezone=True)
FALSE = sa.text("false")


def _id() -> sa.Column[Any]:
    return sa.Column("id", sa.Integer(), primary_key=True)


def _to(name: str, table: str, *, nullable: bool = False, ondelete: str = "CASCADE", **more: Any) -> sa.Column[Any]:
    return sa.Column(name, sa.Integer(), sa.ForeignKey(f"{table}.id", ondelete=ondelete), nullable=nullable, **more)


def upgrade() -> None:
    op.create_table(
        "playlist",
        _id(),
        _to("person_id", "person", index=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("is_open", sa.Boolean(), nullable=False, server_default=FALSE),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("changed_at", MOMENT, nullable=False),
    )
    op.create_table(
        "playlist_item",
        _id(),
        _to("playlist_id", "playlist", index=True),
        _to("entry_id", "entry", index=True),
        sa.Column("place", sa.Integer(), nullable=False),
    )
    op.create_table(
        "share",
        _id(),
        sa.Column("digest", sa.String(), nullable=False, unique=True),
        _to("person_id", "person", index=True),
        _to("entry_id", "entry", nullable=True, index=True),
        _to("playlist_id", "playlist", nullable=True, index=True),
        sa.Column("password_hash", sa.String(), nullable=False, server_default=""),
        sa.Column("ends_at", MOMENT, nullable=False),
        sa.Column("most_views", sa.Integer()),
        sa.Column("views", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("may_download", sa.Boolean(), nullable=False, server_default=FALSE),
        _to("intake_id", "intake", nullable=True, ondelete="SET NULL"),
        sa.Column("upload_bytes", sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("uploaded_bytes", sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("viewed_at", MOMENT),
    )
    op.create_table(
        "share_view",
        _to("share_id", "share", primary_key=True),
        sa.Column("browser", sa.String(), primary_key=True),
        sa.Column("day", sa.Date(), primary_key=True),
    )
    op.add_column("playing", _to("share_id", "share", nullable=True, index=True))
    op.add_column("grant_", sa.Column("share", sa.Boolean(), nullable=False, server_default=FALSE))
    op.create_table(
        "token",
        _id(),
        _to("person_id", "person", index=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("digest", sa.String(), nullable=False, unique=True),
        sa.Column("scopes", JSONB(), nullable=False),
        sa.Column("ends_at", MOMENT),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("seen_at", MOMENT),
        sa.Column("address", sa.String(), nullable=False, server_default=""),
    )
    op.create_table(
        "device_sign_in",
        _id(),
        sa.Column("digest", sa.String(), nullable=False, unique=True),
        sa.Column("user_code", sa.String(), nullable=False, unique=True),
        sa.Column("device", sa.String(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.Column("ends_at", MOMENT, nullable=False),
        sa.Column("asked_at", MOMENT),
        _to("person_id", "person", nullable=True),
        sa.Column("is_denied", sa.Boolean(), nullable=False),
    )
    op.create_table(
        "deed",
        _id(),
        sa.Column("at", MOMENT, nullable=False, index=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("person", sa.String(), nullable=False, server_default=""),
        sa.Column("address", sa.String(), nullable=False, server_default=""),
        sa.Column("values", JSONB(), nullable=False),
    )


def downgrade() -> None:
    for name in ("deed", "device_sign_in", "token"):
        op.drop_table(name)
    op.drop_column("grant_", "share")
    op.drop_column("playing", "share_id")
    for name in ("share_view", "share", "playlist_item", "playlist"):
        op.drop_table(name)
