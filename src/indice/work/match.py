"""Matches the films, series and albums of a library against its sources: asks in batches,
decides in the core, keeps the reasons."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta
from typing import Any

from sqlalchemy import select

from ..core.matching.decide import Candidate, Evidence, Part, Verdict, decide, likeness, score
from ..core.phrase import counted, joined, phrase, term
from ..core.reading.scan import without_accents
from ..errors import IndiceError
from ..settings import Settings
from ..sources.client import SourceClient
from ..sources.profile import parse_profile
from ..store import models as rows
from ..store.aliases import aliases_of
from ..store.among import among
from ..store.database import Database
from ..store.decisions import entries_to_match, forget_candidates, save_candidates
from ..store.entries import descendants
from ..store.jobs import announce
from ..store.sources import key_of, recall, remember, sources_of
from .adopt import BELOW, adopt, first_number, name_of, own_titles, references_of, warm
from .artwork import Offer, fetch_artwork
from .progress import Progress

__all__ = [
    "Answer",
    "Asked",
    "candidate_rows",
    "client_for",
    "evidence_of",
    "libraries_to_ask_again",
    "look_at",
    "match_library",
    "search",
]

_SAYERS = ("hand", "sidecar", "tags", "name", "echo", "file")
"""Who is asked first what a thing is called."""
LIMIT = 8
"""Candidates asked for an entry."""


@dataclass(slots=True)
class Asked:
    """An entry with what is known of it."""

    entry: rows.Entry
    evidence: Evidence


def client_for(
    database: Database, source: rows.Source, *, library: rows.Library | None = None, fresh: bool = False
) -> SourceClient:
    """A client of a source, with its key, its remembered answers, and a library's language and country.

    A `fresh` one remembers only what it asks itself.
    """
    with database.begin() as db:
        key = key_of(db, source.name)
    return SourceClient(
        parse_profile(source.profile),
        key=key,
        language=library.language if library else "",
        country=library.country if library else "",
        recall=None if fresh else lambda asked: recall(database, source.id, asked),
        remember=lambda answers: remember(database, source.id, answers),
    )


def evidence_of(database: Database, entries: Sequence[rows.Entry], scheme: str) -> list[Asked]:
    """What names, tags and files say of entries."""
    asked: list[Asked] = []
    with database.begin() as db:
        ids = [entry.id for entry in entries]
        facts: dict[int, dict[str, list[Any]]] = defaultdict(lambda: defaultdict(list))
        told = db.scalars(
            select(rows.Fact).where(among(rows.Fact.entry_id, ids), ~rows.Fact.origin.startswith("source:"))
        )
        for fact in sorted(
            told, key=lambda fact: (_SAYERS.index(fact.origin) if fact.origin in _SAYERS else 9, fact.id)
        ):
            facts[fact.entry_id][fact.field].append(fact.value.get("v"))
        minutes: dict[int, float] = {}
        for entry_id, media, serves in db.execute(
            select(rows.File.entry_id, rows.File.media, rows.File.serves)
            .where(among(rows.File.entry_id, ids), rows.File.kind == "movie", rows.File.serves != "beside")
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
            titles = tuple(dict.fromkeys(str(title) for title in [*own["title"], *own["alt_title"]] if title)) or (
                entry.title,
            )
            told = next((year for year in own["year"] if isinstance(year, int)), None)
            identifiers = [value for found in own["ids"] for key, value in found.items() if key == scheme]
            asked.append(
                Asked(
                    entry,
                    Evidence(
                        titles=titles,
                        year=told if entry.external_id else entry.year,
                        minutes=minutes.get(entry.id),
                        artists=tuple(str(name) for name in own["artist"]),
                        ids=frozenset(identifiers),
                        **_below(db, entry),
                    ),
                )
            )
    return asked


def _below(db: Any, entry: rows.Entry) -> dict[str, Any]:
    """What lies below an album or a series: tracks with lengths, or numbers of
    episodes and the titles that names give."""
    if entry.kind not in ("album", "series"):
        return {}
    ids = descendants(db, entry.id)
    titles = own_titles(db, ids)
    children = list(
        db.scalars(
            select(rows.Entry)
            .where(among(rows.Entry.id, ids), rows.Entry.kind == ("track" if entry.kind == "album" else "episode"))
            .order_by(rows.Entry.disc, rows.Entry.season, rows.Entry.number, rows.Entry.id)
        )
    )
    if entry.kind == "series":
        numbers = frozenset((c.season, c.number) for c in children if c.season is not None and c.number is not None)
        return {"episodes": numbers, "stories": tuple(titles[c.id] for c in children if c.id in titles)}
    seconds: dict[int, float] = {}
    for child_id, media in db.execute(
        select(rows.File.entry_id, rows.File.media).where(among(rows.File.entry_id, ids))
    ):
        if media and media.get("seconds"):
            seconds.setdefault(child_id, float(media["seconds"]))
    known = [child.id for child in children if child.id in titles]
    return {
        "tracks": tuple(titles[child_id] for child_id in known),
        "seconds": tuple(seconds.get(child_id, 0.0) for child_id in known),
    }


def _query(client: SourceClient, one: Asked, words: str | None = None, *, year: bool = True) -> dict[str, Any]:
    kind = client.profile.kinds[one.entry.kind]
    properties: list[dict[str, Any]] = []
    if year and one.evidence.year is not None and "date" in kind.fields:
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


def _there(
    name: str,
    kind: str,
    identifier: str,
    fields: dict[str, list[Any]],
    description: str,
    children: Mapping[str, dict[str, list[Any]]],
) -> Evidence:
    """What a source's fields say; of one that was not asked, the year that its description names."""
    titles = [str(value) for key in ("title", "original_title", "aliases") for value in fields.get(key, []) if value]
    year = next((int(str(value)[:4]) for value in fields.get("date", []) if str(value)[:4].isdigit()), None)
    told = re.search(r"(?<![0-9])(?:18|19|20)[0-9]{2}(?![0-9])", description) if not fields else None
    year = int(told.group()) if told else year
    seconds = next((float(value) for value in fields.get("runtime", []) if isinstance(value, int | float)), None)
    below = [cell for cell in fields.get("tracks" if kind == "album" else "episodes", []) if name_of(cell)]
    known = [children.get(str(cell.get("id")), {}) if isinstance(cell, dict) else {} for cell in below]
    lengths = [next((float(v) for v in f.get("runtime", []) if isinstance(v, int | float)), 0.0) for f in known]
    numbers = frozenset(
        (season, number)
        for f in known
        if (season := first_number(f, "season")) is not None and (number := first_number(f, "number")) is not None
    )
    return Evidence(
        titles=tuple(dict.fromkeys([*titles, name])),
        year=year,
        minutes=seconds / 60 if seconds and kind == "movie" else None,
        artists=tuple(name_of(value) for value in fields.get("artists", [])),
        tracks=tuple(map(name_of, below)) if kind == "album" else (),
        seconds=tuple(lengths) if kind == "album" and any(lengths) else (),
        stories=tuple(map(name_of, below)) if kind == "series" else (),
        episodes=numbers if kind == "series" else frozenset(),
        ids=frozenset({identifier}),
    )


