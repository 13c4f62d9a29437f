"""What folder and file names of the trade mean: roles of side files, folders that only sort, file extensions."""

from __future__ import annotations

import re

from .vocabulary import roles_of, words_for

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
    picture: jpg jpeg jpe png webp gif heic heif avif tif tiff bmp dng cr2 cr3 nef arw orf rw2 raf pef srw raw svg jxl tbn nrw x3f rwl
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

FLAGS = {
    "forced": "forced",
    "sdh": "sdh",
    "cc": "sdh",
    "hi": "sdh",
    "commentary": "commentary",
    "default": "default",
    "foreign": "forced",
}
SUBTITLE_FOLDERS = frozenset(words_for("subtitles"))

SORTING = frozenset(
    word.strip()
    for word in [
        "movies",
        "movie",
        "films",
        "film",
        "feature films",
        "features",
        "kids",
        "family",
        "documentaries",
        "documentary",
        "docs",
        "drama",
        "comedy",
        "horror",
        "action",
        "animation",
        "anime",
        "\n    cartoons",
        "sci-fi",
        "science fiction",
        "fantasy",
        "thriller",
        "crime",
        "romance",
        "western",
        "westerns",
        "war",
        "musical",
        "musicals",
        "noir",
        "classics",
        "classic",
        "shorts films",
        "short films",
        "foreign",
        "world",
        "\n    series",
        "tv",
        "tv shows",
        "tv series",
        "shows",
        "serien",
        "séries",
        "series tv",
        "television",
        "miniseries",
        "mini-series",
        "collections",
        "collection",
        "sets",
        "boxsets",
        "box sets",
        "downloads",
        "download",
        "incoming",
        "\n    unsorted",
        "new",
        "new folder",
        "sorted",
        "misc",
        "various",
        "other",
        "others",
        "temp",
        "tmp",
        "old",
        "archive",
        "watched",
        "unwatched",
        "to watch",
        "seen",
        "english",
        "german",
        "french",
        "spanish",
        "italian",
        "japanese",
        "\n    korean",
        "deutsch",
        "français",
        "music",
        "audio",
        "lossless",
        "lossy",
        "flac",
        "mp3",
        "albums",
        "album",
        "eps",
        "ep",
        "singles",
        "live",
        "compilations",
        "compilation",
        "bootlegs",
        "demos",
        "studio albums",
        "studio",
        "jazz",
        "rock",
        "pop",
        "classical",
        "klassik",
        "\n    folk",
        "blues",
        "electronic",
        "metal",
        "hip hop",
        "hip-hop",
        "soundtracks",
        "soundtrack",
        "ost",
        "electronica",
        "country",
        "soul",
        "reggae",
        "punk",
        "indie",
        "ambient",
        "podcasts",
        "podcast",
        "audiobooks",
        "audiobook",
        "hörbücher",
        "livres audio",
        "\n    hörspiele",
        "audiolibros",
        "audiolibri",
        "luisterboeken",
        "photos",
        "photo",
        "pictures",
        "pics",
        "images",
        "fotos",
        "bilder",
        "photographs",
        "camera",
        "camera roll",
        "dcim",
        "camera uploads",
        "screenshots",
        "videos",
        "video",
        "home videos",
        "home movies",
        "\n    camcorder",
        "avchd",
        "bdmv",
        "stream",
        "private",
        "dashcam",
        "export",
        "exports",
        "edited",
        "originals",
        "raw",
        "jpeg",
        "phone",
        "handy",
        "mobile",
        "whole",
        "scans",
        "import",
        "imports",
        "media",
        "mnt",
        "evening reel",
        "hd",
        "uhd",
        "4k",
        "3d",
        "sd",
        "dvd",
        "blu-ray",
        "bluray",
        "\n    fiction",
        "nonfiction",
        "children",
        "kinder",
        "enfants",
        "bambini",
        "filme",
        "película",
        "peliculas",
        "películas",
        "música",
        "musica",
        "musik",
        "musique",
        "фильмы",
        "сериалы",
        "музыка",
        "фото",
        "电影",
        "剧集",
        "音乐",
        "照片",
        "映画",
        "音楽",
        "영화",
        "음악",
    ]
)
"""Folders that only sort."""

_SORT_SHAPE = re.compile(
    r"^(?:[a-z#0]|[a-z]\s?-\s?[a-z]|0-9|#|(?:19|20)?\d0'?s|new folder(?: \(\d+\))?|neuer ordner.*|\d+-\d+)$",
    re.IGNORECASE,
)


_YEARS = re.compile(r"((?:19|20)[0-9]{2})\s?-\s?((?:19|20)?[0-9]{2})")


def is_sorting(folder: str) -> bool:
    """Whether a folder only sorts what lies in it and names nothing."""
    lowered = folder.strip().lower()
    if lowered in SORTING:
        return True
    years = _YEARS.fullmatch(lowered)
    if years is not None:
        return int(years[2]) <= 2028
    return _SORT_SHAPE.match(lowered) is not None
