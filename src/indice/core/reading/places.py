"""What folder and file names of the trade mean: roles of side files, folders that only sort, file extensions."""

from __future__ import annotations

import re

from .scan import LATEST_YEAR
from .vocabulary import alternation, roles_of, words_for
from .words import LANGUAGE_NAMES

__all__ = [
    "ARTWORK",
    "EXTENSIONS",
    "EXTRA_FOLDERS",
    "EXTRA_WORDS",
    "FLAGS",
    "SORTING",
    "SUBTITLE_FOLDERS",
    "is_sorting",
]


EXTENSIONS: dict[str, str] = {
    extension: line.split(":")[0].strip()
    for line in """
    video: mkv mp4 m4v avi mov mpg mpeg wmv webm ts m2ts mts flv divx ogv 3gp vob iso rmvb asf mod tod dv ogm f4v m2v 3g2 mxf lrv
    audio: flac mp3 m4a m4b ogg oga opus wav wma ape aac aif aiff alac wv mka dsf dff ac3 eac3 dts dtshd thd mpc mp2 tta amr spx caf
    picture: jpg jpeg jpe png webp gif heic heif avif tif tiff bmp dng cr2 cr3 nef arw orf rw2 raf pef srw raw svg jxl tbn nrw x3f
    picture: rwl
    subtitle: srt ass ssa sub idx vtt sup smi ttml dfxp usf
    lyrics: lrc elrc
    playlist: m3u m3u8 pls xspf
    sidecar: nfo xml json jsonld xmp cue yaml yml
    """.strip().splitlines()
    for extension in line.split(":")[1].split()
}
"""File extension in lower case → family."""

ARTWORK = roles_of("artwork")
"""Name of a picture beside media → its role."""

EXTRA_FOLDERS = roles_of("extras")
"""Folder of extras → the role of what lies in it; `other` is a general folder."""

EXTRA_WORDS = {
    word: role for word, role in roles_of("extras").items() if word not in ("others", "clips", "specials features")
}
"""Word at the end of an extra's name → its role."""

FLAGS = roles_of("flags")
"""Word behind a subtitle's language → what it says of it."""
SUBTITLE_FOLDERS = frozenset(words_for("subtitles"))

SORTING = frozenset(words_for("sorting")) | frozenset(words_for("classical")) | LANGUAGE_NAMES
"""Folders that only sort: kinds of media, genres, languages, where things wait."""

_SORT_SHAPE = re.compile(
    r"^(?:[a-z#0]|[a-z]\s?-\s?[a-z]|0-9|#|(?:19|20)?\d0'?s|new folder(?: \(\d+\))?|neuer ordner.*|\d+-\d+)$",
    re.IGNORECASE,
)


_SORTED_BY = re.compile(rf"(?:{alternation('by')})\s+(?:{alternation('sorted-by')})", re.IGNORECASE)
"""`By Genre`, `Nach Jahr`, `по годам`."""
_NUMBERED = re.compile(r"^[0-9]{1,2}\s*[-–_.]?\s*(?=[^\W\d_])")
"""A number that puts a folder in its place: `02 Studio Albums`."""
_YEARS = re.compile(r"((?:19|20)[0-9]{2})\s?-\s?((?:19|20)?[0-9]{2})")


_ORNAMENTS = re.compile(r"^[\s#_!@~+=*]+(?=\S)")
"""Signs that put a folder first: `#Unsorted`, `_inbox`."""


_AND = re.compile(r"\s*[&+,/]\s*|\s+(?:and|und|et|y|e|en|och|og|ja|i|a|и|ve)\s+")
_SHORT_RECORDS = frozenset(("ep", "eps", "e.p.", "maxis"))
"""What sorts beside another word only: alone it may be a title."""


def is_sorting(folder: str) -> bool:
    """Whether a folder only sorts what lies in it and names nothing."""
    lowered = folder.strip().lower()
    lowered = _ORNAMENTS.sub("", lowered) or lowered
    if lowered in SORTING or _NUMBERED.sub("", lowered) in SORTING or _SORTED_BY.fullmatch(lowered):
        return True
    parts = _AND.split(lowered)
    if len(parts) > 1 and all(part in SORTING or part in _SHORT_RECORDS for part in parts):
        return True
    years = _YEARS.fullmatch(lowered)
    if years is not None:
        return int(years[2]) <= LATEST_YEAR and years[1] != years[2]
    return _SORT_SHAPE.match(lowered) is not None
