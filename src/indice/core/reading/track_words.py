"""A track's own name in columns: number, day, and what its folders say already."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..phrase import term
from .album_names import Folder
from .columns import Column, Columns, Known
from .model import Reading
from .music_words import KEEPERS, OF_ALL, PARTED, SECOND_NUMBER, TRACK, VINYL
from .scan import fold, is_same_name, tidy_title, without_accents
from .seriesmarks import DATE, iso_date
from .vocabulary import alternation, words_for

__all__ = [
    "Around",
    "Rest",
    "after_bracket",
    "counts_and_names",
    "is_of_one_case",
    "is_only_a_number",
    "is_told_by_columns",
    "name_and_year",
    "put_column",
    "put_unlabelled",
    "take_day",
    "take_day_behind",
    "take_number",
    "take_number_behind",
    "take_scene_artist",
    "text_or_none",
]


@dataclass(frozen=True, slots=True)
class Around:
    """What stands around a track's own name."""

    artist: str | None
    """The folder's."""
    sense: str
    """What its shelf is for: `music`, `podcast`, `book` …"""
    is_scene: bool
    has_folder: bool


@dataclass(slots=True)
class Rest:
    """What is still to be read of a track's own name."""

    reading: Reading
    text: str
    at: int
    """Where the text begins in the path."""
    offset: int = 0
    """Where in the text begins what is not yet read."""

    def put(self, field: str, value: object, start: int, end: int, rule: str) -> None:
        """State a fact that stands there in the text."""
        self.reading.put(field, value, (self.at + start, self.at + end), rule)

    def replace(self, field: str, value: object, start: int, end: int, rule: str) -> None:
        """State it in place of what was stated before."""
        self.reading.facts.pop(field, None)
        self.put(field, value, start, end, rule)


_COUNTS_AND_NAMES = re.compile(
    r"^[\[(]?[0-9]{1,3}[\])]?(?:\s*[-–—.]\s*|\s+)(?P<who>[^\W\d][^()\[\]]*?)\s+[-–—]\s+(?P<what>\S.*)$"
)


def counts_and_names(stem: str, folder: Folder) -> bool:
    """Whether a file counts and names another than its folder does: `07 -
    Somebody - Song` of a folder that many share."""
    found = _COUNTS_AND_NAMES.match(stem)
    if found is None or PARTED.search(found["what"]):
        return False
    who, own = without_accents(found["who"]), without_accents(folder.name)
    if who in own or own in who:
        return False
    words = fold(found["who"]).split()
    return not (KEEPERS.fullmatch(words[0]) or words[0].isdigit() or any(w in words_for("work-form") for w in words))


def is_of_one_case(name: str) -> bool:
    return name.islower() or (name.isupper() and len(name) > 4)


def put_column(rest: Rest, column: Column, known: Known, *, is_alone: bool) -> None:
    """State what a column counts, or repeats of the folder's artist."""
    reading, span, numbers = rest.reading, (column.start, column.end), column.numbers
    if column.label == "artist" and not is_alone:
        name = tidy_title(column.text, dotted=" " not in rest.text)
        rest.replace("artist", name, *span, term("artist in the name, as the folder has it"))
    elif column.label == "number" and "track" not in reading.facts:
        with_disc = numbers[0] > 99 and numbers[0] // 100 == reading.get("disc")
        rest.replace("track", numbers[0] % 100 if with_disc else numbers[0], *span, term("track's number"))
    elif column.label == "disc":
        rest.replace("disc", numbers[0], *span, term("disc in the name"))
    elif column.label in ("both", "side"):
        rule = term("side of a record") if column.label == "side" else term("disc in the name")
        rest.replace("disc", numbers[0], *span, rule)
        rest.replace("track", numbers[1], *span, term("track's number"))
    elif column.label == "year" and known.year is None:
        rest.replace("year", numbers[0], *span, term("year of the album"))