@dataclass(slots=True)
class _Question:
    """An entry on its way to a verdict."""

    asked: Asked
    results: dict[str, dict[str, Any]]
    """What the source brought up that may be of the entry's type, by id."""
    apart: dict[str, dict[str, Any]] = field(default_factory=dict)
    """What it brought up of another type: no candidate and no rival, shown apart."""
    extended: list[str] = field(default_factory=list)
    verdict: Verdict = field(default_factory=lambda: Verdict("none"))


_Fields = dict[str, dict[str, list[Any]]]


MANY = 40
"""Candidates asked for where only a part of the title can be asked."""
FOUND = 0.8
"""A candidate whose title is that like is one that was looked for."""
MOST_RIVALS = 3
"""So many candidates beside the first are looked at for what would wait."""


@dataclass(frozen=True, slots=True)
class Answer:
    """What a source says to one entry."""

    verdict: Verdict
    fields: _Fields
    """Fields of the candidates that were looked at, by id."""
    apart: tuple[dict[str, Any], ...] = ()
    """What it brought up of another type: shown, and neither candidate nor rival."""


def search(client: SourceClient, asked: Sequence[Asked], words: str | None = None) -> list[Answer]:
    """Ask for candidates and decide, with as few questions as will do.

    First one query for each and the fields of the candidate it leans to. What would wait then gets a second query with
    other words, the fields of one rival, and the episodes or tracks of both. A person's own words get four candidates.
    """
    found = client.reconcile([_query(client, one, words) for one in asked])
    questions = [_Question(one, {}) for one in asked]
    for question, results in zip(questions, found, strict=True):
        _take_in(client, question, results)
    for question in questions:
        for identifier in question.asked.evidence.ids:
            question.results.setdefault(identifier, {"id": identifier, "name": ""})
    fields: dict[str, _Fields] = defaultdict(dict)
    children: dict[str, _Fields] = defaultdict(dict)
    for _ in range(1 if words is None else 4):
        _extend_next(client, questions, fields)
    _judge(questions, fields, children)
    if words is None:
        _ask_again(client, [q for q in questions if q.verdict.state != "settled"])
        for _ in range(MOST_RIVALS):
            rivalled = [q for q in questions if _needs_rival(q)]
            if not rivalled:
                break
            _extend_next(client, rivalled, fields)
            _judge(questions, fields, children)
        doubtful = [q for q in questions if q.asked.entry.kind == "album" or q.verdict.state != "settled"]
        _fetch_children(client, doubtful, fields, children)
        _judge(questions, fields, children)
    return [
        Answer(question.verdict, fields[question.asked.entry.kind], tuple(question.apart.values())[:LIMIT])
        for question in questions
    ]


