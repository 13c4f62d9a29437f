"""Traits of an entry: short words by which a shelf is narrowed down, such as `genre:Drama` or `resolution:1080p`."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

__all__ = [
    "GROUPED",
    "GROUPS",
    "LOOKED_FOR",
    "NEWEST_FIRST",
    "Ground",
    "Measures",
    "Trait",
    "cast_of",
    "measures_of",
    "traits_of",
]

GROUPS: dict[str, tuple[str, ...]] = {
    "films": (
        *("mark", "genre", "decade", "director", "cast", "age", "length", "resolution", "range", "sound"),
        *("text", "source", "edition", "set", "library"),
    ),
    "series": ("mark", "genre", "decade", "cast", "age", "library"),
    "music": ("mark", "genre", "decade", "composer", "label", "library"),
    "photos": ("mark", "kind", "near", "country", "town", "person", "keyword", "camera", "lens", "library"),
}
"""Shelf → groups of traits, in the order in which they are shown.

`mark` is one's own, and kept elsewhere, as is `cast`; `near` is a cell of the earth
(:mod:`.spots`), of which there is no list.
"""
LOOKED_FOR = (
    "genre",
    "director",
    "cast",
    "edition",
    "set",
    "composer",
    "label",
    "town",
    "person",
    "keyword",
    "camera",
    "lens",
)
"""Groups of traits whose values are looked for by their letters, as there may be many."""
GROUPED: dict[str, tuple[str, ...]] = {
    "films": ("genre", "decade", "director", "set"),
    "series": ("genre", "decade"),
    "music": ("genre", "decade", "composer", "label"),
    "photos": ("town", "country", "person", "keyword", "camera", "lens"),
}
"""Shelf → groups of traits by which it can be looked at, one beneath the other."""
NEWEST_FIRST = ("decade",)
"""Groups that have an order of their own; of the others those come first that hold most."""
_LENGTHS = ((40, "40"), (90, "90"), (120, "120"), (150, "150"))
"""Minutes: up to this many is this length; longer ones are `more`."""
_HEIGHTS = ((480, "480p"), (576, "576p"), (720, "720p"), (1080, "1080p"), (1440, "1440p"), (2160, "2160p"))
LONGEST = 80
MOST_OF_A_GROUP = 12
MOST_OF_CAST = 60

Trait = str
"""Group and value: `decade:1990`."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """What is known of an entry, as far as traits are made of it."""

    kind: str
    year: int | None
    age: int | None
    """From which it is, where a certificate says so."""
    library_id: int
    facts: Mapping[str, Any] = field(default_factory=dict[str, Any])
    """Field → the value that is shown."""
    files: Sequence[tuple[Mapping[str, Any], Mapping[str, Any]]] = ()
    """Of each file that plays it or is it: what its name says, and what is inside."""
    size_bytes: int = 0
    """All of these files."""
    languages: Sequence[str] = ()
    """Of subtitles beside it."""
    composers: Sequence[str] = ()
    """Of an album: who wrote its songs, as their tags say."""


@dataclass(frozen=True, slots=True)
class Measures:
    """What films are ordered by; None where it is not known, and of all else."""

    seconds: int | None = None
    lines: int | None = None
    size_bytes: int | None = None


def measures_of(ground: Ground) -> Measures:
    """How long a film is, how fine its best picture is, and what all its files take."""
    if ground.kind != "movie":
        return Measures()
    lines = max((_lines(int(m.get("width") or 0), int(m.get("height") or 0)) for _, m in ground.files), default=0)
    return Measures(round(_seconds(ground)) or None, lines or None, ground.size_bytes or None)


def traits_of(ground: Ground) -> tuple[Trait, ...]:
    """The traits of an entry, each once, in the order of their names."""
    found: set[Trait] = set()

    def add(group: str, *values: Any) -> None:
        said = [str(one).strip().replace("|", "/")[:LONGEST] for one in values if one not in (None, "")]
        found.update(f"{group}:{one}" for one in said[:MOST_OF_A_GROUP] if one)

    add("library", ground.library_id)
    if ground.kind in ("photo", "clip"):
        add("kind", ground.kind)
        add("person", *_listed(ground.facts.get("people")))
        add("keyword", *_listed(ground.facts.get("keywords")))
        add("town", *_listed(ground.facts.get("town")))
        add("country", *_listed(ground.facts.get("country")))
        add("camera", *(media.get("camera") for _, media in ground.files))
        add("lens", *(media.get("lens") for _, media in ground.files))
        return tuple(sorted(found))
    add("genre", *_listed(ground.facts.get("genres")))
    if ground.year:
        add("decade", ground.year // 10 * 10)
    if ground.kind == "album":
        add("label", *_listed(ground.facts.get("label")))
        add("composer", *ground.composers)
        return tuple(sorted(found))
    add("age", ground.age)
    if ground.kind == "movie":
        add("director", *_listed(ground.facts.get("directors")))
        add("set", *_listed(ground.facts.get("set")))
        add("length", _length(ground))
        for reading, media in ground.files:
            _add_of_file(add, reading, media)
        add("text", *ground.languages)
    return tuple(sorted(found))


def cast_of(ground: Ground) -> tuple[str, ...]:
    """Who is in a film or series, each once, in the order in which they are named."""
    if ground.kind not in ("movie", "series"):
        return ()
    said = [str(one or "").strip().replace("|", "/")[:LONGEST] for one in _listed(ground.facts.get("cast"))]
    return tuple(dict.fromkeys(one for one in said if one))[:MOST_OF_CAST]


def _listed(value: Any) -> list[Any]:
    return list(value) if isinstance(value, list | tuple) else [value]


def _seconds(ground: Ground) -> float:
    """Of the film as its source says, else of its longest file; parts of one film are one. 0 where nothing says."""
    told = ground.facts.get("runtime")
    lengths = [float(media["seconds"]) for _, media in ground.files if media.get("seconds")]
    parts = any(reading.get("part") for reading, _ in ground.files)
    return told if isinstance(told, int | float) else (sum(lengths) if parts else max(lengths, default=0.0))


def _length(ground: Ground) -> str | None:
    seconds = _seconds(ground)
    if not seconds:
        return None
    return next((name for most, name in _LENGTHS if seconds <= most * 60), "more")


def _add_of_file(add: Any, reading: Mapping[str, Any], media: Mapping[str, Any]) -> None:
    width, height = int(media.get("width") or 0), int(media.get("height") or 0)
    add("resolution", _resolution(width, height) if height else reading.get("resolution"))
    add("range", *(str(one).upper() for one in _listed(reading.get("hdr")) if one))
    sounds = [one.get("language") for one in media.get("audio") or ()]
    add("sound", *(sounds if any(sounds) else _listed(reading.get("languages"))))
    add("text", *(one.get("language") for one in media.get("subtitles") or ()))
    add("source", reading.get("source"))
    add("edition", *_listed(reading.get("edition")))


def _resolution(width: int, height: int) -> str:
    """The usual name for a picture of so many lines."""
    lines = _lines(width, height)
    return next((name for most, name in _HEIGHTS if lines <= most * 1.02), "4320p")


def _lines(width: int, height: int) -> int:
    """Its lines, or those that its width would have at 16:9, where it is wider than that (2.39:1)."""
    return max(height, round(width * 9 / 16))
