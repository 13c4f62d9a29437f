"""Checks of every kind of library that look at whole files and folders."""

from __future__ import annotations

import posixpath
from collections.abc import Collection, Iterable, Iterator

from ...phrase import Phrase, phrase
from ...reading.reader import family_of
from ...reading.work import folder_role
from ..belongings import is_disc_folder
from ..kinds import HOLDS
from .model import Hit, Item, Listing, check

__all__ = [
    "empty_of",
    "extension_wrong",
    "file_empty",
    "file_unfinished",
    "file_unreadable",
    "folder_empty",
    "full_folders",
    "is_junk",
    "is_media",
    "is_unexpected",
    "is_unfinished",
    "junk",
    "kind_unexpected",
    "whole_folder_unexpected",
]

_LITTER = frozenset(
    ("thumbs.db", ".ds_store", "desktop.ini", "ehthumbs.db", ".apdisk", "ehthumbs_vista.db", "icon\r", ".localized")
)
_STRAY = frozenset(
    [
        "zip",
        "rar",
        "7z",
        "tar",
        "gz",
        "bz2",
        "xz",
        "tgz",
        "exe",
        "msi",
        "bat",
        "cmd",
        "com",
        "scr",
        "dmg",
        "pkg",
        "apk",
        "deb",
        "rpm",
        "jar",
        "torrent",
        "url",
        "lnk",
        "webloc",
        "r00",
        "r01",
        "ace",
        "cab",
        "vbs",
        "sh",
    ]
)
_UNFINISHED = frozenset(
    [
        "part",
        "crdownload",
        "!qb",
        "partial",
        "download",
        "aria2",
        "!ut",
        "tmp",
        "bc!",
        "!bt",
        "filepart",
        "opdownload",
        "incomplete",
        "fdmdownload",
        "td",
        "xltd",
    ]
)
_VIDEO_LIBRARIES = ("movies", "series", "home-videos")


def is_unfinished(name: str) -> bool:
    """Whether a name is one that programs give to what they have not finished."""
    return "." in name and name.lower().rpartition(".")[2] in _UNFINISHED


def is_litter(name: str) -> bool:
    """Whether a name is system litter, an archive or a program, wherever it lies."""
    lowered = name.lower()
    return (
        lowered in _LITTER
        or (name.startswith("._") and len(name) > 2)
        or ("." in lowered and lowered.rpartition(".")[2] in _STRAY)
    )


def is_junk(item: Item, listing: Listing) -> bool:
    """Litter, or a stray text beside video."""
    if is_litter(item.name):
        return True
    if item.extension != "txt":
        return False
    if listing.library in _VIDEO_LIBRARIES:
        return True
    beside = listing.by_folder.get(item.folder, ())
    return listing.library == "mixed" and any(family_of(other.name) == "video" for other in beside)


@check(
    slug="junk",
    title="Litter",
    severity="advice",
    why="System litter, archives and programs are no media. They slow down every walk and confuse software "
    "that counts files.",
    before="Tidewrack (2004)/Thumbs.db",
)
def junk(listing: Listing) -> Iterator[Hit]:
    """System litter, archives, programs, and stray texts and links beside video."""
    for item in listing.items:
        if item.kind == "other" and not is_unfinished(item.name) and is_junk(item, listing):
            yield Hit(item.path, phrase("This is no media. Delete it when you do not need it."))


@check(
    slug="file-empty",
    title="Empty file",
    severity="problem",
    why="A file of no bytes is what a broken copy leaves behind. It looks like a film and plays nothing.",
    before="Salt Meridian (1994)/Salt Meridian (1994).mkv, 0 bytes",
)
def file_empty(listing: Listing) -> Iterator[Hit]:
    """Zero bytes; hidden marker files are meant to be empty, and an unfinished download is said to be one."""
    for item in listing.items:
        if item.size_bytes == 0 and not item.name.startswith(".") and not is_unfinished(item.name) and not item.problem:
            yield Hit(item.path, phrase("The file has no content. Copy it again from where it came."))


