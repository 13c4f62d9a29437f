"""What a person writes and chooses on an entry's page: facts, which are locked then, and pictures."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import g, request

from ..disk.apart import thumbnails_apart
from ..errors import IndiceError
from ..store.byhand import FIELDS_BY_HAND, write_by_hand, write_many_by_hand
from ..store.entries import descendants
from ..store.family import entries_at
from ..store.found import find, get
from ..store.jobs import announce
from ..store.models import Artwork, File
from ..store.pictures import choose_artwork, choose_frame, choose_uploaded
from .common import begin, entry_at, settings
from .media import frame_at
from .schemas import Changed, Done
from .schemas_shelves import FactIn, FrameIn, ManyFactsIn

__all__ = ["bp", "written_fields"]

bp = APIBlueprint("byhand", __name__, url_prefix="/api", tag="Catalog")
_ANY = frozenset(("movie", "series", "season", "episode", "artist", "album", "track", "event", "photo", "clip"))
_WRITTEN = {
    "original_title": frozenset(("movie", "series", "episode", "artist")),
    "year": frozenset(("movie", "series", "album")),
    "date": frozenset(("movie", "series", "episode", "album")),
    "plot": frozenset(("movie", "series", "episode", "artist", "event", "photo", "clip")),
    "tagline": frozenset(("movie",)),
    "genres": frozenset(("movie", "series", "album", "artist")),
    "directors": frozenset(("movie", "episode")),
    "cast": frozenset(("movie", "series", "episode")),
    "artist": frozenset(("album", "track")),
    "rating": frozenset(("movie", "series")),
    "set": frozenset(("movie",)),
    "keywords": frozenset(("photo", "clip", "event")),
    "people": frozenset(("photo", "clip")),
    "lyrics": frozenset(("track",)),
}
"""Fields that make sense for some kinds of entries only."""
MOST_PICTURE_BYTES = 30_000_000


def written_fields(kind: str) -> list[str]:
    """Fields that a person may write of an entry of a kind."""
    return [name for name in FIELDS_BY_HAND if kind in _WRITTEN.get(name, _ANY)]


@bp.put("/entries/<int:entry_id>/facts/<field>")
@bp.input(FactIn, arg_name="body")
@bp.output(Done)
def write_fact(entry_id: int, field: str, body: FactIn) -> Done:
    """Write a field by hand; it is locked. No value takes one's own word back."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        write_by_hand(db, entry, field, body.value, by=g.person.name)
        announce(db, "catalog")
    return Done()


@bp.post("/entries/facts")
@bp.input(ManyFactsIn, arg_name="body")
@bp.output(Changed)
def write_many(body: ManyFactsIn) -> Changed:
    """Write a field of many entries by hand; entries of a kind that has no such field are left as they are."""
    with begin() as db:
        changed = write_many_by_hand(
            db,
            [e for e in entries_at(db, body.entry_ids) if body.field in written_fields(e.kind)],
            body.field,
            body.value,
            how=body.how,
            by=g.person.name,
        )
        announce(db, "catalog")
    return Changed(count=changed)


@bp.post("/entries/<int:entry_id>/frame")
@bp.input(FrameIn, arg_name="body")
@bp.output(Done)
def take_frame(entry_id: int, body: FrameIn) -> Done:
    """Take a frame of one of its films as an entry's picture, and choose it."""
    with begin() as db:
        entry_at(db, entry_id)
        family = {entry_id, *descendants(db, entry_id)}
        if find(db, File, body.file_id).entry_id not in family:
            raise IndiceError("This file does not belong to it.", reference="file-unknown", status=404)
    made = frame_at(body.file_id, body.seconds)
    with begin() as db:
        choose_frame(db, entry_id, body.role, made, place=round(body.seconds))
        announce(db, "catalog")
    return Done()


@bp.post("/artworks/<int:artwork_id>/choose")
@bp.output(Done)
def choose_picture(artwork_id: int) -> Done:
    """Choose the picture that stands for an entry; nothing that is fetched later takes its place."""
    with begin() as db:
        choose_artwork(db, find(db, Artwork, artwork_id))
        announce(db, "catalog")
    return Done()


@bp.delete("/artworks/<int:artwork_id>/choose")
@bp.output(Done)
def leave_choice(artwork_id: int) -> Done:
    """Leave the choice of a picture to Indice again."""
    with begin() as db:
        artwork = get(db, Artwork, artwork_id)
        if artwork is not None:
            artwork.chosen = False
        announce(db, "catalog")
    return Done()


@bp.post("/entries/<int:entry_id>/artworks")
@bp.output(Done)
def upload_picture(entry_id: int) -> Done:
    """Upload a picture of one's own for an entry and choose it: a file field `picture`, and `role`."""
    request.max_content_length = MOST_PICTURE_BYTES
    role = request.form.get("role", "")
    file = request.files.get("picture")
    if role not in ("poster", "backdrop", "cover", "portrait", "thumb") or file is None:
        raise IndiceError("Send a picture and its role.", reference="picture-missing")
    try:
        made = thumbnails_apart(settings().home, file.stream.read(MOST_PICTURE_BYTES))
    except ValueError as error:
        raise IndiceError(str(error), hint="Send a JPEG, PNG or WebP.", reference="picture-wrong") from error
    with begin() as db:
        entry_at(db, entry_id)
        choose_uploaded(db, entry_id, role, made)
        announce(db, "catalog")
    return Done()
