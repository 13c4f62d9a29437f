"""Words of a search that are filters: `year:1990-1999 lang:de is:unseen`; see docs/catalog.md.

A filter is a key, a colon and a value; a value of several words stands in quotes. What is no known key stays a word, as
titles hold colons too. Keys are understood in every language of the interface.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from ..reading.words import language_of

__all__ = ["KINDS", "MARK_WORDS", "Filters", "parse_filters"]

_KEYS: dict[str, str] = {
    word: key
    for key, words in {
        "year": "year years jahr jahre",
        "kind": "kind type art",
        "genre": "genre genres",
        "sound": "lang language sound sprache ton",
        "text": "sub subs subtitle subtitles text untertitel",
        "resolution": "res resolution auflösung aufloesung",
        "range": "range hdr",
        "source": "source quelle",
        "edition": "edition fassung",
        "set": "set reihe",
        "age": "age alter ab",
        "label": "label",
        "director": "director directors regie regisseur",
        "cast": "cast actor actors with mit darsteller besetzung",
        "composer": "composer composers komponist",
        "lens": "lens objektiv",
        "camera": "camera kamera",
        "person": "person",
        "town": "town city stadt ort",
        "country": "country land",
        "keyword": "tag keyword schlagwort",
        "mark": "is ist",
        "length": "length länge laenge",
    }.items()
    for word in words.split()
}
"""Word before a colon → what is filtered by it: `year`, `kind`, `mark`, or a group of traits."""
KINDS: dict[str, str] = {
    word: kind
    for kind, words in {
        "movie": "film films movie movies filme",
        "series": "series show shows serie serien",
        "episode": "episode episodes folge folgen",
        "album": "album albums alben",
        "artist": "artist artists künstler band",
        "track": "song songs track tracks lied lieder titel",
        "photo": "photo photos foto fotos bild bilder",
        "clip": "clip clips video videos",
    }.items()
    for word in words.split()
}
"""Word → kind of entry."""
MARK_WORDS: dict[str, str] = {
    word: mark
    for mark, words in {
        "seen": "seen watched gesehen",
        "unseen": "unseen unwatched ungesehen",
        "begun": "begun started begonnen angefangen",
        "favourite": "favourite favorite favourites loved favorit lieblinge",
    }.items()
    for word in words.split()
}
_TOKEN = re.compile(
    r"""
    (?: (?P<key> [^\W\d_]{2,14} ) : (?: "(?P<quoted> [^"]{1,80} )" | (?P<value> [^\s"]{1,80} ) ) (?= \s | $ ) )
    | (?P<word> \S+ )
    """,
    re.VERBOSE,
)
LAST_YEAR = 9999
_YEARS = re.compile(r"(?P<first>[0-9]{4})?(?P<till>-|–|\.\.)?(?P<last>[0-9]{4})?")
_DECADE = re.compile(r"(?P<decade>[0-9]{3})0(?:s|er)")


@dataclass(frozen=True, slots=True)
class Filters:
    """What a search asks for beside its words."""

    words: str = ""
    """What is left: words of a title."""
    years: tuple[int, int] | None = None
    """First and last, both meant."""
    kinds: tuple[str, ...] = ()
    marks: tuple[str, ...] = ()
    """Of which an entry has one: `seen`, `unseen`, `begun`, `favourite`."""
    traits: dict[str, tuple[str, ...]] = field(default_factory=dict[str, tuple[str, ...]])
    """Group → spellings of values, of which an entry has one."""

    @property
    def is_plain(self) -> bool:
        """Whether there are only words."""
        return not (self.years or self.kinds or self.marks or self.traits)


def parse_filters(text: str) -> Filters:
    """Take a search apart. A mark's word alone (`unseen`) is a filter only beside another one: it may be a title.

    What has a known key and a value that cannot be (`year:soon`) is a word like any other.
    """
    words: list[str] = []
    years: tuple[int, int] | None = None
    kinds: list[str] = []
    marks: list[str] = []
    bare: list[tuple[int, str]] = []
    traits: dict[str, list[str]] = {}
    for found in _TOKEN.finditer(text):
        key = _KEYS.get((found["key"] or "").casefold())
        value = found["quoted"] or found["value"] or ""
        folded = value.casefold()
        if key == "year" and (told := _years(value)) is not None:
            years = told
        elif key == "kind" and folded in KINDS:
            kinds.append(KINDS[folded])
        elif key == "mark" and folded in MARK_WORDS:
            marks.append(MARK_WORDS[folded])
        elif key and key not in ("year", "kind", "mark"):
            traits.setdefault(key, []).extend(_spellings(key, value))
        else:
            if found.group().casefold() in MARK_WORDS:
                bare.append((len(words), MARK_WORDS[found.group().casefold()]))
            words.append(found.group())
    if years or kinds or marks or traits:
        marks += [mark for _, mark in bare]
        at = {place for place, _ in bare}
        words = [word for place, word in enumerate(words) if place not in at]
    return Filters(
        " ".join(words),
        years,
        tuple(dict.fromkeys(kinds)),
        tuple(dict.fromkeys(marks)),
        {group: tuple(dict.fromkeys(values)) for group, values in traits.items()},
    )


def _years(value: str) -> tuple[int, int] | None:
    """`1990`, `1990-1999`, `-1980`, `2010-`, `1990s`."""
    decade = _DECADE.fullmatch(value.casefold())
    if decade:
        first = int(decade["decade"]) * 10
        return first, first + 9
    found = _YEARS.fullmatch(value)
    if found is None or not (found["first"] or found["last"]):
        return None
    if not found["till"]:
        return (int(value), int(value)) if len(value) == 4 else None
    first, last = int(found["first"] or 0), int(found["last"] or LAST_YEAR)
    return (first, last) if first <= last else (last, first)


def _spellings(group: str, value: str) -> Iterator[str]:
    """A value as it may be kept: languages by their codes, names with large letters and without."""
    if group in ("sound", "text"):
        yield language_of(value) or value.casefold()
        return
    if group == "resolution":
        folded = value.casefold()
        yield {"4k": "2160p", "uhd": "2160p", "8k": "4320p", "hd": "720p", "fhd": "1080p"}.get(
            folded, f"{folded}p" if folded.isdigit() else folded
        )
        return
    if group == "age":
        yield "".join(letter for letter in value if letter.isdigit()) or value
        return
    yield from (value, value.casefold(), value[:1].upper() + value[1:], value.title(), value.upper())