def look_at(client: SourceClient, one: Asked, seen: Sequence[rows.Candidate]) -> list[dict[str, Any]]:
    """Fields and scores of candidates of which only the name is known, fetched because a person looks at them."""
    kind = one.entry.kind
    fields = client.extend([candidate.external_id for candidate in seen], kind)
    below: _Fields = {}
    if kind in BELOW and BELOW[kind][1] in client.profile.kinds:
        wanted = [key for found in fields.values() for key in references_of(found, kind)]
        below = client.extend(list(dict.fromkeys(wanted)), BELOW[kind][1]) if wanted else {}
    told: list[dict[str, Any]] = []
    for candidate in seen:
        key, known = candidate.external_id, fields.get(candidate.external_id, {})
        evidence = _there(candidate.name, kind, key, known, candidate.description, below)
        value, parts = score(one.evidence, evidence)
        known = known or {"title": [candidate.name]}  # it was asked, and says nothing more
        told.append({"id": candidate.id, "fields": known, "score": value, "parts": _parts_kept(parts)})
    return told


def _types_of(row: dict[str, Any]) -> set[str]:
    """Ids and names of a result's types, folded."""
    found: set[str] = set()
    for one in row.get("type") or ():
        parts = (one.get("id"), one.get("name")) if isinstance(one, dict) else (one,)
        found |= {str(part).casefold() for part in parts if part}
    return found


def _is_of_type(client: SourceClient, kind: str, row: dict[str, Any]) -> bool | None:
    """Whether a result is of the entry's type; None where its types say nothing that the profile knows."""
    types = _types_of(row)
    own = client.profile.kinds[kind].type.casefold()
    if own in types or (not own and not types):
        return True
    others = {mapped.type.casefold() for name, mapped in client.profile.kinds.items() if name != kind and mapped.type}
    return False if types & others else None


def _take_in(client: SourceClient, question: _Question, results: Sequence[dict[str, Any]]) -> None:
    """Results of the entry's type, or of none that is known, are candidates; those of another are kept apart."""
    for row in results:
        of_type = _is_of_type(client, question.asked.entry.kind, row)
        target = question.apart if of_type is False else question.results
        target.setdefault(str(row["id"]), {**row, "of_type": of_type is True})


def _promise(question: _Question, row: dict[str, Any]) -> tuple[float, float, str]:
    """How much a candidate that was not asked promises: its name, or the source's
    own word for it, which knows all names."""
    best = max((float(r.get("score") or 0) for r in question.results.values()), default=0.0)
    own = float(row.get("score") or 0)
    told = re.search(r"(?<![0-9])(?:18|19|20)[0-9]{2}(?![0-9])", str(row.get("description") or ""))
    evidence = Evidence(titles=(str(row.get("name", "")),), year=int(told.group()) if told else None)
    here = replace(question.asked.evidence, artists=(), tracks=(), stories=(), episodes=frozenset(), minutes=None)
    likely = score(here if not here.ids else replace(here, ids=frozenset()), evidence)[0]
    if str(row["id"]) in question.asked.evidence.ids:
        likely = 2.0
    return max(likely, 0.93 * own / best if best > 0 else 0.0), own, str(row["id"])


