"""Takes what a source says of a thing over into the records: its facts, those
of its parts and artists, its pictures."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.catalog.lacking import SetFilm
from ..core.facts import certificate_for, clean_facts
from ..core.matching.assign import Mine, Theirs, assign
from ..sources.client import SourceClient
from ..store import models as rows
from ..store.database import Database
from ..store.decisions import forget_sources, snapshot
from ..store.entries import descendants
from ..store.facts import put_facts
from ..store.film_sets import KnownSet, keep_sets
from ..store.jobs import announce
from ..store.shown import note_names, refresh_shown
from .artwork import Offer

__all__ = ["BELOW", "adopt", "first_number", "name_of", "own_titles", "references_of", "warm"]

BELOW = {"series": ("episodes", "episode"), "album": ("tracks", "track")}
"""Kind of a work → the field of its parts, and their kind."""
_ROLES = {"movie": "poster", "series": "poster", "album": "cover", "artist": "portrait", "episode": "thumb"}
"""Kind → what its `artwork` is."""
_GAPS = ("title",)
"""Fields that are fetched in any language where the library's is missing; more would cost
the source a second question too often."""
Fields = dict[str, list[Any]]


def name_of(value: Any) -> str:
    """The text of a cell that may be an entity."""
    return str(value.get("name", "")) if isinstance(value, dict) else str(value)


def references_of(fields: Fields, kind: str) -> list[str]:
    """Ids of the episodes or tracks that a work's fields name."""
    return _ids(fields.get(BELOW[kind][0], [])) if kind in BELOW else []


def _ids(cells: Sequence[Any]) -> list[str]:
    return [str(cell["id"]) for cell in cells if isinstance(cell, dict) and cell.get("id")]


def warm(client: SourceClient, taken: Sequence[tuple[str, str, Fields]]) -> None:
    """Ask in one go for all that adopting these needs: kind, id and fields of each. Adopting finds it remembered."""
    wanted: dict[str, list[str]] = defaultdict(list)
    gaps: dict[str, list[str]] = defaultdict(list)
    for kind, external_id, fields in taken:
        if kind in BELOW and BELOW[kind][1] in client.profile.kinds:
            wanted[BELOW[kind][1]] += references_of(fields, kind)
        if kind == "album" and "artist" in client.profile.kinds:
            wanted["artist"] += _ids(fields.get("artists", []))
        if _lacks(client, kind, fields):
            gaps[kind].append(external_id)
        if kind == "movie":
            wanted["set"] += _ids(fields.get("set", []))
    for kind, ids in wanted.items():
        found = client.extend(list(dict.fromkeys(ids)), kind)
        if kind == "set":
            client.extend(list(dict.fromkeys(id_ for fields in found.values() for id_ in _films_of(fields))), "movie")
    for kind, ids in gaps.items():
        client.extend(ids, kind, plainly=True)


def _lacks(client: SourceClient, kind: str, fields: Fields) -> bool:
    """Whether the source may know in another language what it does not know in the library's."""
    mapped = client.profile.kinds[kind].fields if kind in client.profile.kinds else {}
    return any(name in mapped and not any(fields.get(name, [])) for name in _GAPS) and client.speaks


def _fields_of(client: SourceClient, external_id: str, kind: str) -> Fields:
    fields = client.extend([external_id], kind).get(external_id, {})
    if _lacks(client, kind, fields):
        other = client.extend([external_id], kind, plainly=True).get(external_id, {})
        fields = {name: values if any(values) else other.get(name, []) for name, values in fields.items()}
    return fields


_SINGLE = frozenset(
    (
        "title",
        "original_title",
        "date",
        "end_date",
        "runtime",
        "plot",
        "tagline",
        "rating",
        "set",
        "label",
        "season",
        "number",
        "absolute",
        "disc",
    )
)


_PICTURES = ("artwork", "backdrop")


