"""Playlists: made, ordered, played, opened to the household, and out and in as files."""

from __future__ import annotations

import base64
import binascii

from apiflask import APIBlueprint
from flask import Response
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..core.playlists import FORMATS, Line, PlaylistFile, read_playlist_file, write_playlist_file
from ..errors import IndiceError
from ..store.catalog import files_of
from ..store.family import entries_at
from ..store.jobs import announce
from ..store.models import Entry, File
from ..store.playlists import (
    Listed,
    add_to_playlist,
    change_playlist,
    drop_items,
    make_playlist,
    order_items,
    places_of,
    playlist_at,
    playlists_of,
    remove_playlist,
    resolve_paths,
)
from .common import begin, cards_of, placed_cards_of, viewer
from .schemas import Changed, Done, EntryCard
from .schemas_lists import (
    PlaceOut,
    PlacesGone,
    PlacesIn,
    PlaylistChange,
    PlaylistFileIn,
    PlaylistFileQuery,
    PlaylistIn,
    PlaylistMade,
    PlaylistOut,
    PlaylistPage,
    PlaylistRead,
    PlaylistsOut,
    Rule,
)
from .schemas_shelves import ShelfQuery
from .shelves import wanted_from

__all__ = ["bp", "page_of"]

bp = APIBlueprint("lists", __name__, url_prefix="/api", tag="Playlists")


@bp.get("/lists")
@bp.output(PlaylistsOut)
def list_playlists() -> PlaylistsOut:
    """One's own playlists, and those of others that are open to the household."""
    with begin() as db:
        listed = playlists_of(db, viewer())
        cards = {card.id: card for card in cards_of(db, entries_at(db, {id_ for one in listed for id_ in one.first}))}
        return PlaylistsOut(lists=[_out(one, [cards[id_] for id_ in one.first if id_ in cards]) for one in listed])


def _out(one: Listed, first: list[EntryCard]) -> PlaylistOut:
    return PlaylistOut(
        id=one.playlist.id,
        name=one.playlist.name,
        by=one.by,
        is_own=one.is_own,
        is_open=one.playlist.is_open,
        is_album=one.is_album,
        count=one.count,
        pictures=list({card.picture.digest: card.picture for card in first if card.picture}.values()),
        changed_at=one.playlist.changed_at.isoformat(),
        rule=Rule.model_validate(one.playlist.rule) if one.playlist.rule else None,
    )


@bp.post("/lists")
@bp.input(PlaylistIn, arg_name="body")
@bp.output(PlaylistMade)
def make(body: PlaylistIn) -> PlaylistMade:
    """A new playlist, with entries in it from the start where some are named, or one that fills itself."""
    rule = body.rule
    if rule is not None:
        wanted_from(
            rule.shelf,
            ShelfQuery(after="", year=rule.year, until="", words=rule.words, traits=rule.traits, sort=rule.sort),
        )
    with begin() as db:
        made = make_playlist(db, viewer(), body.name, rule=rule.model_dump() if rule is not None else None)
        count = add_to_playlist(db, made, body.entry_ids) if rule is None else len(places_of(db, made))
        announce(db, "lists")
        return PlaylistMade(id=made.id, count=count)


@bp.get("/lists/<int:list_id>")
@bp.output(PlaylistPage)
def read(list_id: int) -> PlaylistPage:
    """A playlist with what stands in it."""
    with begin() as db:
        playlist = playlist_at(db, viewer(), list_id)
        listed = next(one for one in playlists_of(db, viewer()) if one.playlist.id == playlist.id)
        return page_of(db, listed)


def page_of(db: Session, listed: Listed) -> PlaylistPage:
    """A playlist as a page shows it."""
    places = places_of(db, listed.playlist)
    entries = list({place.entry.id: place.entry for place in places}.values())
    cards = {card.id: card for card in placed_cards_of(db, entries)}
    files = _files(db, entries)
    shown = [
        PlaceOut(
            item_id=place.item_id,
            entry=cards[place.entry.id],
            file_id=file.id if (file := files.get(place.entry.id)) else None,
            seconds=_seconds(file),
        )
        for place in places
    ]
    first = [place.entry for place in shown[:4]]
    return PlaylistPage(list=_out(listed, first), places=shown, seconds=sum(place.seconds or 0 for place in shown))


def _files(db: Session, entries: list[Entry]) -> dict[int, File]:
    """Entry → the file that plays it."""
    rows = files_of(db, [entry.id for entry in entries])
    return {
        entry.id: found
        for entry in entries
        if (found := next((file for file, _ in rows.get(entry.id, []) if file.kind == entry.kind), None))
    }


