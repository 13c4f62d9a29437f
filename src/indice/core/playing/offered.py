"""Texts that a service offers for a film or an episode, the likeliest to fit first, and why. Pure.

What says that a text belongs to this very file (its fingerprint, its length) weighs more than any name; what a
service does not say counts neither for nor against.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from ..matching.decide import likeness

__all__ = ["RATES", "Ground", "OfferedText", "Ranked", "Wanted", "rank_offers", "stretch_between"]

Ground = Literal[
    "same-file", "same-length", "near-length", "other-length", "other-rate", "title", "other-title", "year", "other-year",
    "episode", "other-episode", "release", "for-deaf", "forced",
]  # fmt: skip

RATES = (24000 / 1001, 24.0, 25.0, 30000 / 1001, 30.0)
"""Pictures a second at which films are issued; one made for another runs at another speed."""
_WEIGHT: dict[Ground, float] = {
    "same-file": 6.0, "same-length": 2.0, "near-length": 0.8, "other-length": -2.5, "other-rate": 0.3, "title": 1.0,
    "other-title": -3.0, "year": 0.5, "other-year": -2.0, "episode": 1.5, "other-episode": -9.0, "release": 0.5,
    "for-deaf": -0.2, "forced": -1.5,
}  # fmt: skip
SAME_SECONDS = 2.0
NEAR_SHARE = 0.012
"""Titles at the end, or a logo at the beginning: so much may two lengths of one cut differ."""
LIKE_TITLE = 0.9
UNLIKE_TITLE = 0.7
LEAST = -2.0
"""What weighs less is not shown."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """The file that a text is wanted for, and what it is."""

    titles: Sequence[str]
    """Its title and its other names; of an episode the series'."""
    year: int | None = None
    season: int | None = None
    number: int | None = None
    seconds: float | None = None
    file_name: str = ""
    digest: str = ""
    """Fingerprint of the file, as the protocol says."""
    languages: Sequence[str] = ()
    """The wanted ones, the dearest first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OfferedText:
    """A text as a service describes it; None where it does not say."""

    id: str
    language: str
    title: str | None = None
    year: int | None = None
    season: int | None = None
    number: int | None = None
    seconds: float | None = None
    """Length of the film that it was made for."""
    release: str = ""
    """Name of the file that it was made for."""
    form: str = "srt"
    is_for_deaf: bool = False
    is_forced: bool = False
    digests: Sequence[str] = ()
    """Fingerprints of files that it is known to fit."""


@dataclass(frozen=True, slots=True)
class Ranked:
    """An offered text, what it weighs, and the grounds of that."""

    text: OfferedText
    weight: float
    grounds: tuple[Ground, ...]
    stretch: float
    """By how much its times must be multiplied for this film, as the lengths say."""


def rank_offers(wanted: Wanted, offers: Iterable[OfferedText]) -> list[Ranked]:
    """What may fit, by language as wished and then by weight; what belongs to something else is left out."""
    order = {language: place for place, language in enumerate(wanted.languages)}
    ranked: list[Ranked] = []
    for offer in offers:
        place = _place_of(offer.language, order)
        if order and place is None:
            continue
        grounds = tuple(_grounds(wanted, offer))
        weight = sum(_WEIGHT[ground] for ground in grounds)
        if weight >= LEAST:
            stretch = stretch_between(offer.seconds, wanted.seconds) if "other-rate" in grounds else 1.0
            ranked.append(Ranked(offer, round(weight, 2), grounds, stretch))
    return sorted(ranked, key=lambda one: (_place_of(one.text.language, order) or 0, -one.weight, one.text.id))


def _place_of(language: str, order: dict[str, int]) -> int | None:
    """`pt-br` is wanted where `pt` is, behind what is wanted itself."""
    return order.get(language, order.get(language.partition("-")[0]))


def _grounds(wanted: Wanted, offer: OfferedText) -> Iterable[Ground]:
    if wanted.digest and wanted.digest in offer.digests:
        yield "same-file"
    yield from _length(wanted.seconds, offer.seconds)
    if offer.title:
        like = max((likeness(title, offer.title) for title in wanted.titles), default=0.0)
        if like >= LIKE_TITLE:
            yield "title"
        elif like < UNLIKE_TITLE:
            yield "other-title"
    if wanted.year and offer.year and wanted.season is None:
        if abs(wanted.year - offer.year) > 1:
            yield "other-year"
        elif wanted.year == offer.year:
            yield "year"
    for mine, theirs in ((wanted.season, offer.season), (wanted.number, offer.number)):
        if mine is not None and theirs is not None and mine != theirs:
            yield "other-episode"
            break
    else:
        if wanted.number is not None and wanted.number == offer.number:
            yield "episode"
    if _words(wanted.file_name) and len(_words(wanted.file_name) & _words(offer.release)) >= 2:
        yield "release"
    if offer.is_for_deaf:
        yield "for-deaf"
    if offer.is_forced:
        yield "forced"


def _length(mine: float | None, theirs: float | None) -> Iterable[Ground]:
    if not mine or not theirs:
        return
    if abs(mine - theirs) <= SAME_SECONDS:
        yield "same-length"
    elif stretch_between(theirs, mine) != 1.0:
        yield "other-rate"
    elif abs(mine - theirs) <= mine * NEAR_SHARE:
        yield "near-length"
    else:
        yield "other-length"


def stretch_between(theirs: float | None, mine: float | None) -> float:
    """The ratio of two rates of pictures that makes one length the other within 2 s an hour; 1 where there is none."""
    if not theirs or not mine:
        return 1.0
    most = SAME_SECONDS * max(mine / 3600, 0.25)
    ratios = sorted(
        {a / b for a in RATES for b in RATES if a != b and abs(a / b - 1) > 0.002}, key=lambda r: abs(r - 1)
    )
    return next((ratio for ratio in ratios if abs(theirs * ratio - mine) <= most), 1.0)


_WORD = re.compile(r"[a-z0-9]{2,}")


def _words(name: str) -> frozenset[str]:
    """What a release says of itself: the words behind the title that are no plain words."""
    found = _WORD.findall(name.lower().rpartition("/")[2])
    return frozenset(word for word in found if any(c.isdigit() for c in word) or word in _RELEASE_WORDS)


_RELEASE_WORDS = frozenset(
    [
        "web",
        "webrip",
        "bluray",
        "dvdrip",
        "hdtv",
        "dvd",
        "remux",
        "extended",
        "uncut",
        "remastered",
        "hevc",
        "dual",
        "proper",
    ]
)
