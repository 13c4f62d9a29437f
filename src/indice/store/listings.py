"""What directories looked like when the records were last made to agree with
them: what looks the same is not compared."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from sqlalchemy import LargeBinary, cast, delete, func, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from .bulk import insert_rows
from .models import Listing

__all__ = ["BARE", "forget_listings", "keep_listings", "kept_listings"]

BARE = b"bare"
"""In place of a signature: nothing lay in the directory, neither a file nor another directory."""


def kept_listings(db: Session, folder_id: int) -> dict[bytes, bytes]:
    """Signature of each directory of a folder that the records agree with."""
    query = select(Listing.path, Listing.signature).where(Listing.folder_id == folder_id)
    return dict(db.execute(query).all())


def keep_listings(db: Session, folder_id: int, signatures: Mapping[bytes, bytes]) -> None:
    """The records agree with these directories now."""
    rows = [{"folder_id": folder_id, "path": path, "signature": made} for path, made in signatures.items()]
    insert_rows(db, Listing, rows, tail="on conflict (folder_id, path) do update set signature = excluded.signature")


def forget_listings(db: Session, folder_id: int, paths: Collection[bytes] | None = None) -> None:
    """Directories are compared by the next scan, whatever they look like; all of the folder where none is named."""
    query = delete(Listing).where(Listing.folder_id == folder_id)
    if paths is not None:
        query = query.where(Listing.path == func.any(cast(list(paths), ARRAY(LargeBinary))))
    db.execute(query.execution_options(synchronize_session=False))
