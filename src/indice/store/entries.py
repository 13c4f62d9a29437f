"""Entries of the catalog, their facts, candidates and decisions."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any
from uuid import uuid4

from sqlalchemy import ColumnElement, delete, func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..core.facts import Ranking, Value, best_value
from ..core.facts.clean import clean_text
from ..core.grouping import EntryDraft, Grouped, better_title, sort_title
from ..errors import IndiceError
from .among import among
from .bulk import insert_rows
from .database import as_json
from .gone import put_aside, with_keys
from .joined import hand_over
from .models import Artwork, Candidate, Decision, Entry, Fact, FactChange, File, Folder, Library, now
from .pictures import drop_ungiven

if TYPE_CHECKING:
    from ..disk.thumbnails import Thumbnail

__all__ = [
    "FIELDS_BY_HAND",
    "Seen",
    "add_artwork",
    "apply_grouping",
    "changes_of",
    "choose_artwork",
    "choose_frame",
    "choose_uploaded",
    "confirm",
    "decided_by_hand",
    "entries_to_match",
    "entries_told",
    "everything",
    "forget_candidates",
    "forget_sources",
    "keys_in",
    "keys_of",
    "note_names",
    "put_facts",
    "rankings",
    "refresh_shown",
    "restore",
    "save_candidates",
    "snapshot",
    "tell_candidates",
    "values_of",
    "write_by_hand",
    "write_many_by_hand",
]


def _row(library_id: int, draft: EntryDraft, parent_id: int | None) -> dict[str, Any]:
    return {
        "library_id": library_id,
        "parent_id": parent_id,
        "key": draft.key,
        "handle": draft.key,
        "kind": draft.kind,
        "title": draft.title,
        "sort_title": sort_title(draft.title),
        "search": draft.title.casefold(),
        "year": draft.year,
        "season": draft.season,
        "number": draft.number,
        "disc": draft.disc,
        "moment": draft.moment,
        "state": "unseen",
        "note": "",
        "added_at": now(),
    }


@dataclass(frozen=True, slots=True)
class Seen:
    """What a grouping saw of a library: nothing else may be removed by it."""

    files: Collection[int]
    entries: Mapping[str, int]
    """Key → id of the entries that these files, and no other, make."""


def everything(db: Session, library_id: int) -> Seen:
    """All of a library."""
    of_library = select(Folder.id).where(Folder.library_id == library_id)
    files = db.scalars(select(File.id).where(File.folder_id.in_(of_library), File.state != "missing"))
    return Seen(list(files), _keys(db, Entry.library_id == library_id))


def apply_grouping(db: Session, library_id: int, grouped: Grouped, seen: Seen | None = None) -> int:
    """Record entries and which files serve them; returns how many entries are new.

    With `seen` entries that were seen and are not in the grouping any more are removed; without it things are only added:
    a file that serves an entry goes on to do so, until somebody looks at all that the change reaches.
    """
    if seen is None:
        grouped = _of_unserved(db, grouped)
    old = seen.entries if seen is not None else {}
    told = [*grouped.entries, *grouped.elsewhere]
    known = dict(old) | keys_in(db, library_id, told)
    ids_seen = set(old.values())
    votes: dict[str, Counter[int]] = {}
    followed: set[int] | None = None
    if seen is not None:
        votes, before = _votes(db, grouped)
        followed = _follow(db, library_id, votes, before, old, known)
    if followed is not None:
        ids_seen |= followed
        known = keys_of(db, library_id, ids_seen) | keys_in(db, library_id, told)
    shared = {key for key in grouped.entries if key in known and known[key] not in ids_seen}
    fresh = _add_new(db, library_id, grouped, known)
    facts = [
        (known[draft.key], origin, values)
        for draft in grouped.entries.values()
        for origin, values in draft.facts.items()
        if values and draft.key in known
    ]
    elsewhere = {known[key] for key in shared} if seen is not None else set()
    put_facts(db, [fact for fact in facts if fact[0] not in elsewhere])
    put_facts(db, [fact for fact in facts if fact[0] in elsewhere], only_new=True)
    _serve(db, grouped, known)
    if seen is not None:
        _leave(db, [id_ for id_ in seen.files if id_ not in grouped.serves])
        _drop_unsaid(db, ids_seen, facts)
        _update_plain(db, grouped, known, elsewhere)
        drop_ungiven(db, ids_seen)
        gone = [id_ for key, id_ in known.items() if id_ in ids_seen and key not in grouped.entries]
        if gone:
            put_aside(db, library_id, gone)
            joined = _joined(votes)
            hand_over(db, {id_: known[joined[id_]] for id_ in gone if id_ in joined})
            db.execute(delete(Entry).where(among(Entry.id, gone)))
    return fresh


def _keys(db: Session, *conditions: ColumnElement[bool]) -> dict[str, int]:
    return dict(db.execute(select(Entry.key, Entry.id).where(*conditions)).all())


def keys_of(db: Session, library_id: int, ids: Iterable[int]) -> dict[str, int]:
    """Key → id of those of these entries that are in a library."""
    return _keys(db, among(Entry.id, ids), Entry.library_id == library_id)


def keys_in(db: Session, library_id: int, keys: Iterable[str]) -> dict[str, int]:
    """Key → id of those entries of a library that have one of these keys."""
    rows = db.execute(_KEYS_IN, {"library": library_id, "keys": [clean_text(key) for key in keys]})
    return dict(rows.tuples().all())


_KEYS_IN = text(
    """
    select entry.key, entry.id from unnest(cast(:keys as text[])) as told (key)
    cross join lateral (select key, id from entry where library_id = :library and entry.key = told.key) as entry
    """
)


def _add_new(db: Session, library_id: int, grouped: Grouped, known: dict[str, int]) -> int:
    """Make the entries that are not known yet, parents first; returns how many."""
    fresh = 0
    level: list[EntryDraft] = [draft for draft in grouped.entries.values() if draft.parent is None]
    children: dict[str, list[EntryDraft]] = defaultdict(list)
    for draft in grouped.entries.values():
        if draft.parent is not None:
            children[draft.parent].append(draft)
    while level:
        known |= with_keys(db, library_id, (draft.key for draft in level if draft.key not in known))
        new = [draft for draft in level if draft.key not in known]
        if new:
            rows = [_row(library_id, draft, known.get(draft.parent or "")) for draft in new]
            _name_anew(db, library_id, rows)
            made = insert_rows(db, Entry, rows, tail="on conflict (library_id, key) do nothing returning key, id")
            known.update({str(key): int(id_) for key, id_ in made})
            fresh += len(made)
        level = [child for draft in level for child in children.get(draft.key, ())]
    return fresh


def _name_anew(db: Session, library_id: int, rows: Sequence[dict[str, Any]]) -> None:
    """Give entries a handle of their own where another, that is called otherwise by now, or is gone, has theirs."""
    wanted = [row["handle"] for row in rows]
    taken = set(db.scalars(_HANDLES, {"library": library_id, "handles": [clean_text(one) for one in wanted]}))
    for row in rows:
        if row["handle"] in taken:
            row["handle"] = f"{row['handle']}~{uuid4().hex[:8]}"


_HANDLES = text(
    """
    select entry.handle from unnest(cast(:handles as text[])) as told (handle)
    cross join lateral (
        select entry.handle from entry where library_id = :library and entry.handle = told.handle
    ) as entry
    union all
    select records #>> '{entry,0,handle}' from gone
    where library_id = :library and records #>> '{entry,0,handle}' = any(cast(:handles as text[]))
    """
)


def _drop_unsaid(db: Session, entry_ids: Collection[int], said: Sequence[tuple[int, str, Mapping[str, Any]]]) -> None:
    """What a name, a sidecar or a file's inside said once and says no more is forgotten."""
    of_entry: dict[int, list[tuple[str, str]]] = defaultdict(list)
    for entry_id, origin, values in said:
        of_entry[entry_id] += [(origin, field) for field in values]
    ids = sorted(entry_ids)
    for start in range(0, len(ids), ENTRIES_AT_ONCE):
        here = ids[start : start + ENTRIES_AT_ONCE]
        stays = [(id_, origin, field) for id_ in here for origin, field in of_entry.get(id_, ())]
        told = {name: [row[place] for row in stays] for place, name in enumerate(("entries", "origins", "fields"))}
        db.execute(_DROP_UNSAID, {"ids": here, **told})


