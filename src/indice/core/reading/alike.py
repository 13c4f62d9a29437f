"""Names of one folder that differ in nothing but number and title are read by the example of the first.

A well-kept season or album is a row of such names. The first is read in full; of the others only what differs is
read. Whatever is not of the plainest shape (letters and blanks, no word that could be technical) is left to the full
reader, so that the outcome is the same, letter by letter; a test compares the two.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..phrase import term
from .model import Fact, Reading
from .places import ARTWORK, EXTRA_WORDS, is_sorting
from .words import FIRST

__all__ = ["Example", "example_of", "is_plain_folder", "read_alike", "read_plain_film"]

_TITLE = r"(?P<title>[A-Z][a-z]+(?: (?:[A-Za-z][a-z]*|[A-Z]?[0-9]{1,3}))*)"
_EPISODE = re.compile(
    rf"(?P<head>[^/]* - S[0-9][0-9]E)(?P<number>[0-9][0-9])(?: - {_TITLE})?\.(?P<extension>[a-z0-9]+)"
)
_TRACK = re.compile(rf"(?P<head>)(?P<number>[0-9][0-9]) - {_TITLE}\.(?P<extension>[a-z0-9]+)")
_NUMBERS = {"episode": "episodes", "track": "track"}
_PLAIN = {
    "episode": frozenset(("series", "year", "season", "episodes", "title")),
    "track": frozenset(("artist", "album", "year", "track", "title")),
}
_TOUCHY = (
    {word.rest[-1] if word.rest else first for first, words in FIRST.items() for word in words}
    | {re.split(r"[\s-]", phrase)[0] for phrase in EXTRA_WORDS}
    | {
        "part", "pt", "cd", "dvd", "disc", "disk", "aka", "vs", "feat", "ft", "featuring",
        "with", "episode", "folge", "chapter", "book", "volume", "vol", "season", "special", "specials", "mark",
    }
)  # fmt: skip
"""Words that can be more than a part of a title."""


@dataclass(frozen=True, slots=True)
class Example:
    """A name that was read in full, and its shape."""

    prefix: str
    """The folder, with its slash."""
    head: str
    has_title: bool
    extension: str
    reading: Reading


def example_of(path: str, reading: Reading) -> Example | None:
    """The example that a name gives, or None when it is not plain."""
    plain = _PLAIN.get(reading.kind)
    if plain is None or not reading.facts.keys() <= plain or reading.ignored:
        return None
    folder, slash, name = path.rpartition("/")
    match = _shape(name)
    if match is None or _NUMBERS[reading.kind] not in reading.facts or _kind(match) != reading.kind:
        return None
    if ("title" in reading.facts) != (match["title"] is not None) or not _is_innocent(match["title"]):
        return None
    title = reading.facts.get("title")
    start = len(folder) + len(slash)
    if title is not None and title.spans != ((start + match.start("title"), start + match.end("title")),):
        return None
    return Example(folder + slash, match["head"], match["title"] is not None, match["extension"], reading)


def read_alike(path: str, example: Example) -> Reading | None:
    """The reading of a name that differs from the example in number and title only, else None."""
    start = len(example.prefix)
    match = _shape(path[start:])
    if match is None or (match["head"], match["extension"], match["title"] is not None) != (
        example.head,
        example.extension,
        example.has_title,
    ):
        return None
    number = int(match["number"])
    if number == 0 or not _is_innocent(match["title"]):
        return None
    reading = Reading(example.reading.kind)
    for name, fact in example.reading.facts.items():
        if name == "title":
            span = (start + match.start("title"), start + match.end("title"))
            reading.facts[name] = Fact(match["title"], (span,), fact.rule)
        elif name == "episodes":
            reading.facts[name] = Fact([number], fact.spans, fact.rule)
        elif name == "track":
            reading.facts[name] = Fact(number, fact.spans, fact.rule)
        else:
            reading.facts[name] = Fact(fact.value, fact.spans, fact.rule)
    return reading


def _shape(name: str) -> re.Match[str] | None:
    return _TRACK.fullmatch(name) or _EPISODE.fullmatch(name)


def _kind(match: re.Match[str]) -> str:
    return "episode" if match["head"] else "track"


def _is_innocent(title: str | None) -> bool:
    return title is None or _TOUCHY.isdisjoint(title.lower().split())


_PLAIN_FOLDER = re.compile(rf"{_TITLE} \((?:19[3-9]|20[01])[0-9]\)")


def is_plain_folder(name: str) -> bool:
    """Whether a folder is called `Title (Year)` and nothing in it could be read as anything else.

    Then a film's or a series' folder states title and year and no technical word, and need not be read to know that.
    """
    match = _PLAIN_FOLDER.fullmatch(name)
    return match is not None and _is_innocent(match["title"])


_PLAIN_FILM = re.compile(
    rf"(?P<above>(?:[^/]+/)*){_TITLE} \((?P<year>(?:19[3-9]|20[01])[0-9])\)/"
    r"(?:(?P<own>(?P=title) \((?P=year)\))(?:\.(?:mkv|mp4|avi)|\.(?P<language>en|de|fr|es|it|nl)\.srt)"
    r"|(?P<role>poster|backdrop)\.jpg)"
)
_TITLE_RULE = term("what stands before the year and the technical words")
_YEAR_RULE = term("year in brackets")


def read_plain_film(path: str) -> Reading | None:
    """A film, a subtitle or a picture in a film's folder where folder and file say the same, else None.

    Most files of a well-kept drive are so named; the full reading of them gives the same, which a test holds it to.
    """
    match = _PLAIN_FILM.fullmatch(path)
    if match is None or not _is_innocent(match["title"]) or is_sorting(match["title"]):
        return None
    if match["above"] and not all(is_sorting(part) for part in match["above"][:-1].split("/")):
        return None
    title, year = match["title"], int(match["year"])
    at = match.start("own") if match["own"] else match.start("title")
    facts = {
        "title": Fact(title, ((at, at + len(title)),), _TITLE_RULE),
        "year": Fact(year, ((at + len(title) + 2, at + len(title) + 6),), _YEAR_RULE),
    }
    if match["role"]:
        role = Fact(ARTWORK[match["role"]], (match.span("role"),), term("name of an artwork"))
        return Reading("artwork", {"role": role, **facts})
    if match["language"]:
        language = Fact(match["language"], (match.span("language"),), term("language in the name"))
        return Reading("subtitle", {"language": language, **facts})
    return Reading("movie", facts)
