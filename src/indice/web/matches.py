"""Matches: the decisions that wait; take one, take none, search with other words, take it back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from apiflask import APIBlueprint
from flask import Response

from ..core.facts import best_value
from ..errors import IndiceError
from ..store.catalog import (
    apart_of,
    artwork_of,
    candidates_of,
    files_of,
    least_certain,
    waiting_counts,
    waiting_entries,
)
from ..store.conventions import conventions_by_folder
from ..store.database import Database
from ..store.decisions import confirm as confirm_entry
from ..store.decisions import decided_by_hand, forget_candidates, save_candidates, tell_candidates
from ..store.entries import descendants
from ..store.facts import values_of
from ..store.found import find, get
from ..store.jobs import announce
from ..store.libraries import library_names
from ..store.models import Candidate, Entry, File, Library, Source
from ..store.sources import list_sources, sources_of
from ..work.adopt import adopt
from ..work.artwork import MOST_OFFERS, Offer, fetch_artwork
from ..work.decisions import keep_name, take_back, take_candidates
from ..work.match import candidate_rows, client_for, evidence_of, look_at, search
from ..work.progress import Progress
from .common import begin, cards_of, database, entry_at, file_out, picture_out, say, settings
from .schemas import Done
from .schemas_matching import (
    AgainOut,
    ApartOut,
    CandidateOut,
    ChoicesIn,
    MatchesOut,
    MatchesQuery,
    MatchOut,
    ScorePart,
    SuggestedOut,
    TakeIn,
    WordsIn,
)
from .schemas_shelves import SearchQuery

__all__ = ["bp"]

bp = APIBlueprint("matches", __name__, url_prefix="/api", tag="Matches")
FILES_SHOWN = 30
AGAIN_SHOWN = 24
SHOWN = 6
"""Candidates of an entry that are shown."""


def _matches(db: Any, entries: list[Entry]) -> list[MatchOut]:
    ids = [entry.id for entry in entries]
    cards = {card.id: card for card in cards_of(db, entries)}
    candidates = candidates_of(db, ids)
    apart = apart_of(db, ids)
    pictures = artwork_of(db, ids)
    sources = {source.id: source.name for source in list_sources(db)}
    libraries = library_names(db)
    followed = conventions_by_folder(db)
    shown: list[MatchOut] = []
    for entry in entries:
        below = [entry.id, *descendants(db, entry.id)]
        files = [file for rows in files_of(db, below).values() for file, _ in rows]
        own = [p for p in pictures.get(entry.id, []) if p.origin in ("file", "tags")]
        files.sort(key=lambda file: (file.kind not in ("movie", "episode", "track"), file.shown))
        shown.append(
            MatchOut(
                entry=cards[entry.id],
                library=libraries[entry.library_id],
                note=say(entry.note),
                files=[
                    file_out(file, convention=followed[file.folder_id], entry=entry) for file in files[:FILES_SHOWN]
                ],
                taken=entry.external_id,
                here=_here(db, entry, files),
                picture=picture_out(own[0] if own else None),
                frame=next(
                    (f.id for f in files if f.kind in ("movie", "episode") and f.state == "present" and not f.problem),
                    None,
                ),
                candidates=[
                    _candidate_out(candidate, sources.get(candidate.source_id, ""))
                    for candidate in candidates.get(entry.id, [])[:SHOWN]
                ],
                apart=[
                    ApartOut(name=c.name, description=c.description, type=c.apart, source=sources.get(c.source_id, ""))
                    for c in apart.get(entry.id, [])[:SHOWN]
                ],
            )
        )
    return shown


def _candidate_out(candidate: Candidate, source: str) -> CandidateOut:
    fields = {
        name: [value.get("name") if isinstance(value, dict) else value for value in values]
        for name, values in candidate.fields.items()
        if values
    }
    return CandidateOut(
        id=candidate.id,
        external_id=candidate.external_id,
        source=source,
        name=candidate.name,
        description=candidate.description,
        score=candidate.score,
        parts=[ScorePart(**part) for part in candidate.parts],
        fields=fields,
        is_looked_at=bool(candidate.fields),
    )


def _here(db: Any, entry: Entry, files: list[File]) -> dict[str, Any]:
    """What the files say, in the fields that candidates have."""
    seconds = [
        file.media["seconds"]
        for file in files
        if file.media
        and file.media.get("seconds")
        and file.kind in ("movie", "track", "episode")
        and file.serves in ("main", "part")
    ]
    own = {
        field: [value for value in values if not value.origin.startswith("source:")]
        for field, values in values_of(db, [entry.id]).get(entry.id, {}).items()
    }
    told = {
        field: best.value for field in ("title", "year", "artist") if (best := best_value(own.get(field, []), field))
    }
    here: dict[str, Any] = {"title": entry.title, **told}
    if entry.state != "settled":
        here.setdefault("year", entry.year)
    if seconds and entry.kind == "movie":
        here["seconds"] = sum(seconds) if any(file.serves == "part" for file in files) else seconds[0]
    elif seconds:
        here["count"] = len(seconds)
    spoken = [a.get("language") for f in files if f.media and f.serves == "main" for a in f.media.get("audio", [])]
    here["languages"] = [language for language in dict.fromkeys(spoken) if language] or None
    return {name: value for name, value in here.items() if value is not None}


@bp.get("/matches")
@bp.input(MatchesQuery, location="query", arg_name="query")
@bp.output(MatchesOut)
def list_matches(query: MatchesQuery) -> MatchesOut:
    """What waits for a decision, a page of it, and what was decided by hand last;
    each is read with its candidates alone."""
    with begin() as db:
        return MatchesOut(
            waiting=cards_of(db, waiting_entries(db, after=query.after)),
            total=waiting_counts(db)["matches"],
            decided=cards_of(db, decided_by_hand(db, limit=8)),
        )


@bp.get("/entries/<int:entry_id>/match")
@bp.output(MatchOut)
def read_match(entry_id: int) -> MatchOut:
    """One entry beside its candidates."""
    with begin() as db:
        return _matches(db, [entry_at(db, entry_id)])[0]


@bp.get("/matches/again")
@bp.output(AgainOut)
def look_again() -> AgainOut:
    """What was taken automatically with the least certainty, the least certain first."""
    with begin() as db:
        return AgainOut(entries=cards_of(db, least_certain(db, limit=AGAIN_SHOWN)))


@bp.post("/entries/<int:entry_id>/decision")
@bp.input(TakeIn, arg_name="body")
@bp.output(Done)
def decide(entry_id: int, body: TakeIn) -> Done:
    """Take a candidate, or with none: keep what the name says. What is said here is not asked again."""
    with begin() as db:
        entry_at(db, entry_id)
    if body.candidate_id is None:
        keep_name(database(), entry_id)
    else:
        _fetch_by_source(take_candidates(database(), {entry_id: body.candidate_id}))
    return Done()


@bp.post("/decisions")
@bp.input(ChoicesIn, arg_name="body")
@bp.output(Done)
def decide_together(body: ChoicesIn) -> Done:
    """Take a candidate for each of several entries, such as all albums of an
    artist; the likeliest where none is named."""
    with begin() as db:
        likeliest = candidates_of(db, [choice.entry_id for choice in body.choices if choice.candidate_id is None])
    chosen = {
        choice.entry_id: choice.candidate_id or likeliest[choice.entry_id][0].id
        for choice in body.choices
        if choice.candidate_id is not None or likeliest.get(choice.entry_id)
    }
    _fetch_by_source(take_candidates(database(), chosen))
    return Done()


@bp.post("/entries/<int:entry_id>/confirm")
@bp.output(Done)
def confirm(entry_id: int) -> Done:
    """Say that what was taken automatically is right; it is not shown for a second look again."""
    with begin() as db:
        confirm_entry(db, entry_at(db, entry_id))
        announce(db, "matches")
    return Done()


@bp.post("/entries/<int:entry_id>/refresh")
@bp.output(Done)
def fetch_again(entry_id: int) -> Done:
    """Ask the source again for what it says of a settled entry; what a person wrote or chose stays."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        source = get(db, Source, entry.source_id)
        library = find(db, Library, entry.library_id)
        external_id, by = entry.external_id, entry.decided_by
    if source is None or external_id is None:
        raise IndiceError("No source is known for it.", hint="Decide first what it is.", reference="entry-unsettled")
    with client_for(database(), source, library=library, fresh=True) as client:
        _fetch(database(), client, adopt(database(), client, source, entry_id, external_id, by=by or "automatic"))
    return Done()


