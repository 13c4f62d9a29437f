"""Trailers, scenes, samples and what else goes with a work without being it."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..phrase import term
from .model import Reading
from .places import EXTRA_FOLDERS, EXTRA_WORDS, is_sorting
from .scan import tidy_title, without_accents
from .seriesmarks import SXXEYY
from .video import fill_movie, fill_series, fill_work, put_technical
from .video_folders import BETWEEN_WORDS, is_same_title, offsets_of, read_place, spaced_out, with_and_without_article
from .work import Work, read_work

__all__ = ["read_extra"]

_ROLES = "|".join(sorted((re.escape(w).replace(r"\ ", r"[\s._-]?") for w in EXTRA_WORDS), key=len, reverse=True))
"""The words for extras as a pattern's alternatives, a blank being any one separator or none."""
_EXTRA_SUFFIX = re.compile(
    r"[\s._-]*(?:[-._\s(\[])(?P<word>" + _ROLES + r")[)\]]?[\s._-]*#?(?P<n>[0-9]{0,2})$",
    re.IGNORECASE,
)
_STRICT_SUFFIX = re.compile(
    r"(?:-|\s-\s|\.|_)(?P<word>" + _ROLES + r")(?:[\s._-]?#?[0-9]{1,2})?$",
    re.IGNORECASE,
)


_INNER_ROLE = re.compile(
    r"\s-\s(?P<word>" + _ROLES + r")\s-\s(?=\S)",
    re.IGNORECASE,
)
"""A role between a film's title and the extra's own name: `Film - Deleted Scene - The Bog`."""
_BEHIND_YEAR = re.compile(
    r"[(\[](?:19|20)[0-9]{2}[)\]]\s+(?P<word>" + _ROLES + r")(?:\s?#?[0-9]{1,2})?$", re.IGNORECASE
)
"""Behind the year of a film there is nothing but what the file is: `Film (1994) Making Of`."""
LONGEST_ROLE = 24
_ENDINGS = tuple(
    word
    for spelled in EXTRA_WORDS
    for word in {spelled, spelled.replace(" ", "."), spelled.replace(" ", "_"), spelled.replace(" ", "")}
)
_LAST_TWO = frozenset(word[-2:] for word in _ENDINGS)
"""Most names do not end as any of them, which is told soonest by their last two letters."""
_SPACED_SUFFIX = re.compile(r"[\s(\[](trailer|sample|teaser)(?:[\s._-]?#?[0-9]{1,2})?[)\]]?$", re.IGNORECASE)
_ANY_YEAR = re.compile(r"(?:19|20)[0-9]{2}")


def _role_word(word: str) -> str | None:
    spaced = BETWEEN_WORDS.sub(" ", word.strip().lower())
    return (
        EXTRA_WORDS.get(spaced) or EXTRA_WORDS.get(spaced.replace(" ", "")) or EXTRA_WORDS.get(spaced.replace(" ", "-"))
    )


