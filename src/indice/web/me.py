"""What a person chooses for themselves: how it looks, their picture, whether the owner sees what they saw."""

from __future__ import annotations

import hashlib
from io import BytesIO

from apiflask import APIBlueprint
from flask import Response, g, request, send_file

from ..disk.apart import thumbnails_apart
from ..disk.thumbnails import thumbnail_path
from ..errors import IndiceError
from ..store.found import find
from ..store.jobs import announce
from ..store.looks import keep_looks, keep_picture, picture_of, watched
from ..store.models import Person
from .common import begin, cards_of, iso, settings, viewer
from .schemas import Done
from .schemas_lists import LooksIn, WatchedLine, WatchedOut

__all__ = ["bp"]

bp = APIBlueprint("me", __name__, url_prefix="/api", tag="People")
PICTURE_PX = 240
MOST_PICTURE_BYTES = 12_000_000
WATCHED_SHOWN = 60


@bp.put("/me/looks")
@bp.input(LooksIn, arg_name="body")
@bp.output(Done)
def choose_looks(body: LooksIn) -> Done:
    """Choose how it looks, in every browser in which one is signed in."""
    with begin() as db:
        looks = {"theme": body.theme, "cards": body.cards, "hides": sorted(set(body.hides))}
        keep_looks(db, g.person.id, looks, tells_seen=body.tells_seen, language=body.language)
    return Done()


@bp.put("/me/picture")
@bp.output(Done)
def upload_own_picture() -> Done:
    """One's own picture: a file field `picture`. It is drawn anew, small; nothing else of the file is kept."""
    request.max_content_length = MOST_PICTURE_BYTES
    file = request.files.get("picture")
    if file is None:
        raise IndiceError("Send a picture.", reference="picture-missing")
    try:
        made = thumbnails_apart(settings().home, file.stream.read(MOST_PICTURE_BYTES), sizes=(PICTURE_PX,))
    except ValueError as error:
        raise IndiceError(str(error), hint="Send a JPEG, PNG or WebP.", reference="picture-wrong") from error
    kept = thumbnail_path(settings().home, made.digest, PICTURE_PX)
    with begin() as db:
        keep_picture(db, g.person.id, kept.read_bytes())
        announce(db, "people")
    return Done()


@bp.delete("/me/picture")
@bp.output(Done)
def remove_own_picture() -> Done:
    """No picture any more."""
    with begin() as db:
        keep_picture(db, g.person.id, None)
        announce(db, "people")
    return Done()


@bp.get("/people/<int:person_id>/picture")
@bp.doc(responses={200: {"description": "The picture", "content": {"image/webp": {}}}})
def read_person_picture(person_id: int) -> Response:
    """A person's picture: one's own, or for the owner anybody's."""
    found = None
    if person_id == g.person.id or viewer().is_owner:
        with begin() as db:
            found = picture_of(db, person_id)
    if found is None:
        raise IndiceError("There is no such picture.", reference="picture-unknown", status=404)
    tag = hashlib.sha256(found).hexdigest()[:24]
    response = send_file(BytesIO(found), mimetype="image/webp", etag=tag, conditional=True)
    response.headers["Cache-Control"] = "private, no-cache"
    return response


@bp.get("/people/<int:person_id>/seen")
@bp.output(WatchedOut)
def read_watched(person_id: int) -> WatchedOut:
    """What somebody saw or began of late, if they let the owner see it."""
    with begin() as db:
        rows = watched(db, find(db, Person, person_id), limit=WATCHED_SHOWN)
        cards = cards_of(db, [entry for entry, _ in rows])
        return WatchedOut(
            seen=[
                WatchedLine(card=card, seen_at=iso(mark.seen_at), position_seconds=mark.position_seconds)
                for card, (_, mark) in zip(cards, rows, strict=True)
            ]
        )