@bp.post("/entries/<int:entry_id>/offers")
@bp.output(Done)
def fetch_offers(entry_id: int) -> Done:
    """Fetch all pictures that the sources of an entry name, to choose from."""
    with begin() as db:
        entry_at(db, entry_id)
        told = values_of(db, [entry_id]).get(entry_id, {}).get("pictures", [])
        sources = {source.name: source.id for source in list_sources(db)}
    wanted: dict[int, list[Offer]] = {}
    for value in told:
        source_id = sources.get(value.origin.partition(":")[2])
        if source_id is not None:
            wanted[source_id] = [
                Offer(entry_id, role, address, place)
                for role, addresses in value.value.items()
                for place, address in enumerate(addresses[:MOST_OFFERS])
            ]
    _fetch_by_source(wanted)
    return Done()


def _fetch_by_source(pictures: Mapping[int, Sequence[Offer]]) -> None:
    """Fetch the pictures that each source offers, and tell everybody."""
    for source_id, offers in pictures.items():
        with begin() as db:
            source = find(db, Source, source_id)
        with client_for(database(), source) as client:
            _fetch(database(), client, offers)
    with begin() as db:
        announce(db, "matches")


class _Silent(Progress):
    """Progress of something that a person waits for: nobody is told."""

    def __init__(self, database: Database) -> None:
        super().__init__(database, 0)

    def step(self, name: str, total: int = 0) -> None:
        """Say nothing."""

    def advance(self, count: int = 1, current: str = "") -> None:
        """Say nothing."""

    def log(self, text: str, *, path: str = "", level: str = "info") -> None:
        """Say nothing."""