def _facts(fields: Fields, kind: str, country: str) -> dict[str, Any]:
    """Values as they are kept; a certificate is that of the library's country, and all are kept beside it."""
    facts: dict[str, Any] = {}
    for name, values in fields.items():
        plain = [value for value in values if value not in (None, "")]
        if not plain or name in (*_PICTURES, "episodes", "tracks"):
            continue
        if name == "rating":
            texts = [name_of(value) for value in plain]
            facts["rating"] = certificate_for(texts, country)
            if len(texts) > 1:
                facts["certificates"] = texts
        elif name in _SINGLE:
            facts[name] = name_of(plain[0]) if isinstance(plain[0], dict) else plain[0]
        else:
            facts[name] = [name_of(value) for value in plain]
    pictures = {
        role: addresses
        for name, role in (("artwork", _ROLES.get(kind, "poster")), ("backdrop", "backdrop"))
        if (addresses := [str(value) for value in fields.get(name, []) if isinstance(value, str) and value])
    }
    kept, _ = clean_facts(facts)
    return {**kept, "pictures": pictures} if pictures else kept


def _offers(entry_id: int, facts: Mapping[str, Any]) -> list[Offer]:
    """The first picture of each role."""
    return [Offer(entry_id, role, addresses[0]) for role, addresses in facts.get("pictures", {}).items()]


def adopt(
    database: Database,
    client: SourceClient,
    source: rows.Source,
    entry_id: int,
    external_id: str,
    *,
    by: str,
    record: bool = True,
) -> list[Offer]:
    """Take a candidate: its facts, those of its episodes, tracks and artist. Returns the pictures to fetch.

    `record` keeps it as a decision that can be taken back.
    """
    with database.begin() as db:
        entry = db.get_one(rows.Entry, entry_id)
        kind, country = entry.kind, db.get_one(rows.Library, entry.library_id).country
    fields = _fields_of(client, external_id, kind)
    references = references_of(fields, kind)
    below = client.extend(references, BELOW[kind][1]) if references else {}
    artists = _artists(client, fields) if kind == "album" else {}
    sets = _sets(client, fields) if kind == "movie" else {}
    origin = f"source:{source.name}"
    facts = _facts(fields, kind, country)
    if below:
        facts["expected"] = _expected(kind, below)
    offers = _offers(entry_id, facts)
    with database.begin() as db:
        entry = db.get_one(rows.Entry, entry_id)
        decision = _settle(db, entry, source.id, external_id, by)
        if record:
            db.add(decision)
        children = _assign(db, entry, below, country)
        put_facts(db, [(entry_id, origin, facts), *((id_, origin, known) for id_, known in children.items())])
        family = list(children)
        offers += _adopt_artist(db, entry, artists, source, family)
        refresh_shown(db, [entry_id, *family])
        note_names(db, [entry_id])
        keep_sets(db, source.id, sets)
        announce(db, "catalog")
    return offers


def _settle(db: Session, entry: rows.Entry, source_id: int, external_id: str, by: str) -> rows.Decision:
    """Settle an entry as something that a source knows; returns the decision by which that can be taken back."""
    before = snapshot(db, entry)
    if before["state"] == "unseen":
        before["state"] = "waiting"  # taken back, it waits for a person instead of being taken again
    if entry.external_id not in (None, external_id):
        forget_sources(db, entry.id)  # else what the wrong one said would stand beside what this one says
    entry.state, entry.decided_by, entry.source_id, entry.external_id = "settled", by, source_id, external_id
    chosen = db.scalars(
        select(rows.Candidate).where(rows.Candidate.entry_id == entry.id, rows.Candidate.external_id == external_id)
    ).first()
    entry.score = chosen.score if chosen else entry.score
    return rows.Decision(entry_id=entry.id, by=by, external_id=external_id, before=before)


MOST_FILMS = 200
"""Of so many films of a set at most is asked: a service may call a genre one."""


def _films_of(fields: Fields) -> list[str]:
    return _ids(fields.get("films", []))[:MOST_FILMS]


def _sets(client: SourceClient, fields: Fields) -> dict[str, KnownSet]:
    """The sets that a film is one of, where the source knows them as things of their own, with their films in order."""
    known: dict[str, KnownSet] = {}
    for set_id, told in client.extend(_ids(fields.get("set", [])), "set").items():
        films = client.extend(ids, "movie") if (ids := _films_of(told)) else {}
        named = [
            SetFilm(id_, title, str(_first(one, "date"))[:10])
            for id_, one in films.items()
            if (title := name_of(_first(one, "title"))[:200])
        ]
        if named and (title := name_of(_first(told, "title"))[:200]):
            known[set_id] = KnownSet(title, tuple(named))
    return known


def _first(fields: Fields, name: str) -> Any:
    return next((value for value in fields.get(name, []) if value not in (None, "")), "")


