"""What a folder of photos is: an occasion, or somebody, a device, a place where things wait, a kind of picture.

Every word of the folder leans somewhere, as the data say (`data/leanings.toml`); what a folder is follows from its
words, its date and what it lies in. Where nothing speaks for an occasion, none is stated.
"""

from __future__ import annotations

import re
import tomllib
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources

from .vocabulary import alternation, words_for

__all__ = [
    "SPEAKS_AGAINST",
    "SPEAKS_FOR",
    "Leaning",
    "Occasion",
    "is_kind_of_occasions",
    "is_occasion",
    "is_trip",
    "is_waiting",
    "leaning_of",
    "marks_of_folder",
]

SPEAKS_FOR = ("occasion", "season", "trip", "place")
SPEAKS_AGAINST = ("device", "waits", "kind", "scan", "screenshot", "messenger")
_MARKS = ("scan", "screenshot", "messenger")
_WORD = re.compile(r"[^\W_]+(?:['’-][^\W\d_]+)*|&", re.UNICODE)
_POSSESSIVE = re.compile(r"['’]s$|s['’]$")
_APP = re.compile(r"^\S+ (?:images|video|animated gifs|stickers|voice notes|documents)$", re.IGNORECASE)
"""Folders in which a phone's apps put what they receive: the app's name and what it is."""
_ORDINAL = re.compile(r"[0-9]{1,3}(?:st|nd|rd|th|e|er|ème|º|ª|os|o|a|esimo|:e|-й|-я|-летие)", re.IGNORECASE)
"""With somebody it is their so-manieth: a birthday, a wedding day."""
_ASIDE = re.compile(r"\s*[(\[][^()\[\]]*[)\]]\s*$")
"""What a bracket at the end adds is not what the folder is: `Kite day (Jonas' camera)`."""
_COUNTED = re.compile(r"[^\W\d_]+[\s_#-]*[0-9]{1,3}$")
_ONE_OF_MANY = re.compile(rf"(?:{alternation('container')})[\s_#.-]*(?:n[or]\.?\s*)?[0-9]{{1,3}}$", re.IGNORECASE)
"""What pictures on paper or film were kept in, by its number."""
LONGEST_PHRASE = 3


@dataclass(frozen=True, slots=True)
class Leaning:
    """Where the words of a folder lean: leaning → how many words do; `unknown` counts those that no table knows."""

    counts: tuple[tuple[str, int], ...]
    has_common: bool
    """Whether a word that no table knows is written small, as names are not."""

    def of(self, *names: str) -> int:
        """How many words lean to any of these."""
        return sum(count for name, count in self.counts if name in names)


@dataclass(frozen=True, slots=True)
class Occasion:
    """What speaks for a folder being an occasion; the first that is true decides."""

    is_dated: bool
    """It carries a date together with its words."""
    is_below_date: bool
    """It lies in a year's, a month's or a day's folder."""
    is_below_sort: bool
    """It lies in a folder of a device, or of a kind of picture."""
    is_below_trip: bool = False
    """It lies in the folder of a trip, a place or a time that has a name, and of no
    occasion: what is in it are its places."""


@cache
def _tables() -> tuple[dict[str, str], dict[str, str], tuple[tuple[str, str], ...]]:
    """Words, ends of words, and what is looked for anywhere in scripts without spaces; each with its leaning."""
    text = resources.files(__package__ or "").joinpath("data", "leanings.toml").read_text("utf-8")
    words: dict[str, str] = {}
    ends: dict[str, str] = {}
    inside: list[tuple[str, str]] = []
    for leaning, languages in tomllib.loads(text).items():
        for language, listed in languages.items():
            for word in listed:
                if not word.startswith("*"):
                    words.setdefault(word.casefold(), leaning)
                elif language in ("zh", "ja", "ko", "ar", "he"):
                    inside.append((word[1:].casefold(), leaning))
                else:
                    words.setdefault(word[1:].casefold(), leaning)
                    ends.setdefault(word[1:].casefold(), leaning)
    return words, ends, tuple(inside)


@cache
def _longest_end() -> int:
    return max(map(len, _tables()[1]))


def _of_word(word: str) -> str | None:
    words, ends, inside = _tables()
    folded = word.casefold().replace("’", "'")
    for form in (folded, _POSSESSIVE.sub("", folded)):
        if form in words:
            return words[form]
    for length in range(min(_longest_end(), len(folded) - 3), 0, -1):
        leaning = ends.get(folded[-length:])
        if leaning is not None:
            return leaning
    if not folded.isascii():
        for part, meant in inside:
            if part in folded:
                return meant
    return None