ENTRIES_AT_ONCE = 5000
_DROP_UNSAID = text(
    """
    delete from fact where entry_id = any(cast(:ids as integer[])) and not locked
      and origin in ('name', 'tags', 'file', 'sidecar', 'echo')
      and not exists (
        select 1 from unnest(cast(:entries as integer[]), cast(:origins as text[]), cast(:fields as text[]))
            as said (entry_id, origin, field)
        where (said.entry_id, said.origin, said.field) = (fact.entry_id, fact.origin, fact.field)
      )
    """
)


def _leave(db: Session, file_ids: Collection[int]) -> None:
    """These files serve nothing; what is missing stays with its entry, so that it finds back to it."""
    db.execute(
        update(File)
        .where(among(File.id, file_ids), File.entry_id.is_not(None), File.state != "missing")
        .values(entry_id=None, serves="")
        .execution_options(synchronize_session=False)
    )


@dataclass(frozen=True, slots=True)
class _Was:
    """An entry that files served before a grouping."""

    parent: int | None
    kind: str
    key: str
    library_id: int
    is_decided: bool


def _of_unserved(db: Session, grouped: Grouped) -> Grouped:
    """What a grouping says of those files that serve nothing yet."""
    query = select(File.id).where(among(File.id, grouped.serves), File.entry_id.is_not(None))
    served = set(db.scalars(query))
    if not served:
        return grouped
    serves = {file_id: serving for file_id, serving in grouped.serves.items() if file_id not in served}
    wanted: set[str] = set()
    for key, _ in serves.values():
        draft = grouped.entries.get(key)
        while draft is not None and draft.key not in wanted:
            wanted.add(draft.key)
            draft = grouped.entries.get(draft.parent or "")
    return replace(
        grouped, entries={key: draft for key, draft in grouped.entries.items() if key in wanted}, serves=serves
    )


