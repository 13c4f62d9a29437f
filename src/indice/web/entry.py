"""The page of an entry, in two answers: what the household sees, and beside it what is there to keep the catalog by."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence

from apiflask import APIBlueprint
from sqlalchemy.orm import Session

from ..core.catalog.grid import Placed, Row, rows_of
from ..core.catalog.lacking import due_of
from ..core.catalog.spots import cell_of
from ..core.catalog.story import specials_behind
from ..core.facts import Ranking, Value, best_value
from ..store.byhand import changes_of
from ..store.catalog import artwork_of, candidates_of, facts_for_names, files_of, shared_files
from ..store.conventions import conventions_by_folder
from ..store.facts import ranking_of, values_of
from ..store.family import children_of, parents_of, seasons_of, tracks_of
from ..store.found import find, get
from ..store.marks import marks_of
from ..store.models import Artwork, Entry, File, Library, Source
from ..store.viewer import keeps
from ..work.artwork import MOST_OFFERS
from .byhand import written_fields
from .common import begin, card_of, cards_of, entry_at, file_out, iso, picture_out, say, viewer
from .look import credits_of, related_of, versions_of
from .schemas_entry import (
    ArtworkOut,
    ChangeOut,
    EntryOut,
    FactOut,
    FactValue,
    FrameOut,
    GridCell,
    GridRow,
    KeptOut,
    OfferOut,
    Playable,
    ShotOut,
    ShownFact,
)

__all__ = ["bp", "read_entry"]

bp = APIBlueprint("entry", __name__, url_prefix="/api/entries", tag="Catalog")
AROUND = 12
"""The level of the cell that a photo's page leads to on the map: about ten kilometres wide."""
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
"""What the household's page says at its top already, or in another field."""
_HIDDEN = frozenset(("expected", "ids", "pictures"))
_Values = Mapping[str, list[Value]]
"""Field → what each origin says."""


@bp.get("/<int:entry_id>")
@bp.output(EntryOut)
def read_entry(entry_id: int) -> EntryOut:
    """The page of an entry as the household sees it: what it is, who made it, what lies below, what plays."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        values = values_of(db, [entry_id]).get(entry_id, {})
        below = children_of(db, entry_id) if entry.kind != "series" else []
        files = _files_of(db, entry)
        pictures = artwork_of(db, [entry_id, *(child.id for child in below)])
        backdrop = next((p for p in pictures.get(entry_id, []) if p.role == "backdrop"), None)
        ranking = ranking_of(db, entry.library_id)
        card, *cards = cards_of(db, [entry, *below], pictures=pictures)
        by_link = viewer().shared is not None
        is_kept = keeps(viewer(), entry.library_id)
        return EntryOut(
            card=card,
            credits=credits_of(values, ranking) if entry.kind in ("movie", "series", "episode") else [],
            versions=versions_of(files),
            related=related_of(db, entry, values) if not by_link else [],
            parents=[card_of(above, None) for above in parents_of(db, entry)],
            children=cards,
            grid=_grid(db, entry, values) if entry.kind == "series" else [],
            facts=[
                ShownFact(field=field, value=best.value)
                for field, best, _ in _best_of(values, ranking)
                if field not in _SAID_ABOVE
            ],
            backdrop=picture_out(backdrop),
            plays=_plays(db, entry, files),
            shot=_shot(files) if entry.kind == "photo" and not by_link else None,
            cell=cell_of(entry.spot, AROUND) if entry.spot is not None and not by_link else "",
            is_kept=is_kept,
        )


@bp.get("/<int:entry_id>/kept")
@bp.output(KeptOut)
def read_kept(entry_id: int) -> KeptOut:
    """What there is to keep an entry by: facts with their origins, files, pictures, what was changed, the decision."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        values = values_of(db, [entry_id]).get(entry_id, {})
        files = _files_of(db, entry)
        followed = conventions_by_folder(db)
        names = facts_for_names(db, files)
        pictures = artwork_of(db, [entry_id]).get(entry_id, [])
        source = get(db, Source, entry.source_id)
        return KeptOut(
            library=find(db, Library, entry.library_id).name,
            facts=[
                FactOut(
                    field=field,
                    shown=_fact_value(best),
                    others=[_fact_value(value) for value in others],
                )
                for field, best, others in _best_of(values, ranking_of(db, entry.library_id))
            ],
            files=[
                file_out(file, convention=followed[file.folder_id], entry=entry, facts=names.get(entry_id))
                for file in files
            ],
            artworks=[
                ArtworkOut(id=p.id, role=p.role, origin=p.origin, chosen=p.chosen, picture=shown)
                for p in pictures
                if p.role != "photo" and (shown := picture_out(p)) is not None
            ],
            offers=_offers(values.get("pictures", []), pictures),
            frames=_frames(files),
            changes=[
                ChangeOut(field=c.field, before=c.before.get("v"), after=c.after.get("v"), by=c.by, at=c.at.isoformat())
                for c in changes_of(db, entry_id, limit=40)
            ],
            editable=written_fields(entry.kind),
            note=say(entry.note),
            score=entry.score,
            source=source.name if source else None,
            decided_by=entry.decided_by,
            candidates=len(candidates_of(db, [entry_id]).get(entry_id, [])),
        )


