"""The ways in which a name could be read: what was weighed, what spoke for each, and which one won.

For the story of a reading only: names are read by the modules beside; here their questions are asked again, with all
answers kept.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from .columns import Known, all_columns
from .model import Reading
from .occasions import SPEAKS_AGAINST, SPEAKS_FOR, leaning_of
from .scan import fold, scan

__all__ = ["Option", "Way", "ways_of"]

MOST = 4
"""So many options of a question are told at most."""


@dataclass(frozen=True, slots=True)
class Option:
    """One answer to a question."""

    name: str
    """What it is: a separator, `event`, `year`, `title` …"""
    parts: tuple[tuple[str, str], ...]
    """What it takes each piece for: label and letters."""
    points: tuple[tuple[str, int], ...]
    """What speaks for it, and against it where the number is negative."""
    won: bool


@dataclass(frozen=True, slots=True)
class Way:
    """A question that a name left open."""

    question: str
    """`columns`, `occasion` or `number`."""
    subject: str
    """The letters that it is about."""
    options: tuple[Option, ...]


def ways_of(path: str, reading: Reading) -> list[Way]:
    """The questions that a path leaves open, with all their answers; the one that won first."""
    *folders, name = path.split("/")
    stem = name.rpartition(".")[0] or name
    if reading.kind in ("track", "lyrics"):
        found = [_columns(stem, reading)]
    elif reading.kind in ("photo", "clip"):
        found = [_occasion(folder, reading) for folder in reversed(folders)]
    elif reading.kind in ("movie", "episode"):
        found = [_numbers(stem, path, reading)]
    else:
        found = []
    return [way for way in found if way is not None]


def _columns(stem: str, reading: Reading) -> Way | None:
    known = Known(
        artist=_text(reading, "album_artist", "artist"), album=_text(reading, "album"), year=reading.get("year")
    )
    tried = all_columns(stem, known)
    title = fold(str(reading.get("title") or ""))
    options = [
        Option(
            one.separator,
            tuple((column.label, column.text) for column in one.columns),
            _points(
                ("repeats", one.score.repeats), ("numbers", one.score.numbers), ("unexplained", one.score.few_words)
            ),
            won=False,
        )
        for one in tried
    ]
    if not options:
        return None
    best = max(range(len(options)), key=lambda place: tried[place].score)
    won = tried[best].is_meant and any(fold(text) == title for _, text in options[best].parts)
    ordered = sorted(range(len(options)), key=lambda place: tried[place].score, reverse=True)
    shown = [
        Option(options[place].name, options[place].parts, options[place].points, won and place == best)
        for place in ordered[:MOST]
    ]
    whole = Option("whole", (("words", stem),), (("unexplained", -1),), not won)
    return Way("columns", stem, (*shown, whole) if won else (whole, *shown))


def _occasion(folder: str, reading: Reading) -> Way | None:
    leaning = leaning_of(folder)
    event = str(reading.get("event") or "")
    is_event = bool(event) and fold(event) in fold(folder)
    speaks, against = leaning.of(*SPEAKS_FOR), leaning.of(*SPEAKS_AGAINST, "person")
    if not is_event and not speaks and not against:
        return None
    dated = re.search(r"(?:18|19|20)[0-9]{2}", folder) is not None
    counted = tuple((f"leaning {name}", count if name in SPEAKS_FOR else -count) for name, count in leaning.counts)
    yes = Option(
        "event",
        (("event", event if is_event else folder),),
        (*counted, *_points(("dated", int(dated and is_event)))),
        is_event,
    )
    no = Option("no event", (), tuple((name, -count) for name, count in counted), not is_event)
    return Way("occasion", folder, (yes, no) if is_event else (no, yes))


def _numbers(stem: str, path: str, reading: Reading) -> Way | None:
    """Numbers that could be the year, where there are several, or where one is title."""
    at = len(path) - len(path.rpartition("/")[2])
    seen = scan(stem)
    if not seen.years:
        return None
    year = reading.facts.get("year")
    tail = next((tech.start for tech in seen.techs if tech.strong), len(stem))
    options: list[Option] = []
    for start, end, value, closed in seen.years:
        taken = year is not None and any(left < at + end and right > at + start for left, right in year.spans)
        points = _points(
            ("in brackets", int(closed)),
            ("before the technical words", int(start < tail)),
            ("folder says so", int(f"({value})" in path[:at] or f"[{value}]" in path[:at])),
            ("all there is of the title", -int(not any(c.isalnum() for c in stem[:start] + stem[end:tail]))),
        )
        options.append(Option("year", (("year", str(value)),), points, taken))
    if len(options) < 2 and any(option.won for option in options):
        return None
    if not any(option.won for option in options):
        rest = tuple(("title", str(value)) for _, _, value, _ in seen.years)
        options.insert(0, Option("title", rest, (("folder says so", 1),) if year is not None else (), won=True))
    return Way("number", stem, tuple(sorted(options, key=lambda option: not option.won)[:MOST]))


def _points(*points: tuple[str, int]) -> tuple[tuple[str, int], ...]:
    return tuple(point for point in points if point[1])


def _text(reading: Reading, *names: str) -> str | None:
    return next((str(value) for name in names if (value := reading.get(name))), None)
