"""What a grouping makes of a library: its entries, and which files serve them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any
from uuid import uuid4

from sqlalchemy import delete, select, text, update
from sqlalchemy.orm import Session

from ..core.facts.clean import clean_text
from ..core.grouping import EntryDraft, Grouped
from ..core.titles import better_title, sort_title
from .among import among
from .bulk import insert_rows
from .entries import keys_in, keys_of, keys_of_library
from .facts import put_facts
from .files import NewFile, save_serving
from .followed import follow, who_served
from .gone import put_aside, with_keys
from .joined import hand_over
from .models import Entry, File, Folder, now
from .pictures import drop_ungiven
from .spelled import artists_above, raise_spelling, spell_anew

__all__ = ["Seen", "add_serving", "apply_grouping", "everything"]


def _row(draft: EntryDraft, parent_id: int | None) -> dict[str, Any]:
    return {
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
    }


@dataclass(frozen=True, slots=True)
class Seen:
    """What a grouping saw of a library: nothing else may be removed by it."""

    files: Collection[int]
    entries: Mapping[str, int]
    """Key → id of the entries that these files, and no other, make."""
    spoken_of: Collection[int] = frozenset()
    """Entries that hold other files, too; but all sidecars that speak of them are here."""


def everything(db: Session, library_id: int) -> Seen:
    """All of a library."""
    of_library = select(Folder.id).where(Folder.library_id == library_id)
    files = db.scalars(select(File.id).where(File.folder_id.in_(of_library), File.state != "missing"))
    return Seen(list(files), keys_of_library(db, library_id))


def apply_grouping(db: Session, library_id: int, grouped: Grouped, seen: Seen | None = None) -> int:
    """Record entries and which files serve them; returns how many entries are new.

    With `seen` entries that were seen and are not in the grouping any more are removed; without it things are only
    added: a file that serves an entry goes on to do so, until somebody looks at all that the change reaches.
    """
    if seen is None:
        grouped = _of_unserved(db, grouped)
        known, fresh = _add(db, library_id, grouped)
        _serve(db, grouped, known)
        return fresh
    return _put_right(db, library_id, grouped, seen)


def add_serving(db: Session, library_id: int, folder_id: int, files: Mapping[int, NewFile], grouped: Grouped) -> int:
    """Record files of which none was known, by their numbers, and what a grouping of
    them adds; returns how many entries are new.

    Who looks meanwhile sees all of it or nothing, and no file is written twice.
    """
    known, fresh = _add(db, library_id, grouped)
    serving = {id_: (known[key], serves) for id_, (key, serves) in grouped.serves.items()}
    save_serving(db, folder_id, files, serving)
    return fresh


def _add(db: Session, library_id: int, grouped: Grouped) -> tuple[dict[str, int], int]:
    """The entries of a grouping, and what it says of them; key → id of all of them, and how many are new."""
    known = keys_in(db, library_id, [*grouped.entries, *grouped.elsewhere])
    before = dict(known)
    fresh = _add_new(db, library_id, grouped, known)
    shared = {key: id_ for key, id_ in before.items() if key in grouped.entries and key.startswith("artist:")}
    others = set(shared.values())
    put_facts(db, [fact for fact in _facts(grouped, known) if fact[0] not in others])
    raise_spelling(db, grouped, shared)
    return known, fresh


def _put_right(db: Session, library_id: int, grouped: Grouped, seen: Seen) -> int:
    """Record what a grouping says of all that was seen, and remove what it does not say any more."""
    told = [*grouped.entries, *grouped.elsewhere]
    known = dict(seen.entries) | keys_in(db, library_id, told)
    ids_seen = set(seen.entries.values())
    before = who_served(db, grouped)
    above = artists_above(db, ids_seen)
    followed = follow(db, library_id, before, seen.entries, known)
    if followed is not None:
        ids_seen |= followed
        known = keys_of(db, library_id, ids_seen) | keys_in(db, library_id, told)
    shared = {key: known[key] for key in grouped.entries if key in known and known[key] not in ids_seen}
    fresh = _add_new(db, library_id, grouped, known)
    facts = _facts(grouped, known)
    elsewhere = set(shared.values())
    told_of = set(seen.spoken_of) & elsewhere
    whole = [fact for fact in facts if fact[0] not in elsewhere or (fact[0] in told_of and fact[1] in _OF_SIDECARS)]
    put_facts(db, whole)
    put_facts(db, [fact for fact in facts if fact[0] in elsewhere], only_new=True)
    _serve(db, grouped, known)
    _leave(db, [id_ for id_ in seen.files if id_ not in grouped.serves])
    _drop_unsaid(db, ids_seen, facts, origins=_OF_FILES)
    _drop_unsaid(db, set(seen.spoken_of) - ids_seen, facts, origins=_OF_SIDECARS)
    _update_plain(db, grouped, known, elsewhere)
    gone = [id_ for key, id_ in known.items() if id_ in ids_seen and key not in grouped.entries]
    drop_ungiven(db, ids_seen - set(gone))  # what is put aside comes back with its pictures
    if gone:
        put_aside(db, library_id, gone)
        joined = before.joined()
        hand_over(db, {id_: known[joined[id_]] for id_ in gone if id_ in joined})
        db.execute(delete(Entry).where(among(Entry.id, gone)))
    raise_spelling(db, grouped, shared)
    spell_anew(db, (above | elsewhere) - ids_seen)
    return fresh


def _facts(grouped: Grouped, known: Mapping[str, int]) -> list[tuple[int, str, Mapping[str, Any]]]:
    return [
        (known[draft.key], origin, values)
        for draft in grouped.entries.values()
        for origin, values in draft.facts.items()
        if values and draft.key in known
    ]


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
            rows = [_row(draft, known.get(draft.parent or "")) for draft in new]
            _name_anew(db, library_id, rows)
            fixed = {"library_id": library_id, "state": "unseen", "note": "", "added_at": now()}
            tail = "on conflict (library_id, key) do nothing returning key, id"
            made = insert_rows(db, Entry, rows, fixed=fixed, tail=tail)
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


def _drop_unsaid(
    db: Session,
    entry_ids: Collection[int],
    said: Sequence[tuple[int, str, Mapping[str, Any]]],
    *,
    origins: Sequence[str],
) -> None:
    """What a name, a sidecar or a file's inside said once and says no more is forgotten."""
    of_entry: dict[int, list[tuple[str, str]]] = defaultdict(list)
    for entry_id, origin, values in said:
        of_entry[entry_id] += [(origin, field) for field in values]
    ids = sorted(entry_ids)
    for start in range(0, len(ids), ENTRIES_AT_ONCE):
        here = ids[start : start + ENTRIES_AT_ONCE]
        stays = [(id_, origin, field) for id_ in here for origin, field in of_entry.get(id_, ())]
        told = {name: [row[place] for row in stays] for place, name in enumerate(("entries", "origins", "fields"))}
        db.execute(_DROP_UNSAID, {"ids": here, "of": list(origins), **told})


_OF_SIDECARS = ("sidecar", "echo")
_OF_FILES = ("name", "tags", "file", *_OF_SIDECARS)
ENTRIES_AT_ONCE = 5000
_DROP_UNSAID = text(
    """
    delete from fact where entry_id = any(cast(:ids as integer[])) and not locked
      and origin = any(cast(:of as text[]))
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
