"""Traits kept with entries, settled when something that they are made of has
changed; and how many entries have each."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from sqlalchemy import ColumnElement, func, select, text
from sqlalchemy.orm import Session

from ..core.catalog import Ground, cast_of, measures_of, traits_of
from ..core.catalog.spots import spot_of
from ..core.facts import best_value
from .among import among
from .bulk import update_rows
from .cast import note_cast
from .due import done, is_due, some_due
from .facts import rankings, values_of
from .models import Entry, File

__all__ = ["SETTLED_AT_ONCE", "alone", "count_traits", "settle_traits"]

SETTLED_AT_ONCE = 400
"""So many are settled while somebody waits for a page; the rest is for the worker."""
_LOCK = 7803
_KINDS = ("movie", "series", "album", "photo", "clip")
_KEPT = (Entry.traits, Entry.cast_names, Entry.spot, Entry.seconds, Entry.lines, Entry.size_bytes)
"""What is settled of an entry."""
_FIELDS = ("genres", "runtime", "set", "label", "people", "keywords", "town", "country", "directors", "cast")


def settle_traits(db: Session, *, limit: int) -> int:
    """Settle the traits of entries that something has changed of; returns how many notes were due, up to a limit."""
    if not is_due(db, "trait_due"):
        return 0
    if not alone(db):
        return 0  # somebody else is at it
    notes, due = some_due(db, "trait_due", limit)
    _settle(db, due)
    done(db, "trait_due", notes)
    return len(notes)


def alone(db: Session) -> bool:
    """Whether nobody else settles anything until this transaction ends."""
    return bool(db.scalar(text("select pg_try_advisory_xact_lock(:lock)"), {"lock": _LOCK}))


def _settle(db: Session, due: Sequence[int]) -> None:
    asked = (Entry.id, Entry.kind, Entry.year, Entry.age, Entry.library_id, *_KEPT)
    rows = db.execute(select(*asked).where(among(Entry.id, due), Entry.kind.in_(_KINDS))).all()
    if not rows:
        return
    ids = [row.id for row in rows]
    order = rankings(db)
    values = values_of(db, ids, fields=_FIELDS)
    files: dict[int, list[tuple[dict[str, Any], dict[str, Any]]]] = defaultdict(list)
    languages: dict[int, list[str]] = defaultdict(list)
    sizes: dict[int, int] = defaultdict(int)
    held = select(File.entry_id, File.kind, File.reading, File.media, File.size_bytes).where(
        among(File.entry_id, ids), File.state != "missing", File.kind.in_(("movie", "photo", "clip", "subtitle"))
    )
    for entry_id, kind, reading, media, size_bytes in db.execute(held):
        if kind == "subtitle":
            languages[entry_id or 0].append(str(reading.get("language") or ""))
        else:
            files[entry_id or 0].append((reading, media or {}))
            sizes[entry_id or 0] += size_bytes
    composers = _composers(db, [row.id for row in rows if row.kind == "album"])
    changed: list[dict[str, Any]] = []
    casts: list[tuple[str, Sequence[str], Sequence[str]]] = []
    for row in rows:
        mine = values.get(row.id, {})
        best = {name: best_value(told, name, order[row.library_id]) for name, told in mine.items()}
        ground = Ground(
            kind=row.kind,
            year=row.year,
            age=row.age,
            library_id=row.library_id,
            facts={name: value.value for name, value in best.items() if value is not None},
            files=files.get(row.id, ()),
            languages=languages.get(row.id, ()),
            size_bytes=sizes[row.id],
            composers=composers.get(row.id, ()),
        )
        spot = _spot(media for _, media in ground.files)
        kept = {
            "traits": list(traits_of(ground)),
            "cast_names": list(cast_of(ground)),
            "spot": spot,
            **asdict(measures_of(ground)),
        }
        if any(kept[column.key] != getattr(row, column.key) for column in _KEPT):
            changed.append({"id": row.id, **kept})
        casts.append((row.kind, row.cast_names, cast_of(ground)))
    update_rows(db, Entry, changed)
    note_cast(db, casts)


def _composers(db: Session, albums: Sequence[int]) -> dict[int, list[str]]:
    """Album → who wrote its songs, as the tags say; two in one tag are two."""
    if not albums:
        return {}
    query = text(
        "select distinct track.parent_id, composer from file"
        " join entry track on track.id = file.entry_id and track.kind = 'track'"
        " cross join lateral jsonb_array_elements_text(file.media -> 'tags' -> 'composers') composer"
        " where track.parent_id = any(:albums) and file.state <> 'missing'"
        " and jsonb_typeof(file.media -> 'tags' -> 'composers') = 'array' order by 1, 2"
    )
    found: dict[int, list[str]] = defaultdict(list)
    for album, told in db.execute(query, {"albums": list(albums)}):
        found[album] += [name for part in str(told).split(";") if (name := part.strip()) not in ("", *found[album])]
    return found


def _spot(held: Iterable[Mapping[str, Any]]) -> int | None:
    """Where it was taken, by the first of its files that says so."""
    places = (media["place"] for media in held if media.get("place"))
    return next((spot for place in places if (spot := spot_of(*place)) is not None), None)


def count_traits(db: Session, conditions: Sequence[ColumnElement[bool]], *, group: str = "") -> dict[str, int]:
    """Trait → how many of the entries that these conditions leave have it; of one group only where that is named."""
    # Many entries have the same traits altogether: they are counted once, before they are taken apart.
    alike = select(Entry.traits, func.count().label("times")).where(*conditions).group_by(Entry.traits).subquery()
    each = select(func.unnest(alike.c.traits).label("trait"), alike.c.times).subquery()
    query = select(each.c.trait, func.sum(each.c.times)).group_by(each.c.trait)
    if group:
        query = query.where(each.c.trait.startswith(f"{group}:", autoescape=True))
    return {str(name): int(count) for name, count in db.execute(query)}
