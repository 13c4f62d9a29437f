"""Pictures of entries: from the folders, from inside the files, and from sources. Kept as thumbnails."""

from __future__ import annotations

import errno
import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from sqlalchemy import select

from ..disk.probe import embedded_picture
from ..disk.thumbnails import Thumbnail, frame_of, make_thumbnails
from ..disk.walk import shown
from ..errors import IndiceError
from ..settings import Settings
from ..sources import SourceClient
from ..store.database import Database
from ..store.entries import add_artwork
from ..store.models import Artwork, Entry, File, Folder
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
    entry_id: int
    role: str
    origin: str
    path: bytes
    how: str
    """`picture`, `embedded` or `frame`."""


def _wanted(database: Database, library_id: int) -> list[_Wanted]:
    with database.begin() as db:
        have = {
            (entry_id, role, origin)
            for entry_id, role, origin in db.execute(
                select(Artwork.entry_id, Artwork.role, Artwork.origin)
                .join(Entry, Entry.id == Artwork.entry_id)
                .where(Entry.library_id == library_id)
            )
        }
        rows = db.execute(
            select(
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
            .where(Folder.library_id == library_id, File.state == "present", File.problem == "")
            .order_by(File.shown)
        ).all()
    found: dict[tuple[int, str, str], _Wanted] = {}

    def want(entry_id: int | None, role: str, origin: str, root: bytes, path: bytes, how: str) -> None:
        if entry_id is not None and (entry_id, role, origin) not in have:
            found.setdefault(
                (entry_id, role, origin), _Wanted(entry_id, role, origin, os.path.join(bytes(root), bytes(path)), how)
            )

    for entry_id, kind, serves, reading, media, root, path, parent_id, entry_kind in rows:
        if kind == "photo":
            want(entry_id, "photo", "file", root, path, "picture")
        elif kind == "artwork":
            want(entry_id, str(reading.get("role", "poster")), "file", root, path, "picture")
        elif kind == "track" and (media or {}).get("has_picture"):
            want(parent_id, "cover", "tags", root, path, "embedded")
        elif kind in ("clip", "episode") and serves == "main" and entry_kind in ("clip", "episode"):
            want(entry_id, "thumb", "frame", root, path, "frame")
    return list(found.values())


def _make(home: Path, wanted: _Wanted) -> Thumbnail | str | None:
    """The thumbnail, a problem in words, or None when there is no picture to be had."""
    try:
        if wanted.how == "picture":
            return make_thumbnails(home, Path(os.fsdecode(wanted.path)))
        if wanted.how == "embedded":
            content = embedded_picture(wanted.path)
            return make_thumbnails(home, content, sizes=(240, 480)) if content else None
        frame = frame_of(wanted.path)
        return make_thumbnails(home, frame, sizes=(240, 480)) if frame is not None else None
    except ValueError as error:
        return str(error)
    except OSError as error:
        if error.errno == errno.ENOSPC:
            raise IndiceError(
                "The disk that holds Indice's data folder is full.",
                hint=f"Free some space on the disk of {home}, then scan again.",
                reference="disk-full",
            ) from error
        return f"It could not be read: {error.strerror or error}."


def local_artwork(database: Database, settings: Settings, library_id: int, progress: Progress) -> None:
    """Make thumbnails of what lies in the folders and inside the files."""
    wanted = _wanted(database, library_id)
    if not wanted:
        return
    progress.step("Making thumbnails", len(wanted))
    with ThreadPoolExecutor(3) as pool:
        for start in range(0, len(wanted), 24):
            chunk = wanted[start : start + 24]
            made = list(zip(chunk, pool.map(partial(_make, settings.home), chunk), strict=True))
            with database.begin() as db:
                for one, thumbnail in made:
                    if isinstance(thumbnail, Thumbnail):
                        add_artwork(db, one.entry_id, one.role, one.origin, thumbnail)
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
    progress.step("Fetching pictures", len(wanted))
    with ThreadPoolExecutor(3) as pool:

        def fetch(one: Offer) -> Thumbnail | str:
            try:
                return make_thumbnails(settings.home, client.picture(one.address))
            except (IndiceError, ValueError) as error:
                return str(error)
            except OSError as error:
                return f"It could not be kept: {error.strerror or error}."

        for one, thumbnail in zip(wanted, pool.map(fetch, wanted), strict=True):
            if isinstance(thumbnail, str):
                progress.log(thumbnail, path=one.address, level="warning")
            else:
                with database.begin() as db:
                    add_artwork(db, one.entry_id, one.role, f"source:{client.profile.name}", thumbnail, place=one.place)
            progress.advance(1, one.address.rsplit("/", 2)[-1])
    progress.changed("catalog")
