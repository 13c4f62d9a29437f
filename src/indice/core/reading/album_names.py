"""What the name of one folder says of an album: artist, title, year, disc, issue and format."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from functools import lru_cache

from .music_words import (
    ACT,
    AT_RATE,
    BARE_YEAR,
    BONUS_DISC,
    COPY_WORDS,
    COUNTED,
    DISC,
    DISC_TAIL,
    DISCOGRAPHY,
    EDITION,
    LATE_DAY,
    LIVE_DAY,
    NOISE,
    PARTED,
    PICTURE_FOLDERS,
    PLACEHOLDER,
    RATE,
    RATES,
    READER_BEHIND,
    RIPPED,
    SCENE_ISSUE,
    SCORE_WORDS,
    SERIES_IN_BRACKET,
    SKIP_EDITION,
    SORTED,
    SOURCES,
    TIMED,
    TWO_NAMES,
    WORDS_BEHIND,
    YEAR_AT_END,
    YEAR_AT_HEAD,
    YEAR_IN_BRACKET,
    is_various,
    scene_of,
)
from .occasions import leaning_of
from .photo_folders import full_day
from .places import is_sorting
from .scan import Bracket, Scan, scan, tidy_title
from .vocabulary import alternation, roles_of

__all__ = ["Folder", "folder_of", "format_of", "music_technical"]


@dataclass(slots=True)
class Folder:
    """What one folder above a track says."""

    kind: str
    """`sort`, `disc`, `artist`, `album`, `pictures`."""
    name: str
    at: int
    artist: str | None = None
    album: str | None = None
    year: int | None = None
    year_at: tuple[int, int] = (0, 0)
    disc: int | None = None
    edition: str | None = None
    date: str | None = None
    technical: dict[str, tuple[object, int, int]] = field(default_factory=dict)


@lru_cache(maxsize=8192)
def folder_of(name: str) -> Folder:
    stripped = name.strip()
    lowered = stripped.lower()
    disc = DISC.match(stripped)
    if disc:
        return Folder("disc", name, 0, disc=_disc_number(disc["n"] or disc["n2"]))
    if (
        lowered in PICTURE_FOLDERS
        or BONUS_DISC.fullmatch(lowered)
        or roles_of("artwork").get(lowered) in ("cover", "booklet")
    ):
        return Folder("pictures", name, 0)
    if is_various(lowered):
        return Folder("various", name, 0)
    if PLACEHOLDER.match(stripped) or PLACEHOLDER.match(TIMED.sub("", stripped)):
        return Folder("unknown", name, 0)
    if is_sorting(stripped) or DISCOGRAPHY.search(lowered) or ACT.fullmatch(lowered) or format_of(stripped):
        return Folder("sort", name, 0)
    found = _album_folder(name)
    opened = max(stripped.rfind("("), stripped.rfind("[")) if stripped[-1:] in (")", "]") else -1
    if opened > 0 and found.artist is None and is_various(stripped[opened + 1 : -1]):
        found.artist, found.album = "Various Artists", tidy_title(stripped[:opened], dotted=False)
    if _is_shelf(stripped) and found.year is None and found.artist is None:
        return Folder("shelf", name, 0, album=found.album)
    return found


@lru_cache(maxsize=8192)
def format_of(name: str) -> tuple[tuple[str, object, int, int], ...]:
    """What a folder says that tells of what format all in it is, and says nothing else: `[FLAC]`, `Vinyl Rip`, `320`.

    It is read as a bracket is; one word alone may be a title, but for a rate. Fields with values and where they stand.
    """
    inner = name.strip().strip("[](){} ")
    is_bracket = name.strip()[:1] in ("[", "(", "{")
    if not (is_bracket or " " in inner or "-" in inner or inner in RATES) or not _MAY_BE_FORMAT.search(inner):
        return ()
    seen = scan(f"[{inner}]")
    held = Folder("sort", name, 0)
    music_technical(held, seen, 0)
    told = [span for _, *span in held.technical.values()] + [[tech.start, tech.end] for tech in seen.techs]
    left = [token for start, end, token in seen.tokens if not any(a <= start and end <= b for a, b in told)]
    if set(left) - {"rip", "rips", "files", "kbps", "bit", "cbr", "vbr", "v0", "v2"}:
        return ()
    moved = name.find(inner) - 1
    return tuple((key, value, start + moved, end + moved) for key, (value, start, end) in held.technical.items())


_MAY_BE_FORMAT = re.compile(r"(?i)flac|mp3|aac|ogg|opus|alac|wav|vinyl|cassette|tape|cd|web|bit|khz|kbps|^[0-9]{2,3}$")


def _is_shelf(name: str) -> bool:
    """Whether all words say on what music is, of what sort, or where it waits; an artist may be called so as well."""
    leaning = leaning_of(name)
    return leaning.of("shelf", "waits", "kind") > 0 and not leaning.of(
        "unknown", "person", "place", "occasion", "season"
    )


def _disc_number(text: str) -> int:
    if text.isdigit():
        return int(text)
    return COUNTED.get(text.lower()) or ord(text.lower()) - 96


def _scene_folder(folder: Folder, scene: re.Match[str]) -> Folder:
    """`Artist-Album-Extra-2004-GROUP`, as groups write it."""
    name = scene.string
    folder.artist, folder.album = (
        tidy_title(scene["artist"], dotted="_" not in name),
        tidy_title(scene["album"], dotted="_" not in name),
    )
    folder.year, folder.year_at = int(scene["year"]), scene.span("year")
    if not scan(scene["group"]).techs:
        folder.technical["release"] = (scene["group"], *scene.span("group"))
    disc = re.search(r"\(?(?:cd|disc)_?(?P<n>[0-9]{1,2})\)?", scene["extra"] or "", re.IGNORECASE)
    if disc:
        folder.disc = int(disc["n"])
    issue = SCENE_ISSUE.search(scene["extra"] or "")
    if issue:
        folder.edition = issue.group().replace("_", " ")
    music_technical(folder, scan(name), max(scene.start("extra"), scene.end("album")))
    if is_various(folder.artist):
        folder.artist = "Various Artists"
    return folder


@dataclass(slots=True)
class _Name:
    """An album folder's name while it is being cut down to artist and title."""

    folder: Folder
    seen: Scan
    text: str
    start: int
    end: int
    """Between these lies what is not yet explained."""

    def left(self) -> str:
        """What is not yet explained."""
        return self.text[self.start : self.end]


