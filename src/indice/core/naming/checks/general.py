"""Checks of every kind of library."""

from __future__ import annotations

from collections.abc import Iterator

from .model import Finding, Listing, check

__all__ = ["file_empty", "file_unfinished", "junk"]

_ALL = ("movies", "series", "music", "photos", "home-videos", "mixed")
_LITTER = frozenset(("thumbs.db", ".ds_store", "desktop.ini", "ehthumbs.db", ".apdisk"))
_STRAY = frozenset(
    [
        "zip",
        "rar",
        "7z",
        "tar",
        "gz",
        "bz2",
        "xz",
        "exe",
        "msi",
        "bat",
        "cmd",
        "com",
        "scr",
        "dmg",
        "apk",
        "deb",
        "rpm",
        "jar",
        "torrent",
        "url",
        "lnk",
        "r00",
        "r01",
    ]
)
_UNFINISHED = frozenset(("part", "crdownload", "!qb", "partial", "download", "aria2", "!ut", "tmp"))
_HIDDEN_MARKERS = frozenset((".nomedia", ".ignore", ".nocover"))


@check(
    slug="junk",
    title="Litter",
    libraries=_ALL,
    severity="advice",
    why="System litter, archives and programs are no media. They slow down every walk and confuse software that counts files.",
    before="Tidewrack (2004)/Thumbs.db",
    after="",
)
def junk(listing: Listing) -> Iterator[Finding]:
    """System litter, archives, programs, and stray texts beside video."""
    for item in sorted(listing.items, key=lambda item: item.path):
        name = item.name.lower()
        extension = name.rpartition(".")[2]
        stray_text = extension == "txt" and listing.library in ("movies", "series", "home-videos")
        if name in _LITTER or (name.startswith("._") and len(name) > 2) or extension in _STRAY or stray_text:
            yield Finding(
                check="junk",
                path=item.path,
                severity="advice",
                message="This is no media. Delete it when you do not need it.",
            )


@check(
    slug="file-empty",
    title="Empty file",
    libraries=_ALL,
    severity="problem",
    why="A file of no bytes is what a broken copy leaves behind. It looks like a film and plays nothing.",
    before="Salt Meridian (1994)/Salt Meridian (1994).mkv, 0 bytes",
    after="",
)
def file_empty(listing: Listing) -> Iterator[Finding]:
    """Zero bytes; hidden marker files are meant to be empty."""
    for item in sorted(listing.items, key=lambda item: item.path):
        if item.size_bytes == 0 and item.name.lower() not in _HIDDEN_MARKERS:
            yield Finding(
                check="file-empty",
                path=item.path,
                severity="problem",
                message="The file has no content. Copy it again from where it came.",
            )


@check(
    slug="file-unfinished",
    title="Unfinished download",
    libraries=_ALL,
    severity="advice",
    why="A download that was broken off takes space and never plays.",
    before="harbour.glass.mkv.part",
    after="",
)
def file_unfinished(listing: Listing) -> Iterator[Finding]:
    """Names that programs give to what they have not finished."""
    for item in sorted(listing.items, key=lambda item: item.path):
        if item.name.lower().rpartition(".")[2] in _UNFINISHED and "." in item.name:
            yield Finding(
                check="file-unfinished",
                path=item.path,
                severity="advice",
                message="This download was not finished. Let it finish, or delete it.",
            )