def _expected(kind: str, below: Mapping[str, Fields]) -> list[list[Any]]:
    """What a source says there should be: season or disc, number, title and day of each (`core/catalog/lacking`)."""
    found: list[list[Any]] = []
    for fields in below.values():
        number = first_number(fields, "number")
        group = first_number(fields, "season" if kind == "series" else "disc")
        if kind != "series" and group is None:
            group = 1
        if number is not None and group is not None:
            title, date = (str((fields.get(name) or [""])[0] or "")[:200] for name in ("title", "date"))
            found.append([group, number, title, date[:10]])
    return found


def _artists(client: SourceClient, fields: Fields) -> dict[str, Fields]:
    """What the source says of the artists of an album, by id, where it knows them as things of their own."""
    ids = _ids(fields.get("artists", []))
    return client.extend(ids, "artist") if ids and "artist" in client.profile.kinds else {}


def _adopt_artist(
    db: Any, album: rows.Entry, artists: Mapping[str, Fields], source: rows.Source, family: list[int]
) -> list[Offer]:
    """An artist follows from the album: where the source names one, the entry
    above takes it, unless a person decided."""
    if len(artists) != 1 or album.parent_id is None:
        return []
    above = db.get(rows.Entry, album.parent_id)
    if above is None or above.kind != "artist" or above.decided_by == "hand":
        return []
    (external_id, fields), *_ = artists.items()
    if above.external_id not in (None, external_id):
        return []
    facts = _facts(fields, "artist", "")
    is_new = above.external_id is None
    above.external_id, above.source_id, above.state, above.decided_by = external_id, source.id, "settled", "automatic"
    put_facts(db, [(above.id, f"source:{source.name}", facts)])
    family.append(above.id)
    return _offers(above.id, facts) if is_new else []


def _whole(value: Any) -> int | None:
    """A number as services give it: 3, 3.0 or "3"."""
    if isinstance(value, bool):
        return None
    if isinstance(value, int | float):
        return int(value)
    return int(value) if isinstance(value, str) and value.strip().isdigit() else None


def first_number(fields: Fields, name: str) -> int | None:
    """The first whole number of a field."""
    return next((found for value in fields.get(name, []) if (found := _whole(value)) is not None), None)


def _part_of(external_id: str, fields: dict[str, list[Any]]) -> Theirs:
    """An episode or a track as the source has it."""
    season = first_number(fields, "season")
    return Theirs(
        id=external_id,
        season=season if season is not None else first_number(fields, "disc") or 1,
        number=first_number(fields, "number"),
        running=first_number(fields, "absolute"),
        date=next((str(value)[:10] for value in fields.get("date", [])), None),
        titles=tuple(
            str(value) for name in ("title", "original_title", "aliases") for value in fields.get(name, []) if value
        ),
    )


def _assign(db: Any, entry: rows.Entry, below: dict[str, Fields], country: str) -> dict[int, dict[str, Any]]:
    """Facts of the episodes and tracks below an entry; those that the source lacks, or that contradict it, get none."""
    ids = descendants(db, entry.id)
    children = list(
        db.scalars(select(rows.Entry).where(rows.Entry.id.in_(ids), rows.Entry.kind.in_(("episode", "track"))))
    )
    titles = own_titles(db, ids)
    parts = [_part_of(external_id, fields) for external_id, fields in below.items()]
    facts: dict[int, dict[str, Any]] = {}
    for child in children:
        mine = Mine(
            season=child.season if child.kind == "episode" else (child.disc or 1),
            number=child.number,
            date=child.moment if child.kind == "episode" else None,
            title=titles.get(child.id),
        )
        found = assign(mine, parts)
        facts[child.id] = {}
        if found is not None:
            child.external_id, child.source_id, child.state = found, entry.source_id, "settled"
            facts[child.id] = _facts(below[found], child.kind, country)
    return facts


def own_titles(db: Any, ids: Sequence[int]) -> dict[int, str]:
    """Titles that the household's own files give; what a source said before is no evidence."""
    query = select(rows.Fact.entry_id, rows.Fact.origin, rows.Fact.value).where(
        rows.Fact.entry_id.in_(ids), rows.Fact.field == "title", rows.Fact.origin.in_(("sidecar", "tags", "name"))
    )
    order = ("name", "tags", "sidecar")
    told = sorted(db.execute(query), key=lambda row: order.index(row[1]))
    return {entry_id: str(value.get("v")) for entry_id, _, value in told}