def _joined(votes: Mapping[str, Counter[int]]) -> dict[int, str]:
    """Entry that files served before → the key that most of them serve now."""
    most: dict[int, tuple[int, str]] = {}
    for key, counted in votes.items():
        for id_, count in counted.items():
            most[id_] = max(most.get(id_, (0, "")), (count, key))
    return {id_: key for id_, (_, key) in most.items()}


def _follow(
    db: Session,
    library_id: int,
    votes: Mapping[str, Counter[int]],
    before: Mapping[int, _Was],
    old: Mapping[str, int],
    known: Mapping[str, int],
) -> set[int] | None:
    """Entries whose files got other names, or swapped them, keep what was decided of them: each takes the key of its files.

    Returns those that came from other libraries; None when nothing changed.
    """
    if all(
        (was.key, was.library_id) == (key, library_id) for key in votes for was in map(before.__getitem__, votes[key])
    ):
        return None
    ids_seen = set(old.values())
    foreign = {id_ for id_, was in before.items() if was.library_id != library_id}
    foreign -= _still_held(db, library_id, foreign)
    movable = ids_seen | foreign
    staying = _staying(votes, before, known)
    taken: set[int] = set(staying.values())
    chosen: list[tuple[int, str]] = []
    pairs = sorted(
        (-count, not before[id_].is_decided, id_, key)
        for key, counted in votes.items()
        if key not in staying
        for id_, count in counted.items()
    )
    settled: set[str] = set()
    for _, _, id_, key in pairs:
        if key in settled or id_ in taken or id_ not in movable:
            continue
        if key in known and known[key] not in ids_seen and known[key] != id_:
            continue  # it holds things that were not seen, and stays what it is
        taken.add(id_)
        settled.add(key)
        if before[id_].key != key or id_ in foreign:
            chosen.append((id_, key))
    moving = {id_ for id_, _ in chosen}
    replaced = [known[key] for _, key in chosen if key in known and known[key] not in moving | taken]
    if replaced:
        put_aside(db, library_id, replaced)
        goes = set(replaced)
        hand_over(db, {known[key]: id_ for id_, key in chosen if known.get(key, 0) in goes})
        db.execute(update(Entry).where(among(Entry.parent_id, replaced)).values(parent_id=None))
        db.execute(delete(Entry).where(among(Entry.id, replaced)))
    if chosen:
        ids, keys = (list(column) for column in zip(*chosen, strict=True))
        db.execute(_ASIDE, {"ids": ids})
        db.execute(_RENAME, {"ids": ids, "keys": keys, "library": library_id})
        if foreign & moving:
            db.execute(_TAKE_ALONG, {"ids": sorted(foreign & moving), "library": library_id})
        db.expire_all()
    return foreign & moving if chosen else None