def _extend_next(client: SourceClient, questions: Sequence[_Question], fields: dict[str, _Fields]) -> None:
    """Fetch the fields of the likeliest candidate of each that was not asked yet."""
    wanted: dict[str, list[str]] = defaultdict(list)
    for question in questions:
        rest = [row for key, row in question.results.items() if key not in question.extended]
        if rest:
            chosen = max(rest, key=lambda row: (*_promise(question, row)[:2], str(row["id"])))
            question.extended.append(str(chosen["id"]))
            wanted[question.asked.entry.kind].append(str(chosen["id"]))
    for kind, ids in wanted.items():
        fields[kind] |= client.extend([key for key in dict.fromkeys(ids) if key not in fields[kind]], kind)


def _needs_rival(question: _Question) -> bool:
    """What would wait; and albums of which the source knows another issue, since the track list decides."""
    if question.verdict.state != "settled":
        return True
    if question.asked.entry.kind != "album":
        return False
    best = question.verdict.ranked[0][0]
    return any(
        key not in question.extended and likeness(str(row.get("name", "")), best.name) > 0.9
        for key, row in question.results.items()
    )


def _ask_again(client: SourceClient, questions: Sequence[_Question]) -> None:
    """A second query, with other words and without the year; without the year alone where there are no others."""
    worded: list[tuple[_Question, dict[str, Any]]] = []
    for question in questions:
        evidence = question.asked.evidence
        if (known := _words_it_knows(question)) is not None:
            worded.append((question, {**_query(client, question.asked, known), "limit": MANY}))
        elif words := _other_words(evidence) or _plain_words(evidence):
            worded.append((question, _query(client, question.asked, words, year=False)))
    if not worded:
        return
    again = client.reconcile([query for _, query in worded])
    for (question, query), results in zip(worded, again, strict=True):
        title = question.asked.evidence.titles[0]
        near = [row for row in results if likeness(title, str(row.get("name", ""))) >= FOUND]
        _take_in(client, question, near if query["limit"] == MANY else results)


def _words_it_knows(question: _Question) -> str | None:
    """Of a title that nothing came up for: those of its words that the source
    knows from other titles; None where one did.

    A misspelt word finds nothing and says nothing; the others, with the year, may still bring the right one up.
    """
    title = question.asked.evidence.titles[0]
    names = [str(row.get("name", "")) for row in question.results.values()]
    if any(word.isdigit() or word.upper() in _COUNTED for word in title.split()):
        return None  # a numeral is asked the other way first
    if any(likeness(title, name) >= FOUND for name in names):
        return None
    heard = {word for name in names for word in without_accents(name).split()}
    known = [word for word in without_accents(title).split() if word in heard]
    return " ".join(known) if known and len(known) < len(without_accents(title).split()) else None


def _plain_words(evidence: Evidence) -> str | None:
    """The title once more, when something was asked beside it; an album's without what brackets say of its issue."""
    bare = _BRACKETED.sub("", evidence.titles[0]).strip()
    if bare and bare != evidence.titles[0]:
        return bare
    return evidence.titles[0] if evidence.year is not None or evidence.artists else None


_BRACKETED = re.compile(r"\s*[(\[][^()\[\]]*[)\]]")
_PAIRS = (("II", "2"), ("III", "3"), ("IV", "4"), ("V", "5"), ("VI", "6"), ("VII", "7"), ("VIII", "8"), ("IX", "9"))
_WORDS = ("One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve")
_COUNTED = {word.upper(): str(number) for number, word in enumerate(_WORDS, 1)}
_NUMERALS = {**dict(_PAIRS), **{number: roman for roman, number in _PAIRS}}
"""A numeral at the end of a title → its other form."""
_SPELT = {number: word.title() for word, number in _COUNTED.items()}


def _other_words(evidence: Evidence) -> str | None:
    """Another form of the title: a second title, its numeral written otherwise, the part before
    a colon or a dash, or its bare words."""
    first = evidence.titles[0]
    for title in evidence.titles[1:]:
        if without_accents(title) != without_accents(first):
            return title
    stem, _, sign = first.rpartition(" ")
    if stem and sign.upper() in _NUMERALS:
        return f"{stem} {_NUMERALS[sign.upper()]}"
    counted = [_COUNTED.get(word.upper()) or _SPELT.get(word, word) for word in first.split()]
    if counted != first.split():
        return " ".join(counted)
    head = re.split(r"\s*[:–]\s+|\s+-\s+", first)[0]
    if len(head) > 3 and head != first:
        return head
    bare = without_accents(first)
    return bare if bare and bare != first.casefold() else None