def _fetch(database: Database, client: Any, pictures: Sequence[Offer]) -> None:
    fetch_artwork(database, settings(), client, pictures, _Silent(database))


@bp.delete("/entries/<int:entry_id>/decision")
@bp.output(Done)
def undo(entry_id: int) -> Done:
    """Take the last decision on an entry back: it stands as before."""
    with begin() as db:
        entry_at(db, entry_id)
    _fetch_by_source(take_back(database(), entry_id))
    return Done()


@bp.post("/entries/<int:entry_id>/look")
@bp.output(MatchOut)
def look_closer(entry_id: int) -> MatchOut:
    """Ask the sources for all that they know of the candidates of which only the name is known so far."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        library = find(db, Library, entry.library_id)
        unseen = [c for c in candidates_of(db, [entry_id]).get(entry_id, [])[:SHOWN] if not c.fields]
        sources = {source.id: source for source in sources_of(db, library)}
    told: list[dict[str, Any]] = []
    for source_id, source in sources.items():
        mine = [candidate for candidate in unseen if candidate.source_id == source_id]
        if not mine:
            continue
        with client_for(database(), source, library=library) as client:
            if entry.kind in client.profile.kinds:
                told += look_at(client, evidence_of(database(), [entry], client.profile.scheme)[0], mine)
    with begin() as db:
        tell_candidates(db, told)
        return _matches(db, [entry_at(db, entry_id)])[0]


@bp.get("/candidates/<int:candidate_id>/preview")
@bp.doc(responses={200: {"description": "A page of the source", "content": {"text/html": {}}}})
def read_preview(candidate_id: int) -> Response:
    """The small page that a source has of a candidate; sent so that nothing in it can run or reach anything."""
    with begin() as db:
        candidate = get(db, Candidate, candidate_id)
        source = get(db, Source, candidate.source_id if candidate else None)
        external_id = candidate.external_id if candidate else ""
    page = None
    if source is not None:
        with client_for(database(), source) as client:
            page = client.preview(external_id)
    if page is None:
        raise IndiceError("The source has no page of it.", reference="preview-unknown", status=404)
    answer = Response(page, mimetype="text/html")
    answer.headers["Content-Security-Policy"] = (
        "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'self'"
    )
    answer.headers["X-Frame-Options"] = "SAMEORIGIN"
    return answer


@bp.get("/entries/<int:entry_id>/suggest")
@bp.input(SearchQuery, location="query", arg_name="query")
@bp.output(SuggestedOut)
def suggest(entry_id: int, query: SearchQuery) -> SuggestedOut:
    """What the sources of an entry propose while somebody types; one that does not answer is left out."""
    with begin() as db:
        sources = sources_of(db, find(db, Library, entry_at(db, entry_id).library_id))
    names: list[str] = []
    for source in sources:
        try:
            with client_for(database(), source) as client:
                names += [row["name"] for row in client.suggest("entity", query.q)]
        except IndiceError:
            continue
    return SuggestedOut(names=list(dict.fromkeys(names))[:12])


@bp.post("/entries/<int:entry_id>/candidates")
@bp.input(WordsIn, arg_name="body")
@bp.output(MatchOut)
def search_again(entry_id: int, body: WordsIn) -> MatchOut:
    """Search the sources with other words; the candidates take the place of the old ones."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        library = find(db, Library, entry.library_id)
        sources = [s for s in sources_of(db, library) if body.source in (None, s.name)]
    if not sources:
        raise IndiceError("No source is set up.", hint="Add one under House, Sources.", reference="source-missing")
    rows: list[dict[str, Any]] = []
    problems: list[IndiceError] = []
    for source in sources:
        try:
            with client_for(database(), source, library=library) as client:
                if entry.kind in client.profile.kinds:
                    asked = evidence_of(database(), [entry], client.profile.scheme)
                    rows += candidate_rows(entry_id, source.id, search(client, asked, body.words)[0])
        except IndiceError as error:
            problems.append(error)
    if problems and not rows:
        raise problems[0]
    with begin() as db:
        forget_candidates(db, [entry_id])
        save_candidates(db, rows)
        entry = entry_at(db, entry_id)
        if rows and entry.state in ("none", "unseen"):
            entry.state, entry.decided_by = "waiting", None
    with begin() as db:
        return _matches(db, [entry_at(db, entry_id)])[0]
