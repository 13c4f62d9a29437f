"""Kept sums: how many entries of a kind have each trait, by what decides who may see them.

The database adds a row for whatever changes, in the transaction that changes it (`migrations/versions/0034`), so
nobody waits for anybody; the sum over all rows is the count. A worker folds the rows together now and then.
"""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Integer, SmallInteger, Text, column, func, select, table, text
from sqlalchemy.orm import Session

from .viewer import bound_viewer, may_see

__all__ = ["fold_sums", "sums_like", "whole_counts"]

_SUMS = table(
    "trait_sum",
    column("kind", Text),
    column("library_id", Integer),
    column("age", SmallInteger),
    column("limit_age", SmallInteger),
    column("trait", Text),
    column("count", Integer),
)
_FOLDED = text(
    """
    with taken as (delete from trait_sum returning *)
    insert into trait_sum (kind, library_id, age, limit_age, trait, count)
    select kind, library_id, age, limit_age, trait, sum(count) from taken group by 1, 2, 3, 4, 5 having sum(count) <> 0
    """
)


def whole_counts(db: Session, kinds: Sequence[str], *, group: str = "") -> dict[str, int] | None:
    """Trait → how many of all entries of these kinds have it, as far as who asks may see them.

    None for who comes by a link: what that leads to is no matter of sums.
    """
    viewer = bound_viewer(db)
    if viewer is not None and viewer.shared is not None:
        return None
    query = select(_SUMS.c.trait, func.sum(_SUMS.c.count)).where(_SUMS.c.kind.in_(kinds)).group_by(_SUMS.c.trait)
    if viewer is not None:
        query = query.where(may_see(viewer, _SUMS.c))
    if group:
        query = query.where(_SUMS.c.trait.startswith(f"{group}:", autoescape=True))
    return {str(name): int(count) for name, count in db.execute(query) if count > 0}


def sums_like(db: Session, pattern: str) -> list[tuple[str, str, int]]:
    """Kind, trait and count of the traits that are like a pattern of LIKE, as far as who asks may see what has them.

    Nothing for who comes by a link.
    """
    viewer = bound_viewer(db)
    if viewer is not None and viewer.shared is not None:
        return []
    like = func.lower(_SUMS.c.trait).like(pattern, escape="\\")
    query = select(_SUMS.c.kind, _SUMS.c.trait, func.sum(_SUMS.c.count)).where(like)
    if viewer is not None:
        query = query.where(may_see(viewer, _SUMS.c))
    rows = db.execute(query.group_by(_SUMS.c.kind, _SUMS.c.trait))
    return [(str(kind), str(trait), int(count)) for kind, trait, count in rows if count > 0]


def fold_sums(db: Session) -> None:
    """Rows that are of one sum become one."""
    db.execute(_FOLDED)
