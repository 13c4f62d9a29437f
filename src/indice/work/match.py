"""Matches the films, series and albums of a library against its sources: asks in batches, decides in the core, keeps the reasons."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy import select

from ..core.matching import Candidate, Evidence, Verdict, decide, score
from ..errors import IndiceError
from ..settings import Settings
from ..sources import SourceClient, parse_profile
from ..store import models as rows
from ..store.database import Database
from ..store.entries import (
    descendants,
    entries_to_match,
    forget_candidates,
    put_facts,
    refresh_shown,
    save_candidates,
    snapshot,
)
from ..store.jobs import announce
from ..store.sources import key_of, recall, remember, sources_of
from .artwork import fetch_artwork
from .progress import Progress

__all__ = ["Asked", "adopt", "client_for", "evidence_of", "match_library", "search"]

LIMIT = 8
"""Candidates asked for an entry."""


@dataclass(slots=True)
class Asked:
    """An entry with what is known of it."""

    entry: rows.Entry
    evidence: Evidence


def client_for(database: Database, source: rows.Source) -> SourceClient:
    """A client of a source, with its key and its remembered answers."""
    with database.begin() as db:
        key = key_of(db, source.name)
    return SourceClient(
        parse_profile(source.profile),
        key=key,
        recall=lambda asked: recall(database, source.id, asked),
        remember=lambda asked, answer: remember(database, source.id, asked, answer),
    )


def evidence_of(database: Database, entries: Sequence[rows.Entry], scheme: str) -> list[Asked]:
    """What names, tags and files say of entries."""
    asked: list[Asked] = []
    with database.begin() as db:
        ids = [entry.id for entry in entries]
        facts: dict[int, dict[str, list[Any]]] = defaultdict(lambda: defaultdict(list))
        for fact in db.scalars(
            select(rows.Fact).where(rows.Fact.entry_id.in_(ids), ~rows.Fact.origin.startswith("source:"))
        ):
            facts[fact.entry_id][fact.field].append(fact.value.get("v"))
        minutes: dict[int, float] = {}
        for entry_id, media, serves in db.execute(
            select(rows.File.entry_id, rows.File.media, rows.File.serves)
            .where(rows.File.entry_id.in_(ids), rows.File.kind == "movie")
            .order_by(rows.File.shown)
        ):
            if entry_id is not None and media and media.get("seconds"):
                minutes[entry_id] = (
                    minutes.get(entry_id, 0.0) + media["seconds"] / 60
                    if serves == "part" or entry_id not in minutes
                    else minutes[entry_id]
                )
        for entry in entries:
            own = facts[entry.id]
            titles = tuple(
                dict.fromkeys(str(title) for title in [*own["title"], *own["alt_title"], entry.title] if title)
            )
            identifiers = [value for found in own["ids"] for key, value in found.items() if key == scheme]
            asked.append(
                Asked(
                    entry,
                    Evidence(
                        titles=titles,
                        year=entry.year,
                        minutes=minutes.get(entry.id),
                        artists=tuple(str(name) for name in own["artist"]),
                        ids=frozenset(identifiers),
                        tracks=_children_titles(db, entry) if entry.kind in ("album", "series") else (),
                    ),
                )
            )
    return asked


def _children_titles(db: Any, entry: rows.Entry) -> tuple[str, ...]:
    """Titles of an album's tracks, or those of a series' episodes that names give."""
    below = descendants(db, entry.id)
    wanted = ("track",) if entry.kind == "album" else ("episode",)
    named = select(rows.Fact.entry_id).where(rows.Fact.entry_id.in_(below), rows.Fact.field == "title")
    return tuple(
        db.scalars(
            select(rows.Entry.title)
            .where(rows.Entry.id.in_(named), rows.Entry.kind.in_(wanted))
            .order_by(rows.Entry.disc, rows.Entry.season, rows.Entry.number, rows.Entry.id)
        )
    )


def _query(client: SourceClient, one: Asked, words: str | None = None) -> dict[str, Any]:
    kind = client.profile.kinds[one.entry.kind]
    properties: list[dict[str, Any]] = []
    if one.evidence.year is not None and "date" in kind.fields:
        properties.append({"pid": kind.fields["date"].property, "v": one.evidence.year})
    if one.evidence.artists and "artists" in kind.fields:
        properties.append({"pid": kind.fields["artists"].property, "v": one.evidence.artists[0]})
    asked: dict[str, Any] = {
        "query": words or one.evidence.titles[0],
        "type": kind.type,
        "limit": LIMIT,
        "type_strict": "should",
    }
    return {**asked, "properties": properties} if properties else asked


def _there(name: str, kind: str, identifier: str, fields: dict[str, list[Any]], description: str) -> Evidence:
    """What a source's fields say; of one that was not asked, the year that its description names."""
    titles = [str(value) for key in ("title", "original_title", "aliases") for value in fields.get(key, []) if value]
    year = next((int(str(value)[:4]) for value in fields.get("date", []) if str(value)[:4].isdigit()), None)
    told = re.search(r"(?<![0-9])(?:18|19|20)[0-9]{2}(?![0-9])", description) if not fields else None
    year = int(told.group()) if told else year
    seconds = next((float(value) for value in fields.get("runtime", []) if isinstance(value, int | float)), None)
    below = fields.get("tracks" if kind == "album" else "episodes", [])
    return Evidence(
        titles=tuple(dict.fromkeys([*titles, name])),
        year=year,
        minutes=seconds / 60 if seconds and kind == "movie" else None,
        artists=tuple(_name(value) for value in fields.get("artists", [])),
        tracks=tuple(_name(value) for value in below if _name(value)),
        ids=frozenset({identifier}),
    )


