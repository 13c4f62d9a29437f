"""Files of one press of the shutter: the raw file beside the picture made of it, the short film that a phone takes along."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .entries import FileView

__all__ = ["RAW_ENDINGS", "beside_shots"]

RAW_ENDINGS = frozenset(("cr2", "cr3", "nef", "arw", "raf", "orf", "rw2", "dng", "pef", "srw", "nrw", "x3f", "rwl"))
"""Of files as a sensor gave them."""
LIVE_SECONDS = 6.0
"""What a phone films around a picture lasts no longer; a longer film of the same name is a clip of its own."""


def beside_shots(files: Iterable[FileView]) -> dict[int, tuple[int, str]]:
    """File → the photo that it belongs to, and as what it serves it: `raw` or `live`.

    They lie in one folder and have one name, but for its ending. A name that somebody typed may be that of two things: a
    picture called as a film is its cover.
    """
    named: dict[str, list[FileView]] = defaultdict(list)
    for file in files:
        if file.kind in ("photo", "clip"):
            named[file.path.rpartition(".")[0].casefold()].append(file)
    found: dict[int, tuple[int, str]] = {}
    for several in named.values():
        photos = sorted((one for one in several if one.kind == "photo"), key=lambda one: (_is_raw(one), one.path))
        if len(several) < 2 or not photos:
            continue
        shot = photos[0]
        if not _is_raw(shot):
            found.update({one.id: (shot.id, "raw") for one in photos if _is_raw(one)})
        clips = [one for one in several if one.kind == "clip"]
        if len(clips) == 1 and _is_live(clips[0]) and "title" not in shot.reading:
            found[clips[0].id] = (shot.id, "live")
    return found


def _is_raw(file: FileView) -> bool:
    return file.path.rpartition(".")[2].lower() in RAW_ENDINGS


def _is_live(clip: FileView) -> bool:
    """Whether it may be: also before anybody looked how long it is."""
    return "title" not in clip.reading and (clip.seconds is None or clip.seconds <= LIVE_SECONDS)
