"""The values that templates of conventions can write, made from what is known of a thing."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

__all__ = ["SAMPLES", "VALUES", "values_of"]

VALUES: tuple[str, ...] = (
    "title",
    "year",
    "label",
    "edition",
    "version",
    "part",
    "series",
    "season",
    "number",
    "last",
    "mark",
    "date",
    "running",
    "artist",
    "album_artist",
    "album",
    "disc",
    "track",
    "guests",
    "month",
    "day",
    "folder_day",
    "stamp",
    "event",
    "sequence",
    "resolution",
    "source",
    "video_codec",
    "audio_codec",
    "channels",
    "languages",
    "original",
    "role",
    "role_word",
    "role_folder",
    "language",
    "flags",
    "main",
    "home",
)
"""What a template can say of a thing."""

SAMPLES: dict[str, dict[str, Any]] = {
    "movie": {"title": "The Paper Moth", "year": 1987},
    "episode": {"series": "Lantern Street", "year": 2011, "season": 1, "episodes": [2], "title": "The Tin Whistle"},
    "special": {"series": "Lantern Street", "year": 2011, "season": 0, "episodes": [1], "title": "Winter Fair"},
    "dated": {"series": "Evening Ferry", "date": "2019-03-04", "title": "Fog"},
    "running": {"series": "Kessel Nine", "absolute": [41], "title": "The Weir"},
    "track": {"artist": "Wren Calloway", "album": "Tidewrack", "year": 2004, "track": 3, "title": "Low Lamps"},
    "compilation": {
        "album_artist": "Various Artists",
        "artist": "Wren Calloway",
        "album": "Harbour Songs",
        "year": 1999,
        "track": 7,
        "title": "Ebb",
    },
    "photo": {"taken": "2019-07-20T14:03:22", "event": "Lake Walk", "sequence": 481},
    "clip": {"taken": "2019-07-20T14:05:00", "event": "Lake Walk", "sequence": 482},
    "extra": {"title": "The Paper Moth", "year": 1987, "role": "trailer", "label": "First trailer"},
    "subtitle": {"title": "The Paper Moth", "year": 1987, "language": "en", "flags": ["forced"]},
    "lyrics": {"artist": "Wren Calloway", "album": "Tidewrack", "track": 3, "title": "Low Lamps"},
    "artwork": {"title": "The Paper Moth", "year": 1987, "role": "poster"},
}
"""A thing of each kind, for previews and for asking a convention how it lays things out."""

_ROLE_FOLDERS = {
    "trailer": "Trailers",
    "teaser": "Teasers",
    "behind-the-scenes": "Behind the Scenes",
    "deleted-scene": "Deleted Scenes",
    "featurette": "Featurettes",
    "interview": "Interviews",
    "scene": "Scenes",
    "short": "Shorts",
    "sample": "Sample",
    "bloopers": "Bloopers",
}
_ROLE_WORDS = {"behind-the-scenes": "behind the scenes", "deleted-scene": "deleted scene", "other": "extra"}
_OF_FILMS = frozenset(("movie", "extra", "artwork", "subtitle"))
_EMPTY: dict[str, Any] = dict.fromkeys(VALUES)
_DAY = re.compile(r"(?P<year>[0-9]{4})-(?P<month>[0-9]{2})-(?P<day>[0-9]{2})(?:T(?P<time>[0-9:]{8}))?")


def values_of(slot: str, facts: Mapping[str, Any], original: str) -> dict[str, Any]:
    """Every value of :data:`VALUES` for a thing; those that are unknown are None."""
    values = {**_EMPTY, **{name: value for name, value in facts.items() if name in _EMPTY}}
    values["original"] = original or None
    if slot in _OF_FILMS and not facts.get("year") and not facts.get("series"):
        values["year"] = facts.get("date")  # a recording is known by its day
    values["label"] = facts.get("label") or facts.get("edition") or facts.get("version")
    if slot in ("episode", "special"):
        numbers: list[int] = facts["episodes"]
        values["number"] = numbers[0]
        values["last"] = numbers[-1] if len(numbers) > 1 else None
        values["mark"] = f"S{facts['season']:02d}E{numbers[0]:02d}" + (
            f"-E{numbers[-1]:02d}" if len(numbers) > 1 else ""
        )
    elif slot == "running":
        numbers = facts["absolute"]
        values["running"] = f"{numbers[0]:03d}" + (f"-{numbers[-1]:03d}" if len(numbers) > 1 else "")
    elif slot in ("track", "compilation"):
        values["guests"] = facts.get("featuring")
    elif slot in ("photo", "clip"):
        _moment(values, str(facts.get("taken") or ""))
    elif slot in ("extra", "artwork", "subtitle"):
        role = facts.get("role")
        values["role_folder"] = _ROLE_FOLDERS.get(str(role), "Extras") if role else None
        values["role_word"] = _ROLE_WORDS.get(str(role), role)
        values["flags"] = ".".join(facts.get("flags") or ()) or None
    return values


def _moment(values: dict[str, Any], taken: str) -> None:
    match = _DAY.match(taken)
    if match is None:
        return
    values["year"], values["month"] = match["year"], int(match["month"])
    values["day"] = values["folder_day"] = taken[:10]
    if match["time"]:
        values["stamp"] = f"{taken[:10]} {match['time'].replace(':', '.')}"