def _seconds(file: File | None) -> float | None:
    said = (file.media or {}).get("seconds") if file is not None and file.kind != "photo" else None
    return float(said) if said else None


@bp.patch("/lists/<int:list_id>")
@bp.input(PlaylistChange, arg_name="body")
@bp.output(Done)
def change(list_id: int, body: PlaylistChange) -> Done:
    """Another name, another order, open to the household or not."""
    with begin() as db:
        playlist = playlist_at(db, viewer(), list_id, to_change=True)
        change_playlist(db, viewer(), playlist, name=body.name, is_open=body.is_open)
        if body.order is not None:
            order_items(db, playlist, body.order)
        announce(db, "lists")
    return Done()


@bp.delete("/lists/<int:list_id>")
@bp.output(Done)
def remove(list_id: int) -> Done:
    """Remove a playlist; what stands in it stays in the catalog."""
    with begin() as db:
        remove_playlist(db, playlist_at(db, viewer(), list_id, to_change=True))
        announce(db, "lists")
    return Done()


@bp.post("/lists/<int:list_id>/places")
@bp.input(PlacesIn, arg_name="body")
@bp.output(Changed)
def add(list_id: int, body: PlacesIn) -> Changed:
    """Put entries at the end; of an album its tracks, of a series its episodes, of an event its pictures."""
    with begin() as db:
        count = add_to_playlist(db, playlist_at(db, viewer(), list_id, to_change=True), body.entry_ids)
        announce(db, "lists")
    return Changed(count=count)


@bp.post("/lists/<int:list_id>/drop")
@bp.input(PlacesGone, arg_name="body")
@bp.output(Changed)
def drop(list_id: int, body: PlacesGone) -> Changed:
    """Take places out of a playlist."""
    with begin() as db:
        count = drop_items(db, playlist_at(db, viewer(), list_id, to_change=True), body.item_ids)
        announce(db, "lists")
    return Changed(count=count)


@bp.get("/lists/<int:list_id>/file")
@bp.input(PlaylistFileQuery, location="query", arg_name="query")
@bp.doc(responses={200: {"description": "The playlist", "content": {"application/xspf+xml": {}}}})
def write_file(list_id: int, query: PlaylistFileQuery) -> Response:
    """A playlist as a file, with relative paths."""
    with begin() as db:
        playlist = playlist_at(db, viewer(), list_id)
        entries = [place.entry for place in places_of(db, playlist)]
        cards = {card.id: card for card in cards_of(db, entries)}
        rows = files_of(db, [entry.id for entry in entries])
        lines = [
            Line(
                path=f"{folder.shown.rstrip('/').rpartition('/')[2]}/{file.shown}",
                title=entry.title,
                by=cards[entry.id].subtitle,
                seconds=_seconds(file),
            )
            for entry in entries
            for file, folder in [row for row in rows.get(entry.id, []) if row[0].kind == entry.kind][:1]
        ]
        content = write_playlist_file(PlaylistFile(playlist.name, tuple(lines)), query.form)
        name = "".join(c for c in playlist.name if c.isprintable() and c not in '/\\:*?"<>|').strip(". ") or "list"
    answer = Response(content, mimetype=FORMATS[query.form])
    answer.headers.set("Content-Disposition", "attachment", filename=f"{name}.{query.form}")
    return answer


@bp.post("/lists/file")
@bp.input(PlaylistFileIn, arg_name="body")
@bp.output(PlaylistRead)
def read_file(body: PlaylistFileIn) -> PlaylistRead:
    """A playlist from a file; what it names and the catalog does not have is told."""
    try:
        told = read_playlist_file(base64.b64decode(body.content, validate=True))
    except (ValueError, binascii.Error) as error:
        raise IndiceError(
            phrase("This file cannot be read as a playlist. {error}", error=error),
            hint="M3U8 and XSPF are understood.",
            reference="playlist-unreadable",
        ) from error
    with begin() as db:
        found = resolve_paths(db, [line.path for line in told.lines])
        made = make_playlist(db, viewer(), (told.name.strip() or body.name.strip() or "List")[:120])
        count = add_to_playlist(db, made, [id_ for id_ in found if id_ is not None])
        announce(db, "lists")
        unknown = [line.path[:500] for line, id_ in zip(told.lines, found, strict=True) if id_ is None]
        return PlaylistRead(id=made.id, count=count, unknown=unknown)