def _album_folder(name: str) -> Folder:
    folder = Folder("named", name, 0)
    scene = scene_of(name)
    if scene:
        return _scene_folder(folder, scene)
    live = LIVE_DAY.match(name)
    if live:
        folder.date = f"{live['y']}-{live['m']}-{live['d']}"
    seen = scan(SERIES_IN_BRACKET.sub(_blank, NOISE.sub(_blank, name)))
    cut = _Name(folder, seen, seen.text, live.end() if live else 0, len(seen.text))
    tail = DISC_TAIL.search(cut.text) or _DISC_AND_NAME.search(cut.text)
    if tail:
        folder.disc, cut.end = _disc_number(tail["n"]), tail.start()
    _cut_brackets(cut)
    _cut_formats(cut)
    music_technical(folder, seen, cut.end)
    _cut_origin(cut)
    _cut_years(cut)
    _artist_and_album(cut)
    return folder


_DISC_AND_NAME = re.compile(
    rf"(?<=\S)[\s_]*[(\[]\s*(?:{alternation('disc')})[\s._-]*(?P<n>[0-9]{{1,2}})\s*[)\]][\s_]*[-–:]?[\s_]*[^\W\d_][^()\[\]]*$",
    re.IGNORECASE,
)
"""A disc in a bracket and what it is called: `Under Glass (Disc 2) The Thaw`."""