def _fetch_children(
    client: SourceClient, questions: Sequence[_Question], fields: dict[str, _Fields], children: dict[str, _Fields]
) -> None:
    """Episodes or tracks of the candidates that were asked and are like enough to matter."""
    wanted: dict[str, list[str]] = defaultdict(list)
    for question in questions:
        kind = question.asked.entry.kind
        if kind not in BELOW or BELOW[kind][1] not in client.profile.kinds:
            continue
        near = {candidate.id for candidate, _, parts in question.verdict.ranked if parts[0].likeness > 0.85}
        for key in question.extended:
            if key in near:
                wanted[BELOW[kind][1]] += references_of(fields[kind].get(key, {}), kind)
    for kind, ids in wanted.items():
        fresh = [key for key in dict.fromkeys(ids) if key not in children[kind]]
        children[kind] |= client.extend(fresh, kind) if fresh else {}


def _judge(questions: Sequence[_Question], fields: dict[str, _Fields], children: dict[str, _Fields]) -> None:
    for question in questions:
        kind = question.asked.entry.kind
        known = fields[kind]
        below = children[BELOW[kind][1]] if kind in BELOW else {}
        best = max((float(row.get("score") or 0) for row in question.results.values()), default=0.0)
        candidates = [
            Candidate(
                id=key,
                name=str(row.get("name") or next(filter(None, known.get(key, {}).get("title", [])), "")),
                description=str(row.get("description") or ""),
                asked=key in known,
                rank=float(row.get("score") or 0) / best if best else 0.0,
                is_of_kind=bool(row.get("of_type", True)) or _says_more_than_its_title(known.get(key, {})),
                evidence=_there(
                    str(row.get("name", "")), kind, key, known.get(key, {}), str(row.get("description") or ""), below
                ),
            )
            for key, row in question.results.items()
            if row.get("name")
            or any(filter(None, known.get(key, {}).get("title", [])))  # an id that nobody knows is no candidate
        ]
        question.verdict = decide(question.asked.evidence, candidates)


def _says_more_than_its_title(fields: Mapping[str, list[Any]]) -> bool:
    """Whether a thing of a type that the profile does not know has what a thing of the entry's type has."""
    return any(any(value not in (None, "") for value in values) for name, values in fields.items() if name != "title")


def match_library(
    database: Database, settings: Settings, library_id: int, progress: Progress, *, again: bool = False
) -> tuple[str, bool]:
    """Match what waits; sure ones are taken, others wait for a person. A source that
    is down is left out, and the rest goes on.

    Returns what came of it, in words, and whether anything was taken, so that names may have better facts now.
    """
    with database.begin() as db:
        library = db.get_one(rows.Library, library_id)
        sources = sources_of(db, library)
        entries = entries_to_match(db, library_id, again=again)
    if not sources:
        return phrase("No source is set up yet."), False
    tally = {"settled": 0, "waiting": 0, "none": 0}
    problems: list[str] = []
    entries = _as_taught(database, settings, library, entries, progress, tally)
    for source in sources:
        pictures = _missing_pictures(database, library_id, source)
        if not entries and not pictures:
            continue
        with client_for(database, source, library=library) as client:
            try:
                _match_with(database, settings, client, source, entries, pictures, progress, tally)
                _note_problem(database, source.id, "")
                for name, count in client.left.most_common(20):
                    progress.log(
                        phrase(
                            "{name}: {n} values of {field} are nothing that it can hold; they were left out.",
                            name=source.name,
                            n=count,
                            field=name,
                        ),
                        level="warning",
                    )
            except IndiceError as error:
                problems.append(error.message)
                said = joined(error.message, error.hint)
                _note_problem(database, source.id, said)
                progress.log(said, level="error")
        entries = _still_unknown(database, entries)
    if problems:
        _leave_for_later(database, entries, tally)
    if problems and not any(tally.values()):
        raise IndiceError(
            problems[0],
            hint=phrase("What is not matched yet stays as it is, and is asked again when the source is back."),
            reference="source-down",
        )
    said = counted(_TALLY, tally) or phrase("Nothing waits to be matched.")
    return said, tally["settled"] > 0


