"""Reads a path: decides what kind of thing it is, then hands it to the family that knows such names.

The way of a name: segments → tokens → technical words → numbers and dates → the folders' context → title.
"""

from __future__ import annotations

import re
import unicodedata
from functools import lru_cache

from .alike import read_plain_film
from .camera_names import is_camera_name, is_whole_camera_name
from .extras import extra_role, read_extra
from .model import Reading
from .music import read_cover, read_track
from .photos import read_photo
from .places import EXTENSIONS, is_sorting
from .side_files import artwork_role, read_side_file
from .video import read_video
from .video_folders import is_series_like, plain_extras
from .work import folder_role

__all__ = ["family_of", "read_in_full", "read_path"]

LONGEST_NAME = 260
"""Letters of one name that are read: no file system keeps a longer one, and hostile names are made to be slow."""

_MUSIC_PLACE = re.compile(
    r"^(?:music|musik|musique|música|musica|audio|albums?|jazz|музыка|音乐|音楽|음악|podcasts?|audiobooks?|hörbücher)$",
    re.IGNORECASE,
)
_PHOTO_PLACE = re.compile(
    r"^(?:photos?|pictures|pics|fotos?|bilder|images|dcim|camera roll|camera|camera uploads|фото|照片|写真"
    r"|home videos?|home movies|camcorder|videos?|private)$",
    re.IGNORECASE,
)
_VIDEO_PLACE = re.compile(
    r"^(?:movies?|films?|feature films|kids|documentaries|filme|series|tv|tv shows|anime|serien|séries|shows)$",
    re.IGNORECASE,
)


def family_of(name: str) -> str:
    """Family of a file's extension: video, audio, picture, subtitle, lyrics, playlist, sidecar or other."""
    dot = name.rfind(".")
    return EXTENSIONS.get(name[dot + 1 :].lower(), "other") if dot > 0 else "other"


@lru_cache(maxsize=8192)
def _sense(folders: tuple[str, ...]) -> str:
    for folder in reversed(folders):  # the nearest says it best
        if _MUSIC_PLACE.match(folder):
            return "music"
        if _PHOTO_PLACE.match(folder):
            return "photos"
        if _VIDEO_PLACE.match(folder):
            return "video"
    return ""


def read_path(path: str, library: str) -> Reading:
    """What `path` states, relative to a library's folder, with `/` between its parts.

    `library` is the kind its owner declared. Never raises, whatever the path; what is not stated is left out.
    """
    if (path.isascii() or unicodedata.is_normalized("NFC", path)) and (len(path) <= LONGEST_NAME or _is_short(path)):
        return _read(path, library)
    return _read_other_form(path, library)


def _is_short(path: str) -> bool:
    return all(len(part) <= LONGEST_NAME for part in path.split("/"))


def _read_other_form(path: str, library: str) -> Reading:
    """Read the composed form of a path, its overlong names cut, and move the
    spans back to the letters as they stand."""
    pieces: list[str] = []
    starts: list[int] = []
    place = 0
    for part in path.split("/"):
        kept, origin = _composed(part)
        if len(kept) > LONGEST_NAME:
            ending = kept.rfind(".", len(kept) - 8)
            tail = len(kept) - ending if ending >= 0 else 0
            kept, origin = (
                kept[: LONGEST_NAME - tail] + kept[len(kept) - tail :],
                origin[: LONGEST_NAME - tail] + origin[len(origin) - tail :],
            )
        pieces.append(kept)
        starts += [place + at for at in origin]
        place += len(part)
        starts.append(place)
        place += 1
    starts.append(len(path))
    reading = _read("/".join(pieces), library)
    for fact in reading.facts.values():
        fact.spans = tuple((starts[start], starts[end]) for start, end in fact.spans)
    reading.ignored = [(starts[start], starts[end]) for start, end in reading.ignored]
    return reading


def _composed(part: str) -> tuple[str, list[int]]:
    """A name in composed letters, and where each of its letters begins in the name as it stands."""
    composed: list[str] = []
    starts: list[int] = []
    place = 0
    while place < len(part):
        end = place + 1
        while end < len(part) and (unicodedata.combining(part[end]) or 0x1161 <= ord(part[end]) <= 0x11FF):
            end += 1
        cluster = unicodedata.normalize("NFC", part[place:end])
        composed.append(cluster)
        starts += [place] * len(cluster)
        place = end
    return "".join(composed), starts