def _files_of(db: Session, entry: Entry) -> list[File]:
    return [file for file, _ in files_of(db, [entry.id]).get(entry.id, []) or shared_files(db, entry)]


def _fact_value(value: Value) -> FactValue:
    return FactValue(value=value.value, origin=value.origin, at=iso(value.at), locked=value.locked)


def _best_of(values: _Values, ranking: Ranking) -> list[tuple[str, Value, list[Value]]]:
    """Field, the value that is shown of it, and the others; in the order in which pages say them."""
    said = {name: list(there) for name, there in values.items() if name not in _HIDDEN}
    if "artists" in said and "artist" in said:
        said["artists"] += said.pop("artist")
    names = sorted(said, key=lambda name: (_ORDER.index(name) if name in _ORDER else len(_ORDER), name))
    chosen = ((name, best_value(said[name], name, ranking)) for name in names)
    return [(name, best, [v for v in said[name] if v is not best]) for name, best in chosen if best is not None]


def _frames(files: Iterable[File]) -> list[FrameOut]:
    """The films of which a moment can be taken as a picture."""
    return [
        FrameOut(file_id=file.id, seconds=float(seconds))
        for file in files
        if file.kind in ("movie", "episode", "clip")
        and file.state == "present"
        and (seconds := (file.media or {}).get("seconds"))
    ]


def _grid(db: Session, series: Entry, values: _Values) -> list[GridRow]:
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
    titles = {place: one.title for place, one in due.items()}
    rows = rows_of(placed, titles, seasons=set(numbers.values()), covered=covered)
    story = specials_behind(due)
    return [_row_out(row, story if row.season == 0 and not row.month else {}) for row in rows]


def _row_out(row: Row, story: Mapping[int, tuple[int, int]]) -> GridRow:
    """A row of the grid; `story` says behind which episode a special stands."""
    cells = [
        GridCell(
            number=cell.number,
            state=cell.state,
            entry_id=cell.entry_id,
            title=cell.title,
            seen=cell.is_seen,
            behind=story.get(cell.number),
        )
        for cell in row.cells
    ]
    return GridRow(season=row.season, month=row.month, first=row.first, cells=cells)


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


def _offers(values: Sequence[Value], pictures: Sequence[Artwork]) -> list[OfferOut]:
    """Pictures that sources name and that were not fetched yet."""
    offers: list[OfferOut] = []
    for value in values:
        for role, addresses in (value.value or {}).items():
            here = sum(1 for picture in pictures if picture.origin == value.origin and picture.role == role)
            if len(addresses) > here:
                source = value.origin.partition(":")[2]
                offers.append(OfferOut(role=role, source=source, count=min(len(addresses), MOST_OFFERS) - here))
    return offers


def _plays(db: Session, entry: Entry, files: Sequence[File]) -> list[Playable]:
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
