"""Checks of single names, of files and of folders alike: signs, reserved words, length, bytes, names that clash."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Callable, Iterator

from ...phrase import phrase
from ..convention import safe_name
from .model import Hit, Listing, check

__all__ = ["case_clash", "character_unsafe", "name_encoding", "name_reserved", "name_too_long"]

_UNSAFE = re.compile(r'[<>:"\\|?*\x00-\x1f\x7f-\x9f]|^ | $|\.$')
_SPACE_BEFORE_EXTENSION = re.compile(r"\s\.[A-Za-z0-9]{1,8}$")
_RESERVED = re.compile(r"(?:con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])\s*(?:\..*)?", re.IGNORECASE | re.DOTALL)
LONGEST_PATH = 240
LONGEST_NAME_BYTES = 255


def _renamed(listing: Listing, path: str, name: str, is_folder: bool) -> tuple[str, tuple[tuple[str, str], ...]]:
    above = path.rpartition("/")[0]
    fresh = f"{above}/{name}" if above else name
    if not is_folder:
        return fresh, ((path, fresh),)
    inside = tuple(
        (item.path, fresh + item.path[len(path) :]) for item in listing.items if item.path.startswith(path + "/")
    )
    return fresh + "/", inside


def _bad_names(
    listing: Listing, is_bad: Callable[[str, bool], bool], mend: Callable[[str, bool], str], message: str
) -> Iterator[Hit]:
    bad = [node for node in listing.odd_names if is_bad(node[1], node[2])]
    companions = listing.followers if bad else {}
    for path, name, is_folder in bad:
        if not is_folder and path in companions and is_bad(companions[path].rpartition("/")[2], False):
            continue
        fix, moves = _renamed(listing, path, mend(name, is_folder), is_folder)
        yield Hit(path + "/" * is_folder, message, fix, "safe", (), (), moves)


def _is_unsafe(name: str, is_folder: bool) -> bool:
    return _UNSAFE.search(name) is not None or (not is_folder and _SPACE_BEFORE_EXTENSION.search(name) is not None)


def _mend_signs(name: str, is_folder: bool) -> str:
    stem, dot, extension = name.rpartition(".")
    if is_folder or not stem:
        return safe_name(name)
    return safe_name(stem) + dot + safe_name(extension)


@check(
    slug="character-unsafe",
    title="Sign that other systems refuse",
    severity="problem",
    why="Some systems cannot store these signs, or drop blanks and dots at a name's end. The file cannot be "
    "copied there, or comes back under another name.",
    before="Who Knows? (1994)/Who Knows? (1994).mkv",
    after="Who Knows (1994)/Who Knows (1994).mkv",
)
def character_unsafe(listing: Listing) -> Iterator[Hit]:
    """One of < > : " \\ | ? *, a control character, a blank at an end or before the extension, a trailing dot."""
    if listing.convention.file_system == "linux":
        return
    yield from _bad_names(
        listing, _is_unsafe, _mend_signs, phrase("The name holds a sign that other systems refuse. Take it out.")
    )


@check(
    slug="name-reserved",
    title="Reserved name",
    severity="problem",
    why="Some systems keep this word for a device. A file of this name can be neither opened nor deleted there.",
    before="Aux.mkv",
    after="Aux_.mkv",
)
def name_reserved(listing: Listing) -> Iterator[Hit]:
    """A device name (CON, NUL, COM1 …), whatever its extension."""

    def mend(name: str, is_folder: bool) -> str:
        head, dot, rest = name.partition(".")
        return f"{head.rstrip()}_{dot}{rest}"

    def is_bad(name: str, is_folder: bool) -> bool:
        return len(name) >= 3 and name[0] in "cpanlCPANL" and _RESERVED.fullmatch(name) is not None

    yield from _bad_names(listing, is_bad, mend, phrase("Some systems keep this name for a device. Add a word to it."))


@check(
    slug="name-too-long",
    title="Name too long",
    severity="problem",
    why="Many systems stop at 255 bytes for a name and about 260 characters for a path. Longer ones cannot "
    "be copied or opened there.",
    before="a name of 251 letters",
    after="a shorter name",
)
def name_too_long(listing: Listing) -> Iterator[Hit]:
    """A name over 255 bytes of UTF-8, or a path over 240 characters below the library; the outermost folder counts."""
    long_folders: list[str] = []
    for folder in sorted(listing.all_folders):
        if _is_long(folder) and not any(folder.startswith(outer + "/") for outer in long_folders):
            long_folders.append(folder)
            yield Hit(f"{folder}/", _length_message(folder))
    followers: dict[str, str] | None = None
    for folder, items in listing.by_folder.items():
        if any(folder == outer or folder.startswith(outer + "/") for outer in long_folders):
            continue
        long = [item for item in items if _is_long(item.path)]
        if not long:
            continue
        followers = listing.followers if followers is None else followers
        own = [item for item in long if followers.get(item.path) not in {other.path for other in long}]
        if len(own) > 2 and len(long) == len(items) and folder:
            yield Hit(
                f"{folder}/",
                phrase(
                    "The paths of all {n} files are over {most} characters. Shorten the folder's name.",
                    n=len(own),
                    most=LONGEST_PATH,
                ),
                also=tuple(item.path for item in own),
            )
        else:
            yield from (Hit(item.path, _length_message(item.path)) for item in own)