def put_unlabelled(rest: Rest, free: list[Column], known: Known) -> list[Column]:
    """Take artist and album, where no folder names them, from the words before the title; returns what is left."""
    is_dotted = " " not in rest.text
    if free and known.artist is None:
        artist, *free = free
        name = tidy_title(artist.text, dotted=is_dotted)
        rest.replace("artist", name, artist.start, artist.end, term("artist before the title"))
    if free and known.album is None:
        album, *free = free
        name, year = name_and_year(album.text)
        rest.replace(
            "album", tidy_title(name, dotted=is_dotted), album.start, album.end, term("album before the title")
        )
        if year is not None and known.year is None:
            rest.replace("year", year, album.start, album.end, term("year of the album"))
    return free


def text_or_none(value: object) -> str | None:
    return str(value) if value else None


_SPACED = re.compile(r"_|^[^\s.]+(?:\.[^\s.]+)+$")
"""Something else stands for spaces."""


def is_told_by_columns(found: Columns, known: Known) -> bool:
    """Whether the columns are the better reading: they repeat a folder's words, or a number stands among them."""
    labels = [column.label for column in found.columns]
    words = labels.count("words")
    if known.is_compilation or words > 3:
        return False
    inner = [label for label in labels[1:] if label in ("number", "both", "side", "disc")]
    if found.score.repeats:
        return words <= 2 and ("artist" not in labels or words <= 1 or bool(inner))
    if known.artist is not None or known.album is not None:
        last = found.columns[len(found.columns) - 1]
        return labels == ["words", "number"] and found.separator != "dash" and last.text.startswith("0")
    if found.separator == "dash":
        is_spaced = any(_SPACED.search(one.text) for one in found.columns)
        if words == 3 and labels[2:4] == ["year", "number"]:
            return True  # `Artist-Album-2003-11-Title`: a year and a number side by side part by themselves
        return (words == 2 and (is_spaced or labels[0] in ("number", "disc", "both"))) or (
            words == 3 and is_spaced and bool(inner)
        )
    return (bool(inner) and words > 1) or (found.separator == "dotted dash" and words == len(labels) == 2)


_LAST_NUMBER = re.compile(r"(?<=[\s_.-])[0-9]{1,3}$")
_LAST_IN_BRACKET = re.compile(
    r"\s*[(\[](?P<n>[0-9]{1,3})\s*(?:of|von|de|di|van|av|af|/|-)\s*[0-9]{1,3}[)\]]$", re.IGNORECASE
)
_LAST_OF_ALL = re.compile(r"\s*(?:of|von|de|di|van|av|af|/)\s*[0-9]{1,3}$", re.IGNORECASE)
_PART_WORD = re.compile(rf"(?<![^\s_.-])(?:{alternation('part', 'chapter', 'track', least=3)})$", re.IGNORECASE)


def _name_and_number(stem: str) -> tuple[str, int, int] | None:
    """What stands before a number at the end of a name, without a word for a part between: `Ash Road Part 03`."""
    held = _LAST_IN_BRACKET.search(stem)
    if held is not None and held.start():
        return stem[: held.start()], held.start("n"), held.end("n")
    whole = _LAST_OF_ALL.search(stem)
    stem = stem[: whole.start()] if whole else stem
    found = _LAST_NUMBER.search(stem)
    if found is None or found.start() > 200:
        return None
    head = stem[: found.start()].rstrip(" _.-")
    word = _PART_WORD.search(head)
    head = head[: word.start()].rstrip(" _.-") if word else head
    return (head, found.start(), len(stem)) if head and not head[0].isdigit() else None


_NUMBER_ASIDE = re.compile(r"^[0-9]{1,3}[\s._-]+|[\s._-]+[0-9]{1,3}$")


def _is_only_said_again(head: str, *known: str) -> bool:
    """Whether all parts of a name only repeat what the folders say, a number beside them left aside."""
    said = {fold(one) for one in known if one}
    parts = PARTED.split(head)
    return bool(said) and all(said & {fold(part), fold(_NUMBER_ASIDE.sub("", part.strip()))} for part in parts)


_NUMBER_AHEAD = re.compile(r"[\s._-]+(?=[0-9]{1,3}(?:[\s_]*[-–.]\s*|[\s_]+)[^\W\d_])")
_NUMBER_BEHIND = re.compile(r"\s+\((?P<n>0[0-9])\)$")