def _cut_brackets(cut: _Name) -> None:
    """The year and the edition in brackets; what stands behind a bracket that says of a copy is no title."""
    folder, text = cut.folder, cut.text
    edition = next((m for m in EDITION.finditer(text) if not SKIP_EDITION.match(m["words"])), None)
    if edition:
        said = re.split(r"\s*[;,]\s*", edition["words"].strip())
        folder.edition = next((part for part in said if EDITION.fullmatch(f"({part})")), edition["words"].strip())
    for bracket in sorted(cut.seen.brackets, key=lambda b: b.start):
        year = YEAR_IN_BRACKET.match(bracket.inner.strip())
        if year and folder.year is None:
            said_at = year["year"] or year["year2"]
            at = bracket.start + 1 + bracket.inner.index(said_at)
            folder.year, folder.year_at = int(said_at), (at, at + 4)
            _cut_year_bracket(cut, bracket)
        elif (edition and bracket.start <= edition.start() < bracket.end) or _says_of_copy(cut, bracket):
            cut.end = min(cut.end, bracket.start) if text[cut.start : bracket.start].strip(" -._") else cut.end


def _cut_year_bracket(cut: _Name, bracket: Bracket) -> None:
    """A year at the head or at the end bounds the title; between two names it parts them."""
    text = cut.text
    if not text[: bracket.start].strip(" -._"):
        cut.start = bracket.end
    elif WORDS_BEHIND.match(text[bracket.end :]) and not any(t.start >= bracket.end for t in cut.seen.techs):
        before = text[: bracket.start].rstrip(" -–—")
        behind = text[bracket.end :].lstrip(" -–—")
        cut.text = f"{before} - {' ' * (len(text) - len(before) - len(behind) - 3)}{behind}"
    else:
        cut.end = min(cut.end, bracket.start)


def _says_of_copy(cut: _Name, bracket: Bracket) -> bool:
    """Whether a bracket says of what quality a copy is, whence, or what it is called elsewhere."""
    inner = bracket.inner.strip()
    if bracket.technical or bracket.used or cut.text[bracket.start] in "[{" or inner in RATES:
        return True
    if RATE.search(inner) or COPY_WORDS.search(inner):
        return True
    inside = [t for t in cut.seen.techs if bracket.start < t.start and t.end < bracket.end]
    return any(fact[0] == "channels" for tech in inside for fact in tech.facts)


_SOUND = frozenset(("audio_codec", "source", "bit_depth", "sample_rate", "bitrate", "channels"))
_WORD = re.compile(r"[^\s._\-]+")


def _cut_formats(cut: _Name) -> None:
    """Formats without brackets behind the year at the end: `Salt.Bread.2003.WEB.FLAC`."""
    edge = cut.end
    source: tuple[object, int, int] | None = None
    for word in reversed(list(_WORD.finditer(cut.text, cut.start, cut.end))):
        tech = next((t for t in cut.seen.techs if t.start <= word.start() and word.end() <= t.end), None)
        carrier = _CARRIER.fullmatch(word.group())
        if carrier is not None:
            source = (carrier.lastgroup, *word.span())
        elif tech is None or not tech.facts or not {name for name, _ in tech.facts} <= _SOUND:
            break
        edge = word.start()
    left = cut.text[cut.start : edge].rstrip(" ._-")
    year = YEAR_AT_END.search(left)
    if edge == cut.end or year is None or not left[: year.start()].strip(" ._-"):
        return
    cut.end = cut.start + len(left)
    if source is not None:
        cut.folder.technical.setdefault("source", source)


def _cut_origin(cut: _Name) -> None:
    """Where it was ripped from, and at which rate, behind the title without a bracket."""
    ripped = RIPPED.search(cut.left())
    if ripped is not None and ripped.start():
        first, last = (cut.start + at for at in ripped.span("from"))
        cut.folder.technical.setdefault("source", (SOURCES[ripped["from"].lower()], first, last))
        cut.end = cut.start + ripped.start()
    rate = AT_RATE.search(cut.text)
    if rate:
        cut.folder.technical.setdefault("bitrate", (int(rate["rate"]), *rate.span("rate")))
        cut.end = min(cut.end, rate.start())


