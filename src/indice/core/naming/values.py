"""The values that templates of conventions can write, made from what is known of a thing."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

__all__ = ["SAMPLES", "VALUES", "values_of"]

VALUES: dict[str, str] = {
    "title": "Title of the film, the episode, the track; a picture's caption",
    "year": "Year of the film, the series, the album; of the day a picture was taken",
    "label": "What tells several copies apart: edition, version",
    "edition": "The cut: Director's Cut, Extended",
    "version": "A label of one's own",
    "part": "Number of the part",
    "series": "Title of the series",
    "season": "Number of the season",
    "number": "Number of the episode",
    "last": "Number of the last episode, when the file holds several",
    "mark": "Season and episode: S01E02, S01E02-E03",
    "date": "Day it was aired",
    "running": "Running number across seasons, three digits",
    "artist": "Performer of the track",
    "album_artist": "Artist of the album",
    "album": "Title of the album",
    "disc": "Number of the disc",
    "track": "Number of the track",
    "guests": "Guests on the track",
    "month": "Month a picture was taken",
    "day": "Day a picture was taken, 2019-07-20",
    "folder_day": "The same, for the folder of a day or an event",
    "stamp": "Day and time a picture was taken, 2019-07-20 14.03.22",
    "event": "The occasion",
    "sequence": "The camera's running number",
    "resolution": "1080p, 2160p …",
    "source": "bluray, dvd, web …",
    "video_codec": "h264, hevc …",
    "audio_codec": "flac, dts …",
    "channels": "5.1 …",
    "languages": "Languages of the sound",
    "original": "The name as it is, without its ending",
    "role": "poster, cover, trailer …",
    "role_word": "trailer, scene … as a word at the end of an extra's name",
    "role_folder": "Trailers, Scenes … as a folder",
    "language": "Language of a subtitle",
    "flags": "forced, sdh …",
    "main": "Path of what a subtitle, an extra or a picture belongs to",
    "home": "The folder of that",
}
"""Name → what it is, for the editor and the documentation."""

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
_EMPTY: dict[str, Any] = dict.fromkeys(VALUES)
_DAY = re.compile(r"(?P<year>[0-9]{4})-(?P<month>[0-9]{2})-(?P<day>[0-9]{2})(?:T(?P<time>[0-9:]{8}))?")


def values_of(slot: str, facts: Mapping[str, Any], original: str) -> dict[str, Any]:
    """Every value of :data:`VALUES` for a thing; those that are unknown are None."""
    values = {**_EMPTY, **{name: value for name, value in facts.items() if name in _EMPTY}}
    values["original"] = original or None
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