def _said_before_number(text: str, *known: str) -> int:
    """Where a name goes on that begins with its album's or its artist's and a number: `Tin Orchard 01 Low Gate`."""
    spaced = text if " " in text else text.replace("_", " ").replace(".", " ")
    for name in known:
        if len(name) > 2 and spaced.casefold().startswith(name.casefold()):
            found = _NUMBER_AHEAD.match(text[len(name) :])
            if found is not None:
                return len(name) + found.end()
    return 0


_EPISODE_BEHIND = re.compile(
    rf"\s*[(\[](?:ep|{alternation('episode', least=2)}|\#)[\s._#]*(?P<n>[0-9]{{1,4}})[)\]]$", re.IGNORECASE
)


def _show_again(text: str, show: str) -> int:
    """Where a podcast's name goes on that begins with the show's, before a day or an
    episode's number; 0 where it does not."""
    found = re.match(rf"{re.escape(show)}[\s_.:–—-]+(?=\S)", text, re.IGNORECASE) if show else None
    if found is None:
        return 0
    rest = text[found.end() :]
    number = TRACK.match(rest)
    return found.end() if DATE.match(rest) or (number is not None and not number["n4"]) else 0


def is_only_a_number(reading: Reading, stem: str, at: int, around: Around) -> bool:
    """Whether the name says its album or artist again and a number behind: that
    is the track's, and nothing is a title."""
    named = _name_and_number(stem)
    if named is None or not _is_only_said_again(named[0], str(reading.get("album") or ""), around.artist or ""):
        return False
    _, start, end = named
    reading.put("track", int(stem[start:end]), (at + start, at + end), term("number after the album's name"))
    return True


def take_day(rest: Rest, around: Around) -> None:
    """The day before a title, and a podcast's show, said again before the day or behind it."""
    show = str(rest.reading.get("album") or "") if around.sense == "podcast" else ""
    again = _show_again(rest.text, show)
    rest.text, rest.at = rest.text[again:], rest.at + again
    date = DATE.match(rest.text.lstrip()) if around.sense == "podcast" else DATE.match(rest.text)
    if date is None or (len(rest.text) <= date.end() and around.sense != "podcast"):
        return
    rest.put("date", iso_date(date), date.start(), date.end(), term("day it was published"))
    rest.offset = date.end()
    while rest.offset < len(rest.text) and rest.text[rest.offset] in " _-–.":
        rest.offset += 1
    rest.offset += _show_again(rest.text[rest.offset :], show)


def take_number(rest: Rest, around: Around) -> None:
    """The track's number before its title, with the disc or the side of a record."""
    album = str(rest.reading.get("album") or "")
    is_dated = rest.offset > 0
    if not is_dated:
        rest.offset = _said_before_number(rest.text, album, around.artist or "")
    ahead = rest.text[rest.offset :]
    vinyl = VINYL.match(ahead) if around.sense not in ("podcast", "book") else None
    if vinyl is not None:
        rest.reading.facts.pop("disc", None)
        start = rest.offset
        rest.offset += vinyl.end()
        rest.put("disc", ord(vinyl["side"].upper()) - 64, start, start + 1, term("side of a record"))
        rest.put("track", int(vinyl["n"]), start + 1, rest.offset, term("number on a record's side"))
        return
    track = TRACK.match(ahead)
    if track is None or (is_dated and track["n4"] and re.match(r"\s+[^\W\d_]", ahead[track.end() :])):
        return  # behind a day, `7 Rooms` is a title
    rest.offset = _track_number(rest.reading, track, rest.text, rest.offset, rest.at, around.has_folder)


def take_number_behind(rest: Rest, around: Around) -> None:
    """The track's or the episode's number in a bracket behind its title."""
    if "track" in rest.reading.facts:
        return
    behind = _NUMBER_BEHIND.search(rest.text) if around.has_folder else None
    if behind is None and around.sense == "podcast":
        behind = _EPISODE_BEHIND.search(rest.text)
    if behind is not None and behind.start():
        rest.put("track", int(behind["n"]), behind.start("n"), behind.end("n"), term("track's number"))
        rest.text = rest.text[: behind.start()]


