"""What one segment says about a film or a series; folders are read once, since they repeat on every file below them."""

from __future__ import annotations

import re
from functools import lru_cache

from .episodes import read_episode
from .films import read_film
from .found import Found, Work
from .parts import leading_bracket
from .places import EXTRA_FOLDERS, SUBTITLE_FOLDERS, is_sorting
from .scan import scan
from .seriesmarks import SEASON_FOLDER, SPECIAL_FOLDER

__all__ = ["Found", "Work", "folder_role", "read_work"]
_ONE_OF_DISCS = re.compile(r"(?:cd|disc|disk|dvd|part|pt)[\s._-]*[0-9a-d]")


def folder_role(name: str) -> str:
    """`sort`, `extra`, `subs`, `special`, `season`, `disc`, `structure` or `work`."""
    return _folder_role(name.strip())


@lru_cache(maxsize=8192)
def _folder_role(name: str) -> str:
    lowered = name.lower()
    spaced = lowered.replace("_", " ").replace(".", " ")
    if lowered in ("video_ts", "bdmv", "stream", "certificate", "playlist", "hvdvd_ts", "audio_ts"):
        return "structure"
    if lowered in EXTRA_FOLDERS or spaced in EXTRA_FOLDERS:
        return "extra"
    if lowered in SUBTITLE_FOLDERS:
        return "subs"
    if SPECIAL_FOLDER.match(lowered):
        return "special"
    if _ONE_OF_DISCS.fullmatch(lowered):
        return "disc"
    found = SEASON_FOLDER.match(name)
    if found and not found["title"]:
        return "season"
    return "sort" if is_sorting(name) else "work"


def read_work(segment: str, *, episodes: bool, folder: bool, in_season: int | None = None) -> Work:
    """What a segment says; `episodes` allows marks of episodes, `in_season` is the season its folder gives."""
    return (_read_folder if folder else _read_file)(segment, episodes, folder, in_season)


def _read(segment: str, episodes: bool, folder: bool, in_season: int | None) -> Work:
    seen = scan(segment)
    work = Work(segment)
    for scheme, value, start, end in seen.ids:
        work.ids.setdefault(scheme, (value, start, end, "identifier in brackets"))
    begin = leading_bracket(seen, work)
    if episodes and read_episode(seen, work, begin, folder, in_season):
        return work
    read_film(seen, work, begin)
    return work


_read_folder = lru_cache(maxsize=8192)(_read)
_read_file = lru_cache(maxsize=4)(_read)
"""A file's own name is asked for twice at most, one question after the other."""
