"""Traits of what a job has changed, settled when it is through: nobody waits for them."""

from __future__ import annotations

import structlog
from sqlalchemy.exc import SQLAlchemyError

from ..store.ages import settle_ages
from ..store.database import Database
from ..store.jobs import announce
from ..store.traits import settle_traits

__all__ = ["settle_all"]

log = structlog.get_logger()
AT_ONCE = 2000


def settle_all(database: Database) -> int:
    """Settle all ages and traits that are due, a piece a transaction; returns how many. Never raises: another job goes on."""
    count = 0
    try:
        with database.begin() as db:
            settle_ages(db)
        settled = AT_ONCE
        while settled == AT_ONCE:
            with database.begin() as db:
                settled = settle_traits(db, limit=AT_ONCE)
                if settled:
                    announce(db, "traits")
            count += settled
    except SQLAlchemyError as error:
        log.error("traits_failed", error=str(error))
    return count
