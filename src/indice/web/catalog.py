"""The catalog: the page of an entry, and one search for everything."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from apiflask import APIBlueprint
from sqlalchemy.orm import Session

from ..core.catalog import parse_filters
from ..core.catalog.grid import Placed, rows_of
from ..core.catalog.lacking import due_of
from ..core.catalog.spots import cell_of
from ..core.catalog.story import specials_behind
from ..core.facts import Ranking, Value, best_value
from ..errors import IndiceError
from ..store.browse import matching_filters, shelf_of
from ..store.byhand import changes_of
from ..store.catalog import (
    artwork_of,
    candidates_of,
    entries_with,
    facts_for_names,
    files_of,
    main_picture,
    search_entries,
    shared_files,
)
from ..store.conventions import conventions_by_folder
from ..store.facts import rankings, values_of
from ..store.family import children_of, entries_at, parents_of, seasons_of, tracks_of
from ..store.found import find, get
from ..store.lyrics import sung_lines
from ..store.marks import marks_of
from ..store.models import Entry, File, Library, Source
from ..store.named import Named, named_like
from ..store.viewer import keeps
from ..work.artwork import MOST_OFFERS
from .byhand import written_fields
from .common import begin, card_of, cards_of, entry_at, file_out, iso, picture_out, placed_cards_of, viewer
from .look import credits_of, related_of, versions_of
from .schemas import (
    ArtworkOut,
    ChangeOut,
    EntryOut,
    FactOut,
    FactValue,
    FoundNameOut,
    FoundOut,
    FrameOut,
    GridCell,
    GridRow,
    OfferOut,
    Playable,
    RoleOut,
    SearchQuery,
    ShotOut,
    WithOut,
    WithQuery,
)

__all__ = ["bp"]

bp = APIBlueprint("catalog", __name__, url_prefix="/api", tag="Catalog")
_ORDER = (
    "title",
    "original_title",
    "aliases",
    "year",
    "date",
    "runtime",
    "genres",
    "directors",
    "cast",
    "artists",
    "artist",
    "plot",
)
_SAID_ABOVE = frozenset(("title", "year", "certificates"))
"""What the page says at its top already, or in another field."""
AROUND = 12
"""The level of the cell that a photo's page leads to on the map: about ten kilometres wide."""
_HIDDEN = frozenset(("expected", "ids", "pictures"))


@bp.get("/search")
@bp.input(SearchQuery, location="query", arg_name="query")
@bp.output(FoundOut)
def search(query: SearchQuery) -> FoundOut:
    """Everything whose title or file name is like the words; with filters among them what those leave."""
    filters = parse_filters(query.q)
    sung: dict[int, str] = {}
    named: list[Named] = []
    with begin() as db:
        if filters.is_plain:
            found = search_entries(db, query.q, limit=MOST_FOUND)
            sung = sung_lines(db, query.q)
            known = {entry.id for entry in found}
            found += entries_at(db, [id_ for id_ in sung if id_ not in known][:MOST_SUNG])
            named = named_like(db, query.q, limit=MOST_NAMED)
        else:
            found = matching_filters(db, filters, viewer().person_id, limit=MOST_FOUND)
        return FoundOut(
            entries=placed_cards_of(db, found),
            named=[
                FoundNameOut(group=one.group, value=one.value, shelf=shelf_of(one.kind), count=one.count)
                for one in named
            ],
            lines={entry.id: sung[entry.id] for entry in found if entry.id in sung},
        )


MOST_FOUND = 20
MOST_NAMED = 6
MOST_SUNG = 8


PEOPLE = ("directors", "writers", "cast", "artists", "artist", "people")
"""Fields that hold people: whoever asks for one is told all that somebody did."""
_GATHERED = (*PEOPLE, "genres", "set", "rating", "countries", "languages", "label", "keywords", "tagline")


@bp.get("/with")
@bp.input(WithQuery, location="query", arg_name="query")
@bp.output(WithOut)
def read_with(query: WithQuery) -> WithOut:
    """Everything of which a field shows a value: films of a director, of a genre, of a collection."""
    if query.field not in _GATHERED:
        raise IndiceError("Nothing is gathered by this field.", reference="field-unknown", status=404)
    fields = PEOPLE if query.field in PEOPLE else (query.field,)
    with begin() as db:
        found, more = entries_with(db, fields, query.value)
        roles: dict[str, list[Entry]] = {}
        for field, entry in found:
            name = "artists" if field == "artist" else field
            if entry not in roles.setdefault(name, []):
                roles[name].append(entry)
        artist = next((e for e in roles.get("artists", []) if e.kind == "artist"), None)
        portrait = main_picture("artist", artwork_of(db, [artist.id]).get(artist.id, [])) if artist else None
        return WithOut(
            value=query.value,
            more=more,
            roles=[RoleOut(field=name, entries=cards_of(db, entries)) for name, entries in roles.items()],
            portrait=picture_out(portrait),
        )