def _name(value: Any) -> str:
    return str(value.get("name", "")) if isinstance(value, dict) else str(value)


def search(
    client: SourceClient, asked: Sequence[Asked], words: str | None = None
) -> list[tuple[Verdict, dict[str, dict[str, list[Any]]]]]:
    """Ask for candidates, fetch the fields of the two likeliest of each, and decide."""
    found = client.reconcile([_query(client, one, words) for one in asked])
    likely: dict[str, list[str]] = defaultdict(list)
    for one, results in zip(asked, found, strict=True):
        ranked = sorted(
            results,
            key=lambda row: (
                -score(one.evidence, Evidence(titles=(str(row.get("name", "")),)))[0],
                -float(row.get("score") or 0),
                str(row["id"]),
            ),
        )
        likely[one.entry.kind] += [str(row["id"]) for row in ranked[: 2 if words is None else 4]]
    fields = {kind: client.extend(ids, kind) for kind, ids in likely.items()}
    verdicts: list[tuple[Verdict, dict[str, dict[str, list[Any]]]]] = []
    for one, results in zip(asked, found, strict=True):
        known = fields.get(one.entry.kind, {})
        candidates = [
            Candidate(
                id=str(row["id"]),
                name=str(row.get("name", "")),
                description=str(row.get("description") or ""),
                asked=str(row["id"]) in known,
                rank=float(row.get("score") or 0),
                evidence=_there(
                    str(row.get("name", "")),
                    one.entry.kind,
                    str(row["id"]),
                    known.get(str(row["id"]), {}),
                    str(row.get("description") or ""),
                ),
            )
            for row in results
        ]
        evidence = one.evidence if one.evidence.ids else replace(one.evidence, ids=frozenset())
        verdicts.append((decide(evidence, candidates), known))
    return verdicts