def _votes(db: Session, grouped: Grouped) -> tuple[dict[str, Counter[int]], dict[int, _Was]]:
    """Which entries the files of each key served before, and what those were."""
    rows = db.execute(
        select(File.id, File.entry_id).where(among(File.id, grouped.serves), File.entry_id.is_not(None))
    ).all()
    before: dict[int, _Was] = {}
    wanted: set[int] = {entry_id for _, entry_id in rows if entry_id is not None}
    while wanted:
        query = select(Entry.id, Entry.parent_id, Entry.kind, Entry.key, Entry.library_id, Entry.state != "unseen")
        found = {row[0]: _Was(*row[1:]) for row in db.execute(query.where(among(Entry.id, wanted)))}
        before |= found
        wanted = {was.parent for was in found.values() if was.parent is not None} - before.keys()
    votes: dict[str, Counter[int]] = defaultdict(Counter)
    for file_id, entry_id in rows:
        served = grouped.serves[file_id]
        new: str | None = served[0] if served[0] in grouped.entries else None
        was: int | None = entry_id
        while new is not None and was in before and grouped.entries[new].kind == before[was].kind:
            votes[new][was] += 1
            new, was = grouped.entries[new].parent, before[was].parent
    return votes, before


def _staying(votes: Mapping[str, Counter[int]], before: Mapping[int, _Was], known: Mapping[str, int]) -> dict[str, int]:
    """Keys whose own entry still has files there: it stays, unless nobody decided it and it is a decided one that joins it."""
    found: dict[str, int] = {}
    own = {key: known[key] for key, counted in votes.items() if key in known and known[key] in counted}
    for key, id_ in own.items():
        joins = (one for one in votes[key] if one != id_ and before[one].is_decided and before[one].key not in own)
        if before[id_].is_decided or next(joins, None) is None:
            found[key] = id_
    return found


def _still_held(db: Session, library_id: int, entry_ids: Collection[int]) -> set[int]:
    """Entries that hold files in other libraries than this, themselves or below."""
    if not entry_ids:
        return set()
    return set(db.scalars(_HELD_ELSEWHERE, {"ids": sorted(entry_ids), "library": library_id}))


_HELD_ELSEWHERE = text(
    """
    with recursive below as (
        select id as top, id from entry where id = any(:ids)
        union
        select below.top, entry.id from entry join below on entry.parent_id = below.id
    )
    select distinct below.top from below join file on file.entry_id = below.id
    join folder on folder.id = file.folder_id
    where folder.library_id <> :library and file.state <> 'missing'
    """
)
_ASIDE = text("update entry set key = 'moves:' || id where id = any(:ids)")
"""Two entries may swap their keys, and none may have the same for a moment."""
_TAKE_ALONG = text(
    """
    with recursive below as (
        select id from entry where id = any(:ids)
        union
        select entry.id from entry join below on entry.parent_id = below.id
    )
    update entry set library_id = :library
    where id in (select id from below) and library_id <> :library
      and not exists (select 1 from entry other where other.library_id = :library and other.key = entry.key)
    """
)


_RENAME = text(
    """
    update entry set key = told.key, library_id = :library
    from unnest(cast(:ids as integer[]), cast(:keys as text[])) as told (id, key)
    where entry.id = told.id
    """
)


_SERVE = text(
    """
    update file set entry_id = told.entry_id, serves = told.serves, pictured_by = 0
    from unnest(cast(:files as integer[]), cast(:entries as integer[]), cast(:serves as text[]))
        as told (file_id, entry_id, serves)
    where file.id = told.file_id
      and (file.entry_id is distinct from told.entry_id or file.serves <> told.serves)
    """
)


def _serve(db: Session, grouped: Grouped, known: Mapping[str, int]) -> None:
    """Write which entry each file serves, and as what: all in one statement, and only where it is new."""
    told = [(file_id, known[key], serves) for file_id, (key, serves) in grouped.serves.items()]
    if told:
        files, entries, serves = (list(column) for column in zip(*told, strict=True))
        db.execute(_SERVE, {"files": files, "entries": entries, "serves": serves})