def _cut_years(cut: _Name) -> None:
    """A year at the head, or a day or a year at the end."""
    folder, start = cut.folder, cut.start
    head = YEAR_AT_HEAD.match(cut.left()) if folder.year is None else None
    if head:
        folder.year, folder.year_at = int(head[1]), (start + head.start(1), start + head.end(1))
        cut.start += head.end()
        return
    if folder.date is None and folder.year is None and cut.left().rstrip()[-1:].isdigit():
        day, first, behind = full_day(cut.left())
        ahead = cut.left()[:first].rstrip(" ,-–(")
        if day is not None and ahead.strip() and not cut.left()[behind:].strip():
            folder.date, cut.end = day, start + len(ahead)
    if folder.year is None and folder.date is None:
        last = YEAR_AT_END.search(cut.left())
        if last and cut.left()[: last.start()].strip():
            folder.year, folder.year_at = int(last[1]), (start + last.start(1), start + last.end(1))
            cut.end = start + last.start()


_YEAR_ASIDE = re.compile(r"(?<=\S),\s*((?:19|20)[0-9]{2})\s*$")


def _artist_and_album(cut: _Name) -> None:
    """What is left, parted into artist and album where it is both."""
    folder, dotted = cut.folder, cut.seen.dotted
    body = SORTED.sub("", re.sub(r"\s*[-–]\s*$", "", cut.left()))
    late = LATE_DAY.search(body) if folder.date is None else None
    if late and body[: late.start()].strip():
        folder.date = f"{late['y']}-{late['m']}-{late['d']}"
        body = body[: late.start()] + body[late.end() :]
    body = _without_tail(folder, body, cut.start)
    two = TWO_NAMES.fullmatch(body)
    if two is not None:
        body = f"{two['artist']} - {two['album']}"
    if dotted and " " not in body.strip() and body.count("-") == 1:
        body = body.replace("-", " - ")
    parts = PARTED.split(body, maxsplit=2)
    if len(parts) == 3 and folder.year is None and BARE_YEAR.fullmatch(parts[1].strip()):
        folder.year = int(parts[1])
        parts = [parts[0], parts[2]]
    elif len(parts) == 3:
        parts = [parts[0], body[body.index(parts[1], len(parts[0])) :]]
    if len(parts) == 2 and re.fullmatch(r"\s*[0-9]{1,2}\s*", parts[0]):
        parts = parts[1:]  # a number that only sorts
    if len(parts) == 2 and SCORE_WORDS.fullmatch(parts[1].strip()):
        parts = [body]  # what a film's music is called
    aside = _YEAR_ASIDE.search(parts[0]) if len(parts) == 2 and folder.year is None else None
    if aside is not None:
        folder.year = int(aside[1])
        parts[0] = parts[0][: aside.start()]
    if len(parts) == 2:
        artist = tidy_title(parts[0], dotted=dotted)
        folder.artist = "Various Artists" if is_various(artist) else artist
        folder.album = tidy_title(re.sub(r"^\s*((?:19|20)[0-9]{2})\s*[-–]\s*", "", parts[1]), dotted=dotted)
    else:
        folder.album = tidy_title(parts[0] if len(parts) == 1 else body, dotted=dotted)