def _fact_value(value: Value) -> FactValue:
    return FactValue(value=value.value, origin=value.origin, at=iso(value.at), locked=value.locked)


def _facts(values: dict[str, list[Value]], ranking: Ranking) -> list[FactOut]:
    facts: list[FactOut] = []
    if "artists" in values and "artist" in values:
        values = {**values, "artists": [*values["artists"], *values["artist"]]}
        del values["artist"]
    for name in sorted(values, key=lambda n: (_ORDER.index(n) if n in _ORDER else len(_ORDER), n)):
        best = best_value(values[name], name, ranking)
        if best is not None and name not in _HIDDEN:
            facts.append(
                FactOut(
                    field=name, shown=_fact_value(best), others=[_fact_value(v) for v in values[name] if v is not best]
                )
            )
    return facts


def _grid(db: Session, series: Entry, values: dict[str, list[Value]]) -> list[GridRow]:
    """What of a series is here, missing, twice, seen: seasons by episodes, months by days, running numbers in tens."""
    seasons, episodes = seasons_of(db, series.id)
    seen = {id_ for id_, mark in marks_of(db, viewer(), [e.id for e in episodes]).items() if mark.seen_at}
    mains = Counter[int]()
    covered = set[int]()
    for entry_id, rows in files_of(db, [e.id for e in episodes]).items():
        mains[entry_id] = sum(1 for file, _ in rows if file.serves in ("main", "version"))
        for file, _ in rows:
            covered.update(file.reading.get("episodes") or ())
    best = best_value(values.get("expected", []))
    numbers = {one.id: one.season for one in seasons}
    placed = [
        Placed(
            entry_id=e.id,
            title=e.title,
            season=numbers.get(e.parent_id or 0, e.season),
            number=e.number,
            moment=e.moment,
            files=mains[e.id],
            is_seen=e.id in seen,
        )
        for e in episodes
    ]
    due = due_of(best.value if best else [])
    story = specials_behind(due)
    rows = rows_of(
        placed,
        {place: one.title for place, one in due.items()},
        seasons=set(numbers.values()),
        covered=covered,
    )
    return [
        GridRow(
            season=row.season,
            month=row.month,
            first=row.first,
            cells=[
                GridCell(
                    number=cell.number,
                    state=cell.state,
                    entry_id=cell.entry_id,
                    title=cell.title,
                    seen=cell.is_seen,
                    behind=story.get(cell.number) if row.season == 0 and not row.month else None,
                )
                for cell in row.cells
            ],
        )
        for row in rows
    ]