_DAY_BEHIND = re.compile(
    r"""
    [\s_]* (?P<open>[(\[])? (?P<day>(?:19|20)[0-9]{2} [-.] (?:0[1-9]|1[0-2]) [-.] (?:0[1-9]|[12][0-9]|3[01]))
    (?(open)[)\]]) \s* $
    """,
    re.VERBOSE,
)


def take_day_behind(rest: Rest, body: str, around: Around) -> str:
    """A title without the day behind it: of a podcast in whatever form, of a recording in brackets of its own."""
    late = _DAY_BEHIND.search(body)
    if late is None or "date" in rest.reading.facts or not (late["open"] or around.sense == "podcast"):
        return body
    if not late.start():
        return body
    start, end = rest.offset + late.start("day"), rest.offset + late.end("day")
    rest.put("date", late["day"].replace(".", "-"), start, end, term("day it was published or recorded"))
    return body[: late.start()]


def take_scene_artist(rest: Rest, body: str) -> str:
    """What follows the artist of a release's name, without the group that the folder names as well."""
    artist, _, title = body.partition("-")
    end = rest.offset + len(artist)
    rest.put("artist", tidy_title(artist, dotted=False), rest.offset, end, term("artist before the title"))
    rest.offset = end + 1
    group = re.search(r"-([A-Za-z0-9]{2,8})$", title)
    release = rest.reading.get("release")
    if group is not None and release and group[1].lower() == str(release).lower():
        return title[: group.start()]
    return title


def _track_number(reading: Reading, track: re.Match[str], text: str, offset: int, at: int, has_folder: bool) -> int:
    disc = track["disc"] or track["disc2"] or track["disc3"] or track["disc4"]
    value = next(group for name in ("n", "n2", "n3", "n4", "n5", "n6") if (group := track[name]))
    if track["n4"] and not has_folder and not re.match(r"\s*[-._)\]]|\s+\S", text[offset + track.end() :]):
        return offset
    span = (at + offset, at + offset + track.end())
    if disc:
        reading.facts.pop("disc", None)
        reading.put("disc", int(disc), span, term("disc before the track's number"))
        reading.put("track", int(value), span, term("track's number"))
    elif track["n4"] and len(value) == 3 and (known := reading.get("disc")) is not None and value[0] == str(known):
        reading.put("track", int(value[1:]), span, term("disc and track in one number"))
    elif (
        track["n4"]
        and len(value) == 3
        and value[0] in "123456789"
        and value[1:] != "00"
        and int(value[1:]) < 40
        and value[1] in "0123"
        and reading.get("album")
        and "disc" not in reading.facts
        and value[1] == "0"
    ):
        reading.put("disc", int(value[0]), span, term("disc and track in one number"))
        reading.put("track", int(value[1:]), span, term("disc and track in one number"))
    else:
        reading.put("track", int(value), span, term("track's number"))
    end = offset + track.end()
    second = SECOND_NUMBER.match(text[end:]) or OF_ALL.match(text[end:])
    return end + (second.end() if second else 0)


def after_bracket(body: str, artist: str | None) -> str:
    """A title without the folder's artist in a bracket before it."""
    found = re.match(r"[\[(](?P<who>[^()\[\]]+)[\])][\s._–—-]*(?=\S)", body) if artist else None
    return body[found.end() :] if found is not None and is_same_name(found["who"], artist or "") else body


_DATED = re.compile(
    r"""
    \s* (?: [(\[] (?P<before> (?:19|20)[0-9]{2} ) [)\]] \s* (?=\S) )?
    (?P<name> \S.*? )
    (?: \s* [(\[] (?P<behind> (?:19|20)[0-9]{2} ) [)\]] )? \s*
    """,
    re.VERBOSE,
)


def name_and_year(album: str) -> tuple[str, int | None]:
    """An album's name without the year that stands before or behind it in brackets."""
    found = _DATED.fullmatch(album)
    year = (found["behind"] or found["before"]) if found is not None else None
    return (found["name"], int(year)) if found is not None and year else (album, None)
