"""Metadata sources, their profiles and keys. A key goes in and never comes out again."""

from __future__ import annotations

from urllib.parse import urlsplit

from apiflask import APIBlueprint

from ..errors import IndiceError
from ..sources.client import SourceClient, as_rows
from ..sources.draft import draft_profile, guess_kind
from ..sources.profile import Profile, ProfileError, parse_profile
from ..store.found import find
from ..store.models import Source
from ..store.sources import add_source, key_of, order_sources, remove_source, set_key
from ..store.sources import list_sources as every_source
from ..work.try_source import try_source
from .common import begin, database, iso, say
from .schemas import Done
from .schemas_matching import KeyIn, LookIn, LookOut, NamedOut, OrderIn, Said, SourceIn, SourceOut, SourcesOut

__all__ = ["bp"]

bp = APIBlueprint("sources", __name__, url_prefix="/api/sources", tag="Sources")


@bp.get("")
@bp.output(SourcesOut)
def list_sources() -> SourcesOut:
    """All sources, without their keys."""
    with begin() as db:
        rows: list[SourceOut] = []
        for source in every_source(db):
            try:
                unknown = list(parse_profile(source.profile).unknown)
            except ProfileError:
                unknown = []
            rows.append(
                SourceOut(
                    id=source.id,
                    name=source.name,
                    url=source.url,
                    problem=say(source.problem),
                    has_key=bool(key_of(db, source.name)),
                    checked_at=iso(source.checked_at),
                    unknown_fields=unknown,
                    profile=source.profile,
                )
            )
        return SourcesOut(sources=rows)


@bp.post("")
@bp.input(SourceIn, arg_name="body")
@bp.output(Done)
def put_source(body: SourceIn) -> Done:
    """Add a source by its profile, or replace the one of the same name."""
    with begin() as db:
        add_source(db, body.profile, body.key)
    return Done()


def _named(source_id: int) -> str:
    with begin() as db:
        return find(db, Source, source_id).name


@bp.delete("/<int:source_id>")
@bp.output(Done)
def remove(source_id: int) -> Done:
    """Forget a source, its key and its answers; what was taken from it stays in the catalog."""
    _named(source_id)
    with begin() as db:
        remove_source(db, source_id)
    return Done()


@bp.put("/order")
@bp.input(OrderIn, arg_name="body")
@bp.output(Done)
def order(body: OrderIn) -> Done:
    """Put the sources in another order: the first is asked first."""
    with begin() as db:
        order_sources(db, body.ids)
    return Done()


@bp.put("/<int:source_id>/key")
@bp.input(KeyIn, arg_name="body")
@bp.output(Done)
def put_key(source_id: int, body: KeyIn) -> Done:
    """Keep a source's key."""
    name = _named(source_id)
    with begin() as db:
        set_key(db, name, body.key)
    return Done()


@bp.post("/<int:source_id>/test")
@bp.output(Said)
def test(source_id: int) -> Said:
    """Ask a source whether it is there and takes the key."""
    return Said(message=say(try_source(database(), _named(source_id))))


@bp.post("/look")
@bp.input(LookIn, arg_name="body")
@bp.output(LookOut)
def look(body: LookIn) -> LookOut:
    """Read a service's manifest, its types and their properties, and draft a profile for it."""
    profile = Profile(name=urlsplit(body.url).netloc or body.url, url=body.url)
    if urlsplit(body.url).scheme not in ("http", "https"):
        raise IndiceError("This is no web address.", hint="Begin with http:// or https://.", reference="address-wrong")
    with SourceClient(profile, key=body.key or "") as client:
        manifest = client.manifest()
        types = {row["id"]: row for row in [*as_rows(manifest.get("defaultTypes")), *client.suggest("type", "")]}
        for word in ("film", "series", "album", "episode", "track", "artist") if len(types) < 6 else ():
            types |= {row["id"]: row for row in client.suggest("type", word)}
        kinds = guess_kind(list(types.values()))
        properties = {type_id: client.properties_of(type_id) for type_id in kinds.values()}
        return LookOut(
            name=str(manifest.get("name") or ""),
            versions=[str(v) for v in manifest.get("versions") or ()],
            batch_size=client.batch_size(),
            wants_key=bool(manifest.get("authentication")),
            types=[NamedOut(**row) for row in types.values()],
            properties={type_id: [NamedOut(**row) for row in rows] for type_id, rows in properties.items()},
            profile=draft_profile(body.url, manifest, list(types.values()), properties),
        )
