"""Subtitles and pictures beside video: language, flags, role, and the work that they go with."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..phrase import term
from .model import Reading, Span
from .places import ARTWORK, FLAGS, SUBTITLE_FOLDERS
from .seriesmarks import SXXEYY
from .video import fill_movie, fill_series, fill_work
from .video_folders import offsets_of, read_place, spaced_out
from .words import language_in, language_of
from .work import Work

__all__ = ["read_side_file"]

_SEASON_ART = re.compile(
    r"^season[\s_-]?(?P<n>[0-9]{1,3}|-?specials|-?all)?[\s_-]*(?P<role>poster|banner|landscape|thumb|cover)?$",
    re.IGNORECASE,
)


_ART_WORDS = "|".join(
    re.escape(word).replace(r"\ ", "[ ._-]") for word in sorted(ARTWORK, key=len, reverse=True) if len(word) > 2
)
_ART_TAIL = re.compile(
    rf"""
    (?: [-._] (?P<joined> {_ART_WORDS}
          | clearlogo | clearart | keyart | discart )
      | [ ] (?P<spaced> poster | backdrop | background | clearlogo | logo | banner | landscape | thumb | thumbnail | still | cover
          | front | back | keyart | clearart | discart | booklet )
    ) [-_]? [0-9]{{0,2}} $
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""A picture's role behind the work's name: any word for one behind a sign, behind a blank those that are no title's."""


_ROLE_ASIDE = re.compile(r"[\s._-]*[(\[](?P<word>[^\W\d_][^()\[\]]*)[)\]]$")
"""A picture's role in brackets: `Cover (back)`."""


def artwork_role(stem: str, *, beside_music: bool) -> tuple[str, str] | None:
    """Role of a picture that is artwork by its name, and what stands before the word; None when it is none."""
    aside = _ROLE_ASIDE.search(stem)
    if aside is not None and aside["word"].strip().lower() in ARTWORK:
        before = stem[: aside.start()]
        role = artwork_role(aside["word"], beside_music=beside_music)
        return (role[0], "" if before.strip().lower() in ARTWORK else before) if role is not None else None
    lowered = re.sub(r"[\s_]+", " ", stem.strip().lower())
    lowered = (
        re.sub(r"(?<=[a-z])[\s-]?[0-9]{1,3}(?:-[0-9]+)?$", "", lowered)
        if re.match(r"(?:poster|backdrop|booklet|cover|back|disc|thumb|scan|inlay|background)", lowered)
        else lowered
    )
    if lowered == "folder":
        return ("cover" if beside_music else "poster"), ""
    counted = re.sub(r"(?<=[^\W\d_])[\s-]?[0-9]{1,3}$", "", lowered)
    if lowered in ARTWORK or counted in ARTWORK:
        role = ARTWORK[lowered if lowered in ARTWORK else counted]
        if not beside_music:
            role = {"cover": "poster", "portrait": role, "disc": role}.get(role, role)
        return role, ""
    spoken = re.fullmatch(r"(?P<word>[^\W\d_]+)[-._](?P<tag>[a-z]{2,3}(?:-[a-z]{2})?)", lowered)
    if spoken and spoken["word"] in ARTWORK and language_of(spoken["tag"]):
        return artwork_role(spoken["word"], beside_music=beside_music)  # the words in it are of a language
    match = _ART_TAIL.search(stem)
    if match:
        word = re.sub(r"[._-]", " ", (match["joined"] or match["spaced"]).lower())
        role = ARTWORK.get(word) or ARTWORK.get(word.replace(" ", "-")) or "logo"
        if role == "cover" and not beside_music:
            role = "poster"
        return role, stem[: match.start()]
    return None


