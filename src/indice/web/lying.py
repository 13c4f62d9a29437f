"""Music and photos in their folders as they lie on the disk, for all who may look at them."""

from __future__ import annotations

from collections.abc import Sequence

from apiflask import APIBlueprint
from sqlalchemy.orm import Session

from ..errors import IndiceError
from ..store.cards import pictures_for
from ..store.lying import KINDS, Lying, folders_in, name_of_root, pieces_below, pieces_in, roots_of
from ..store.songs import songs_of
from .common import begin, cards_of, picture_out
from .schemas_lying import LyingOut, LyingQuery, LyingsOut, PiecesOut, PiecesQuery
from .songs import songs_out

__all__ = ["bp"]

bp = APIBlueprint("lying", __name__, url_prefix="/api/shelves", tag="Catalog")
MOST_BELOW = 300
"""So many songs at most go into a queue at once."""


@bp.get("/<shelf>/folders")
@bp.input(LyingQuery, location="query", arg_name="query")
@bp.output(LyingsOut)
def read_folders(shelf: str, query: LyingQuery) -> LyingsOut:
    """A page of the folders right below one; the libraries' own where none is named."""
    _check(shelf)
    with begin() as db:
        if query.folder_id is None:
            found, following, root = roots_of(db, shelf), None, ""
        else:
            root = name_of_root(db, query.folder_id)
            found, following = folders_in(db, shelf, query.folder_id, query.path, query.after)
        return LyingsOut(folders=_out(db, found), following=following, root=root)


@bp.get("/<shelf>/folders/pieces")
@bp.input(PiecesQuery, location="query", arg_name="query")
@bp.output(PiecesOut)
def read_pieces(shelf: str, query: PiecesQuery) -> PiecesOut:
    """A page of the songs or photos that lie in a folder, by the names of their files; or the first of all below it."""
    _check(shelf)
    with begin() as db:
        if query.below:
            pieces, following = pieces_below(db, shelf, query.folder_id, query.path, limit=MOST_BELOW), None
        else:
            pieces, following = pieces_in(db, shelf, query.folder_id, query.path, query.after)
        is_music = shelf == "music"
        return PiecesOut(
            songs=songs_out(db, songs_of(db, pieces)) if is_music else [],
            entries=[] if is_music else cards_of(db, pieces),
            following=following,
        )


def _check(shelf: str) -> None:
    if shelf not in KINDS:
        raise IndiceError("There is no such shelf.", reference="shelf-unknown", status=404)


def _out(db: Session, found: Sequence[Lying]) -> list[LyingOut]:
    pictures = pictures_for(db, list({one.first.id: one.first for one in found}.values()))
    return [
        LyingOut(folder_id=one.folder_id, path=one.path, name=one.name, picture=picture_out(pictures.get(one.first.id)))
        for one in found
    ]