@check(
    slug="file-unfinished",
    title="Unfinished download",
    severity="advice",
    why="A download that was broken off takes space and never plays.",
    before="harbour.glass.mkv.part",
)
def file_unfinished(listing: Listing) -> Iterator[Hit]:
    """Names that programs give to what they have not finished."""
    for item in listing.items:
        if is_unfinished(item.name):
            yield Hit(item.path, phrase("This download was not finished. Let it finish, or delete it."))


@check(
    slug="file-unreadable",
    title="No permission",
    severity="problem",
    why="What Indice may not read, players may not read either: it is missing on every screen, without a word.",
    before="Harbour Glass (1987)/Harbour Glass (1987).mkv, readable by nobody",
)
def file_unreadable(listing: Listing) -> Iterator[Hit]:
    """No permission to read a file or to list a folder."""
    for folder, why in sorted(listing.closed.items()):
        yield Hit(f"{folder}/" if folder else "./", why)
    for item in listing.items:
        if item.problem:
            yield Hit(item.path, item.problem)


@check(
    slug="extension-wrong",
    title="Wrong extension",
    severity="problem",
    content=True,
    why="Players and tools go by the extension. A file of another format is opened with the wrong decoder, "
    "or not at all.",
    before="Wren Calloway/Tidewrack (2004)/01 - Ebb.mp3, which is FLAC",
    after="Wren Calloway/Tidewrack (2004)/01 - Ebb.flac",
)
def extension_wrong(listing: Listing) -> Iterator[Hit]:
    """The first bytes are of another format than the extension says; formats that share a container are one."""
    for item in listing.items:
        if item.wrong_format is None or is_unfinished(item.name):
            continue
        found, extension = item.wrong_format
        fix = f"{item.path[: len(item.path) - len(item.extension)]}{extension}" if extension else None
        moves = ((item.path, fix),) if fix else ()
        yield Hit(
            item.path,
            phrase("The content is {found}, not what the extension says.", found=found),
            fix,
            "safe",
            (),
            (),
            moves,
        )


@check(
    slug="folder-empty",
    title="Empty folder",
    severity="advice",
    why="An empty folder is what a move left behind. It shows up as a film or an album with nothing in it.",
    before="Salt Meridian (1994)/",
)
def folder_empty(listing: Listing) -> Iterator[Hit]:
    """Nothing in it, or only litter or unfinished downloads; nested ones are one finding, on the outermost."""
    yield from empty_of(listing.all_folders, full_folders(listing))


def full_folders(listing: Listing) -> set[str]:
    """Folders that hold more than litter and unfinished downloads, and all above
    these; the top one and those outside."""
    full: set[str] = {"", *listing.outside}
    for item in listing.items:
        if is_unfinished(item.name) or (item.kind == "other" and is_junk(item, listing)):
            continue
        _mark(full, item.folder)
    for folder in listing.closed:
        _mark(full, folder)
    return full


def empty_of(folders: Iterable[str], full: Collection[str]) -> Iterator[Hit]:
    """A finding for each folder that is not among the full ones, but for those in another of which that is said."""
    for folder in sorted(folders):
        is_outermost = folder not in full and folder.rpartition("/")[0] in full
        if is_outermost and not _OF_DISCS & set(folder.casefold().split("/")):
            yield Hit(f"{folder}/", phrase("Nothing is in it. Delete it when you do not need it."))


_OF_DISCS = frozenset(("video_ts", "audio_ts", "bdmv", "certificate", "hvdvd_ts"))
"""Folders that a disc has, some of them empty by its own standard."""


def _mark(full: set[str], folder: str) -> None:
    while folder not in full:
        full.add(folder)
        folder = folder.rpartition("/")[0]