@lru_cache(maxsize=16384)
def leaning_of(text: str) -> Leaning:
    """Where the words of a folder's name, without its date, lean."""
    words = _tables()[0]
    tokens = _WORD.findall(text)
    counts: dict[str, int] = {}
    has_common = False
    place = 0
    while place < len(tokens):
        for length in range(min(LONGEST_PHRASE, len(tokens) - place), 1, -1):
            phrase = " ".join(tokens[place : place + length]).casefold().replace("’", "'")
            if phrase in words:
                counts[words[phrase]] = counts.get(words[phrase], 0) + 1
                place += length
                break
        else:
            token = tokens[place]
            place += 1
            if token.isdigit():
                continue
            if "-" in token and _of_word(token) is None:
                tokens[place:place] = [part for part in token.split("-") if part]
                continue
            leaning = "ordinal" if _ORDINAL.fullmatch(token) else _of_word(token) or "unknown"
            counts[leaning] = counts.get(leaning, 0) + 1
            has_common = has_common or (leaning == "unknown" and token.islower() and len(token) > 2)
    return Leaning(tuple(sorted(counts.items())), has_common)


_COMPANY = re.compile(r"(?<=[^\W_])\s+(?:with|mit|avec|con|com|met|med|ile|с)\s+(?P<who>[^\W\d_].*)$", re.IGNORECASE)


def is_occasion(text: str, found: Occasion) -> bool:
    """Whether a folder's words, without its date, name an occasion, a trip or a place.

    Words that speak for it win over those that name somebody or a device beside them; where no word speaks
    for it, the date or the folder above must.
    """
    company = _COMPANY.search(text)
    if company is not None and leaning_of(company["who"]).of("person", "name"):
        text = text[: company.start()]  # who was there as well does not tell what it was
    plain = _ASIDE.sub("", text)
    if all(word.casefold() in words_for("weekday") for word in _WORD.findall(text)):
        return False  # a day of something
    leaning = leaning_of(plain if plain.strip() else text)
    speaks = leaning.of(*SPEAKS_FOR)
    against = leaning.of(*SPEAKS_AGAINST)
    unknown, person = leaning.of("unknown", "name"), leaning.of("person")
    if _APP.match(text):
        return False
    if leaning.of("name") and not (leaning.of("unknown", "ordinal") or speaks or found.is_dated):
        return False  # somebody's own folder
    if _ONE_OF_MANY.match(text):
        return False
    if not speaks and not found.is_dated and (_COUNTED.match(text) or (len(text) < 3 and text.isupper())):
        return False  # one of many boxes, rolls, reels; an abbreviation
    if (speaks or (found.is_dated and unknown)) and against == leaning.of("waits") and _is_told_apart(text):
        against = 0
    if (
        against
        and speaks <= against
        and not (found.is_dated and unknown + speaks > 1 and not leaning.of("device", "waits"))
    ):
        return False
    if speaks:
        return not (against and speaks == leaning.of("place") and unknown == 0)
    if person:
        return leaning.of("ordinal") > 0 or (found.is_dated and unknown > 0)
    if not unknown:
        return False
    if found.is_dated or found.is_below_date or found.is_below_trip:
        return True
    return found.is_below_sort or (unknown > 1 and leaning.has_common)


def _is_told_apart(text: str) -> bool:
    """Whether what speaks of waiting only tells one from another here: `Old Town`, `New house`, `All Saints`."""
    lowered = text.lower()
    return any(lowered.startswith(f"{word} ") for word in words_for("telling-apart"))


def is_kind_of_occasions(text: str) -> bool:
    """Whether a folder sorts by what happened (`Trips`, `Birthdays`): each folder in it is one of them."""
    return text.casefold() in _kinds()


@cache
def _kinds() -> frozenset[str]:
    return frozenset(word.casefold() for word in words_for("kinds-of-occasions"))


def is_trip(text: str) -> bool:
    """Whether an event's words name no occasion, but where or when one was away."""
    return not leaning_of(text).of("occasion")


def marks_of_folder(text: str) -> tuple[str, ...]:
    """Marks that files carry because of the folder they lie in."""
    if _APP.match(text):
        return ("messenger",)
    leaning = leaning_of(text)
    return tuple(mark for mark in _MARKS if leaning.of(mark))


def is_waiting(text: str) -> bool:
    """Whether a folder is one where things only wait to be put in order (`New
    folder (2)`, `unsorted`): no place to stay."""
    leaning = leaning_of(text)
    return bool(leaning.counts) and leaning.of("waits") == sum(count for _, count in leaning.counts)