def read_side_file(path: str, folders: list[str], stem: str, kind: str, *, series: bool) -> Reading:
    """A subtitle or an artwork with the facts of the work that it belongs to."""
    offsets = offsets_of([*folders, stem])
    at = offsets[-1]
    reading = Reading(kind)
    pictures = _role_of_pictures(folders[-1]) if kind == "artwork" and len(folders) > 1 else None
    if kind == "subtitle":
        base = _subtitle_words(reading, stem, at, folders)
        if base.isdigit() and len(base) < 3 and folders and SXXEYY.search(folders[-1]):
            # a count of the texts; the folder says of which episode
            base, at, folders, offsets = folders[-1], offsets[-2], folders[:-1], offsets[:-1]
    elif pictures is not None:
        reading.put("role", pictures, (offsets[-2], at - 1), term("folder of pictures"))
        folders, offsets, base = folders[:-1], [*offsets[:-2], at], ""
    else:
        base = _artwork_words(reading, stem, at, series=series)
    if base.strip(" ._-"):
        fill_work(
            reading,
            base,
            at,
            [f for f in folders if f.strip().lower() not in SUBTITLE_FOLDERS],
            [o for f, o in zip(folders, offsets, strict=False) if f.strip().lower() not in SUBTITLE_FOLDERS],
            series=series,
            technical=False,
        )
    else:
        place = read_place(folders, offsets[:-1], series=series)
        (fill_series if series else fill_movie)(reading, Work("", bare=True), at, place)
        if kind == "artwork":
            reading.facts.pop("edition", None)
    for name in ("version", "ids"):
        reading.facts.pop(name, None)
    return reading


def _artwork_words(reading: Reading, stem: str, at: int, *, series: bool) -> str:
    """Take an artwork's role, and the season that it is of, from its name; returns what is left."""
    whole = (at, at + len(stem))
    season = _SEASON_ART.match(stem)
    if season is None or not (season["n"] or season["role"]):
        found = artwork_role(stem, beside_music=False)
        role, base = found if found else ("thumb" if series and SXXEYY.search(stem) else "poster", stem)
        reading.put("role", role, whole, term("name of an artwork"))
        return base
    role = (season["role"] or "poster").lower()
    role = {"landscape": "thumb", "cover": "poster"}.get(role, role)
    reading.put("role", role, whole, term("name of a season's artwork"))
    word = (season["n"] or "").lower().strip("-")
    if word and word != "all":
        number = 0 if word == "specials" else int(word)
        reading.put("season", number, whole, term("name of a season's artwork"))
    return ""


def _role_of_pictures(folder: str) -> str | None:
    """The role of pictures that lie in a folder of their own: `Backdrops`, `extra posters`."""
    name = spaced_out(folder).removeprefix("extra").strip()
    return next((ARTWORK[one] for one in (name, name.removesuffix("s")) if one in ARTWORK and one != "disc"), None)


@dataclass(frozen=True, slots=True)
class _LastWord:
    """The last word of what is left of a subtitle's name."""

    word: str
    start: int
    cut: int
    """Where ends what stands before it."""
    tag: str | None
    """The language that it names."""
    is_apart: bool
    """Whether a dot, a bracket or the like parts it from what stands before, and not a mere space."""


_LAST_WORD = re.compile(r"(?:^|[.\s_\[(-]+)(?P<word>[^\W_]+(?:-[A-Za-z0-9]{2,4})?)[\])]*$")


_WHERE_SPOKEN = re.compile(r"(?:^|[.\s_\[(-]+)([^\W\d_]{4,})$")


def _last_word(base: str, *, in_folder: bool) -> _LastWord | None:
    match = _LAST_WORD.search(base)
    if match is None:
        return None
    word, cut, start = match["word"], match.start(), match.start("word")
    separator = base[cut:start]
    tag = language_of(word)
    where = _WHERE_SPOKEN.search(base[:cut])
    if tag is not None and where is not None and (told := language_of(f"{where[1]} {word}")) is not None:
        word, tag, start, cut = base[where.start(1) : match.end("word")], told, where.start(1), where.start()
        separator = where[0][: where.start(1) - where.start()]
    head, hyphen, tail = word.rpartition("-")
    if tag is None and hyphen and (tail.lower() in FLAGS or language_of(tail)):
        start += len(head) + 1  # `…-forced`: what stands before the hyphen is looked at next
        return _LastWord(tail, start, start - 1, language_of(tail), is_apart=True)
    is_apart = not separator or any(sign in separator for sign in "._[(") or (len(word) > 3 and in_folder)
    return _LastWord(word, start, cut, tag, is_apart)


