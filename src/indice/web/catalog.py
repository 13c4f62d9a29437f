"""The catalog: one search for everything, and all that shows a value."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..core.catalog import parse_filters
from ..errors import IndiceError
from ..store.browse import matching_filters, shelf_of
from ..store.catalog import artwork_of, entries_with, main_picture, search_entries
from ..store.family import entries_at
from ..store.lyrics import sung_lines
from ..store.models import Entry
from ..store.named import Named, named_like
from .common import begin, cards_of, picture_out, placed_cards_of, viewer
from .missing import set_lacks
from .schemas_shelves import FoundNameOut, FoundOut, RoleOut, SearchQuery, WithOut, WithQuery

__all__ = ["bp"]

bp = APIBlueprint("catalog", __name__, url_prefix="/api", tag="Catalog")


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
            lacks=set_lacks(db, {query.value: roles["set"]}).get(query.value, []) if "set" in roles else [],
        )