@bp.get("/entries/<int:entry_id>")
@bp.output(EntryOut)
def read_entry(entry_id: int) -> EntryOut:
    """The page of an entry: facts with their origins, files, pictures, what lies below."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        values = values_of(db, [entry_id]).get(entry_id, {})
        children = children_of(db, entry_id)
        rows = files_of(db, [entry_id]).get(entry_id, []) or shared_files(db, entry)
        followed = conventions_by_folder(db)
        names = facts_for_names(db, [file for file, _ in rows])
        pictures = artwork_of(db, [entry_id]).get(entry_id, [])
        source = get(db, Source, entry.source_id)
        chain = parents_of(db, entry)
        backdrop = next((p for p in pictures if p.role == "backdrop"), None)
        below = children if entry.kind != "series" else []
        card, *cards = cards_of(db, [entry, *below])
        page = EntryOut(
            card=card,
            credits=credits_of(values) if entry.kind in ("movie", "series", "episode") else [],
            versions=versions_of([file for file, _ in rows]),
            related=related_of(db, entry, values) if viewer().shared is None else [],
            library=find(db, Library, entry.library_id).name,
            parents=[card_of(e, None) for e in chain],
            children=cards,
            grid=_grid(db, entry, values) if entry.kind == "series" else [],
            facts=_facts(values, rankings(db)[entry.library_id]),
            files=[
                file_out(file, convention=followed[file.folder_id], entry=entry, facts=names.get(entry_id))
                for file, _ in rows
            ],
            pictures=[p for picture in pictures if picture.role != "photo" and (p := picture_out(picture)) is not None],
            artworks=[
                ArtworkOut(id=p.id, role=p.role, origin=p.origin, chosen=p.chosen, picture=shown)
                for p in pictures
                if p.role != "photo" and (shown := picture_out(p)) is not None
            ],
            offers=_offers(values.get("pictures", []), pictures),
            frames=[
                FrameOut(file_id=file.id, seconds=float(seconds))
                for file, _ in rows
                if file.kind in ("movie", "episode", "clip")
                and file.state == "present"
                and (seconds := (file.media or {}).get("seconds"))
            ],
            changes=[
                ChangeOut(field=c.field, before=c.before.get("v"), after=c.after.get("v"), by=c.by, at=c.at.isoformat())
                for c in changes_of(db, entry_id, limit=40)
            ],
            editable=written_fields(entry.kind),
            backdrop=picture_out(backdrop),
            plays=_plays(db, entry, [file for file, _ in rows]),
            note=entry.note,
            score=entry.score,
            source=source.name if source else None,
            decided_by=entry.decided_by,
            candidates=len(candidates_of(db, [entry_id]).get(entry_id, [])),
            shot=_shot([file for file, _ in rows]) if entry.kind == "photo" and viewer().shared is None else None,
            cell=cell_of(entry.spot, AROUND) if entry.spot is not None and viewer().shared is None else "",
        )
        is_keeper = keeps(viewer(), entry.library_id)
    return page if is_keeper else _household_face(page)


_SHOWN_BY_BROWSERS = ("jpeg", "png", "webp", "gif", "avif")


def _shot(files: Sequence[File]) -> ShotOut | None:
    """The picture of several that browsers show, else the first; raw files lie beside those that were made of them."""
    shots = [file for file in files if file.kind == "photo" and file.state == "present"]
    if not shots:
        return None
    seen = next((one for one in shots if (one.media or {}).get("container") in _SHOWN_BY_BROWSERS), None)
    file = seen or shots[0]
    media = file.media or {}
    return ShotOut(
        file_id=seen.id if seen is not None else None,
        width=media.get("width"),
        height=media.get("height"),
        camera=str(media.get("camera") or ""),
        lens=str(media.get("lens") or ""),
        size_bytes=file.size_bytes,
    )


def _household_face(page: EntryOut) -> EntryOut:
    """What somebody sees who does not keep the catalog: what the thing is, and nothing of files, sources and decisions."""
    facts = [
        FactOut(field=fact.field, shown=FactValue(value=fact.shown.value, origin="", at=None, locked=False), others=[])
        for fact in page.facts
        if fact.field not in _SAID_ABOVE
    ]
    hidden: dict[str, Any] = {
        **{name: [] for name in ("files", "changes", "offers", "artworks", "frames", "editable")},
        **dict.fromkeys(("score", "source", "decided_by"), None),
    }
    if viewer().shared is not None:  # by a link: not even which libraries there are
        hidden["library"] = ""
    return page.model_copy(update={**hidden, "facts": facts, "note": "", "candidates": 0})


def _offers(values: list[Value], pictures: list[Any]) -> list[OfferOut]:
    """Pictures that sources name and that were not fetched yet."""
    offers: list[OfferOut] = []
    for value in values:
        for role, addresses in (value.value or {}).items():
            here = sum(1 for picture in pictures if picture.origin == value.origin and picture.role == role)
            if len(addresses) > here:
                source = value.origin.partition(":")[2]
                offers.append(OfferOut(role=role, source=source, count=min(len(addresses), MOST_OFFERS) - here))
    return offers


def _plays(db: Session, entry: Entry, files: list[File]) -> list[Playable]:
    """What can be played here: an album plays all its tracks in their order; a film has extras beside it."""
    if entry.kind in ("album", "artist"):
        tracks = tracks_of(db, entry.id)
        rows = files_of(db, [track.id for track in tracks])
        return [_playable(rows[track.id][0][0], track.title, track) for track in tracks if rows.get(track.id)]
    mains = [file for file in files if file.kind in ("movie", "episode", "clip", "track") and file.serves != "live"]
    extras = [file for file in files if file.kind == "extra"]
    found = [_playable(file, entry.title, entry) for file in mains[:1]]
    return found + [_playable(file, file.shown.rpartition("/")[2].rpartition(".")[0], entry) for file in extras]


def _playable(file: File, label: str, entry: Entry) -> Playable:
    seconds = (file.media or {}).get("seconds")
    return Playable(
        file_id=file.id,
        label=label,
        entry_id=entry.id,
        seconds=float(seconds) if seconds else None,
        extra=file.kind == "extra",
    )
