"""Fills in what stands inside the files of a listing: format, tags, picture, moment."""

from __future__ import annotations

import os

from ..core.naming.checks import Item
from ..disk.probe import probe, xmp_moment
from ..disk.sniff import wrong_format

__all__ = ["look"]

_CLOSED = "No permission to read it. Give the account that runs Indice read access."


def look(root: bytes, item: Item, sidecars: set[str]) -> None:
    """Fill in what stands inside a file: format, tags, picture, moment."""
    path = os.path.join(root, os.fsencode(item.path))
    if item.size_bytes == 0 or item.problem:
        return
    try:
        item.wrong_format = wrong_format(path)
    except OSError:
        item.problem = _CLOSED
        return
    if item.wrong_format is not None:
        return
    if item.kind == "track":
        media = probe(path, "track").media
        item.tags, item.has_picture = media.get("tags"), media.get("has_picture")
    elif item.kind in ("photo", "clip"):
        media = probe(path, item.kind).media
        item.original = media.get("original") or (media.get("taken") if item.kind == "clip" else None)
        item.taken = media.get("taken") or _sidecar_moment(root, item, sidecars)


def _sidecar_moment(root: bytes, item: Item, sidecars: set[str]) -> str | None:
    stem = item.path[: len(item.path) - len(item.extension) - 1]
    for name in (f"{item.path}.xmp", f"{stem}.xmp", f"{item.path}.XMP", f"{stem}.XMP"):
        if name in sidecars:
            return xmp_moment(os.path.join(root, os.fsencode(name)))
    return None
