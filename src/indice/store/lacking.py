"""What is missing: episodes, tracks and parts, with what sources know of them, in pages."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import cast

from sqlalchemy import ColumnElement, func, or_, select, tuple_
from sqlalchemy.orm import Session, aliased

from ..core.catalog.lacking import Lack, due_of, lacks
from ..core.facts import best_value
from ..core.facts.exported import plain_text
from .among import among
from .facts import values_of
from .models import Entry, File, Finding, Library

__all__ = ["COLUMNS", "Lacking", "Page", "lacking_page", "lines_of"]

COLUMNS = ("kind", "title", "by", "year", "library", "group", "number", "name", "date", "out", "known")

AT_ONCE = 300
"""So many series and albums are looked through at a time."""
MOST_LOOKED_AT = 6000
"""So many of them at most for one page, however little it holds."""
_ABOVE = aliased(Entry)


@dataclass(frozen=True, slots=True)
class Lacking:
    """A series, an album or a film, and what it lacks."""

    kind: str
    """`series`, `album` or `movie`."""
    entry_id: int | None
    title: str
    """Of a film in parts the folder or file that a check named."""
    by: str
    """The artist of an album."""
    year: int | None
    library: str
    lacks: tuple[Lack, ...]


@dataclass(frozen=True, slots=True)
class Page:
    """Some of what is missing."""

    rows: list[Lacking]
    following: str | None
    """Where the next page begins; None after the last."""


def lacking_page(
    db: Session, *, today: str, after: str = "", limit: int = 60, library_ids: Collection[int] | None = None
) -> Page:
    """Series and albums that lack something, by their titles, then films of which a part is missing.

    `after` is what the page before said; a page ends early when it had to look through very many.
    """
    rows: list[Lacking] = []
    libraries = dict(db.execute(select(Library.id, Library.name)).tuples().all())
    key = _key_of(after)
    looked = 0
    while key is not None and len(rows) < limit and looked < MOST_LOOKED_AT:
        query = select(Entry).where(Entry.kind.in_(("series", "album")), *_within(library_ids))
        if key != ("", 0):
            query = query.where(tuple_(Entry.sort_title, Entry.id) > tuple_(*key))
        holders = list(db.scalars(query.order_by(Entry.sort_title, Entry.id).limit(AT_ONCE)))
        told = _of_holders(db, holders, libraries, today)
        looked += len(holders)
        room = limit - len(rows)
        rows += told[:room]
        if len(told) > room:
            last = next(one for one in holders if one.id == told[room - 1].entry_id)
            key = (last.sort_title, last.id)
        else:
            key = (holders[-1].sort_title, holders[-1].id) if len(holders) == AT_ONCE else None
    if key is None:
        rows += _parts(db, libraries, library_ids)
    return Page(rows, None if key is None else f"{key[1]} {key[0]}")


def lines_of(one: Lacking) -> Iterator[list[str]]:
    """The lines of a list to take along: one for each thing that is missing, as :data:`COLUMNS` says."""
    for lack in one.lacks:
        line = [one.kind, one.title, one.by, str(one.year or ""), one.library, str(lack.group), str(lack.number)]
        line += [lack.title, lack.date, "yes" if lack.is_out else "no", "yes" if lack.is_known else "no"]
        yield [plain_text(text) for text in line]


def _key_of(after: str) -> tuple[str, int] | None:
    number, _, title = after.partition(" ")
    return (title, int(number)) if number.isdigit() and len(number) < 10 else ("", 0)


def _within(library_ids: Collection[int] | None) -> list[ColumnElement[bool]]:
    return [] if library_ids is None else [among(Entry.library_id, library_ids)]


def _of_holders(db: Session, holders: Sequence[Entry], libraries: dict[int, str], today: str) -> list[Lacking]:
    ids = [one.id for one in holders]
    expected = values_of(db, ids, fields=("expected",))
    here, loose = _numbers(db, ids)
    artists = _artists(db, [one.parent_id for one in holders if one.kind == "album" and one.parent_id])
    found: list[Lacking] = []
    for one in holders:
        best = best_value(expected.get(one.id, {}).get("expected", []))
        due = due_of(best.value if best else [])
        mine = lacks(here.get(one.id, ()), due, today=today, from_one=one.kind == "album")
        if mine and one.id not in loose:
            by = artists.get(one.parent_id or 0, "")
            library = libraries.get(one.library_id, "")
            found.append(Lacking(one.kind, one.id, one.title, by, one.year, library, tuple(mine)))
    return found


def _numbers(db: Session, ids: Sequence[int]) -> tuple[dict[int, set[tuple[int, int]]], set[int]]:
    """Of series and albums the numbers that are here, by season or disc; and those of which something has no such number.

    A file may hold two episodes. What is dated or numbered through cannot be laid beside a source's seasons.
    """
    here: dict[int, set[tuple[int, int]]] = defaultdict(set)
    loose: set[int] = set()
    above = func.coalesce(_ABOVE.parent_id, Entry.parent_id)
    below = (
        select(Entry, File, func.coalesce(above, 0), _ABOVE.season)
        .outerjoin(_ABOVE, (_ABOVE.id == Entry.parent_id) & (_ABOVE.kind == "season"))
        .outerjoin(File, File.entry_id == Entry.id)
        .where(Entry.kind.in_(("episode", "track")))
        .where(or_(among(Entry.parent_id, ids), among(_ABOVE.parent_id, ids)))
    )
    for entry, held, holder, of_season in db.execute(below).tuples():
        file = cast("File | None", held)  # an outer join
        if entry.kind == "track":
            if entry.number is None:
                loose.add(holder)
            else:
                here[holder].add((entry.disc or 1, entry.number))
            continue
        season = of_season if of_season is not None else entry.season
        if season is None or (entry.number is None and season != 0):
            loose.add(holder)
            continue
        numbers = file.reading.get("episodes") if file is not None else None
        for number in [entry.number, *(numbers if isinstance(numbers, list) else ())]:
            if isinstance(number, int):
                here[holder].add((season, number))
    return here, loose


def _artists(db: Session, ids: Sequence[int]) -> dict[int, str]:
    return dict(db.execute(select(Entry.id, Entry.title).where(among(Entry.id, ids))).tuples().all()) if ids else {}


def _parts(db: Session, libraries: dict[int, str], library_ids: Collection[int] | None) -> list[Lacking]:
    query = select(Finding).where(Finding.check == "part-missing").order_by(Finding.path, Finding.id)
    if library_ids is not None:
        query = query.where(among(Finding.library_id, library_ids))
    return [
        Lacking(
            "movie",
            None,
            one.path.rstrip("/").rpartition("/")[2],
            "",
            None,
            libraries.get(one.library_id, ""),
            tuple(Lack(1, int(number), is_known=False) for number in one.missing),
        )
        for one in db.scalars(query)
        if one.missing
    ]
