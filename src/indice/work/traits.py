"""Traits of what a job has changed, and names of places, settled when it is through: nobody waits for them."""

from __future__ import annotations

import structlog
from sqlalchemy.exc import SQLAlchemyError

from ..disk.workshop import TooMuch, workshop
from ..store.ages import settle_ages
from ..store.cast import even_cast
from ..store.database import Database
from ..store.jobs import announce
from ..store.places import places_due, put_towns
from ..store.trait_sums import fold_sums
from ..store.traits import alone, settle_traits

__all__ = ["settle_all"]

log = structlog.get_logger()
AT_ONCE = 2000


def settle_all(database: Database) -> int:
    """Settle all ages and traits that are due, a piece a transaction; returns how
    many. Never raises: another job goes on."""
    count = 0
    try:
        with database.begin() as db:
            settle_ages(db)
        count += _settle(database)
        if _name_places(database):
            count += _settle(database)
        if count:
            with database.begin() as db:
                fold_sums(db)
                if alone(db):
                    even_cast(db)
    except SQLAlchemyError as error:
        log.error("traits_failed", error=str(error))
    return count


def _settle(database: Database) -> int:
    count, settled = 0, AT_ONCE
    while settled >= AT_ONCE:
        with database.begin() as db:
            settled = settle_traits(db, limit=AT_ONCE)
            if settled:
                announce(db, "traits")
        count += settled
    return count


def _name_places(database: Database) -> int:
    """Find the towns of photos that do not name theirs; returns of how many. What
    cannot be found is left for another time."""
    count = 0
    while True:
        with database.begin() as db:
            due = places_due(db, limit=AT_ONCE)
        if not due.notes:
            return count
        try:
            found = workshop().run("towns", list(due.places.values())) if due.places else []
        except (TooMuch, OSError, ValueError) as error:
            log.warning("places_unnamed", error=str(error))
            return count
        with database.begin() as db:
            put_towns(db, due, dict(zip(due.places, found, strict=True)))
        count += len(found)
