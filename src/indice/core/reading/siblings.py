"""What one name leaves open, the names beside it settle. A pure function over a folder's listing, in whatever order."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from ..phrase import term
from .alike import Example, example_of, read_alike
from .model import Fact, Reading
from .reader import read_path

__all__ = ["read_listing"]

ENOUGH = 3
"""So many names must agree before they settle anything."""
MOST_EPISODES = 40
"""No season of a show with 101-style numbers has more."""


def read_listing(paths: Sequence[str], library: str) -> dict[str, Reading]:
    """Readings of all files of one folder, by path: each read alone, then settled by its siblings."""
    readings = _read_each(paths, library)
    episodes = [reading for reading in readings.values() if reading.kind == "episode"]
    if _count_by_seasons(episodes):
        for reading in readings.values():
            _as_season_and_episode(reading)
    tracks = [reading for reading in readings.values() if reading.kind == "track"]
    if _name_their_artists(tracks):
        for reading in tracks:
            _split_artist(reading)
    return readings


def _read_each(paths: Sequence[str], library: str) -> dict[str, Reading]:
    """Every name read alone; those that are like the one before are read by its example."""
    readings: dict[str, Reading] = {}
    example: Example | None = None
    for path in sorted(paths):
        reading = read_alike(path, example) if example is not None and path.startswith(example.prefix) else None
        if reading is None:
            reading = read_path(path, library)
            example = example_of(path, reading) or example
        readings[path] = reading
    return readings


def _numbers(reading: Reading) -> list[int]:
    found = reading.get("absolute")
    return list(found) if isinstance(found, list) else []


def _count_by_seasons(episodes: list[Reading]) -> bool:
    """101, 102, 201 …: every number has three digits, and every hundred begins
    at 1 and has no hole of more than one."""
    numbers = sorted({number for reading in episodes for number in _numbers(reading)})
    if len(numbers) < ENOUGH or len(numbers) < len(episodes) * 0.8 or numbers[0] < 101 or numbers[-1] > 999:
        return False
    hundreds: dict[int, list[int]] = {}
    for number in numbers:
        hundreds.setdefault(number // 100, []).append(number % 100)
    return all(
        rest[0] == 1 and rest[-1] <= MOST_EPISODES and all(b - a <= 2 for a, b in pairwise(rest))
        for rest in hundreds.values()
    )


def _as_season_and_episode(reading: Reading) -> None:
    fact = reading.facts.pop("absolute", None)
    if fact is None or not isinstance(fact.value, list):
        return
    numbers = [int(number) for number in fact.value]
    rule = term("season and episode in one number, as its siblings count")
    reading.facts["season"] = Fact(numbers[0] // 100, fact.spans, rule)
    reading.facts["episodes"] = Fact([number % 100 for number in numbers], fact.spans, rule)


def _name_their_artists(tracks: list[Reading]) -> bool:
    """Nearly every title is `Somebody - Title`, and not always the same somebody."""
    heads = [head for reading in tracks if (head := _own_artist(reading) or _head(reading)) is not None]
    return (
        len(heads) >= ENOUGH
        and len(heads) >= len(tracks) * 0.8
        and len(set(heads)) > 1
        and len(set(heads)) > len(heads) * 0.4
    )


def _own_artist(reading: Reading) -> str | None:
    """The artist, where the file's own name states it."""
    artist = reading.facts.get("artist")
    return str(artist.value) if artist is not None and artist.spans else None


def _head(reading: Reading) -> str | None:
    head, dash, rest = str(reading.get("title") or "").partition(" - ")
    return head if dash and rest.strip() and any(letter.isalpha() for letter in head) else None


def _split_artist(reading: Reading) -> None:
    """`Somebody - Title` becomes artist and title; the folder's artist is the album's."""
    title = reading.facts.get("title")
    head = _head(reading)
    if title is None or head is None or _own_artist(reading):
        return
    rule = term("artist before the title, as all names beside it have")
    spans = title.spans
    cut = spans[0][0] + len(head) if len(spans) == 1 else 0
    folder_artist = reading.facts.get("artist")
    if folder_artist is not None and "album_artist" not in reading.facts and folder_artist.value != head:
        reading.facts["album_artist"] = folder_artist
    reading.facts["artist"] = Fact(head, ((spans[0][0], cut),) if cut else (), rule)
    reading.facts["title"] = Fact(
        str(title.value)[len(head) + 3 :].strip(),
        ((cut + 3, spans[0][1]),) if cut and cut + 3 <= spans[0][1] else (),
        rule,
    )
