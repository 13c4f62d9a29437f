"""Fills in what stands inside the files of a listing: format, tags, picture, moment."""

from __future__ import annotations

import os

from ..core.naming.checks import Item
from ..disk.apart import probe_apart

__all__ = ["look"]

_CLOSED = "No permission to read it. Give the account that runs Indice read access."


def look(root: bytes, item: Item) -> None:
    """Fill in what a file's content says; of video only what format it is."""
    if item.size_bytes == 0 or item.problem:
        return
    path = os.path.join(root, os.fsencode(item.path))
    found = probe_apart(path, item.kind if item.kind in ("track", "photo", "clip") else "other")
    media = found.media
    if found.problem == _CLOSED:
        item.problem = _CLOSED
        return
    if media.get("wrong_format"):
        item.wrong_format = tuple(media["wrong_format"])
        return
    if item.kind == "track":
        item.tags, item.has_picture = media.get("tags"), media.get("has_picture")
    elif item.kind in ("photo", "clip"):
        item.taken = media.get("taken")
        item.original = media.get("original") or (item.taken if item.kind == "clip" else None)