_EXPECTED = {
    "movies": frozenset(("movie",)),
    "series": frozenset(("episode", "movie")),
    "music": frozenset(("track",)),
    "photos": frozenset(("photo", "clip")),
    "home-videos": frozenset(("photo", "clip")),
}
_KINDS = frozenset(("movie", "episode", "track", "clip"))


def is_media(item: Item) -> bool:
    """Whether a file counts when a folder is asked what it holds."""
    return item.kind in _KINDS or item.kind in ("photo", "extra")


def is_unexpected(item: Item, library: str) -> bool:
    """Whether a file is of another kind than the library declares; extras and themes go with their work."""
    if library == "mixed" or item.kind not in _KINDS:
        return False
    family = family_of(item.name)
    if library == "music":
        return family == "video"
    if family == "audio":
        return not any(folder_role(part) == "extra" for part in item.folder.split("/"))
    return item.kind == "episode" and library == "movies"


@check(
    slug="kind-unexpected",
    title="Another kind than the library's",
    libraries=("movies", "series", "music", "photos", "home-videos"),
    severity="problem",
    why="A library of films is read as films. An album among them is shown as dozens of films that nobody knows.",
    before="Films/Wren Calloway - Tidewrack/01 - Ebb.flac",
    after="Music/Wren Calloway/Tidewrack/01 - Ebb.flac",
)
def kind_unexpected(listing: Listing) -> Iterator[Hit]:
    """Video in a music library, audio in a video library, an episode among films; a whole folder is one finding."""
    strangers = [item for item in listing.items if is_unexpected(item, listing.library)]
    if not strangers:
        return
    strange: dict[str, int] = {}
    media: dict[str, int] = {}
    for item in listing.items:
        if is_media(item):
            unexpected = is_unexpected(item, listing.library)
            for folder in _above(item.folder):
                media[folder] = media.get(folder, 0) + 1
                strange[folder] = strange.get(folder, 0) + unexpected
    reported: dict[str, list[Item]] = {}
    for item in strangers:
        whole = [f for f in _above(item.folder) if strange[f] == media[f] > 1 and f not in listing.outside]
        if whole:
            reported.setdefault(min(whole, key=len), []).append(item)
        else:
            yield Hit(
                item.path,
                _strange(item.path, listing.library),
            )
    for folder, items in sorted(reported.items()):
        yield whole_folder_unexpected(folder, listing.library, [], items)


def whole_folder_unexpected(folder: str, library: str, paths: Iterable[str], items: Iterable[Item]) -> Hit:
    """One finding on a folder of which every file is of another kind: those of these paths, and these items.

    An album is its own folder, not that of an artist who has nothing else there; a series is the folder of its seasons.
    """
    files = sorted({*paths, *(item.path for item in items)})
    if all(family_of(path.rpartition("/")[2]) == "audio" for path in files):
        folder = posixpath.commonpath([path.rpartition("/")[0] for path in files])
        if is_disc_folder(folder):
            folder = folder.rpartition("/")[0]
    return Hit(
        f"{folder}/",
        _all_strange(len(files), files[0], library),
        also=tuple(files),
    )


def _is_sound(path: str) -> bool:
    return family_of(path.rpartition("/")[2]) == "audio"


def _strange(path: str, library: str) -> Phrase:
    if _is_sound(path):
        return phrase("This is sound, but the library holds {holds}.", holds=HOLDS[library])
    return phrase("This is a video of another kind, but the library holds {holds}.", holds=HOLDS[library])


def _all_strange(n: int, first: str, library: str) -> Phrase:
    if _is_sound(first):
        return phrase("{n} files here are sound, but the library holds {holds}.", n=n, holds=HOLDS[library])
    return phrase(
        "{n} files here are videos of another kind, but the library holds {holds}.", n=n, holds=HOLDS[library]
    )


def _above(folder: str) -> Iterator[str]:
    while folder:
        yield folder
        folder = folder.rpartition("/")[0]