def match_library(
    database: Database, settings: Settings, library_id: int, progress: Progress, *, again: bool = False
) -> str:
    """Match what waits; sure ones are taken, others wait for a person. A source that is down is left out, and the rest goes on."""
    with database.begin() as db:
        library = db.get_one(rows.Library, library_id)
        sources = sources_of(db, library)
        entries = entries_to_match(db, library_id, again=again)
    if not sources:
        return "No source is set up yet."
    tally = {"settled": 0, "waiting": 0, "none": 0}
    problems: list[str] = []
    for source in sources:
        if not entries:
            break
        with client_for(database, source) as client:
            try:
                left = _match_with(database, settings, client, source, entries, progress, tally)
                _note_problem(database, source.id, "")
                entries = left
            except IndiceError as error:
                problems.append(error.message)
                _note_problem(database, source.id, f"{error.message} {error.hint}".strip())
                progress.log(f"{error.message} {error.hint}".strip(), level="error")
    if problems and not any(tally.values()):
        raise IndiceError(
            problems[0],
            hint="What is not matched yet stays as it is; match again when the source is back.",
            reference="source-down",
        )
    return ", ".join(f"{count} {name}" for name, count in tally.items() if count) or "Nothing waits to be matched."


def _note_problem(database: Database, source_id: int, problem: str) -> None:
    with database.begin() as db:
        source = db.get_one(rows.Source, source_id)
        source.problem, source.checked_at = problem, rows.now()
        announce(db, "sources")


def _match_with(
    database: Database,
    settings: Settings,
    client: SourceClient,
    source: rows.Source,
    entries: list[rows.Entry],
    progress: Progress,
    tally: dict[str, int],
) -> list[rows.Entry]:
    """Ask one source about entries; returns those that it does not know."""
    progress.step(f"Asking {source.name}", len(entries))
    unknown: list[rows.Entry] = []
    pictures: list[tuple[int, str, str]] = []
    usable = [entry for entry in entries if entry.kind in client.profile.kinds]
    for start in range(0, len(usable), 40):
        chunk = usable[start : start + 40]
        asked = evidence_of(database, chunk, client.profile.scheme)
        verdicts = search(client, asked)
        taken: list[tuple[int, str]] = []
        with database.begin() as db:
            forget_candidates(db, [entry.id for entry in chunk])
            for one, (verdict, fields) in zip(asked, verdicts, strict=True):
                entry = db.get_one(rows.Entry, one.entry.id)
                if entry.decided_by == "hand":
                    continue
                tally[verdict.state] += 1
                _record(db, entry, source.id, verdict, fields)
                if verdict.state == "settled":
                    taken.append((entry.id, verdict.ranked[0][0].id))
                elif verdict.state == "none":
                    unknown.append(entry)
            announce(db, "matches")
        for entry_id, external_id in taken:
            pictures += adopt(database, client, source, entry_id, external_id, by="automatic")
        progress.advance(len(chunk), chunk[-1].title)
    progress.changed("catalog")
    fetch_artwork(database, settings, client, pictures, progress)
    return [*unknown, *(entry for entry in entries if entry.kind not in client.profile.kinds)]


def _record(
    db: Any, entry: rows.Entry, source_id: int, verdict: Verdict, fields: dict[str, dict[str, list[Any]]]
) -> None:
    entry.state = "waiting" if verdict.state == "settled" else verdict.state
    entry.note = verdict.note
    entry.score = verdict.ranked[0][1] if verdict.ranked else None
    save_candidates(
        db,
        [
            {
                "entry_id": entry.id,
                "source_id": source_id,
                "external_id": candidate.id,
                "name": candidate.name,
                "description": candidate.description,
                "score": value,
                "parts": [
                    {
                        "name": p.name,
                        "likeness": round(p.likeness, 3),
                        "weight": p.weight,
                        "here": p.here,
                        "there": p.there,
                        "veto": p.veto,
                    }
                    for p in parts
                ],
                "fields": fields.get(candidate.id, {}),
            }
            for candidate, value, parts in verdict.ranked[:LIMIT]
        ],
    )


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


def _facts(fields: dict[str, list[Any]]) -> dict[str, Any]:
    facts: dict[str, Any] = {}
    for name, values in fields.items():
        plain = [value for value in values if value not in (None, "")]
        if plain and name not in ("artwork", "backdrop", "episodes", "tracks"):
            facts[name] = (
                _name(plain[0])
                if name in _SINGLE and isinstance(plain[0], dict)
                else plain[0]
                if name in _SINGLE
                else [_name(v) for v in plain]
            )
    return facts


