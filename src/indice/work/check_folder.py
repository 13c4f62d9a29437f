"""Checks a plain folder, without server and without database."""

from __future__ import annotations

import os

from ..core.naming.checks import Finding, Item, Listing, run_checks
from ..core.reading import read_listing
from ..disk.probe import probe
from ..disk.walk import walk

__all__ = ["check_folder"]


def check_folder(root: bytes, library: str, *, look_inside: bool) -> list[Finding]:
    """Walk a folder and run the checks of a kind of library over it."""
    items: list[Item] = []
    for directory in walk(root):
        readings = read_listing([os.fsdecode(seen.path) for seen in directory.files], library)
        for seen in directory.files:
            path = os.fsdecode(seen.path)
            reading = readings[path]
            tags: dict[str, object] | None = None
            has_picture: bool | None = None
            if look_inside and reading.kind == "track":
                media = probe(os.path.join(root, seen.path), "track").media
                tags, has_picture = media.get("tags", {}), media.get("has_picture")
            facts = {name: fact.value for name, fact in reading.facts.items()}
            items.append(
                Item(
                    path=path,
                    kind=reading.kind,
                    reading=facts,
                    size_bytes=seen.size_bytes,
                    tags=tags,
                    has_picture=has_picture,
                )
            )
    return run_checks(Listing(library, items))
