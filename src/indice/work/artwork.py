"""Pictures of entries: from the folders, from inside the files, and from sources. Kept as thumbnails."""

from __future__ import annotations

import errno
import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from sqlalchemy import ARRAY, Integer, cast, func, select, update
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..disk.apart import embedded_thumbnails, frame_thumbnails, thumbnails_apart
from ..disk.pace import FETCHING
from ..disk.thumbnails import Thumbnail
from ..disk.walk import shown
from ..errors import IndiceError
from ..settings import Settings
from ..sources.client import SourceClient
from ..store.among import among
from ..store.database import Database
from ..store.models import Artwork, Entry, File, Folder
from ..store.pictures import add_artwork, first_with_picture
from ..store.stages import PICTURED
from .progress import Progress

__all__ = ["MOST_OFFERS", "Offer", "fetch_artwork", "local_artwork"]


MOST_OFFERS = 12
"""So many pictures of one role are fetched from a source at most."""


@dataclass(frozen=True, slots=True)
class Offer:
    """A picture that a source names."""

    entry_id: int
    role: str
    address: str
    place: int = 0
    """Its place among those of one role; only the first is fetched unasked."""


@dataclass(frozen=True, slots=True)
class _Wanted:
    file_id: int
    entry_id: int
    role: str
    origin: str
    path: bytes
    how: str
    """`picture`, `embedded` or `frame`."""


_FILES = (
    select(
        File.id,
        File.entry_id,
        File.kind,
        File.serves,
        File.reading,
        File.media,
        Folder.path,
        File.path,
        Entry.parent_id,
        Entry.kind,
    )
    .join(Folder, Folder.id == File.folder_id)
    .join(Entry, Entry.id == File.entry_id)
    .where(File.state == "present", PICTURED.is_due())
    .order_by(File.shown)
)


def _wanted(database: Database, library_id: int) -> list[_Wanted]:
    """Pictures to be made of files of which none has been made as they are; the first file of a role gives its picture.

    What has one gets another where the file that gave it is another now: frames
    of their film, covers of the first track.
    """
    with database.begin() as db:
        rows = db.execute(_FILES.where(Folder.library_id == library_id)).all()
        holders = {id_ for row in rows for id_ in (row[1], row[8]) if id_ is not None}
        pictures = select(Artwork.entry_id, Artwork.role, Artwork.origin).where(among(Artwork.entry_id, holders))
        have = set(db.execute(pictures))
        covers = {entry_id for entry_id, role, origin in have if (role, origin) == ("cover", "tags")}
        firsts = first_with_picture(db, covers)
    found: dict[tuple[int, str, str], _Wanted] = {}
    done: list[int] = []

    def want(file_id: int, entry_id: int | None, role: str, origin: str, place: bytes, how: str) -> None:
        key = (entry_id or 0, role, origin)
        is_from_another = how == "embedded" and key in have and file_id not in firsts
        if entry_id is None or key in found or is_from_another:
            done.append(file_id)
        else:
            found[key] = _Wanted(file_id, entry_id, role, origin, place, how)

    for file_id, entry_id, kind, serves, reading, media, root, path, parent_id, entry_kind in rows:
        place = os.path.join(bytes(root), bytes(path))
        if kind == "photo" and serves != "raw":
            want(file_id, entry_id, "photo", "file", place, "picture")
        elif kind == "artwork":
            want(file_id, entry_id, str(reading.get("role", "poster")), "file", place, "picture")
        elif kind == "track" and (media or {}).get("has_picture"):
            want(file_id, parent_id, "cover", "tags", place, "embedded")
        elif (
            kind in ("clip", "episode") and serves in ("main", "part", "version") and entry_kind in ("clip", "episode")
        ):
            want(file_id, entry_id, "thumb", "frame", place, "frame")
        else:
            done.append(file_id)
    with database.begin() as db:
        _note(db, done)
    return list(found.values())


def _note(db: Session, file_ids: Sequence[int]) -> None:
    """These files have given the pictures that they can give."""
    if file_ids:
        db.execute(
            update(File)
            .where(File.id == func.any(cast(list(file_ids), ARRAY(Integer))))
            .values(pictured_by=PICTURED.version)
            .execution_options(synchronize_session=False)
        )


class _OutOfReach(str):
    """A problem that the next scan may not find any more."""

    __slots__ = ()


def _make(home: Path, wanted: _Wanted) -> Thumbnail | str | None:
    """The thumbnail, a problem in words, or None when there is no picture to be had."""
    try:
        if wanted.how == "picture":
            return thumbnails_apart(home, Path(os.fsdecode(wanted.path)))
        find = embedded_thumbnails if wanted.how == "embedded" else frame_thumbnails
        found = find(home, wanted.path)
        if found is None and not os.path.exists(wanted.path):
            return _OutOfReach("It is not there any more.")
        return found
    except ValueError as error:
        return str(error)
    except OSError as error:
        if error.errno == errno.ENOSPC:
            raise IndiceError(
                phrase("The disk that holds Indice's data folder is full."),
                hint=phrase("Free some space on the disk of {home}, then scan again.", home=home),
                reference="disk-full",
            ) from error
        return _OutOfReach(phrase("It could not be read: {why}.", why=error.strerror or error))


def local_artwork(database: Database, settings: Settings, library_id: int, progress: Progress) -> None:
    """Make thumbnails of what lies in the folders and inside the files."""
    wanted = _wanted(database, library_id)
    if not wanted:
        return
    progress.step(phrase("Making thumbnails"), len(wanted))
    with ThreadPoolExecutor(3) as pool:
        for start in range(0, len(wanted), 24):
            chunk = wanted[start : start + 24]
            made = list(zip(chunk, pool.map(partial(_make, settings.home), chunk), strict=True))
            with database.begin() as db:
                for one, thumbnail in made:
                    if isinstance(thumbnail, Thumbnail):
                        add_artwork(db, one.entry_id, one.role, one.origin, thumbnail)
                _note(db, [one.file_id for one, thumbnail in made if not isinstance(thumbnail, _OutOfReach)])
            for one, thumbnail in made:
                if isinstance(thumbnail, str):
                    progress.log(thumbnail, path=shown(one.path), level="warning")
            progress.advance(len(chunk), shown(os.path.basename(chunk[-1].path)))
    progress.changed("catalog")


def fetch_artwork(
    database: Database, settings: Settings, client: SourceClient, wanted: Sequence[Offer], progress: Progress
) -> None:
    """Fetch pictures that a source names. One that fails is logged, and the rest goes on."""
    if not wanted:
        return
    progress.step(phrase("Fetching pictures"), len(wanted))
    with ThreadPoolExecutor(3) as pool:

        def fetch(one: Offer) -> Thumbnail | str:
            try:
                content = client.picture(one.address)
                FETCHING.took(len(content))
                return thumbnails_apart(settings.home, content)
            except (IndiceError, ValueError) as error:
                return str(error)
            except OSError as error:
                return phrase("It could not be kept: {why}.", why=error.strerror or error)

        for one, thumbnail in zip(wanted, pool.map(fetch, wanted), strict=True):
            if isinstance(thumbnail, str):
                progress.log(thumbnail, path=one.address, level="warning")
            else:
                with database.begin() as db:
                    add_artwork(db, one.entry_id, one.role, f"source:{client.profile.name}", thumbnail, place=one.place)
            progress.advance(1, one.address.rsplit("/", 2)[-1])
    progress.changed("catalog")
