"""Empties the bins of libraries' folders: what was put aside long ago, or all of it when a person says so."""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Collection
from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from ..disk.walk import BIN
from ..store.among import among
from ..store.database import Database
from ..store.models import Folder

__all__ = ["KEPT_DAYS", "bin_name", "empty_bins"]

KEPT_DAYS = 30
_OURS = re.compile(rb"[0-9]{1,10}-([0-9]{14})")
"""What Indice itself has put there, and when; whatever else lies in a bin is left alone."""


def bin_name(number: int, moment: datetime) -> str:
    """The directory in a bin for what is put aside at a moment."""
    return f"{os.fsdecode(BIN)}/{number}-{moment.astimezone(UTC):%Y%m%d%H%M%S}"


def empty_bins(database: Database, *, days: int = KEPT_DAYS, library_ids: Collection[int] | None = None) -> int:
    """Delete what lies in the bins for so many days; returns how many groups it
    was. Links are removed, not followed."""
    query = select(Folder.path)
    if library_ids is not None:
        query = query.where(among(Folder.library_id, library_ids))
    with database.begin() as db:
        roots = list(db.scalars(query))
    before = datetime.now(UTC) - timedelta(days=days)
    return sum(_empty(os.path.join(root, BIN), before) for root in roots)


def _empty(place: bytes, before: datetime) -> int:
    if os.path.islink(place):
        return 0
    count = 0
    try:
        names = os.listdir(place)
    except OSError:
        return 0
    for name in names:
        ours = _OURS.fullmatch(name)
        path = os.path.join(place, name)
        if ours is None or os.path.islink(path) or _moment(ours[1]) > before:
            continue
        shutil.rmtree(path, ignore_errors=True)
        count += not os.path.exists(path)
    if not os.listdir(place):
        os.rmdir(place)
    return count


def _moment(digits: bytes) -> datetime:
    try:
        return datetime.strptime(digits.decode(), "%Y%m%d%H%M%S").replace(tzinfo=UTC)
    except ValueError:
        return datetime.max.replace(tzinfo=UTC)