def _read(path: str, library: str) -> Reading:
    films = library == "movies" or (library == "mixed" and _FILM_PLACE.match(path) is not None)
    plain = read_plain_film(path) if films and path.endswith(_FILM_ENDINGS) else None
    return plain if plain is not None else read_in_full(path, library)


_FILM_PLACE = re.compile(r"(?:movies|films|feature films)/[^/]+/[^/]+$", re.IGNORECASE)


_FILM_ENDINGS = (".mkv", ".mp4", ".avi", ".srt", "poster.jpg", "backdrop.jpg")


def read_in_full(path: str, library: str) -> Reading:
    """What a path in composed letters states, by the whole way."""
    *folders, name = path.split("/")
    family = family_of(name)
    if family == "other" or (name.startswith(".") and not name.startswith("...")):  # three dots begin a title
        return Reading("other")
    if family in ("playlist", "sidecar"):
        return Reading(family)
    stem = name[: name.rfind(".")]
    extension = name[name.rfind(".") + 1 :].lower()
    if family == "video":
        return _read_video(path, folders, stem, library)
    if family == "subtitle":
        if library == "music":
            return Reading("subtitle")
        return read_side_file(path, folders, stem, "subtitle", series=_is_series(folders, stem, library))
    if family == "audio":
        if stem.lower() == "theme" and library in ("movies", "series"):
            return read_extra(path, folders, stem, "theme", series=library == "series")
        return read_track(path, folders, stem, "track", library=library)
    if family == "lyrics":
        return read_track(path, folders, stem, "lyrics", library=library)
    return _read_picture(path, folders, stem, extension, library)


def _is_series(folders: list[str], stem: str, library: str) -> bool:
    if library == "series":
        return True
    if library == "movies":
        return _EPISODE_MARK.search(stem) is not None
    return is_series_like(stem, folders)


def _read_video(path: str, folders: list[str], stem: str, library: str) -> Reading:
    if library in ("photos", "home-videos"):
        return read_photo(path, folders, stem, "clip")
    if is_whole_camera_name(stem):
        return read_photo(path, folders, stem, "clip")
    if library == "mixed":
        sense = _sense(tuple(folders))
        if is_camera_name(stem) and not re.search(
            r"[^\W\d_]{4,}", re.sub(r"(?i)IMG|VID|PXL|MOVI|MVI|GOPR|clip", "", stem)
        ):
            return read_photo(path, folders, stem, "clip")
        if sense == "photos":
            return read_photo(path, folders, stem, "clip")
    folders = plain_extras(folders)
    series = _is_series(folders, stem, library)
    role = extra_role(folders, stem, series=series)
    if role is not None:
        return read_extra(path, folders, stem, role, series=series)
    return read_video(path, folders, stem, series=series)


_EPISODE_MARK = re.compile(r"(?<![^\W_])[sS][0-9]{1,2}[\s._-]?[eE][0-9]{1,3}")
_SEASON_PICTURE = re.compile(r"season[\s_-]?(?:[0-9]+|specials)", re.IGNORECASE)
_COVER = re.compile(r"(?:cover|front|back|booklet|disc|cd|inlay)(?:[\s_-]?[0-9]+)?$", re.IGNORECASE)


def _beside_an_album(folders: list[str], stem: str) -> bool:
    """A cover two folders deep, `Artist/Album/cover.jpg`, where the outer one names something."""
    return (
        len(folders) >= 2
        and _COVER.match(stem) is not None
        and not is_sorting(folders[-2])
        and folder_role(folders[-1]) == "work"
    )


def _read_picture(path: str, folders: list[str], stem: str, extension: str, library: str) -> Reading:
    if library in ("photos", "home-videos"):
        return read_photo(path, folders, stem, "photo")
    sense = _sense(tuple(folders))
    if library == "music" or (
        library == "mixed" and (sense == "music" or (not sense and _beside_an_album(folders, stem)))
    ):
        found = artwork_role(stem, beside_music=True)
        if found is None:
            last = folders[-1].lower() if folders else ""
            found = ("booklet" if last in ("scans", "booklet", "artwork") else "cover", "")
        return read_cover(path, folders, stem, found[0])
    if library == "mixed" and sense == "photos":
        return read_photo(path, folders, stem, "photo")
    series = _is_series(folders, stem, library) or _SEASON_PICTURE.match(stem) is not None
    if library == "mixed" and artwork_role(stem, beside_music=False) is None and not re.match(r"(?i)season", stem):
        return read_photo(path, folders, stem, "photo")
    return read_side_file(path, folders, stem, "artwork", series=series)
