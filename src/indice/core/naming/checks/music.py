"""Checks of music."""

from __future__ import annotations

from collections.abc import Iterator

from ...reading.scan import without_accents
from .model import Finding, Item, Listing, check

__all__ = ["cover_missing", "track_number_missing"]

_COVERS = frozenset(("cover", "folder", "front", "album"))
_PICTURES = frozenset(("jpg", "jpeg", "png", "webp"))


@check(
    slug="track-number-missing",
    title="Track number missing",
    libraries=("music",),
    severity="advice",
    why="Without a number an album plays in the order of the alphabet.",
    before="Wren Calloway/Tidewrack (2004)/Low Lamps.flac",
    after="Wren Calloway/Tidewrack (2004)/03 - Low Lamps.flac",
)
def track_number_missing(listing: Listing) -> Iterator[Finding]:
    """No number, neither in the name nor in the tags; a single song is no album."""
    for _, items in sorted(listing.by_folder.items()):
        tracks = [item for item in items if item.kind == "track" and item.reading.get("album")]
        if len(tracks) < 2:
            continue
        for item in tracks:
            if (
                item.reading.get("track") is None
                and item.reading.get("date") is None
                and not (item.tags or {}).get("track")
            ):
                yield Finding(
                    check="track-number-missing",
                    path=item.path,
                    severity="advice",
                    message="Neither the name nor the tags give a track number.",
                )


@check(
    slug="cover-missing",
    title="Cover missing",
    libraries=("music",),
    severity="advice",
    why="An album without a cover is a grey square on every screen in the house.",
    before="Wren Calloway/Tidewrack (2004)/01 - Ebb.flac",
    after="Wren Calloway/Tidewrack (2004)/cover.jpg",
)
def cover_missing(listing: Listing) -> Iterator[Finding]:
    """Neither a cover file in the album's folder (or the one above its discs), nor an embedded picture."""
    albums: dict[str, list[Item]] = {}
    for folder, items in listing.by_folder.items():
        tracks = [item for item in items if item.kind == "track" and item.reading.get("album")]
        if tracks:
            home = (
                folder.rpartition("/")[0]
                if tracks[0].reading.get("disc") and folder.rpartition("/")[2].lower().startswith(("cd", "disc"))
                else folder
            )
            albums.setdefault(home, []).extend(tracks)
    for folder, tracks in sorted(albums.items()):
        names = {folder, *(track.folder for track in tracks)}
        wanted = _COVERS | {without_accents(str(tracks[0].reading.get("album")))}
        pictures = [
            item
            for place in names
            for item in listing.by_folder.get(place, ())
            if item.name.rpartition(".")[2].lower() in _PICTURES
        ]
        if any(
            without_accents(picture.name.rpartition(".")[0]) in wanted
            or picture.name.rpartition(".")[0].lower() in wanted
            for picture in pictures
        ):
            continue
        if any(track.has_picture for track in tracks):
            continue
        yield Finding(
            check="cover-missing",
            path=f"{folder}/" if folder else "./",
            severity="advice",
            message="No cover file lies here, and no track carries a picture. Put a cover.jpg beside the tracks.",
        )
