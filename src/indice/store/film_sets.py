"""Sets of films as sources know them, and what of them is not here."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, delete, exists, select, tuple_
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.catalog.lacking import Lack, SetFilm, films_lacking
from ..core.titles import sort_title
from .among import among, among_words
from .models import Entry, FilmSet, FilmSetFilm

__all__ = ["KnownSet", "keep_sets", "lacking_beside", "sets_page", "what_sets_lack"]


@dataclass(frozen=True, slots=True)
class KnownSet:
    """A set of films, as a source tells it."""

    title: str
    films: tuple[SetFilm, ...]
    """In the source's order."""


def keep_sets(db: Session, source_id: int, sets: Mapping[str, KnownSet]) -> None:
    """Keep what a source says of sets, by its ids of them, in place of what it said before."""
    for external_id, known in sorted(sets.items()):  # in one order, so that two who do it wait for each other in turn
        named = {"title": known.title, "sort_title": sort_title(known.title)}
        row = insert(FilmSet).values(source_id=source_id, external_id=external_id, **named)
        set_id = db.execute(
            row.on_conflict_do_update(index_elements=["source_id", "external_id"], set_=named).returning(FilmSet.id)
        ).scalar_one()
        db.execute(delete(FilmSetFilm).where(FilmSetFilm.set_id == set_id))
        db.add_all(
            FilmSetFilm(set_id=set_id, place=place, external_id=film.external_id, title=film.title, date=film.date)
            for place, film in enumerate(known.films, 1)
        )


def _is_here(library_ids: Collection[int] | None) -> ColumnElement[bool]:
    here: list[ColumnElement[bool]] = [
        Entry.kind == "movie",
        Entry.source_id == FilmSet.source_id,
        Entry.external_id == FilmSetFilm.external_id,
    ]
    if library_ids is not None:
        here.append(among(Entry.library_id, library_ids))
    return exists().where(FilmSetFilm.set_id == FilmSet.id, *here)


def sets_page(
    db: Session, after: tuple[str, int] | None, limit: int, *, library_ids: Collection[int] | None = None
) -> Sequence[FilmSet]:
    """Sets of which at least one film is here, by their titles, behind the one of that sorted title and number."""
    query = select(FilmSet).where(_is_here(library_ids)).order_by(FilmSet.sort_title, FilmSet.id).limit(limit)
    if after is not None:
        query = query.where(tuple_(FilmSet.sort_title, FilmSet.id) > tuple_(*after))
    return db.scalars(query).all()


def lacking_beside(db: Session, groups: Mapping[str, Sequence[Entry]], *, today: str) -> dict[str, list[Lack]]:
    """What is missing beside films that stand together because of their set, by the name under which they stand.

    A person may call a set otherwise than its source does: it is told by the films, as that of which most of them are.
    """
    sets_of = _sets_of(db, [film for films in groups.values() for film in films])
    chosen: dict[str, FilmSet] = {}
    for name, films in groups.items():
        told = Counter(row for film in films for row in sets_of.get(film.id, ()))
        if told:
            chosen[name] = max(told, key=lambda row: (told[row], -row.id))
    lacks_of = what_sets_lack(db, list(chosen.values()), today=today)
    return {name: lacks_of[row.id] for name, row in chosen.items() if row.id in lacks_of}


def _sets_of(db: Session, films: Iterable[Entry]) -> dict[int, list[FilmSet]]:
    """The sets that films are of, by the number of the film."""
    known: dict[tuple[int | None, str | None], list[int]] = defaultdict(list)
    for one in films:
        if one.external_id is not None:
            known[one.source_id, one.external_id].append(one.id)
    query = (
        select(FilmSet, FilmSetFilm.external_id)
        .join(FilmSetFilm, FilmSetFilm.set_id == FilmSet.id)
        .where(among_words(FilmSetFilm.external_id, {str(external_id) for _, external_id in known}))
        .order_by(FilmSet.id)
    )
    found: dict[int, list[FilmSet]] = defaultdict(list)
    for row, external_id in db.execute(query) if known else ():
        for entry_id in known.get((row.source_id, external_id), ()):
            found[entry_id].append(row)
    return found


def what_sets_lack(db: Session, sets: Sequence[FilmSet], *, today: str) -> dict[int, list[Lack]]:
    """Of each set the films that are not here, in the set's order; sets that are whole are left out."""
    films: dict[int, list[SetFilm]] = defaultdict(list)
    rows = select(FilmSetFilm).where(among(FilmSetFilm.set_id, [one.id for one in sets])).order_by(FilmSetFilm.place)
    for row in db.scalars(rows):
        films[row.set_id].append(SetFilm(row.external_id, row.title, row.date))
    every = [film for ones in films.values() for film in ones]
    here, titles = _here(db, every), _undecided(db, every)
    lacking = {
        one.id: films_lacking(
            films[one.id],
            here.get(one.source_id, ()),
            [(title, year) for title, year, source_id in titles if source_id != one.source_id],
            today=today,
        )
        for one in sets
        if one.id in films
    }
    return {set_id: lacks for set_id, lacks in lacking.items() if lacks}


def _here(db: Session, films: Sequence[SetFilm]) -> dict[int, set[str]]:
    """Of each source the ids of those films that are here."""
    query = select(Entry.source_id, Entry.external_id).where(
        Entry.kind == "movie", among_words(Entry.external_id, {film.external_id for film in films})
    )
    here: dict[int, set[str]] = defaultdict(set)
    for source_id, external_id in db.execute(query):
        if source_id is not None and external_id is not None:
            here[source_id].add(external_id)
    return here


def _undecided(db: Session, films: Sequence[SetFilm]) -> list[tuple[str, int | None, int | None]]:
    """Sorted title, year and source of films that are called like one of these; the
    source is that which decided, if any."""
    query = select(Entry.sort_title, Entry.year, Entry.source_id, Entry.external_id).where(
        Entry.kind == "movie", among_words(Entry.sort_title, {sort_title(film.title) for film in films})
    )
    return [
        (title, year, source_id if external_id is not None else None)
        for title, year, source_id, external_id in db.execute(query)
    ]