def adopt(
    database: Database, client: SourceClient, source: rows.Source, entry_id: int, external_id: str, *, by: str
) -> list[tuple[int, str, str]]:
    """Take a candidate: its facts, and those of its episodes or tracks. Returns pictures to fetch: entry, role, address."""
    with database.begin() as db:
        entry = db.get_one(rows.Entry, entry_id)
        kind = entry.kind
    fields = client.extend([external_id], kind).get(external_id, {})
    below_kind = {"series": "episode", "album": "track"}.get(kind)
    references = [
        str(cell["id"])
        for cell in fields.get("episodes" if kind == "series" else "tracks", [])
        if isinstance(cell, dict) and cell.get("id")
    ]
    below = client.extend(references, below_kind) if below_kind and references else {}
    origin = f"source:{source.name}"
    with database.begin() as db:
        entry = db.get_one(rows.Entry, entry_id)
        decision = rows.Decision(entry_id=entry_id, by=by, external_id=external_id, before=snapshot(db, entry))
        entry.state, entry.decided_by, entry.source_id, entry.external_id = "settled", by, source.id, external_id
        chosen = db.scalars(
            select(rows.Candidate).where(rows.Candidate.entry_id == entry_id, rows.Candidate.external_id == external_id)
        ).first()
        entry.score = chosen.score if chosen else entry.score
        db.add(decision)
        put_facts(db, [(entry_id, origin, _facts(fields))])
        family = _assign(db, entry, below, origin)
        if kind == "series":
            put_facts(
                db,
                [
                    (
                        entry_id,
                        origin,
                        {
                            "expected": [
                                [int(f["season"][0]), int(f["number"][0]), str((f.get("title") or [""])[0])]
                                for f in below.values()
                                if f.get("season") and f.get("number")
                            ]
                        },
                    )
                ],
            )
        refresh_shown(db, [entry_id, *family])
        announce(db, "catalog")
    wanted = (
        (name, role) for name, role in (("artwork", "cover" if kind == "album" else "poster"), ("backdrop", "backdrop"))
    )
    return [(entry_id, role, str(fields[name][0])) for name, role in wanted if fields.get(name)]


def _assign(db: Any, entry: rows.Entry, below: dict[str, dict[str, list[Any]]], origin: str) -> list[int]:
    """Give episodes and tracks their own facts: by number, by date, by running number, by title."""
    ids = descendants(db, entry.id)
    children = list(
        db.scalars(select(rows.Entry).where(rows.Entry.id.in_(ids), rows.Entry.kind.in_(("episode", "track"))))
    )
    by_number: dict[tuple[int, int], str] = {}
    by_date: dict[str, str] = {}
    by_running: dict[int, str] = {}
    by_title: dict[str, str] = {}
    for external_id, fields in below.items():
        season = next((int(v) for v in [*fields.get("season", []), *fields.get("disc", [])] if v is not None), 1)
        for value in fields.get("number", []):
            by_number[season, int(value)] = external_id
        for value in fields.get("date", []):
            by_date.setdefault(str(value)[:10], external_id)
        for value in fields.get("absolute", []):
            by_running[int(value)] = external_id
        for value in fields.get("title", []):
            by_title.setdefault(str(value).casefold(), external_id)
    for child in children:
        found = None
        if child.season is None and child.kind == "episode" and child.number is not None:
            found = by_running.get(child.number)
        elif child.number is not None:
            found = by_number.get(
                (
                    child.season if child.kind == "episode" and child.season is not None else child.disc or 1,
                    child.number,
                )
            )
        elif child.moment:
            found = by_date.get(child.moment)
        found = found or by_title.get(child.title.casefold())
        if found is None:
            continue
        child.external_id, child.source_id, child.state = found, entry.source_id, "settled"
        put_facts(db, [(child.id, origin, _facts(below[found]))])
    return [child.id for child in children]
