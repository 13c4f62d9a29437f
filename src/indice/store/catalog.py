"""Questions that the screens ask of the catalog."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from typing import Any

from sqlalchemy import ColumnElement, func, literal, or_, select, tuple_
from sqlalchemy.orm import Session, aliased

from ..core.facts import best_value
from .among import among, among_words, holds_value
from .facts import rankings, values_of
from .models import Artwork, Candidate, Entry, Fact, File, FileName, Finding, Folder
from .tallies import file_state, with_state

__all__ = [
    "apart_of",
    "artwork_of",
    "candidates_of",
    "entries_with",
    "facts_for_names",
    "files_of",
    "findings_of",
    "least_certain",
    "main_picture",
    "pictures_known",
    "safe_findings",
    "search_entries",
    "shared_files",
    "shows_picture",
    "waiting_counts",
    "waiting_entries",
]

_ROLES = {
    "movie": ("poster", "thumb"),
    "series": ("poster",),
    "season": ("poster",),
    "album": ("cover",),
    "artist": ("portrait",),
    "photo": ("photo",),
    "clip": ("thumb",),
    "episode": ("thumb",),
}
SURE = 0.97
"""Score from which nobody need look again."""
_ORIGIN_ORDER = ("hand", "file", "tags", "source", "frame")


def artwork_of(db: Session, entry_ids: Iterable[int]) -> dict[int, list[Artwork]]:
    """Pictures of entries, the one to show first."""
    found: dict[int, list[Artwork]] = defaultdict(list)
    chosen = list(entry_ids)
    if not chosen:
        return found
    for picture in db.scalars(select(Artwork).where(among(Artwork.entry_id, chosen))):
        found[picture.entry_id].append(picture)
    for pictures in found.values():
        pictures.sort(
            key=lambda picture: (
                not picture.chosen,
                _ORIGIN_ORDER.index(picture.origin.partition(":")[0])
                if picture.origin.partition(":")[0] in _ORIGIN_ORDER
                else 9,
                picture.role,
                picture.place,
                picture.id,
            )
        )
    return found


def main_picture(kind: str, pictures: Sequence[Artwork]) -> Artwork | None:
    """The picture that stands for an entry."""
    for role in _ROLES.get(kind, ()):
        for picture in pictures:
            if picture.role == role:
                return picture
    return None


def shows_picture(db: Session, digest: str) -> bool:
    """Whether anything that may be seen has this picture."""
    return db.scalar(select(Artwork.id).where(Artwork.digest == digest).limit(1)) is not None


def pictures_known(db: Session, digests: Collection[str]) -> set[str]:
    """Of these pictures those that some entry has."""
    return set(db.scalars(select(Artwork.digest).where(among_words(Artwork.digest, digests))))


MOST_WITH = 120
"""So many things of one value are listed at most."""


def entries_with(db: Session, fields: Sequence[str], value: str) -> tuple[list[tuple[str, Entry]], int]:
    """Field and entry of what shows a value in one of these fields, in the order
    of titles, and how many more there are."""
    order = rankings(db)
    holding = select(Fact.entry_id).where(Fact.field.in_(fields), holds_value(value))
    query = select(Entry).where(Entry.id.in_(holding)).order_by(Entry.sort_title, Entry.year, Entry.id)
    entries = list(db.scalars(query.limit(MOST_WITH + 1)))
    more = 0
    if len(entries) > MOST_WITH:
        entries = entries[:MOST_WITH]
        more = int(db.scalar(select(func.count(Entry.id)).where(Entry.id.in_(holding))) or 0) - MOST_WITH
    facts = values_of(db, [entry.id for entry in entries], fields=fields)
    found: list[tuple[str, Entry]] = []
    for entry in entries:
        for name in fields:
            best = best_value(facts[entry.id].get(name, []), name, order[entry.library_id])
            if best is not None and (best.value == value or (isinstance(best.value, list) and value in best.value)):
                found.append((name, entry))
    return sorted(found, key=lambda pair: fields.index(pair[0])), more


ARM = 60
"""So many entries each way of finding brings up at most."""
SHORT = 3
"""Words of fewer letters are looked for at the beginning of titles only: no index knows them otherwise."""
_KINDS = ("movie", "series", "artist", "album", "event", "episode", "track", "clip", "photo", "season")


def search_entries(db: Session, words: str, *, limit: int) -> list[Entry]:
    """Entries whose titles hold the words, or are like them; titles that begin so come first.

    Each way of finding is a question of its own, which an index answers; what is only like the words
    is looked for where too little holds them.
    """
    wanted = words.casefold().strip()
    if not wanted:
        return []
    escaped = wanted.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    no_season = Entry.kind != "season"
    begins = select(Entry.id).where(Entry.search.like(f"{escaped}%", escape="\\"), no_season)
    found = list(db.scalars(begins.order_by(Entry.search, Entry.id).limit(ARM)))
    if len(wanted) >= SHORT:
        holds = select(Entry.id).where(Entry.search.like(f"%{escaped}%", escape="\\"), no_season).limit(ARM)
        named = FileName.name.ilike(f"%{escaped}%", escape="\\")
        filed = select(File.entry_id).join(FileName, FileName.file_id == File.id).where(named).limit(ARM)
        found += [*db.scalars(holds), *(id_ for id_ in db.scalars(filed) if id_ is not None)]
        if len(set(found)) < limit:
            like = select(Entry.id).where(literal(wanted).op("<%")(Entry.search), no_season)
            found += db.scalars(like.limit(ARM))
    rank = func.greatest(func.similarity(Entry.search, wanted), func.word_similarity(wanted, Entry.search))
    query = select(Entry, rank).where(among(Entry.id, set(found)))
    ranked = [(entry, float(value)) for entry, value in db.execute(query) if entry.kind != "season"]
    ranked.sort(key=lambda row: (not row[0].search.startswith(wanted), _KINDS.index(row[0].kind), -row[1], row[0].id))
    return [entry for entry, _ in ranked[:limit]]


def files_of(db: Session, entry_ids: Iterable[int]) -> dict[int, list[tuple[File, Folder]]]:
    """Files that serve entries, with the folder that they lie in, in the order of paths."""
    found: dict[int, list[tuple[File, Folder]]] = defaultdict(list)
    for file, folder in db.execute(
        select(File, Folder)
        .join(Folder)
        .where(among(File.entry_id, entry_ids), File.state != "missing")
        .order_by(File.shown)
    ):
        found[file.entry_id or 0].append((file, folder))
    return found


def shared_files(db: Session, entry: Entry) -> list[tuple[File, Folder]]:
    """Files of several episodes that hold this one and serve another: `S01E02-E03`
    serves the second, and holds the third."""
    if entry.kind != "episode" or entry.number is None:
        return []
    holds = or_(
        File.reading.contains({"episodes": [entry.number]}), File.reading.contains({"absolute": [entry.number]})
    )
    query = (
        select(File, Folder)
        .join(Folder)
        .join(Entry, Entry.id == File.entry_id)
        .where(Entry.parent_id == entry.parent_id, Entry.id != entry.id, File.kind == "episode", holds)
        .where(File.state != "missing")
        .order_by(File.shown)
    )
    return [(file, folder) for file, folder in db.execute(query)]


def waiting_counts(db: Session) -> dict[str, int]:
    """How much waits in each place."""
    return {
        "matches": db.scalar(
            select(func.count())
            .select_from(Entry)
            .where(Entry.state == "waiting", Entry.kind.in_(("movie", "series", "album")))
        )
        or 0,
        "names": db.scalar(select(func.count()).select_from(Finding)) or 0,
    }


def waiting_entries(db: Session, *, after: int | None = None, limit: int = 200) -> list[Entry]:
    """Entries that wait for a decision, behind one of them: those of one artist or one beginning together."""
    order = (Entry.library_id, Entry.kind, Entry.sort_title, Entry.id)
    query = select(Entry).where(Entry.state == "waiting", Entry.kind.in_(("movie", "series", "album"))).order_by(*order)
    if after is not None:
        mark = aliased(Entry)
        behind = select(mark.library_id, mark.kind, mark.sort_title, mark.id).where(mark.id == after)
        query = query.where(tuple_(*order) > behind.scalar_subquery())
    return list(db.scalars(query.limit(limit)))


def least_certain(db: Session, *, limit: int) -> list[Entry]:
    """Entries that were taken automatically although little spoke for them, or much
    for another: the least certain first."""
    taken = list(
        db.scalars(
            select(Entry)
            .where(
                Entry.state == "settled",
                Entry.decided_by == "automatic",
                Entry.kind.in_(("movie", "series", "album")),
                Entry.score < SURE,
            )
            .order_by(Entry.score, Entry.id)
            .limit(limit * 4)
        )
    )
    rivals = candidates_of(db, [entry.id for entry in taken])

    def certainty(entry: Entry) -> float:
        score = entry.score or 0.0
        others = [c.score for c in rivals.get(entry.id, []) if c.external_id != entry.external_id]
        return score + 0.2 * min(score - max(others, default=0.0), 0.5)

    return sorted(taken, key=lambda entry: (certainty(entry), entry.id))[:limit]


def candidates_of(db: Session, entry_ids: Sequence[int]) -> dict[int, list[Candidate]]:
    """Candidates of entries, best first; what is of another type is none, see :func:`apart_of`."""
    return _candidates(db, entry_ids, Candidate.apart == "")


def apart_of(db: Session, entry_ids: Sequence[int]) -> dict[int, list[Candidate]]:
    """What sources brought up for entries that is of another type."""
    return _candidates(db, entry_ids, Candidate.apart != "")


def _candidates(db: Session, entry_ids: Sequence[int], which: ColumnElement[bool]) -> dict[int, list[Candidate]]:
    found: dict[int, list[Candidate]] = defaultdict(list)
    query = select(Candidate).where(among(Candidate.entry_id, entry_ids), which)
    for candidate in db.scalars(query.order_by(Candidate.score.desc(), Candidate.id)):
        found[candidate.entry_id].append(candidate)
    return found


_FINDINGS_FIRST = (Finding.fix.is_(None), Finding.check, Finding.library_id, Finding.path, Finding.id)


def findings_of(
    db: Session,
    *,
    check: str | None = None,
    library_id: int | None = None,
    libraries: Collection[int] | None = None,
    limit: int | None = None,
) -> list[Finding]:
    """Findings, those with a cure first, by check and path; `libraries`: of these alone."""
    query = _of_findings(select(Finding), check, library_id, libraries).order_by(*_FINDINGS_FIRST)
    return list(db.scalars(query.limit(limit) if limit else query))


def safe_findings(
    db: Session,
    *,
    check: str | None = None,
    library_id: int | None = None,
    libraries: Collection[int] | None = None,
) -> list[tuple[int, int]]:
    """Id and library of every finding whose cure is safe; `libraries`: of these alone."""
    query = _of_findings(select(Finding.id, Finding.library_id), check, library_id, libraries)
    rows: Sequence[Any] = db.execute(query.where(Finding.fix_kind == "safe").order_by(Finding.id)).all()
    return [(row.id, row.library_id) for row in rows]


def _of_findings(query: Any, check: str | None, library_id: int | None, libraries: Collection[int] | None) -> Any:
    if check:
        query = query.where(Finding.check == check)
    if libraries is not None:
        query = query.where(Finding.library_id.in_(libraries))
    return query if library_id is None else query.where(Finding.library_id == library_id)


def files_in(db: Session, folder_id: int, directory: str) -> list[tuple[File, str]]:
    """Files of one directory with their state for people."""
    query = (
        with_state(select(File, file_state()))
        .where(File.folder_id == folder_id, File.directory == directory, File.state != "missing")
        .order_by(File.shown)
    )
    rows: list[Any] = list(db.execute(query))
    return [(file, str(state)) for file, state in rows]


def facts_for_names(db: Session, files: Sequence[File]) -> dict[int, dict[str, Any]]:
    """What matched entries add to the readings of their files, for tidy names: entry → facts."""
    ids = {file.entry_id for file in files if file.entry_id}
    if not ids:
        return {}
    parent, top = aliased(Entry), aliased(Entry)
    named = select(Fact.id).where(Fact.entry_id == Entry.id, Fact.field == "title").exists()
    query = (
        select(Entry, parent, top, named)
        .outerjoin(parent, parent.id == Entry.parent_id)
        .outerjoin(top, top.id == parent.parent_id)
        .where(among(Entry.id, ids), Entry.state == "settled")
    )
    rows: Sequence[Any] = db.execute(query).all()
    facts: dict[int, dict[str, Any]] = {}
    for entry, above, series, is_named in rows:
        own: dict[str, Any] = {"title": entry.title} if is_named else {}
        if entry.kind == "movie" and entry.year:
            own["year"] = entry.year
        if entry.kind == "episode" and above is not None and series is not None:
            own |= {"series": series.title} | ({"year": series.year} if series.year else {})
        if entry.kind == "track" and above is not None and above.kind == "album":
            own |= (
                {"album": above.title}
                | ({"year": above.year} if above.year else {})
                | ({"track": entry.number} if entry.number else {})
            )
        facts[entry.id] = own
    return facts
