"""Metadata sources, their profiles and keys. A key goes in and never comes out again."""

from __future__ import annotations

from apiflask import APIBlueprint
from sqlalchemy import select

from ..errors import IndiceError
from ..sources import ProfileError, parse_profile
from ..store.models import Source
from ..store.sources import add_source, key_of, set_key
from ..work.try_source import try_source
from .common import begin, database, iso
from .schemas import Done, KeyIn, Said, SourceIn, SourceOut, SourcesOut

__all__ = ["bp"]

bp = APIBlueprint("sources", __name__, url_prefix="/api/sources", tag="Sources")


@bp.get("")
@bp.output(SourcesOut)
def list_sources() -> SourcesOut:
    """All sources, without their keys."""
    with begin() as db:
        rows: list[SourceOut] = []
        for source in db.scalars(select(Source).order_by(Source.position, Source.id)):
            try:
                unknown = list(parse_profile(source.profile).unknown)
            except ProfileError:
                unknown = []
            rows.append(
                SourceOut(
                    id=source.id,
                    name=source.name,
                    url=source.url,
                    problem=source.problem,
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
        source = db.get(Source, source_id)
        if source is None:
            raise IndiceError("There is no such source.", reference="source-unknown", status=404)
        return source.name


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
    return Said(message=try_source(database(), _named(source_id)))