_SAMPLE_FIRST = re.compile(r"sample[-_.](?=\S)", re.IGNORECASE)
_CREDITLESS = re.compile(
    r"""
    (?: (?: (?<= [\s._\]-] ) | ^ ) NC [\s_-]? (?: OP | ED )
      | (?: (?<= [-\]] \s ) | ^ ) (?: creditless | textless | clean ) [\s._-]* (?: opening | ending | OP | ED ) [\s._-]? )
    [0-9]{0,2} [a-z]? (?![^\W_])
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""Opening and ending without credits."""
_OF_CREDITS = ("nc", "less", "clean")
"""One of these is in such a name, which is told sooner than the whole pattern."""


def extra_role(folders: list[str], stem: str, *, series: bool) -> str | None:
    """The role of an extra, or None when the file is the work itself."""
    if _SAMPLE_FIRST.match(stem):
        return "sample"
    if any(word in stem.lower() for word in _OF_CREDITS) and _CREDITLESS.search(stem):
        return "theme"
    if series and (mark := SXXEYY.search(stem)) and not int(mark["season"] or mark["season2"] or 1):
        folders = []  # a special that counts itself is an episode, wherever it lies
    bare = _role_word(stem.rstrip("0123456789 ")) if len(stem) <= LONGEST_ROLE else None
    end = stem.rstrip("0123456789)]# ._-").lower()
    ending = end[-2:] in _LAST_TWO and end.endswith(_ENDINGS)
    for index in range(len(folders) - 1, -1, -1):
        lowered = spaced_out(folders[index])
        if lowered in EXTRA_FOLDERS and index > 0:
            role = EXTRA_FOLDERS[lowered]
            if role == "short" and all(is_sorting(above) for above in folders[:index]):
                continue  # short films among films of other kinds
            if role != "other":
                return role
            suffix = _EXTRA_SUFFIX.search(stem)
            found = bare or (_role_word(suffix["word"]) if suffix else None)
            return found or "other"
        if lowered in ("sample", "samples", "trailers", "trailer") and index == 0 and len(folders) == 1:
            return EXTRA_FOLDERS[lowered]
    if bare is not None and len(stem.split()) <= 3 and bare in ("trailer", "sample", "teaser", "theme"):
        return bare
    if bare is not None and not series and _is_of_another_name(stem, folders):
        return bare
    if not series and (first := _role_first(stem, folders)) is not None:
        return first[0]
    inside = _INNER_ROLE.search(stem) if folders and not series else None
    if inside is not None and without_accents(stem[: inside.start()]) in without_accents(folders[-1]):
        return _role_word(inside["word"])
    return _role_at_end(stem, series=series) if ending else None


_ROLE_FIRST = re.compile(rf"(?P<word>{_ROLES})(?:\s+[-–]\s+|\s+)(?=\S)", re.IGNORECASE)


def _role_first(stem: str, folders: Sequence[str]) -> tuple[str, int] | None:
    """The role that stands first, and how long it is, where nothing but the folder's
    title follows: `Making of Gull` in `Gull (2010)`."""
    found = _ROLE_FIRST.match(stem) if folders else None
    if found is None or is_sorting(folders[-1]):
        return None
    above = read_work(folders[-1], episodes=False, folder=True).title
    if above is None or not is_same_title(stem[found.end() :], str(above[0])):
        return None
    role = _role_word(found["word"])
    return (role, found.end()) if role else None


def _role_at_end(stem: str, *, series: bool) -> str | None:
    """The role that the last word of a name says, where it is parted from the title or stands behind a year."""
    strict = _STRICT_SUFFIX.search(stem)
    if strict is not None and series and " " in strict.group() and SXXEYY.search(stem):
        return None
    if strict is not None and strict.start() > 0:
        return _role_word(strict["word"])
    spaced = _SPACED_SUFFIX.search(stem)
    if spaced is not None and _ANY_YEAR.search(stem):
        return _role_word(spaced[1])
    behind = _BEHIND_YEAR.search(stem)
    role = _role_word(behind["word"]) if behind is not None else None
    return role if role not in ("short", "other") else None  # a short film may be said to be one


def _is_of_another_name(stem: str, folders: list[str]) -> bool:
    """Whether a file lies in the folder of one film, in whose name its own words do not stand."""
    if not folders or is_sorting(folders[-1]) or not _ANY_YEAR.search(folders[-1]):
        return False
    return without_accents(stem.rstrip("0123456789 ")) not in without_accents(folders[-1])


def read_extra(path: str, folders: list[str], stem: str, role: str, *, series: bool) -> Reading:
    """A trailer, a scene, a sample …: with the facts of the work it belongs to."""
    offsets = offsets_of([*folders, stem])
    at = offsets[-1]
    reading = Reading("extra")
    reading.put("role", role, (at, at + len(stem)), term("word or folder of an extra"))
    ahead = _role_ahead(stem, role, folders, series=series)
    stem, at = stem[ahead:], at + ahead
    creditless = _CREDITLESS.search(stem)
    whole = read_work(stem, episodes=False, folder=False) if creditless else None
    if creditless is not None:
        stem = stem[: creditless.start()]
    in_folder = any(spaced_out(folder) in EXTRA_FOLDERS for folder in folders[1:])
    base = _without_role(stem, role, in_folder=in_folder)
    place = read_place(folders, offsets[:-1], series=series)
    own = read_work(base, episodes=series, folder=False) if base else None
    above = place.work
    label: tuple[str, int] | None = (base, 0) if base.strip(" ._-") else None
    if own is not None and (own.title or above) and _names_its_work(own, above, in_folder=in_folder):
        fill_work(reading, base, at, folders, offsets[:-1], series=series, technical=False)
        cut = _after_work(base, own)
        label = (base[cut:], cut) if base[cut:].strip(" ._-") else None
    elif above is not None or place.season is not None:
        (fill_series if series else fill_movie)(reading, Work("", bare=True), at, place)
        title = str(above.title[0]) if above is not None and above.title is not None else ""
        cut = _after_title(base, title) if label is not None and title else 0
        label = (base[cut:], cut) if cut else label
    reading.facts.pop("version", None)
    described = whole or own
    if described is not None:
        put_technical(reading, described, at)
    is_told = role == "theme" or (role == "sample" and own is not None and bool(own.technical))
    if label is not None and not is_told:
        _put_label(reading, label, at, above, in_folder=in_folder)
    return reading


def _role_ahead(stem: str, role: str, folders: Sequence[str], *, series: bool) -> int:
    """How much of an extra's name is the word for it, where that stands first or inside."""
    first = _SAMPLE_FIRST.match(stem)
    start = first.end() if first is not None else 0
    if not series and not start and (told := _role_first(stem, folders)) is not None:
        return told[1]
    inside = _INNER_ROLE.search(stem[start:]) if not series else None
    return start + inside.end() if inside is not None and _role_word(inside["word"]) == role else start


def _without_role(stem: str, role: str, *, in_folder: bool) -> str:
    """What stands before an extra's word; in a folder of extras its number makes it a name of its own."""
    if _role_word(stem.rstrip("0123456789 ")) == role and not (in_folder and stem[-1:].isdigit()):
        return ""
    suffix = _EXTRA_SUFFIX.search(stem)
    if suffix is not None and _role_word(suffix["word"]) == role and not (in_folder and suffix["n"]):
        return stem[: suffix.start()]
    return stem


def _names_its_work(own: Work, above: Work | None, *, in_folder: bool) -> bool:
    """Whether an extra's own name says which work it is of, and not only what it shows."""
    if own.year or (own.episodes and own.season is not None):
        return True
    if in_folder or own.title is None:
        return False
    return above is None or above.title is None or is_same_title(str(own.title[0]), str(above.title[0]))


def _after_title(base: str, title: str) -> int:
    """Where a name goes on that begins with its work's title, the article left aside."""
    for said in with_and_without_article(title):
        if len(base) > len(said) and re.match(rf"{re.escape(said)}(?![^\W_])", base, re.IGNORECASE):
            return len(said)
    return 0


def _put_label(reading: Reading, label: tuple[str, int], at: int, above: Work | None, *, in_folder: bool) -> None:
    """What an extra is called beside its work's title; a bare number is a name in a folder of extras only."""
    text, cut = label
    probe = read_work(text, episodes=False, folder=False)
    said = str(probe.title[0]) if probe.technical and probe.title else text
    shown = tidy_title(re.sub(r"^[\s._-]+", "", said), dotted="." in text and " " not in text)
    if above is not None and above.title is not None and is_same_title(shown, str(above.title[0])):
        return
    if shown and (in_folder or not shown.isdigit()):
        reading.put("label", shown, (at + cut, at + cut + len(text)), term("what is left of the extra's own name"))


def _after_work(base: str, own: Work) -> int:
    ends = [found[2] for found in (own.title, own.year, own.season, own.episodes, own.edition, own.subtitle) if found]
    ends += [found[2] for found in own.technical.values()]
    cut = max(ends, default=0)
    while cut < len(base) and base[cut] in ")]} ._-":
        cut += 1
    return cut
