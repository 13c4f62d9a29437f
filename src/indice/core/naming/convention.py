"""The tidy path of a thing, as the convention that ships first writes it: a folder of its own, year, season, number.

Names are made safe for every file system; a value that is unknown is left out with the signs around it.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping
from typing import Any

__all__ = ["safe_name", "tidy_path"]

_SWAP = str.maketrans({":": " -", "/": "-", "\\": "-", "|": "-", '"': "'", "<": "(", ">": ")", "?": "", "*": ""})


def safe_name(text: str, *, limit_bytes: int = 240) -> str:
    """One part of a path: composed letters, no sign that a file system refuses, no space or dot at its ends."""
    clean = unicodedata.normalize("NFC", text).translate(_SWAP)
    clean = "".join(c for c in clean if unicodedata.category(c)[0] != "C")
    clean = re.sub(r"\s{2,}", " ", clean).strip(" .")
    while len(clean.encode("utf-8", "surrogateescape")) > limit_bytes:
        clean = clean[:-1].rstrip(" .")
    return clean or "Unnamed"


def _with_year(title: str, year: Any) -> str:
    return f"{title} ({year})" if year else title


def tidy_path(kind: str, facts: Mapping[str, Any], extension: str) -> str | None:
    """The tidy path of a main file (`movie`, `episode`, `track`), relative to the library; None when too little is known."""
    dot = f".{extension.lower()}" if extension else ""
    if kind == "movie" and facts.get("title"):
        name = safe_name(_with_year(str(facts["title"]), facts.get("year")))
        label = next((str(facts[k]) for k in ("edition", "version") if facts.get(k)), "")
        part = f" - part {facts['part']}" if facts.get("part") else ""
        return f"{name}/{safe_name(name + (f' - {label}' if label else '') + part)}{dot}"
    if kind == "episode" and facts.get("series"):
        return _episode(facts, dot)
    if kind == "track" and facts.get("title") and facts.get("album"):
        artist = safe_name(str(facts.get("album_artist") or facts.get("artist") or "Unknown artist"))
        album = safe_name(_with_year(str(facts["album"]), facts.get("year")))
        disc = f"Disc {facts['disc']}/" if facts.get("disc") else ""
        number = f"{facts['track']:02d} - " if isinstance(facts.get("track"), int) else ""
        guest = (
            f"{facts['artist']} - "
            if facts.get("album_artist") and facts.get("artist") and facts["album_artist"] != facts["artist"]
            else ""
        )
        return f"{artist}/{album}/{disc}{safe_name(number + guest + str(facts['title']))}{dot}"
    return None


def _episode(facts: Mapping[str, Any], dot: str) -> str | None:
    series = str(facts["series"])
    folder = safe_name(_with_year(series, facts.get("year")))
    title = f" - {facts['title']}" if facts.get("title") else ""
    season, numbers = facts.get("season"), facts.get("episodes")
    if season is not None and numbers:
        mark = f"S{season:02d}E{numbers[0]:02d}" + (f"-E{numbers[-1]:02d}" if len(numbers) > 1 else "")
        place = "Specials" if season == 0 else f"Season {season:02d}"
        return f"{folder}/{place}/{safe_name(f'{series} - {mark}{title}')}{dot}"
    if facts.get("date"):
        return f"{folder}/{safe_name(series + ' - ' + str(facts['date']) + title)}{dot}"
    if facts.get("absolute"):
        return f"{folder}/{safe_name(series + ' - ' + format(facts['absolute'][0], '03d') + title)}{dot}"
    return None