def _is_long(path: str) -> bool:
    name = path.rpartition("/")[2]
    return len(path) > LONGEST_PATH or (
        len(name) > 60 and len(name.encode("utf-8", "surrogateescape")) > LONGEST_NAME_BYTES
    )


def _length_message(path: str) -> str:
    size = len(path.rpartition("/")[2].encode("utf-8", "surrogateescape"))
    if size > LONGEST_NAME_BYTES:
        return phrase(
            "The name has {size} bytes; {most} is what systems take. Shorten it.",
            size=size,
            most=LONGEST_NAME_BYTES,
        )
    return phrase("The path has {n} characters; {most} is safe everywhere. Shorten it.", n=len(path), most=LONGEST_PATH)


@check(
    slug="name-encoding",
    title="Letters in another form",
    severity="problem",
    why="Bytes that are no UTF-8 show as question marks, and letters in decomposed form look right but are "
    "not found by search or by other systems.",
    before="Étang (1994), with the accent as a letter of its own",
    after="Étang (1994)",
)
def name_encoding(listing: Listing) -> Iterator[Hit]:
    """Bytes that are no UTF-8, or letters that are not in composed form (NFC)."""
    for path, name, is_folder in listing.odd_names:
        if name.isascii() or (unicodedata.is_normalized("NFC", name) and not _has_raw_bytes(name)):
            continue
        if _has_raw_bytes(name):
            fix, moves = _renamed(listing, path, _guess(name), is_folder)
            said = phrase("The name holds bytes that are no UTF-8. It was written by an older system.")
            yield Hit(path + "/" * is_folder, said, fix, "look", (), (), moves)
        else:
            fix, moves = _renamed(listing, path, unicodedata.normalize("NFC", name), is_folder)
            said = phrase("Its letters are in decomposed form; other systems take it for another name.")
            yield Hit(path + "/" * is_folder, said, fix, "safe", (), (), moves)


def _has_raw_bytes(name: str) -> bool:
    return any(0xDC80 <= ord(c) <= 0xDCFF for c in name)


def _guess(name: str) -> str:
    """The bytes as the most common older table has them; a person looks before it is done."""
    raw = name.encode("utf-8", "surrogateescape")
    try:
        return unicodedata.normalize("NFC", raw.decode("cp1252"))
    except UnicodeDecodeError:
        return raw.decode("latin-1")


@check(
    slug="case-clash",
    title="Names that clash",
    severity="problem",
    why="On many systems capital and small letters are one. Of two names that differ in nothing else, only "
    "one survives a copy.",
    before="Tidewrack (2004)/Cover.jpg beside cover.jpg",
    after="Tidewrack (2004)/Cover.jpg",
)
def case_clash(listing: Listing) -> Iterator[Hit]:
    """Two names in one folder that differ only in case or in Unicode form."""
    groups: dict[tuple[str, str], list[tuple[str, bool]]] = defaultdict(list)
    for path, name, is_folder in listing.names:
        folded = name.lower() if name.isascii() else _folded(name)
        groups[path[: len(path) - len(name)], folded].append((path, is_folder))
    clashes = {key: sorted(paths) for key, paths in groups.items() if len(paths) > 1}
    if not clashes:
        return
    followers = listing.followers
    clashing = {path for paths in clashes.values() for path, _ in paths}
    for paths in clashes.values():
        if all(followers.get(path) in clashing for path, _ in paths):
            continue
        first, first_is_folder = paths[0]
        for path, is_folder in paths[1:]:
            yield Hit(
                path + "/" * is_folder,
                phrase(
                    "Beside it lies {name}: on many systems the two are one name.",
                    name=first.rpartition("/")[2],
                ),
                also=(first + "/" * first_is_folder,),
            )


def _folded(name: str) -> str:
    return unicodedata.normalize("NFC", unicodedata.normalize("NFC", name).casefold())


def clashing_pairs(listing: Listing) -> frozenset[frozenset[str]]:
    """Pairs of paths that :func:`case_clash` reports; a folder without its slash."""
    return frozenset(
        frozenset((hit.path.rstrip("/"), other.rstrip("/"))) for hit in case_clash.find(listing) for other in hit.also
    )
