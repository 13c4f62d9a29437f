"""What is missing: episodes, tracks, films of sets and parts, with what sources know of them, in pages."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from sqlalchemy import ColumnElement, func, or_, select, tuple_
from sqlalchemy.orm import Session, aliased

from ..core.catalog.lacking import Lack, due_of, lacks
from ..core.facts import best_value
from ..core.facts.exported import plain_text
from .among import among
from .facts import values_of
from .film_sets import sets_page, what_sets_lack
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
    """A series, an album, a set of films or a film, and what it lacks."""

    kind: str
    """`series`, `album`, `set` or `movie`."""
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
    """Series and albums that lack something, by their titles, then sets of
    films, then films of which a part is missing.

    `after` is what the page before said; a page ends early when it had to look through very many.
    """
    rows: list[Lacking] = []
    libraries = dict(db.execute(select(Library.id, Library.name)).all())
    looked = _Looked(db, today, libraries, library_ids)
    stage, key = _key_of(after)
    seen = 0
    while len(rows) < limit and seen < MOST_LOOKED_AT:
        told, holders = (looked.at_sets if stage == _SETS else looked.at_holders)(key)
        seen += len(holders)
        room = limit - len(rows)
        rows += [one for _, one in told[:room]]
        if len(told) > room:
            key = told[room - 1][0]
        elif len(holders) == AT_ONCE:
            key = holders[-1]
        elif stage == _SETS:
            return Page(rows + _parts(db, libraries, library_ids), None)
        else:
            stage, key = _SETS, None
    return Page(rows, f"{stage}{key[1]} {key[0]}" if key else stage)


_Key = tuple[str, int]
"""A sorted title and a number, by which pages go on."""
_SETS = "s"
"""Marks the key of a page that has come to the sets of films."""


def _key_of(after: str) -> tuple[str, _Key | None]:
    stage = _SETS if after.startswith(_SETS) else ""
    number, _, title = after.removeprefix(stage).partition(" ")
    return stage, (title, int(number)) if number.isdigit() and len(number) < 10 else None


@dataclass(frozen=True, slots=True)
class _Looked:
    """Looks through so many holders, or sets, behind a key: what lacks something,
    and the keys of all that were looked at."""

    db: Session
    today: str
    libraries: Mapping[int, str]
    library_ids: Collection[int] | None

    def at_holders(self, key: _Key | None) -> tuple[list[tuple[_Key, Lacking]], list[_Key]]:
        query = select(Entry).where(Entry.kind.in_(("series", "album")), *_within(self.library_ids))
        if key is not None:
            query = query.where(tuple_(Entry.sort_title, Entry.id) > tuple_(*key))
        holders = list(self.db.scalars(query.order_by(Entry.sort_title, Entry.id).limit(AT_ONCE)))
        keys = {one.id: (one.sort_title, one.id) for one in holders}
        told = _of_holders(self.db, holders, self.libraries, self.today)
        return [(keys[one.entry_id or 0], one) for one in told], list(keys.values())

    def at_sets(self, key: _Key | None) -> tuple[list[tuple[_Key, Lacking]], list[_Key]]:
        sets = sets_page(self.db, key, AT_ONCE, library_ids=self.library_ids)
        keys = {one.id: (one.sort_title, one.id) for one in sets}
        lacks_of = what_sets_lack(self.db, sets, today=self.today)
        told = [
            (keys[one.id], Lacking("set", None, one.title, "", None, "", tuple(lacks_of[one.id])))
            for one in sets
            if one.id in lacks_of
        ]
        return told, list(keys.values())


def lines_of(one: Lacking) -> Iterator[list[str]]:
    """The lines of a list to take along: one for each thing that is missing, as :data:`COLUMNS` says."""
    for lack in one.lacks:
        line = [one.kind, one.title, one.by, str(one.year or ""), one.library, str(lack.group), str(lack.number)]
        line += [lack.title, lack.date, "yes" if lack.is_out else "no", "yes" if lack.is_known else "no"]
        yield [plain_text(text) for text in line]


def _within(library_ids: Collection[int] | None) -> list[ColumnElement[bool]]:
    return [] if library_ids is None else [among(Entry.library_id, library_ids)]


def _of_holders(db: Session, holders: Sequence[Entry], libraries: Mapping[int, str], today: str) -> list[Lacking]:
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
    """Of series and albums the numbers that are here, by season or disc; and
    those of which something has no such number.

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
    for entry, held, holder, of_season in db.execute(below):
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
    return dict(db.execute(select(Entry.id, Entry.title).where(among(Entry.id, ids))).all()) if ids else {}


def _parts(db: Session, libraries: Mapping[int, str], library_ids: Collection[int] | None) -> list[Lacking]:
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
