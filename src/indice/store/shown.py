"""What an entry is shown and found under, from the values that rank highest."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from ..core.facts import best_value
from ..core.titles import sort_title
from .among import among
from .facts import rankings, values_of
from .models import Entry

__all__ = ["note_names", "refresh_shown"]


def refresh_shown(db: Session, entry_ids: Sequence[int]) -> None:
    """Set title, year and search words of entries to the values that rank highest.

    Where a title or a year is another now, tidy names are: the files of such an entry and
    of what lies below are due to be checked.
    """
    facts = values_of(db, entry_ids)
    order = rankings(db)
    renamed: list[int] = []
    for entry in db.scalars(select(Entry).where(among(Entry.id, entry_ids))):
        was = entry.title, entry.year
        own = facts.get(entry.id, {})
        title, date, year = (
            best_value(own.get(field, []), field, order[entry.library_id]) for field in ("title", "date", "year")
        )
        if title is not None:
            entry.title, entry.sort_title = str(title.value), sort_title(str(title.value))
        if year is not None and year.origin == "hand":
            entry.year = int(year.value)
        elif date is not None and entry.kind in ("movie", "series", "album") and str(date.value)[:4].isdigit():
            entry.year = int(str(date.value)[:4])
        elif year is not None and str(year.value).isdigit():
            entry.year = int(year.value)
        words = [
            entry.title,
            *(str(value.value) for value in own.get("title", [])),
            *(
                str(alias)
                for value in own.get("aliases", [])
                for alias in (value.value if isinstance(value.value, list) else [value.value])
            ),
        ]
        entry.search = " ".join(dict.fromkeys(word.casefold() for word in words))
        if (entry.title, entry.year) != was:
            renamed.append(entry.id)
    if renamed:
        note_names(db, renamed)


def note_names(db: Session, entry_ids: Collection[int]) -> None:
    """What is known of entries has changed: the names of their files, and of those below, are to be checked again."""
    db.flush()
    db.execute(_NAMES_DUE, {"ids": sorted(entry_ids)})


_NAMES_DUE = text(
    """
    with recursive below as (
        select id from entry where id = any(:ids)
        union
        select entry.id from entry join below on entry.parent_id = below.id
    )
    update file set checked_by = 0 from below where file.entry_id = below.id and file.checked_by <> 0
    """
)