def _subtitle_words(reading: Reading, stem: str, at: int, folders: list[str]) -> str:
    """Take language and flags from the end of a subtitle's name; returns what is left."""
    flags: list[str] = []
    spans: list[Span] = []
    in_folder = bool(folders) and folders[-1].strip().lower() in SUBTITLE_FOLDERS
    base = stem
    while (last := _last_word(base, in_folder=in_folder)) is not None:
        if in_folder and "language" not in reading.facts and (told := _named_by_language(base)) is not None:
            reading.put("language", told, (at, at + len(base)), term("language in the name"))
            base = ""
            break
        span = (at + last.start, at + last.start + len(last.word))
        flag = FLAGS.get(last.word.lower()) if last.is_apart else None
        before = base[: last.cut]
        has_language = "language" in reading.facts
        if flag is not None and last.word.lower() == "hi" and not (has_language or _language_before(before)):
            flag = None  # the language of that tag: of a flag a language stands before it
        if flag is not None:
            flags.append(flag)
            spans.append(span)
        elif last.tag is not None and not has_language and _is_a_language_there(base, stem, last, in_folder):
            reading.put("language", last.tag, span, term("language in the name"))
        else:
            break
        base = before
    if flags:
        reading.put("flags", sorted(set(flags)), spans[0], term("flag of a subtitle"))
    if in_folder:
        base = re.sub(r"^[0-9]{1,2}[_. ]*$", "", base)
    if "language" not in reading.facts:
        _put_folder_language(reading, folders)
    return base


_NAMED_BY_LANGUAGE = re.compile(
    r"""
    ^ (?: [0-9]{1,3} [\s._-]+ )?
    (?: (?P<where> [^\W\d_]+ (?: \s [^\W\d_]+ )? ) [\s._-]+ (?P<code> [^\W\d_]{2,} )
      | (?P<name> [^\W\d_]+ ) \s* [(\[] (?P<place> [^()\[\]]+ ) [)\]] ) $
    """,
    re.VERBOSE,
)


def _named_by_language(base: str) -> str | None:
    """The tag of a name that is a language and where it is spoken, and nothing
    else: `Brazilian.por`, `3_Spanish (Latin America)`."""
    match = _NAMED_BY_LANGUAGE.match(base)
    if match is None:
        return None
    if match["code"]:
        return language_in(match["where"], match["code"])
    told = language_in(match["place"], match["name"])
    return told or (language_of(match["name"]) if match["place"].strip().lower() not in FLAGS else None)


def _is_a_language_there(base: str, stem: str, last: _LastWord, in_folder: bool) -> bool:
    """Whether a word that may be a language's stands where one is named, and is no word of a title."""
    is_parted = last.is_apart or " - " in base[last.cut : last.start]
    return is_parted and (last.cut > 0 or in_folder or len(stem) == len(base))


def _put_folder_language(reading: Reading, folders: list[str]) -> None:
    """The language that a folder below the subtitles' is called after."""
    held = folders[-2:]
    if not held or held[0].strip().lower() not in SUBTITLE_FOLDERS:
        return
    for folder in reversed(held):
        tag = language_of(folder) if folder.strip().lower() not in SUBTITLE_FOLDERS else None
        if tag:
            reading.put("language", tag, None, term("language of the folder"))


def _language_before(base: str) -> bool:
    match = re.search(r"[._ -]([^\W_]+)$", base)
    return bool(match and language_of(match[1]))