def _still_unknown(database: Database, entries: Sequence[rows.Entry]) -> list[rows.Entry]:
    """Those of these entries that no source has known so far."""
    with database.begin() as db:
        ids = [entry.id for entry in entries]
        query = select(rows.Entry).where(among(rows.Entry.id, ids), rows.Entry.state.in_(("unseen", "none")))
        return list(db.scalars(query.order_by(rows.Entry.sort_title, rows.Entry.id)))


_TALLY = {"settled": term("{n} settled"), "waiting": term("{n} waiting"), "none": term("{n} none")}


def _leave_for_later(database: Database, entries: Sequence[rows.Entry], tally: dict[str, int]) -> None:
    """A source was down: what the others do not know is not unknown for good."""
    with database.begin() as db:
        for entry in db.scalars(select(rows.Entry).where(among(rows.Entry.id, (entry.id for entry in entries)))):
            if entry.state == "none" and entry.decided_by != "hand":
                entry.state, entry.note = "unseen", phrase("A source did not answer; it is asked again.")
                tally["none"] -= 1


ASK_AGAIN_AFTER = timedelta(minutes=5)


def libraries_to_ask_again(database: Database) -> list[int]:
    """Libraries in which something waits for a source that was down and answers
    again; each is tried every few minutes."""
    with database.begin() as db:
        late = rows.now() - ASK_AGAIN_AFTER
        down = list(db.scalars(select(rows.Source).where(rows.Source.problem != "", rows.Source.checked_at < late)))
    back = False
    for source in down:
        problem = ""
        try:
            with client_for(database, source) as client:
                client.manifest()
            back = True
        except IndiceError as error:
            problem = f"{error.message} {error.hint}".strip()
        _note_problem(database, source.id, problem)
    if not back:
        return []
    with database.begin() as db:
        kinds = ("movie", "series", "album")
        query = select(rows.Entry.library_id).where(rows.Entry.state == "unseen", rows.Entry.kind.in_(kinds)).distinct()
        return list(db.scalars(query.order_by(rows.Entry.library_id)))


def _as_taught(
    database: Database,
    settings: Settings,
    library: rows.Library,
    entries: list[rows.Entry],
    progress: Progress,
    tally: dict[str, int],
) -> list[rows.Entry]:
    """Entries whose names a person has explained are what that person said; returns the others."""
    with database.begin() as db:
        taught = aliases_of(db, entries)
        sources = {source.id: source for source in db.scalars(select(rows.Source))}
        for entry_id, alias in taught.items():
            if alias.external_id is None:
                entry = db.get_one(rows.Entry, entry_id)
                entry.state, entry.decided_by, entry.note = "none", "hand", phrase("You said that no source knows it.")
                tally["none"] += 1
    unmatched: set[int] = set()
    for source_id in dict.fromkeys(alias.source_id for alias in taught.values() if alias.source_id):
        mine = [(entry_id, str(a.external_id)) for entry_id, a in taught.items() if a.source_id == source_id]
        source = sources[source_id]
        with client_for(database, source, library=library) as client:
            try:
                offers = [
                    offer
                    for entry_id, external_id in mine
                    for offer in adopt(database, client, source, entry_id, external_id, by="hand")
                ]
                tally["settled"] += len(mine)
                with database.begin() as db:
                    for entry_id, _ in mine:
                        db.get_one(rows.Entry, entry_id).note = phrase(
                            "You said that this name means {title}.", title=taught[entry_id].title
                        )
                fetch_artwork(database, settings, client, offers, progress)
            except IndiceError as error:
                unmatched |= {entry_id for entry_id, _ in mine}
                progress.log(f"{error.message} {error.hint}".strip(), level="error")
    return [entry for entry in entries if entry.id not in taught or entry.id in unmatched]