def _update_plain(db: Session, grouped: Grouped, known: Mapping[str, int], elsewhere: Collection[int]) -> None:
    """What names say may have changed; a settled entry keeps the title that its facts give.

    Entries that hold more `elsewhere` than was seen get a better title at most.
    """
    stored = {
        entry.id: entry
        for entry in db.scalars(select(Entry).where(among(Entry.id, (known[key] for key in grouped.entries))))
    }
    for draft in grouped.entries.values():
        entry = stored.get(known[draft.key])
        if entry is None:
            continue
        entry.parent_id = known.get(draft.parent or "")
        for name in ("season", "number", "disc", "moment"):
            value = getattr(draft, name)
            if getattr(entry, name) != value and (value is not None or entry.id not in elsewhere):
                setattr(entry, name, value)
        if (
            entry.state != "settled"
            and entry.external_id is None
            and (entry.title, entry.year) != (draft.title, draft.year)
            and (entry.id not in elsewhere or better_title(draft.title, entry.title))
        ):
            entry.title, entry.sort_title, entry.search, entry.year = (
                draft.title,
                sort_title(draft.title),
                draft.title.casefold(),
                draft.year,
            )


def put_facts(db: Session, facts: Iterable[tuple[int, str, Mapping[str, Any]]], *, only_new: bool = False) -> None:
    """Record values: entry, origin, field → value. A locked value stays as it is; with `only_new` every known one."""
    rows = [
        {"entry_id": entry_id, "field": name, "origin": origin, "value": {"v": value}}
        for entry_id, origin, values in facts
        for name, value in values.items()
        if value not in (None, "", [])
    ]
    unique = {(row["entry_id"], row["field"], row["origin"]): row for row in rows}
    chosen = list(unique.values())
    for start in range(0, len(chosen), FACTS_AT_ONCE):
        batch = chosen[start : start + FACTS_AT_ONCE]
        db.execute(
            _PUT_NEW_FACTS if only_new else _PUT_FACTS,
            {"told": as_json(batch), "at": now()},
        )


FACTS_AT_ONCE = 5000
_TOLD_FACTS = """
    insert into fact as known (entry_id, field, origin, value, at, locked)
    select entry_id, field, origin, value, cast(:at as timestamptz), false
    from jsonb_to_recordset(cast(:told as jsonb)) as told (entry_id integer, field text, origin text, value jsonb)
    on conflict (entry_id, field, origin)
    """
_PUT_NEW_FACTS = text(_TOLD_FACTS + "do nothing")
_PUT_FACTS = text(
    _TOLD_FACTS
    + """
    do update set value = excluded.value, at = excluded.at
    where not known.locked and known.value <> excluded.value
    """
)


def values_of(
    db: Session, entry_ids: Sequence[int], *, fields: Sequence[str] | None = None
) -> dict[int, dict[str, list[Value]]]:
    """All values of entries, or those of some fields: entry → field → values of all origins."""
    found: dict[int, dict[str, list[Value]]] = defaultdict(lambda: defaultdict(list))
    query = select(Fact).where(among(Fact.entry_id, entry_ids))
    for fact in db.scalars(query if fields is None else query.where(Fact.field.in_(fields))):
        found[fact.entry_id][fact.field].append(Value(fact.value.get("v"), fact.origin, fact.at, fact.locked))
    return found


def rankings(db: Session) -> dict[int, Ranking]:
    """The order in which each library believes origins, by the library's id."""
    return {
        library.id: Ranking(tuple(map(str, library.sources)), frozenset(map(str, library.own_first)))
        for library in db.scalars(select(Library))
    }


