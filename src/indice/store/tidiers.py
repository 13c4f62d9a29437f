"""To which library belongs what an address or a request names: by it is decided whether
somebody who tidies one may do a thing."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from .models import Artwork, Base, Entry, Finding, Job, Plan

__all__ = ["library_meant"]

_NAMED: dict[str, type[Base]] = {"entry_id": Entry, "finding_id": Finding, "plan_id": Plan, "job_id": Job}


def library_meant(db: Session, named: Mapping[str, Any]) -> int | None:
    """The library of what is named; None where there is no such thing, it belongs to none, or nothing is named."""
    if isinstance(named.get("library_id"), int):
        return int(named["library_id"])
    if "artwork_id" in named:
        of_artwork = select(Entry.library_id).join(Artwork, Artwork.entry_id == Entry.id)
        return db.scalar(of_artwork.where(Artwork.id == named["artwork_id"]))
    for name, model in _NAMED.items():
        if name in named:
            row: Any = db.get(model, named[name])
            return None if row is None else row.library_id
    return None
