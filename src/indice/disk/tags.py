"""Tags of music files: written with a well-kept library, and only into a copy whose sound is as before."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import mutagen

from ..core.phrase import phrase

__all__ = ["WRITTEN_TAGS", "write_tags"]

WRITTEN_TAGS = {
    "title": "title",
    "artist": "artist",
    "album": "album",
    "album_artist": "albumartist",
    "year": "date",
    "track": "tracknumber",
    "disc": "discnumber",
}
"""Our name of a tag → the one that all kinds of tags share."""


def write_tags(path: Path, tags: Mapping[str, Any]) -> None:
    """Set tags of a file; others stay. Raises ValueError with words for a
    person, and then the file is not to be used."""
    try:
        file = mutagen.File(path, easy=True)  # pyright: ignore[reportPrivateImportUsage]
        if file is None or file.info is None:
            raise ValueError(phrase("Its kind of tags is not known."))
        sound = _sound(file)
        if file.tags is None:
            file.add_tags()
        for name, value in tags.items():
            key, text = WRITTEN_TAGS[name], str(value)
            held = _held(file, key)
            if name in ("track", "disc") and "/" in held:
                text += "/" + held.partition("/")[2]
            file[key] = [text]
        file.save()
        again = mutagen.File(path, easy=True)  # pyright: ignore[reportPrivateImportUsage]
        if again is None or _sound(again) != sound:
            raise ValueError(phrase("Its sound would not be as before; it stays as it is."))
    except (mutagen.MutagenError, KeyError, TypeError, AttributeError) as error:  # pyright: ignore[reportPrivateImportUsage]
        raise ValueError(phrase("Its tags cannot be written.")) from error


def _held(file: Any, key: str) -> str:
    values = file.get(key) or [""]
    return str(values[0])


def _sound(file: Any) -> tuple[Any, ...]:
    """What of a file's sound its header tells."""
    info = file.info
    return (
        round(float(getattr(info, "length", 0.0)), 2),
        getattr(info, "sample_rate", None),
        getattr(info, "channels", None),
        getattr(info, "md5_signature", None),
    )