def refresh_shown(db: Session, entry_ids: Sequence[int]) -> None:
    """Set title, year and search words of entries to the values that rank highest.

    Where a title or a year is another now, tidy names are: the files of such an entry and of what lies below are due to be
    checked.
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


def entries_to_match(db: Session, library_id: int, *, again: bool = False) -> list[Entry]:
    """Films, series and albums that no source was asked about, or whose answer a person has not decided."""
    states = ("unseen", "none", "waiting") if again else ("unseen",)
    query = select(Entry).where(
        Entry.library_id == library_id,
        Entry.kind.in_(("movie", "series", "album")),
        Entry.state.in_(states),
        Entry.decided_by.is_distinct_from("hand"),
    )
    return list(db.scalars(query.order_by(Entry.sort_title, Entry.id)))


def forget_candidates(db: Session, entry_ids: Sequence[int]) -> None:
    """Remove what was proposed before."""
    db.execute(delete(Candidate).where(among(Candidate.entry_id, entry_ids)))


def save_candidates(db: Session, rows: Sequence[dict[str, Any]]) -> None:
    """Record candidates."""
    if rows:
        db.execute(insert(Candidate).on_conflict_do_nothing(), list(rows))


def snapshot(db: Session, entry: Entry) -> dict[str, Any]:
    """The state of an entry and of what lies below it, for taking a decision back."""
    return {
        "state": entry.state,
        "decided_by": entry.decided_by,
        "source_id": entry.source_id,
        "external_id": entry.external_id,
        "score": entry.score,
        "note": entry.note,
    }


def restore(db: Session, decision: Decision) -> Entry | None:
    """Take a decision back: the entry stands as before, the facts of its source are gone."""
    entry = db.get(Entry, decision.entry_id)
    if entry is None:
        return None
    family = forget_sources(db, entry.id)
    for name, value in decision.before.items():
        setattr(entry, name, value)
    decision.undone_at = now()
    db.flush()
    refresh_shown(db, [entry.id, *family])
    note_names(db, [entry.id])
    return entry


def forget_sources(db: Session, entry_id: int) -> list[int]:
    """Forget what sources said of an entry and of what lies below it; returns the ids of the latter."""
    family = descendants(db, entry_id)
    concerned = [entry_id, *family]
    db.execute(delete(Fact).where(among(Fact.entry_id, concerned), Fact.origin.startswith("source:"), ~Fact.locked))
    db.execute(delete(Artwork).where(among(Artwork.entry_id, concerned), Artwork.origin.startswith("source:")))
    db.execute(update(Entry).where(among(Entry.id, family)).values(external_id=None, source_id=None))
    return family


_BELOW = text(
    """
    with recursive below as (
        select id from entry where parent_id = :above
        union all
        select entry.id from entry join below on entry.parent_id = below.id
    )
    select id from below
    """
)


def descendants(db: Session, entry_id: int) -> list[int]:
    """Ids of everything below an entry."""
    return list(db.scalars(_BELOW, {"above": entry_id}))


def add_artwork(db: Session, entry_id: int, role: str, origin: str, picture: Thumbnail, *, place: int = 0) -> int:
    """Record a picture of an entry, in the place of one of the same role, origin and place; returns its id."""
    kept = {"digest": picture.digest, "width": picture.width, "height": picture.height, "blur": picture.blur}
    statement = insert(Artwork).values(entry_id=entry_id, role=role, origin=origin, place=place, **kept)
    return db.execute(
        statement.on_conflict_do_update(index_elements=["entry_id", "origin", "role", "place"], set_=kept).returning(
            Artwork.id
        )
    ).scalar_one()


FIELDS_BY_HAND: dict[str, type] = {
    "title": str,
    "original_title": str,
    "year": int,
    "date": str,
    "plot": str,
    "tagline": str,
    "genres": list,
    "directors": list,
    "cast": list,
    "artist": str,
    "rating": str,
    "set": str,
    "keywords": list,
    "people": list,
    "lyrics": str,
}
"""Fields that a person may write, and what they hold."""


def write_by_hand(db: Session, entry: Entry, field: str, value: Any, *, by: str) -> None:
    """A person's word for a field: it is shown, locked, and never undone by what is fetched. None takes it back.

    Raises :class:`IndiceError` for a field that cannot be written, or a value that it cannot hold.
    """
    wanted = FIELDS_BY_HAND.get(field)
    if wanted is None:
        raise IndiceError(f"{field} cannot be written by hand.", reference="field-unknown")
    if value is not None and (
        type(value) is not wanted
        or value in ("", [])
        or (wanted is list and not all(isinstance(v, str) for v in value))
    ):
        raise IndiceError(
            "This is no value for the field.",
            hint="A year is a number; several names are parted by commas.",
            reference="value-wrong",
        )
    if field == "year" and value is not None and not 1800 <= value <= 2200:
        raise IndiceError("This is no year.", reference="value-wrong")
    values = values_of(db, [entry.id]).get(entry.id, {}).get(field, [])
    before = best_value(values, field, rankings(db)[entry.library_id])
    db.execute(delete(Fact).where(Fact.entry_id == entry.id, Fact.field == field, Fact.origin == "hand"))
    if value is not None:
        db.add(Fact(entry_id=entry.id, field=field, origin="hand", value={"v": value}, locked=True))
    change = FactChange(
        entry_id=entry.id,
        field=field,
        before={"v": before.value} if before else {},
        after={} if value is None else {"v": value},
        by=by,
    )
    db.add(change)
    db.flush()
    refresh_shown(db, [entry.id])


def write_many_by_hand(db: Session, entries: Sequence[Entry], field: str, value: Any, *, how: str, by: str) -> int:
    """A person's word for a field of many entries; returns how many are changed.

    `set` gives each this value, `add` and `drop` change single values of a list that is shown now. Raises IndiceError as
    :func:`write_by_hand` does, before anything is changed.
    """
    if how != "set" and (FIELDS_BY_HAND.get(field) is not list or not isinstance(value, list) or not value):
        raise IndiceError("Single values can be added to a list only.", reference="value-wrong")
    order = rankings(db)
    facts = values_of(db, [entry.id for entry in entries]) if how != "set" else {}
    changed = 0
    for entry in entries:
        wanted = value
        if how != "set":
            best = best_value(facts.get(entry.id, {}).get(field, []), field, order[entry.library_id])
            held = list(best.value) if best is not None and isinstance(best.value, list) else []
            folded = {str(one).casefold() for one in value}
            wanted = [one for one in held if str(one).casefold() not in folded] + (list(value) if how == "add" else [])
            if wanted == held or (how == "add" and folded <= {str(one).casefold() for one in held}):
                continue
            wanted = wanted or None
        write_by_hand(db, entry, field, wanted, by=by)
        changed += 1
    return changed


def entries_told(db: Session, library_id: int, *, among_ids: Collection[int] | None = None) -> list[int]:
    """Entries of a library, or of some of it, of which a person, a sidecar or a file's inside says something beside its name."""
    query = (
        select(Fact.entry_id)
        .join(Entry)
        .where(
            Entry.library_id == library_id,
            Fact.origin.in_(("hand", "sidecar", "echo", "file", "tags")),
            Entry.kind.not_in(("artist", "album", "track")),
        )
        .distinct()
    )
    return list(db.scalars(query if among_ids is None else query.where(among(Entry.id, among_ids))))


