"""Files of one press of the shutter: the raw file beside the picture made of it,
the short film that a phone takes along."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .entries import FileView

__all__ = ["RAW_ENDINGS", "beside_shots", "folder_of_shot"]

RAW_ENDINGS = frozenset(("cr2", "cr3", "nef", "arw", "raf", "orf", "rw2", "dng", "pef", "srw", "nrw", "x3f", "rwl"))
"""Of files as a sensor gave them."""
_APART = RAW_ENDINGS | {"raw", "raws", "raw files", "rohdaten", "brutes", "jpg", "jpgs", "jpeg", "jpegs"}
"""Folders in which a household keeps one of the two apart: raw files, or what was made of them."""
LIVE_SECONDS = 6.0
"""What a phone films around a picture lasts no longer; a longer film of the same name is a clip of its own."""


def folder_of_shot(directory: str) -> str:
    """The folder that a shot counts for: that above, where `RAW` or `JPG` holds one of the two apart."""
    above, _, own = directory.rpartition("/")
    return above if own.casefold() in _APART else directory


def beside_shots(files: Iterable[FileView]) -> dict[int, tuple[int, str]]:
    """File → the photo that it belongs to, and as what it serves it: `raw` or `live`.

    They lie in one folder, or in folders for one of the two in it, and have one name, but for its ending. A name that
    somebody typed may be that of two things: a picture called as a film is its cover.
    """
    named: dict[tuple[str, str], list[FileView]] = defaultdict(list)
    for file in files:
        if file.kind in ("photo", "clip"):
            folder, _, name = file.path.rpartition("/")
            named[folder_of_shot(folder).casefold(), name.rpartition(".")[0].casefold()].append(file)
    found: dict[int, tuple[int, str]] = {}
    for several in named.values():
        photos = sorted((one for one in several if one.kind == "photo"), key=_likeliest)
        if len(several) < 2 or not photos:
            continue
        shot = photos[0]
        if not _is_raw(shot):
            found.update({one.id: (shot.id, "raw") for one in photos if _is_raw(one)})
        clips = [one for one in several if one.kind == "clip" and one.directory == shot.directory]
        if len(clips) == 1 and _is_live(clips[0]) and "title" not in shot.reading:
            found[clips[0].id] = (shot.id, "live")
    return found


def _likeliest(photo: FileView) -> tuple[bool, int, str]:
    """What is looked at before what it was made of; of several, what lies highest."""
    return _is_raw(photo), photo.path.count("/"), photo.path


def _is_raw(file: FileView) -> bool:
    return file.path.rpartition(".")[2].lower() in RAW_ENDINGS


def _is_live(clip: FileView) -> bool:
    """Whether it may be: also before anybody looked how long it is."""
    return "title" not in clip.reading and (clip.seconds is None or clip.seconds <= LIVE_SECONDS)
