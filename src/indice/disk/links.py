"""Symbolic links in a library: moved as links, mended where their file moves, and never followed out of it."""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping, Sequence

__all__ = ["leads_out", "link_of", "linked_folder", "links_beside", "mended_target"]


def link_of(path: bytes) -> bytes | None:
    """What a link says; None for what is no link."""
    try:
        return os.readlink(path)
    except OSError:
        return None


def leads_out(root: bytes, path: bytes) -> bool:
    """Whether what lies at a path is, in truth, outside of a folder."""
    return not os.path.realpath(path).startswith(os.path.realpath(root).rstrip(b"/") + b"/")


def linked_folder(path: bytes, roots: Sequence[bytes]) -> bytes | None:
    """The first folder above a path, below its library's folder, that is a link; None when all are what they seem."""
    root = max((root for root in roots if path.startswith(root.rstrip(b"/") + b"/")), key=len, default=None)
    if root is None:
        return None
    place = root.rstrip(b"/")
    for part in path[len(place) + 1 :].split(b"/")[:-1]:
        place += b"/" + part
        if os.path.islink(place):
            return place
    return None


def _target(text: bytes, place: bytes) -> bytes:
    return os.path.normpath(os.path.join(os.path.dirname(place), text))


def mended_target(text: bytes, before: bytes, after: bytes, moves: Mapping[bytes, bytes]) -> bytes:
    """What a link that moves from `before` to `after` must say to lead to its file, when files move as well."""
    target = _target(text, before)
    moved = moves.get(target, target)
    if text.startswith(b"/"):
        return moved if moved != target else text
    if moved == target and os.path.dirname(before) == os.path.dirname(after):
        return text
    return os.path.relpath(moved, os.path.dirname(after))


def links_beside(moves: Mapping[bytes, bytes]) -> Iterator[bytes]:
    """Links in the folders of files that move which lead to one of them."""
    for folder in sorted({os.path.dirname(before) for before in moves}):
        try:
            with os.scandir(folder) as listing:
                links = sorted(entry.path for entry in listing if entry.is_symlink())
        except OSError:
            continue
        for path in links:
            text = link_of(path)
            if text is not None and _target(text, path) in moves:
                yield path