def _missing_pictures(database: Database, library_id: int, source: rows.Source) -> list[Offer]:
    """First pictures that a source named of settled entries and that are not here: fetching them was broken off."""
    origin = f"source:{source.name}"
    with database.begin() as db:
        here = {
            (entry_id, role)
            for entry_id, role in db.execute(
                select(rows.Artwork.entry_id, rows.Artwork.role).where(rows.Artwork.origin == origin)
            )
        }
        told = db.execute(
            select(rows.Fact.entry_id, rows.Fact.value)
            .join(rows.Entry, rows.Entry.id == rows.Fact.entry_id)
            .where(
                rows.Entry.library_id == library_id,
                rows.Entry.kind.in_(("movie", "series", "album", "artist")),
                rows.Fact.origin == origin,
                rows.Fact.field == "pictures",
            )
            .order_by(rows.Fact.entry_id)
        ).all()
    return [
        Offer(entry_id, role, addresses[0])
        for entry_id, value in told
        for role, addresses in value["v"].items()
        if (entry_id, role) not in here
    ]


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
    pictures: list[Offer],
    progress: Progress,
    tally: dict[str, int],
) -> None:
    """Ask one source about entries, and fetch these pictures and those of what is taken."""
    progress.step(phrase("Asking {name}", name=source.name), len(entries))
    usable = [entry for entry in entries if entry.kind in client.profile.kinds]
    for start in range(0, len(usable), 40):
        chunk = usable[start : start + 40]
        asked = evidence_of(database, chunk, client.profile.scheme)
        verdicts = search(client, asked)
        taken: list[tuple[int, str]] = []
        with database.begin() as db:
            forget_candidates(db, [entry.id for entry in chunk])
            for one, answer in zip(asked, verdicts, strict=True):
                entry = db.get_one(rows.Entry, one.entry.id)
                if entry.decided_by == "hand":
                    continue
                verdict = answer.verdict
                tally[verdict.state] += 1
                if entry.state == "none":  # another source did not know it
                    tally["none"] -= 1
                _record(db, entry, source.id, answer)
                if verdict.state == "settled":
                    taken.append((entry.id, verdict.ranked[0][0].id))
            announce(db, "matches")
        kinds = {entry.id: entry.kind for entry in chunk}
        known = {entry.id: answer.fields for entry, answer in zip(chunk, verdicts, strict=True)}
        warm(client, [(kinds[id_], external_id, known[id_].get(external_id, {})) for id_, external_id in taken])
        for entry_id, external_id in taken:
            pictures += adopt(database, client, source, entry_id, external_id, by="automatic")
        progress.advance(len(chunk), chunk[-1].title)
    progress.changed("catalog")
    fetch_artwork(database, settings, client, pictures, progress)


def _record(db: Any, entry: rows.Entry, source_id: int, answer: Answer) -> None:
    verdict = answer.verdict
    if (
        verdict.state != "settled"
    ):  # what is sure stays unseen until it is adopted: then nothing is lost by a kill between
        entry.state = verdict.state
    entry.note = verdict.note
    entry.score = verdict.ranked[0][1] if verdict.ranked else None
    save_candidates(db, candidate_rows(entry.id, source_id, answer))


def candidate_rows(entry_id: int, source_id: int, answer: Answer) -> list[dict[str, Any]]:
    """What a source answered as it is kept: candidates, best first, with the
    parts of their scores, and what is apart."""
    common = {"entry_id": entry_id, "source_id": source_id}
    ranked = [
        {
            **common,
            "external_id": candidate.id,
            "name": candidate.name,
            "description": candidate.description,
            "score": value,
            "parts": _parts_kept(parts),
            "fields": answer.fields.get(candidate.id, {}),
            "apart": "",
        }
        for candidate, value, parts in answer.verdict.ranked[:LIMIT]
    ]
    apart = [
        {
            **common,
            "external_id": str(row["id"]),
            "name": str(row.get("name") or row["id"]),
            "description": str(row.get("description") or ""),
            "score": 0.0,
            "parts": [],
            "fields": {},
            "apart": _type_shown(row),
        }
        for row in answer.apart
    ]
    return [*ranked, *apart]


def _type_shown(row: Mapping[str, Any]) -> str:
    """The name of a result's first type, for people."""
    for one in row.get("type") or ():
        shown = str(one.get("name") or one.get("id") or "") if isinstance(one, dict) else str(one)
        if shown:
            return shown
    return "?"


def _parts_kept(parts: Sequence[Part]) -> list[dict[str, Any]]:
    return [
        {
            "name": p.name,
            "likeness": round(p.likeness, 3),
            "weight": p.weight,
            "here": p.here,
            "there": p.there,
            "veto": p.veto,
        }
        for p in parts
    ]