def _without_tail(folder: Folder, body: str, start: int) -> str:
    """A folder's name without what stands behind its last dashes and is no title: a year, an edition, formats."""
    is_cut = False
    while (cuts := list(PARTED.finditer(body))) and body[: cuts[0].start()].strip():
        cut = cuts[-1]
        last = body[cut.end() :].strip()
        seen = scan(last)
        if folder.year is None and (len(cuts) > 1 or is_cut) and re.fullmatch(r"(?:19|20)[0-9]{2}", last):
            folder.year, folder.year_at = int(last), (start + cut.end(), start + cut.end() + 4)
        elif last.lower() in ("single", "ep", "e.p.") or READER_BEHIND.match(last):
            pass  # what kind of record it is, or who reads it
        elif folder.edition is None and EDITION.fullmatch(f"({last})") and not SKIP_EDITION.match(last):
            folder.edition = last
        elif len(cuts) > 1 and seen.techs and len(seen.techs) == len(seen.tokens):
            music_technical(folder, scan(body), cut.end())
        else:
            break
        body, is_cut = body[: cut.start()], True
    return body


def _blank(found: re.Match[str]) -> str:
    return " " * len(found.group())


_CARRIER = re.compile(
    r"""
    (?<! [^\W_] )
    (?: (?P<cd> cd (?: rip | -rip | [ ]rip | (?-i: [SM] ) )? ) | (?P<vinyl> vinyl (?: [ ]?rip )? | lp )
      | (?P<cassette> cassette | tape (?: rip )? | mc ) )
    (?! [^\W_] )
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""What the sound was taken from."""


def music_technical(folder: Folder, seen: Scan, start: int) -> None:
    audio: list[str] = []
    closed = [b for b in seen.brackets if b.technical or re.search(r"(?i)flac|mp3|web|vinyl|kbps|khz|bit", b.inner)]
    for tech in seen.techs:
        if tech.start < start and not any(b.start < tech.start < b.end for b in closed):
            continue
        for name, value in tech.facts:
            if name == "languages" and any(b.start + 1 == tech.start and tech.end == b.end - 1 for b in seen.brackets):
                folder.technical.setdefault("languages", ([value], tech.start, tech.end))
            elif name == "audio_codec":
                audio.append(str(value))
                folder.technical.setdefault("audio_codec", (audio, tech.start, tech.end))
            elif name in ("sample_rate", "bitrate", "bit_depth", "channels") or (
                name == "source" and value in ("web",)
            ):
                folder.technical.setdefault(name, (value, tech.start, tech.end))
    for match in _CARRIER.finditer(seen.text):
        if match.start() >= start and (
            any(b.start < match.start() < b.end for b in seen.brackets) or scene_of(seen.text)
        ):
            name = match.lastgroup
            folder.technical.setdefault("source", (name, match.start(), match.end()))
    rate = RATE.search(seen.text)
    if rate and any(b.start < rate.start() < b.end for b in seen.brackets):
        folder.technical["bit_depth"] = (int(rate["bits"]), rate.start(), rate.end())
        hertz = {"44": 44100, "88": 88200, "176": 176400}.get(rate["khz"]) or int(float(rate["khz"]) * 1000)
        folder.technical["sample_rate"] = (hertz, rate.start(), rate.end())
    opus = re.search(r"(?i)\[(opus|aac|mp3|ogg|vorbis)\s+([0-9]{2,3})\]", seen.text)
    if opus:
        folder.technical["bitrate"] = (int(opus[2]), opus.start(2), opus.end(2))
        folder.technical.setdefault("audio_codec", ([opus[1].lower()], opus.start(1), opus.end(1)))
    plain = next((b for b in seen.brackets if b.inner.strip() in RATES), None)
    if plain is not None:
        folder.technical.setdefault("bitrate", (int(plain.inner), plain.start + 1, plain.end - 1))
    profile = re.search(r"(?i)(?<![^\W_])(?:mp3)?[\s-]*(320|256|192|128)(?![0-9])", seen.text)
    if (
        profile
        and "bitrate" not in folder.technical
        and any(
            b.start < profile.start() < b.end and re.search(r"(?i)mp3|kbps|aac|web|cbr", b.inner) for b in seen.brackets
        )
    ):
        folder.technical["bitrate"] = (int(profile[1]), profile.start(1), profile.end(1))