def choose_artwork(db: Session, artwork: Artwork) -> None:
    """From now on this picture stands for its entry in its role."""
    db.execute(
        update(Artwork).where(Artwork.entry_id == artwork.entry_id, Artwork.role == artwork.role).values(chosen=False)
    )
    artwork.chosen = True
    db.flush()


def choose_uploaded(db: Session, entry_id: int, role: str, picture: Thumbnail) -> None:
    """A person's own picture of an entry, beside those that they gave before; it is chosen."""
    own = (Artwork.entry_id == entry_id, Artwork.role == role, Artwork.origin == "hand")
    place = db.scalar(select(func.count()).where(*own)) or 0
    choose_artwork(db, db.get_one(Artwork, add_artwork(db, entry_id, role, "hand", picture, place=place)))


def choose_frame(db: Session, entry_id: int, role: str, picture: Thumbnail, *, place: int) -> None:
    """A frame of its film stands for an entry; `place` is its second."""
    choose_artwork(db, db.get_one(Artwork, add_artwork(db, entry_id, role, "frame", picture, place=place)))


def changes_of(db: Session, entry_id: int, *, limit: int) -> list[FactChange]:
    """What people changed of an entry, the newest first."""
    query = select(FactChange).where(FactChange.entry_id == entry_id)
    return list(db.scalars(query.order_by(FactChange.id.desc()).limit(limit)))


def decided_by_hand(db: Session, *, limit: int) -> list[Entry]:
    """What people decided last and have not taken back."""
    query = select(Entry).join(Decision, Decision.entry_id == Entry.id)
    decided = query.where(Decision.by == "hand", Decision.undone_at.is_(None)).order_by(Decision.id.desc())
    return list(dict.fromkeys(db.scalars(decided.limit(limit))))


def confirm(db: Session, entry: Entry) -> None:
    """A person says that what was taken automatically is right; raises :class:`IndiceError` when nothing was."""
    if entry.state != "settled" or entry.external_id is None:
        raise IndiceError("Nothing was taken here.", hint="Decide first what it is.", reference="entry-unsettled")
    db.add(Decision(entry_id=entry.id, by="hand", external_id=entry.external_id, before=snapshot(db, entry)))
    entry.decided_by = "hand"


def tell_candidates(db: Session, told: Sequence[Mapping[str, Any]]) -> None:
    """More was found out of candidates."""
    if told:
        db.execute(update(Candidate), [dict(row) for row in told])
