"""Tracks, lyrics and the pictures beside music: artist, album and track from the path."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cache, lru_cache

from .columns import Column, Columns, Known, read_columns
from .model import Reading
from .occasions import leaning_of
from .photos import full_day
from .places import is_sorting
from .scan import Bracket, Scan, fold, is_same_name, scan, tidy_title, without_accents
from .seriesmarks import DATE, SEASON_FOLDER, iso_date
from .vocabulary import alternation, roles_of, words_for

__all__ = ["read_cover", "read_track"]

_COUNTED = {
    word: number
    for number, words in enumerate(
        (
            "one eins un une uno",
            "two zwei deux dos due twee ii",
            "three drei trois tres tre iii",
            "four vier iv",
            "five v",
            "six vi",
        ),
        1,
    )
    for word in words.split()
}
"""Discs that are numbered in words or in Roman numerals."""
_SPELLED = rf"(?:{'|'.join(sorted(_COUNTED, key=len, reverse=True))})(?![^\W_])"
DISC = re.compile(
    rf"""
    ^(?: (?: {alternation("disc", "side")} ) [\s._-]* (?P<n> [0-9]{{1,2}} | {_SPELLED} | [a-h] )
       | (?: 第\s? )? (?P<n2> [0-9]{{1,2}} ) \s?(?: 枚目 | 张 | [.] \s? (?: levy | plade ) ) )
    (?: \s? (?: of | von | de | di | van | av | af | / ) \s? [0-9]+ )?
    (?: [\s._]* [-–:(\[] .* )?$
    """,
    re.IGNORECASE | re.VERBOSE,
)
DISC_TAIL = re.compile(
    rf"""
    [\s._(\[,-]+ (?: {alternation("disc")} ) [\s._-]* (?P<n> [0-9]{{1,2}} )
    (?: \s? (?: of | von | de | di | van | av | af | z | из | / ) \s? [0-9]+ )? [)\]]*
    (?: \s* [(\[] [^()\[\]]* [)\]] )? $
    """,
    re.IGNORECASE | re.VERBOSE,
)
FEATURING = re.compile(
    r"""
    [\s_]* [(\[] (?: feat\.? | ft\.? | featuring | with | w/
      | (?: mit | avec | con | com | med | met ) (?= (?: \s+ (?-i: [A-ZÀ-Þ] ) [\w'’.-]+ ){2,4} [)\]] ) )
      [\s_]+ (?P<names> [^)\]]+ ) [)\]]
    | [\s_]+ (?: feat\.? | ft\.? | featuring ) [\s_]+ (?P<names2> .+? ) (?= [\s_]* [(\[] | $ )
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""Guests; where the word is one that titles use too, only names follow: `(mit Ada Lindt)`, not `(mit Geige)`."""
EDITION = re.compile(
    r"[(\[{](?P<words>[^()\[\]{}]*(?:edition|remaster(?:ed)?|deluxe|expanded|anniversary|unabridged"
    r"|abridged|reissue|bonus tracks?|special|limited|legacy|ungekürzt|gekürzt"
    r"|stereo mix)[^()\[\]{}]*)[)\]}]",
    re.IGNORECASE,
)
SKIP_EDITION = re.compile(r"^(?:remix|live|demo)", re.IGNORECASE)
VINYL = re.compile(r"^[\[(]?(?P<side>[A-H]|[a-h](?=[0-9]{1,2}[_.\])-]))(?P<n>[0-9]{1,2})[\])]?(?=$|[\s._)\]-])")
TRACK = re.compile(
    rf"""
    ^[\s\[(\#]* (?P<disc> [0-9]{{1,2}} ) [-.x] (?P<n> [0-9]{{1,3}} ) (?= $ | [\s._)\]-] ) (?! \.[0-9] )
    | ^[\s\[(\#]* (?: d (?P<disc2> [0-9]{{1,2}} ) t | cd (?P<disc3> [0-9]{{1,2}} ) [\s._-]+ (?: track\s? )? ) (?P<n2> [0-9]{{1,3}} )
    | ^[\s\[(\#]* (?: s[0-9]{{1,2}}e | e | part | {alternation("track", "chapter", "episode", "part", least=2)} | \# )
      [\s._\#-]* (?P<n3> [0-9]{{1,4}} ) (?= $ | [\s._)\]:-] )
    | ^[\s\[(\#]* (?: [第제]\s? )? (?P<n5> [0-9]{{1,4}} ) \s? [章話话集回장화회曲]
    | ^ (?P<disc4> 0[1-9] ) (?P<n6> [0-3][0-9] ) (?= [\s._-]+ [^\W\d_] )
    | ^[\s\[(\#]* (?P<n4> [0-9]{{1,3}} ) (?= $ | [\s._)\]~-] )
    """,
    re.IGNORECASE | re.VERBOSE,
)
_SECOND_NUMBER = re.compile(
    rf"[\s._-]+(?:{alternation('episode', 'chapter', least=2)})[\s._#]*([0-9]{{1,4}})(?=[\s._-]|$)", re.IGNORECASE
)
_OF_ALL = re.compile(r"\s*(?:of|von|de|di|van|av|af|/)\s*[0-9]{1,3}(?=\s*[-–—.)])", re.IGNORECASE)
"""How many there are, behind a track's number: `03 of 12 - Title`."""
PLACEHOLDER = re.compile(
    r"^(?:unknown|unknown artist|unknown album|unbekannt(?:er interpret|es album)?|no artist|no title"
    r"|untitled album|(?:track|titel|audiotrack|audio track|piste|traccia|spur)\s*[0-9]*|artiste inconnu"
    r"|album inconnu)$",
    re.IGNORECASE,
)
KEEPERS = re.compile(
    r"(?:remix|mix|edit|live|demo|take|acoustic|version|dub|instrumental|reprise|session|intro|outro"
    r"|interlude|medley|part|pt|vol|op|no|for|in|of|the|from|a cappella|cover|theme|bonus|original"
    r"|unplugged|alternate|rework|bootleg|extended)",
    re.IGNORECASE,
)
BOOK_PART = re.compile(rf"(?:{alternation('part', least=4)})\s*([0-9]{{1,2}})$")
PODCAST = frozenset(["podcasts", "podcast", "подкасты"])
BOOK = frozenset(
    {"audiobooks", "audiobook", "hörbücher", "livres audio", "hörspiele", "audiolibros", "audiolibri", "luisterboeken"}
)
_RATE = re.compile(
    r"(?<![0-9])(?P<bits>16|24|32)\s?(?:bit)?\s?[-/_. ]\s?(?P<khz>44(?:\.1)?|48|88(?:\.2)?|96|176(?:\.4)?"
    r"|192)\s?(?:khz)?(?![0-9])",
    re.IGNORECASE,
)
_SCENE = re.compile(
    r"""
    ^ (?P<artist> [^\s-]+ ) - (?P<album> \S+? ) -
    (?P<extra> (?: (?: [(]? [A-Za-z0-9]+ [)]? | [A-Za-z]+_EDITION ) - )* )
    (?P<year> (?:19|20)[0-9]{2} ) - (?P<late> (?: [A-Za-z0-9]+ - ){0,3} ) (?P<group> [A-Za-z0-9]+ ) $
    """,
    re.VERBOSE,
)


def _scene_of(name: str) -> re.Match[str] | None:
    """A folder as groups name it; between its year and the group stand technical words at most."""
    found = _SCENE.match(name)
    late = found["late"].split("-") if found is not None else []
    return found if all(not word or word.lower() in _SOURCES or scan(word).techs for word in late) else None


_SCENE_ISSUE = re.compile(
    r"(?<![A-Za-z])(?:[A-Za-z]+_)?(?:REMASTERED|DELUXE(?:_EDITION)?|LIMITED_EDITION|SPECIAL_EDITION"
    r"|EXPANDED(?:_EDITION)?|REISSUE)"
    r"(?![A-Za-z])",
    re.IGNORECASE,
)
_DISCOGRAPHY = re.compile(r"dis[ck]ogra(?:ph|f)(?:y|i[ae]?|ía)|дискография|complete works", re.IGNORECASE)
_ACT = re.compile(r"(?:act|akt|acte|acto|atto|ato|akte|dejstvo|действие)\s+(?:[0-9]{1,2}|[ivx]{1,4})")
"""A part of an opera, as a folder."""
_NOISE = re.compile(
    r"""
    \s* [(\[{] \s*
    (?: official (?:\s+ (?:music \s+)? (?: video | audio | visuali[sz]er ) )?
      | (?: lyrics? | music ) (?:\s+ video )? | visuali[sz]er | audio | video | explicit | clean
      | [0-9]{1,2} \s? x? \s? (?: cds? | lps? | discs? | discos? | disques? | dvds? | vinyls? | platten )
      | sbd | aud | fm | dat | soundboard | audience (?: \s+ recording )?
      | bonus (?:\s+ track )? | e\.?p\.? | cd[sm] | single | album | mono | stereo | hq | hd
      | (?: read | narrated | performed ) \s+ by \s+ [^()\[\]{}]+
      | (?: compiled | mixed | curated | selected ) \s+ by \s+ [^()\[\]{}]+
      | (?: gelesen | gesprochen | zusammengestellt | gemischt ) \s+ von \s+ [^()\[\]{}]+ | lu \s+ par \s+ [^()\[\]{}]+
      | le[ií]do \s+ por \s+ [^()\[\]{}]+ | letto \s+ da \s+ [^()\[\]{}]+ | voorgelezen \s+ door \s+ [^()\[\]{}]+
    ) \s* [)\]}]
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""What brackets say of a copy, and not of the music: it leaves titles and albums, and states nothing."""
_SERIES_IN_BRACKET = re.compile(
    r"(?<=\S) \s+ [-–—] \s+ (?: \[ (?! (?:19|20)[0-9]{2} \] ) [^\[\]]* [0-9] \s* \] | \( (?! (?:19"
    r"|20)[0-9]{2} \) ) [^()]* [0-9] \s* \) ) (?= \s+ [-–—] \s )",
    re.VERBOSE,
)
"""A series and its number between author and book: `Author - [Crown 01] - Book`."""
_LIVE_DAY = re.compile(
    r"^\s*(?P<y>(?:19|20)[0-9]{2})[-.](?P<m>0[1-9]|1[0-2])[-.](?P<d>0[1-9]|[12][0-9]|3[01])(?:\s*[-–—]\s*|\s+)(?=\S)"
)
_AT_RATE = re.compile(r"\s@\s?(?P<rate>64|96|112|128|160|192|224|256|320)\s?(?:k|kbps|kbit)?\s*$", re.IGNORECASE)
_TIMED = re.compile(r"\s*[(\[][^()\[\]]*[0-9][^()\[\]]*[)\]]\s*$")


_PARTED = re.compile(r"\s+[-–—]{1,3}\s+|_-_|\.-\.|_{2,}|\s+[·•|~]\s+")
"""What parts artist, album and title: a dash with room around it, in whatever way it was
typed, and what nobody types in words."""
_TIGHT = re.compile(r"-")
_TIGHT_NAME = re.compile(r"[^\s-]*_[^\s-]*-[^\s-]+|[^\s-]+-[^\s-]*_[^\s-]*")
"""Words with underscores between them, and one dash: `tin_foxes-borrowed_rain`."""
_LATE_DAY = re.compile(
    r"(?:\s+[-–—]\s+|[\s_]+)(?P<y>(?:19|20)[0-9]{2})[-.](?P<m>0[1-9]|1[0-2])[-.](?P<d>0[1-9]|[12][0-9]"
    r"|3[01])(?=\s*$|\s+[-–—]\s)"
)
"""The day of a recording at the end of an album's name, or between its parts."""
_WORDS_BEHIND = re.compile(r"(?:\s*[-–—]\s*|\s+)[^\W\d_][^()\[\]{}]*$")
"""Nothing but words behind a bracket with a year: `Tin Foxes (2003) Harbour`."""
_SORTED = re.compile(
    rf"^\s*[0-9]{{1,2}}\.\s+(?=[^\W\d_])(?!(?:{alternation('work-form', least=4)})(?![^\W_]))", re.IGNORECASE
)
"""A number with a dot before an album's name puts it in its place; before a symphony's it counts."""
_LED = re.compile(r"\s*(?:[^\W\d_]+\s+)?[0-9]{1,2}\s*[-–]\s")
_BOOK_OF_SERIES = re.compile(
    r"\s*(?:(?P<book>(?:book|volume|vol\.?|part|band|buch|teil|tome|livre|libro|livro|boek|deel|bok|bog"
    r"|del|kirja|tom|kniha|книга)\s*[0-9]{1,2}\s*[-–:,.]\s*)|(?:[^\W\d_]+\s+)?[0-9]{1,2}\s*[-–]\s"
    r"|[0-9]{1,2}\.\s+(?=[^\W\d_])|(?P<plain>[0-9]{1,2}\s+(?=[^\W\d_])))",
    re.IGNORECASE,
)
"""A book's folder with its place in a series: `Customs 2 - The Ferry Tax`, `01. Low Water`, `01 Low Water`."""
_RIPPED = re.compile(r"[\s_]+(?P<from>vinyl|lp|cd|cassette|tape|web)[\s_-]?rip\s*$", re.IGNORECASE)
_SOURCES = {"vinyl": "vinyl", "lp": "vinyl", "cd": "cd", "cassette": "cassette", "tape": "cassette", "web": "web"}
_TWO_NAMES = re.compile(r"(?P<artist>[^_]*[^\W_] [^_]*[^\W_])_(?P<album>[^\W_][^_]* [^_]*)")
"""Two names of several words with one underscore between them."""
_READER_BEHIND = re.compile(r"(?:read|narrated) by\s|gelesen von\s|lu par\s|le[ií]do por\s|letto da\s", re.IGNORECASE)
_YEAR_IN_BRACKET = re.compile(
    r"(?P<year>(?:18|19|20)[0-9]{2})(?:[-.][0-9]{2}){0,2}$|(?:[^,;]*[,;]\s*)?(?P<year2>(?:19|20)[0-9]{2})\s*(?:[,;]|$)"
)
_YEAR_AT_HEAD = re.compile(r"\s*((?:18|19|20)[0-9]{2})(?:[-.][0-9]{2}){0,2}\s*(?:[-–—._·•|~]+\s*|\s)(?=\S)")
_YEAR_AT_END = re.compile(r"(?<![0-9][-–/])(?<![-–/])[\s_.-]+(?<![0-9][-–/])((?:19|20)[0-9]{2})\s*$")
"""A year at the end, and no last year of several."""
_COPY_WORDS = re.compile(
    r"flac|mp3|web|vinyl|kbps|cd[0-9]|\b(?:cd|tape|cassette|lp)[\s_-]?rip\b|\bv[0-9]\b|lp\b", re.IGNORECASE
)
_BARE_YEAR = re.compile(r"(?:19|20)[0-9]{2}")
_RATES = ("64", "96", "112", "128", "160", "192", "224", "256", "320")
_BONUS_DISC = re.compile(rf"(?:bonus|extras?|extra|zusatz|supplément)[\s._-]*(?:{alternation('disc')})")
"""A disc without a number: it says nothing of what lies on it."""
_PICTURE_FOLDERS = frozenset(
    ("scans", "artwork", "covers", "art", "images", "pics", "extras", "lyrics", "texte", "paroles", "letras", "testi")
)


def _is_various(name: str) -> bool:
    """Whether a name says that many play, whatever stands between its letters: `V.A.`, `VA`, `vv. aa.`."""
    return _letters(name) in _various()


def _is_kind_of_release(name: str) -> bool:
    """Whether that is what albums are and not who plays on them: below an artist it holds what is theirs."""
    return _letters(name) in _compilations()


def _letters(name: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKC", name).casefold() if c.isalnum())


@cache
def _various() -> frozenset[str]:
    return _compilations() | {_letters(word) for word in words_for("various")}


@cache
def _compilations() -> frozenset[str]:
    return frozenset(_letters(word) for word in words_for("compilations"))


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
def _folder(name: str) -> Folder:
    stripped = name.strip()
    lowered = stripped.lower()
    disc = DISC.match(stripped)
    if disc:
        return Folder("disc", name, 0, disc=_disc_number(disc["n"] or disc["n2"]))
    if (
        lowered in _PICTURE_FOLDERS
        or _BONUS_DISC.fullmatch(lowered)
        or roles_of("artwork").get(lowered) in ("cover", "booklet")
    ):
        return Folder("pictures", name, 0)
    if _is_various(lowered):
        return Folder("various", name, 0)
    if PLACEHOLDER.match(stripped) or PLACEHOLDER.match(_TIMED.sub("", stripped)):
        return Folder("unknown", name, 0)
    if is_sorting(stripped) or _DISCOGRAPHY.search(lowered) or _ACT.fullmatch(lowered) or _format_of(stripped):
        return Folder("sort", name, 0)
    found = _album_folder(name)
    opened = max(stripped.rfind("("), stripped.rfind("[")) if stripped[-1:] in (")", "]") else -1
    if opened > 0 and found.artist is None and _is_various(stripped[opened + 1 : -1]):
        found.artist, found.album = "Various Artists", tidy_title(stripped[:opened], dotted=False)
    if _is_shelf(stripped) and found.year is None and found.artist is None:
        return Folder("shelf", name, 0, album=found.album)
    return found


@lru_cache(maxsize=8192)
def _format_of(name: str) -> tuple[tuple[str, object, int, int], ...]:
    """What a folder says that tells of what format all in it is, and says nothing else: `[FLAC]`, `Vinyl Rip`, `320`.

    It is read as a bracket is; one word alone may be a title, but for a rate. Fields with values and where they stand.
    """
    inner = name.strip().strip("[](){} ")
    is_bracket = name.strip()[:1] in ("[", "(", "{")
    if not (is_bracket or " " in inner or "-" in inner or inner in _RATES) or not _MAY_BE_FORMAT.search(inner):
        return ()
    seen = scan(f"[{inner}]")
    held = Folder("sort", name, 0)
    _music_technical(held, seen, 0)
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
    return _COUNTED.get(text.lower()) or ord(text.lower()) - 96


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
    issue = _SCENE_ISSUE.search(scene["extra"] or "")
    if issue:
        folder.edition = issue.group().replace("_", " ")
    _music_technical(folder, scan(name), max(scene.start("extra"), scene.end("album")))
    if _is_various(folder.artist):
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
    scene = _scene_of(name)
    if scene:
        return _scene_folder(folder, scene)
    live = _LIVE_DAY.match(name)
    if live:
        folder.date = f"{live['y']}-{live['m']}-{live['d']}"
    seen = scan(_SERIES_IN_BRACKET.sub(_blank, _NOISE.sub(_blank, name)))
    cut = _Name(folder, seen, seen.text, live.end() if live else 0, len(seen.text))
    tail = DISC_TAIL.search(cut.text) or _DISC_AND_NAME.search(cut.text)
    if tail:
        folder.disc, cut.end = int(tail["n"]), tail.start()
    _cut_brackets(cut)
    _cut_formats(cut)
    _music_technical(folder, seen, cut.end)
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
        year = _YEAR_IN_BRACKET.match(bracket.inner.strip())
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
    elif _WORDS_BEHIND.match(text[bracket.end :]) and not any(t.start >= bracket.end for t in cut.seen.techs):
        before = text[: bracket.start].rstrip(" -–—")
        behind = text[bracket.end :].lstrip(" -–—")
        cut.text = f"{before} - {' ' * (len(text) - len(before) - len(behind) - 3)}{behind}"
    else:
        cut.end = min(cut.end, bracket.start)


def _says_of_copy(cut: _Name, bracket: Bracket) -> bool:
    """Whether a bracket says of what quality a copy is, whence, or what it is called elsewhere."""
    inner = bracket.inner.strip()
    if bracket.technical or bracket.used or cut.text[bracket.start] in "[{" or inner in _RATES:
        return True
    if _RATE.search(inner) or _COPY_WORDS.search(inner):
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
    year = _YEAR_AT_END.search(left)
    if edge == cut.end or year is None or not left[: year.start()].strip(" ._-"):
        return
    cut.end = cut.start + len(left)
    if source is not None:
        cut.folder.technical.setdefault("source", source)


def _cut_origin(cut: _Name) -> None:
    """Where it was ripped from, and at which rate, behind the title without a bracket."""
    ripped = _RIPPED.search(cut.left())
    if ripped is not None and ripped.start():
        first, last = (cut.start + at for at in ripped.span("from"))
        cut.folder.technical.setdefault("source", (_SOURCES[ripped["from"].lower()], first, last))
        cut.end = cut.start + ripped.start()
    rate = _AT_RATE.search(cut.text)
    if rate:
        cut.folder.technical.setdefault("bitrate", (int(rate["rate"]), *rate.span("rate")))
        cut.end = min(cut.end, rate.start())


def _cut_years(cut: _Name) -> None:
    """A year at the head, or a day or a year at the end."""
    folder, start = cut.folder, cut.start
    head = _YEAR_AT_HEAD.match(cut.left()) if folder.year is None else None
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
        last = _YEAR_AT_END.search(cut.left())
        if last and cut.left()[: last.start()].strip():
            folder.year, folder.year_at = int(last[1]), (start + last.start(1), start + last.end(1))
            cut.end = start + last.start()


_YEAR_ASIDE = re.compile(r"(?<=\S),\s*((?:19|20)[0-9]{2})\s*$")


def _artist_and_album(cut: _Name) -> None:
    """What is left, parted into artist and album where it is both."""
    folder, dotted = cut.folder, cut.seen.dotted
    body = _SORTED.sub("", re.sub(r"\s*[-–]\s*$", "", cut.left()))
    late = _LATE_DAY.search(body) if folder.date is None else None
    if late and body[: late.start()].strip():
        folder.date = f"{late['y']}-{late['m']}-{late['d']}"
        body = body[: late.start()] + body[late.end() :]
    body = _without_tail(folder, body, cut.start)
    two = _TWO_NAMES.fullmatch(body)
    if two is not None:
        body = f"{two['artist']} - {two['album']}"
    if dotted and " " not in body.strip() and body.count("-") == 1:
        body = body.replace("-", " - ")
    parts = _PARTED.split(body, maxsplit=2)
    if len(parts) == 3 and folder.year is None and _BARE_YEAR.fullmatch(parts[1].strip()):
        folder.year = int(parts[1])
        parts = [parts[0], parts[2]]
    elif len(parts) == 3:
        parts = [parts[0], body[body.index(parts[1], len(parts[0])) :]]
    if len(parts) == 2 and re.fullmatch(r"\s*[0-9]{1,2}\s*", parts[0]):
        parts = parts[1:]  # a number that only sorts
    if len(parts) == 2 and _SCORE_WORDS.fullmatch(parts[1].strip()):
        parts = [body]  # what a film's music is called
    aside = _YEAR_ASIDE.search(parts[0]) if len(parts) == 2 and folder.year is None else None
    if aside is not None:
        folder.year = int(aside[1])
        parts[0] = parts[0][: aside.start()]
    if len(parts) == 2:
        artist = tidy_title(parts[0], dotted=dotted)
        folder.artist = "Various Artists" if _is_various(artist) else artist
        folder.album = tidy_title(re.sub(r"^\s*((?:19|20)[0-9]{2})\s*[-–]\s*", "", parts[1]), dotted=dotted)
    else:
        folder.album = tidy_title(parts[0] if len(parts) == 1 else body, dotted=dotted)


def _without_tail(folder: Folder, body: str, start: int) -> str:
    """A folder's name without what stands behind its last dashes and is no title: a year, an edition, formats."""
    is_cut = False
    while (cuts := list(_PARTED.finditer(body))) and body[: cuts[0].start()].strip():
        cut = cuts[-1]
        last = body[cut.end() :].strip()
        seen = scan(last)
        if folder.year is None and (len(cuts) > 1 or is_cut) and re.fullmatch(r"(?:19|20)[0-9]{2}", last):
            folder.year, folder.year_at = int(last), (start + cut.end(), start + cut.end() + 4)
        elif last.lower() in ("single", "ep", "e.p.") or _READER_BEHIND.match(last):
            pass  # what kind of record it is, or who reads it
        elif folder.edition is None and EDITION.fullmatch(f"({last})") and not SKIP_EDITION.match(last):
            folder.edition = last
        elif len(cuts) > 1 and seen.techs and len(seen.techs) == len(seen.tokens):
            _music_technical(folder, scan(body), cut.end())
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


def _music_technical(folder: Folder, seen: Scan, start: int) -> None:
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
            any(b.start < match.start() < b.end for b in seen.brackets) or _scene_of(seen.text)
        ):
            name = match.lastgroup
            folder.technical.setdefault("source", (name, match.start(), match.end()))
    rate = _RATE.search(seen.text)
    if rate and any(b.start < rate.start() < b.end for b in seen.brackets):
        folder.technical["bit_depth"] = (int(rate["bits"]), rate.start(), rate.end())
        hertz = {"44": 44100, "88": 88200, "176": 176400}.get(rate["khz"]) or int(float(rate["khz"]) * 1000)
        folder.technical["sample_rate"] = (hertz, rate.start(), rate.end())
    opus = re.search(r"(?i)\[(opus|aac|mp3|ogg|vorbis)\s+([0-9]{2,3})\]", seen.text)
    if opus:
        folder.technical["bitrate"] = (int(opus[2]), opus.start(2), opus.end(2))
        folder.technical.setdefault("audio_codec", ([opus[1].lower()], opus.start(1), opus.end(1)))
    plain = next((b for b in seen.brackets if b.inner.strip() in _RATES), None)
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


def _sense_of_shelf(lowered: str, sense: str) -> str:
    if lowered in PODCAST:
        return "podcast"
    if lowered in BOOK:
        return "book"
    if lowered in words_for("soundtrack"):
        return "soundtrack"
    return "classical" if lowered in words_for("classical") else sense


_NO_PERFORMER = frozenset(
    (
        "live",
        "remix",
        "mix",
        "soundtrack",
        "original",
        "complete",
        "volume",
        "vol",
        "bonus",
        "acoustic",
        "instrumental",
        "demo",
        "sessions",
        "version",
        "edit",
    )
)
_SCORED = re.compile(
    r"(?:[(\[]\s*(?:the\s+)?(?:original\s+)?(?:motion\s+picture\s+|film\s+|tv\s+)?(?:soundtrack"
    r"|score)[^()\[\]]*[)\]]|(?-i:\bO\.?S\.?T\.?|(?<=[\s._-])ost))\s*$",
    re.IGNORECASE,
)
"""An album that says that it was written for something: nobody is called so, but somebody may be called `Ost`."""
_SCORE_WORDS = re.compile(
    r"(?:the\s+)?(?:(?:original|complete|motion\s+picture|film|tv|series|game)\s+)*(?:soundtrack|score|ost"
    r"|filmmusik)(?:\s+album)?",
    re.IGNORECASE,
)
_READ_BY = re.compile(r"[(\[]\s*(?:read|narrated|gelesen|gesprochen|lu|le[ií]do|letto|voorgelezen)\s", re.IGNORECASE)
"""A book that says who reads it."""
_PERFORMER = re.compile(r"\s*[(\[](?P<who>[^()\[\]0-9]+)[)\]]\s*$")


def _performer_of(album: str, sense: str) -> tuple[str, str] | None:
    """Album and performer of `Sonatas (Lida Marek)`, where the folder above is a composer's."""
    match = _PERFORMER.search(album)
    words = fold(album).split()
    composed = sense == "classical" or any(word in words_for("work-form") for word in words)
    if (
        match is None
        or not composed
        or _NO_PERFORMER & {*words, *fold(match["who"]).split()}
        or EDITION.search(match.group())
    ):
        return None
    names = [word for word in re.findall(r"[^\W\d_]+", match["who"]) if len(word) > 2]
    if len(names) < 2 or not all(word[0].isupper() for word in names):
        return None
    return album[: match.start()], match["who"].strip()


def _place(
    reading: Reading, folders: list[str], stem: str = ""
) -> tuple[Folder | None, Folder | None, Folder | None, str]:
    """Album folder, artist folder, disc folder, and the first sort folder's sense (`podcast`, `book` or `music`)."""
    named, disc, sense = _named_folders(reading, folders)
    if _is_disc_of(named):
        disc = named.pop()
    _leave_shelves(named, stem, sense)
    year = named.pop(-2) if len(named) >= 2 and _is_year_of(named[-2], named[-1]) else None
    album = artist = None
    if year is not None and len(named) == 1:
        album = named[0]  # of that year: nobody is
    elif len(named) >= 2:
        artist, album = named[-2], named[-1]
    elif len(named) == 1:
        only = _with_author(named[0]) if sense == "book" and named[0].artist is None else named[0]
        if _is_album_alone(only, disc, sense, stem):
            album = only
        else:
            artist = only
    if year is not None and album is not None and album.year is None:
        reading.put("year", int(year.name), (year.at, year.at + len(year.name)), "year's folder above the album")
    if disc is not None:
        reading.put("disc", disc.disc, (disc.at, disc.at + len(disc.name)), "disc folder")
    elif album is not None and album.disc is not None:
        reading.put("disc", album.disc, (album.at, album.at + len(album.name)), "disc in the album's folder")
    return album, artist, disc, sense


def _is_year_of(above: Folder, album: Folder) -> bool:
    """Whether a folder is the year of the album in it; one that is another year is an artist who is called so."""
    if _BARE_YEAR.fullmatch(above.name.strip()) is None or _BARE_YEAR.fullmatch(album.name.strip()):
        return False
    return album.year in (None, int(above.name))


def _named_folders(reading: Reading, folders: list[str]) -> tuple[list[Folder], Folder | None, str]:
    """The folders that name somebody or something, the disc among them, and what the shelf is for."""
    place = 0
    named: list[Folder] = []
    disc: Folder | None = None
    sense = "music"
    for name in folders:
        found = replace(_folder(name), at=place)
        place += len(name) + 1
        lowered = name.strip().lower()
        if found.kind == "sort":
            _sort_words(reading, name, found.at, is_inside=bool(named))
            sense = _sense_of_shelf(lowered, sense)
            whole = _discography(name)
            if whole:
                named.append(Folder("artist", name, found.at, artist=whole))
        elif found.kind == "disc":
            disc = found
        elif sense == "book" and named and (part := BOOK_PART.match(lowered)):
            disc = Folder("disc", name, found.at, disc=int(part[1]))
        elif found.kind == "various":
            if not (named and _is_kind_of_release(name)):
                named.append(Folder("artist", name, found.at, artist="Various Artists"))
        elif found.kind == "unknown":
            named.append(Folder("unknown", name, found.at))
        elif found.kind != "pictures" and not (named and sense == "podcast" and _sorts_a_show(name.strip())):
            named.append(found)
    return named, disc, sense


def _with_author(only: Folder) -> Folder:
    """A book's folder that says who wrote it behind its title."""
    written = _BY_AUTHOR.match(only.album or "")
    if written is None or not written["who"][0].isupper():
        return only
    return replace(only, artist=written["who"].strip(), album=written["book"])


def _is_album_alone(only: Folder, disc: Folder | None, sense: str, stem: str) -> bool:
    """Whether the only folder that names something is an album's, and not an artist's."""
    says_album = bool((only.artist and only.album) or only.year or only.date)
    is_made_for = sense in ("podcast", "soundtrack") or _SCORED.search(only.name) is not None
    is_book = _READ_BY.search(only.name) is not None or (
        sense == "book" and only.artist is None and stem.strip(" ._-").isdigit()
    )
    has_discs = disc is not None and not _is_said(
        ["album", "words"], only.name, stem
    )  # nobody is in discs, what they made is
    return (
        says_album or has_discs or is_made_for or is_book or _is_said(["words", "album"], only.album or only.name, stem)
    )


_PARTS_OF_ALBUM = {*words_for("bonus-tracks"), *(word for word, role in roles_of("extras").items() if role == "other")}
_HOLDS_WORKS = re.compile(rf"(?<![^\W_])(?:{alternation('works')})$", re.IGNORECASE)


def _leave_shelves(named: list[Folder], stem: str, sense: str) -> None:
    """Leave out folders that only hold others: shelves, artists said again, series of books."""
    if len(named) > 1 and named[-1].artist and named[-1].album:
        own = fold(named[-1].artist)
        is_said_again = own != fold(_artist_name(named[-2]) or own) and own in fold(stem)
        if named[-2].kind == "shelf" or is_said_again:
            named.pop(-2)  # it only holds what names its own artist, and does so in the file as well
    if len(named) > 2 and named[-1].name.strip().lower() in _PARTS_OF_ALBUM:
        named.pop()  # what an album has beside its discs
    if sense != "book" and len(named) > 2 and _HOLDS_WORKS.search(named[-2].name):
        named.pop(-2)  # of a composer's works those of one form
    if sense == "book" and len(named) == 2 and (counted := _BOOK_OF_SERIES.match(named[-1].name)) and counted["book"]:
        named[-1].artist = None  # its place in a series that nobody names
        named[-1].album = re.sub(rf"^{re.escape(counted[0])}", "", named[-1].album or "") or named[-1].album
    if sense == "book" and len(named) > 2 and (counted := _BOOK_OF_SERIES.match(named[-1].name)):
        named.pop(-2)  # a series, of which this is one book
        if named[-1].album and counted["book"]:
            named[-1].artist = None  # `Book 2` is nobody
        elif named[-1].album:
            named[-1].album = re.sub(r"^\s*[0-9]{1,2}\s+", "", named[-1].album) if counted["plain"] else named[-1].album
    if len(named) == 2 and named[0].kind == "shelf" and named[1].artist is None and len(_words(named[0].name)) == 1:
        named.pop(0)  # a shelf by its one word: what stands on it is an artist's


def _is_disc_of(named: Sequence[Folder]) -> bool:
    """Whether the last folder is a disc that says its album again: `Hearth (2012)/Hearth CD1`."""
    if len(named) < 2 or named[-1].disc is None or not (len(named) > 2 or named[-2].artist):
        return False
    return fold(named[-1].album or "") == fold(named[-2].album or named[-2].name)


def _words(name: str) -> list[str]:
    return fold(name).split()


def _is_said(order: list[str], name: str, stem: str) -> bool:
    """Whether a file says its only folder's name and other words in this order, and more
    behind: `Artist - Folder - 04 - Title`."""
    found = read_columns(stem, Known(album=name))
    labels = [column.label for column in found.columns] if found is not None else []
    labels = labels[1:] if labels[:1] == ["number"] else labels
    return len(labels) > 2 and labels[:2] == order


def _sorts_a_show(name: str) -> bool:
    """Whether a folder below a podcast's show is one of its years or seasons."""
    return _BARE_YEAR.fullmatch(name) is not None or SEASON_FOLDER.match(name) is not None


def _sort_words(reading: Reading, name: str, at: int, *, is_inside: bool) -> None:
    """A folder that only sorts may still name the format of all that lies in it, if it lies in what it speaks of."""
    seen = scan(name)
    said = _format_of(name) if is_inside else ()
    is_whole = len(seen.tokens) == len(seen.techs)
    if not said and seen.techs and (is_whole or seen.brackets) and all(tech.strong for tech in seen.techs):
        held = Folder("sort", name, 0)
        _music_technical(held, seen, 0 if is_whole else len(name))
        said = tuple((key, value, start, end) for key, (value, start, end) in held.technical.items())
    for key, value, start, end in said:
        reading.put(key, value, (at + start, at + end), "format of the folder")


def _discography(name: str) -> str | None:
    match = re.match(rf"(.+?)\s*[-–]?\s*[(\[]?(?:{_DISCOGRAPHY.pattern})", name, re.IGNORECASE)
    return tidy_title(match[1], dotted=scan(name).dotted) if match and match[1].strip() else None


_BY_AUTHOR = re.compile(r"^(?P<book>\S.*?)\s+(?:by|von|par)\s+(?P<who>(?:[^\W\d_][\w.'’-]*\s*){2,4})$")
"""A book's folder that names its author behind it: `The Salt Road by Ilse Marden`."""


def _artist_name(folder: Folder) -> str | None:
    if folder.kind == "unknown":
        return None
    name = folder.artist if folder.artist and not folder.album else None
    text = name or tidy_title(folder.name, dotted=scan(folder.name).dotted)
    guest = FEATURING.search(text)
    text = text[: guest.start()] if guest and guest.start() else text
    text = _LIFE.sub("", text) or text
    return None if PLACEHOLDER.match(text) else text


_LIFE = re.compile(r"\s*[(\[]\s*(?:\*|b\.|geb\.|born)?\s*1[0-9]{3}\s*(?:[-–—]\s*(?:[12][0-9]{3})?\s*)?[)\]]$")
"""When somebody lived, behind their name: `Hartvig, Emil (1801-1870)`."""


def _fill_album(reading: Reading, album: Folder | None, artist: Folder | None) -> str | None:
    """State the album's facts; returns the folder's artist."""
    name: str | None = None
    if artist is not None:
        name = _artist_name(artist)
        guest = FEATURING.search(artist.name)
        if name and guest is not None and guest.start():
            names = _names((guest["names"] or guest["names2"]).strip())
            where = (artist.at + guest.start(), artist.at + guest.end())
            reading.put("featuring", names, where, "guest in the artist's folder")
    if album is not None:
        whole = (album.at, album.at + len(album.name))
        text = album.album
        if album.artist and (
            artist is None
            or is_same_name(album.artist, name or "")
            or fold(album.artist) in fold(name or "").split()
            or artist.kind == "unknown"
            or (name == "Various Artists" and album.artist == "Various Artists")
        ):
            name = name or _without_guest(reading, album)
        elif album.artist and artist is not None and album.kind == "named" and name != album.artist:
            text = f"{album.artist} - {album.album}"
        if text and not PLACEHOLDER.match(text):
            reading.put("album", text, whole, "album's folder")
        if album.year:
            reading.put(
                "year", album.year, (album.at + album.year_at[0], album.at + album.year_at[1]), "year of the album"
            )
        if album.date:
            reading.put("date", album.date, whole, "day of a recording")
        if album.edition:
            reading.put("edition", album.edition, whole, "edition in the album's folder")
        identifiers = scan(album.name).ids
        if identifiers:
            reading.put(
                "ids",
                {scheme: value for scheme, value, _, _ in identifiers},
                (album.at + identifiers[0][2], album.at + identifiers[0][3]),
                "identifier in brackets",
            )
        for key, (value, start, end) in album.technical.items():
            reading.put(key, value, (album.at + start, album.at + end), "technical word of the album")
    return name


def _without_guest(reading: Reading, album: Folder) -> str | None:
    """The artist that an album's folder names; guests beside them are stated apart."""
    guest = FEATURING.search(album.artist or "")
    if album.artist is None or guest is None or not guest.start():
        return album.artist
    names = _names((guest["names"] or guest["names2"]).strip())
    where = (album.at, album.at + len(album.name))
    reading.put("featuring", names, where, "guest in the album's folder")
    return album.artist[: guest.start()]


def _names(text: str) -> list[str]:
    text = text.replace("_", " ") if " " not in text else text
    return [part.strip() for part in re.split(r"\s*,\s*|\s+&\s+|\s+and\s+(?=[A-Z])", text) if part.strip()]


_LOOSE_SHOW = re.compile(
    rf"(?P<show>[^\W\d_].*?)(?:\s+[-–—]\s+(?=(?:{alternation('episode')})?[\s._#]*[0-9])|\s+(?=#[0-9]))", re.IGNORECASE
)
"""A show before the number or the day of its episode, in a folder of many shows."""
_RATE_LAST = re.compile(r"(?<=\S)\s*\[(?P<rate>64|96|112|128|160|192|224|256|320)\]$")
"""A rate alone in square brackets behind a title: in round ones it may be the title's own number."""
_DISC_ASIDE = re.compile(rf" [(\[]((?:{alternation('disc')})[\s._]?[0-9]{{1,2}})[)\]](?= - )", re.IGNORECASE)
"""A disc in a bracket between album and number stands for a column of its own:
`Album (Disc 1) - 02`; as many letters."""


@dataclass(frozen=True, slots=True)
class _Around:
    """What stands around a track's own name."""

    artist: str | None
    """The folder's."""
    sense: str
    """What its shelf is for: `music`, `podcast`, `book` …"""
    is_scene: bool
    has_folder: bool


@dataclass(slots=True)
class _Rest:
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


_NOT_OF_LYRICS = (
    "audio_codec",
    "bit_depth",
    "sample_rate",
    "bitrate",
    "source",
    "release",
    "edition",
    "album_artist",
    "ids",
)


def read_track(path: str, folders: list[str], stem: str, kind: str, *, library: str) -> Reading:
    """A track or its lyrics."""
    reading = Reading(kind)
    stem = _DISC_ASIDE.sub(r" - \1", stem)
    at = len(path) - len(path.rsplit("/", 1)[-1])
    rate = _RATE_LAST.search(stem)
    if rate is not None:
        reading.put("bitrate", int(rate["rate"]), (at + rate.start("rate"), at + rate.end("rate")), "rate in brackets")
        stem = stem[: rate.start()]
    album, artist, _, sense = _place(reading, folders, stem)
    loose = _LOOSE_SHOW.match(stem) if sense == "podcast" and album is None and artist is None else None
    if loose is not None:
        album = replace(_folder(loose["show"]), at=at)
        stem, at = stem[loose.end() :], at + loose.end()
    album, artist, sense = _shared_by_many(album, artist, sense, stem)
    folder_artist = _fill_album(reading, album, artist)
    if folder_artist and folder_artist != "Various Artists" and album is not None:
        _put_performer(reading, album, sense)
    around = _Around(
        artist=folder_artist,
        sense=sense,
        is_scene=album is not None and _scene_of(album.name) is not None,
        has_folder=bool(album or artist),
    )
    _own_words(reading, stem, at, around)
    if sense == "book" and album is None and reading.get("album") is None and reading.get("track") is None:
        whole = reading.facts.pop("title", None)
        if whole is not None:
            reading.put("album", whole.value, whole.spans[0] if whole.spans else None, "a whole book in one file")
    is_anyones = sense == "podcast" and artist is None and reading.get("artist") is None
    if folder_artist is not None and not is_anyones:
        _put_folder_artist(reading, folder_artist)
    if kind == "lyrics":
        for name in _NOT_OF_LYRICS:
            reading.facts.pop(name, None)
    return reading


def _shared_by_many(
    album: Folder | None, artist: Folder | None, sense: str, stem: str
) -> tuple[Folder | None, Folder | None, str]:
    """Album, artist and sense, where the file names another than its folder does: then many share that folder."""
    if artist is not None and artist.kind == "shelf" and re.search(r"\S\s+[-–—]\s+\S", stem):
        if album is None:
            return None, None, sense  # the file names its own artist
        if album.artist is None and _counts_and_names(stem, album):
            return album, None, "various"
    elif album is None and artist is not None and (artist.kind, sense) == ("named", "music"):
        if _counts_and_names(stem, artist):
            return artist, None, "various"
        if _counts_and_names(f"1 {stem}", artist) and not stem[:1].isdigit():
            return None, None, sense  # songs of many in one folder
    elif artist is None and album is not None and album.artist is None and sense == "music":
        return album, None, "various" if _counts_and_names(stem, album) else sense
    return album, artist, sense


def _put_performer(reading: Reading, album: Folder, sense: str) -> None:
    """Who plays an album that stands in its composer's folder."""
    played = _performer_of(str(reading.get("album") or ""), sense)
    if played is not None:
        reading.facts["album"].value = played[0]
        reading.put("artist", played[1], (album.at, album.at + len(album.name)), "performer in the composer's album")


def _put_folder_artist(reading: Reading, folder_artist: str) -> None:
    """The folder's artist is the track's own, or the album's where the file names another."""
    own = reading.get("artist")
    if folder_artist == "Various Artists":
        reading.put("album_artist", folder_artist, None, "folder of a compilation")
    elif own is None:
        reading.put("artist", folder_artist, None, "artist's folder")
    elif not is_same_name(folder_artist, str(own)):
        reading.put("album_artist", folder_artist, None, "artist's folder, and the file names another")
    elif _is_of_one_case(str(own)) and not _is_of_one_case(folder_artist):
        reading.facts["artist"].value = folder_artist


_COUNTS_AND_NAMES = re.compile(
    r"^[\[(]?[0-9]{1,3}[\])]?(?:\s*[-–—.]\s*|\s+)(?P<who>[^\W\d][^()\[\]]*?)\s+[-–—]\s+(?P<what>\S.*)$"
)


def _counts_and_names(stem: str, folder: Folder) -> bool:
    """Whether a file counts and names another than its folder does: `07 -
    Somebody - Song` of a folder that many share."""
    found = _COUNTS_AND_NAMES.match(stem)
    if found is None or _PARTED.search(found["what"]):
        return False
    who, own = without_accents(found["who"]), without_accents(folder.name)
    if who in own or own in who:
        return False
    words = fold(found["who"]).split()
    return not (KEEPERS.fullmatch(words[0]) or words[0].isdigit() or any(w in words_for("work-form") for w in words))


def _is_of_one_case(name: str) -> bool:
    return name.islower() or (name.isupper() and len(name) > 4)


def _own_columns(reading: Reading, stem: str, at: int, folder_artist: str | None) -> bool:
    """A name whose parts say again what the folders say, or count: those are no
    title. False when it is no such name."""
    known = Known(
        artist=folder_artist if folder_artist != "Various Artists" else None,
        album=_text_or_none(reading.get("album")),
        year=reading.get("year"),
        is_compilation=folder_artist == "Various Artists",
    )
    found = read_columns(stem, known)
    if found is None or not _is_told_by_columns(found, known):
        return False
    words = found.words()
    rest = _Rest(reading, stem, at)
    for column in found.columns:
        _put_column(rest, column, known, is_alone=len(found.columns) == 1)
    free = _put_unlabelled(rest, words[:-1], known)
    last = found.columns[len(found.columns) - 1]
    if not words and last.label in ("artist", "album"):
        words = [last]  # a title that is called as its album or its artist is
    if words:
        start, end = (free or words[-1:])[0].start, words[-1].end
        body = stem[start:end]
        if found.separator == "dotted dash":
            body = body.replace(".", " ")
        _own_title(reading, body, start, at, " " not in stem and "_" in stem)
    return True


def _put_column(rest: _Rest, column: Column, known: Known, *, is_alone: bool) -> None:
    """State what a column counts, or repeats of the folder's artist."""
    reading, span, numbers = rest.reading, (column.start, column.end), column.numbers
    if column.label == "artist" and not is_alone:
        name = tidy_title(column.text, dotted=" " not in rest.text)
        rest.replace("artist", name, *span, "artist in the name, as the folder has it")
    elif column.label == "number" and "track" not in reading.facts:
        with_disc = numbers[0] > 99 and numbers[0] // 100 == reading.get("disc")
        rest.replace("track", numbers[0] % 100 if with_disc else numbers[0], *span, "track's number")
    elif column.label == "disc":
        rest.replace("disc", numbers[0], *span, "disc in the name")
    elif column.label in ("both", "side"):
        rule = "side of a record" if column.label == "side" else "disc in the name"
        rest.replace("disc", numbers[0], *span, rule)
        rest.replace("track", numbers[1], *span, "track's number")
    elif column.label == "year" and known.year is None:
        rest.replace("year", numbers[0], *span, "year of the album")


def _put_unlabelled(rest: _Rest, free: list[Column], known: Known) -> list[Column]:
    """Take artist and album, where no folder names them, from the words before the title; returns what is left."""
    is_dotted = " " not in rest.text
    if free and known.artist is None:
        artist, *free = free
        name = tidy_title(artist.text, dotted=is_dotted)
        rest.replace("artist", name, artist.start, artist.end, "artist before the title")
    if free and known.album is None:
        album, *free = free
        name, year = _name_and_year(album.text)
        rest.replace("album", tidy_title(name, dotted=is_dotted), album.start, album.end, "album before the title")
        if year is not None and known.year is None:
            rest.replace("year", year, album.start, album.end, "year of the album")
    return free


def _text_or_none(value: object) -> str | None:
    return str(value) if value else None


_SPACED = re.compile(r"_|^[^\s.]+(?:\.[^\s.]+)+$")
"""Something else stands for spaces."""


def _is_told_by_columns(found: Columns, known: Known) -> bool:
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
    parts = _PARTED.split(head)
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


def _own_words(reading: Reading, stem: str, at: int, around: _Around) -> None:
    """Number, day, artist and title that the file's own name says."""
    if around.has_folder and _is_only_a_number(reading, stem, at, around):
        return
    has_columns = around.sense in ("music", "book", "soundtrack") and not around.is_scene
    if has_columns and DATE.match(stem) is None and _own_columns(reading, stem, at, around.artist):
        return  # a day would be no year of the album with numbers behind it
    is_underscored = " " not in stem and "_" in stem
    rest = _Rest(reading, stem, at)
    _take_day(rest, around)
    _take_number(rest, around)
    _take_number_behind(rest, around)
    head = rest.text[rest.offset :].lstrip(" .-_–—·•|~)]:#")
    body = _after_bracket(head, around.artist if around.has_folder else None)
    rest.offset = len(rest.text) - len(body) if body else len(rest.text)
    body = _take_day_behind(rest, body, around)
    if around.is_scene and "-" in body:
        body = _take_scene_artist(rest, body)
    elif not around.is_scene:
        body, rest.offset = _own_artist(
            reading, body, rest.offset, rest.at, around.artist, around.sense, around.has_folder
        )
    after_dot = rest.text[rest.offset - 1 : rest.offset] == "."
    _own_title(reading, body, rest.offset, rest.at, is_underscored or around.is_scene, after_dot=after_dot)


def _is_only_a_number(reading: Reading, stem: str, at: int, around: _Around) -> bool:
    """Whether the name says its album or artist again and a number behind: that
    is the track's, and nothing is a title."""
    named = _name_and_number(stem)
    if named is None or not _is_only_said_again(named[0], str(reading.get("album") or ""), around.artist or ""):
        return False
    _, start, end = named
    reading.put("track", int(stem[start:end]), (at + start, at + end), "number after the album's name")
    return True


def _take_day(rest: _Rest, around: _Around) -> None:
    """The day before a title, and a podcast's show, said again before the day or behind it."""
    show = str(rest.reading.get("album") or "") if around.sense == "podcast" else ""
    again = _show_again(rest.text, show)
    rest.text, rest.at = rest.text[again:], rest.at + again
    date = DATE.match(rest.text.lstrip()) if around.sense == "podcast" else DATE.match(rest.text)
    if date is None or (len(rest.text) <= date.end() and around.sense != "podcast"):
        return
    rest.put("date", iso_date(date), date.start(), date.end(), "day it was published")
    rest.offset = date.end()
    while rest.offset < len(rest.text) and rest.text[rest.offset] in " _-–.":
        rest.offset += 1
    rest.offset += _show_again(rest.text[rest.offset :], show)


def _take_number(rest: _Rest, around: _Around) -> None:
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
        rest.put("disc", ord(vinyl["side"].upper()) - 64, start, start + 1, "side of a record")
        rest.put("track", int(vinyl["n"]), start + 1, rest.offset, "number on a record's side")
        return
    track = TRACK.match(ahead)
    if track is None or (is_dated and track["n4"] and re.match(r"\s+[^\W\d_]", ahead[track.end() :])):
        return  # behind a day, `7 Rooms` is a title
    rest.offset = _track_number(rest.reading, track, rest.text, rest.offset, rest.at, around.has_folder)


def _take_number_behind(rest: _Rest, around: _Around) -> None:
    """The track's or the episode's number in a bracket behind its title."""
    if "track" in rest.reading.facts:
        return
    behind = _NUMBER_BEHIND.search(rest.text) if around.has_folder else None
    if behind is None and around.sense == "podcast":
        behind = _EPISODE_BEHIND.search(rest.text)
    if behind is not None and behind.start():
        rest.put("track", int(behind["n"]), behind.start("n"), behind.end("n"), "track's number")
        rest.text = rest.text[: behind.start()]


_DAY_BEHIND = re.compile(
    r"""
    [\s_]* (?P<open>[(\[])? (?P<day>(?:19|20)[0-9]{2} [-.] (?:0[1-9]|1[0-2]) [-.] (?:0[1-9]|[12][0-9]|3[01]))
    (?(open)[)\]]) \s* $
    """,
    re.VERBOSE,
)


def _take_day_behind(rest: _Rest, body: str, around: _Around) -> str:
    """A title without the day behind it: of a podcast in whatever form, of a recording in brackets of its own."""
    late = _DAY_BEHIND.search(body)
    if late is None or "date" in rest.reading.facts or not (late["open"] or around.sense == "podcast"):
        return body
    if not late.start():
        return body
    start, end = rest.offset + late.start("day"), rest.offset + late.end("day")
    rest.put("date", late["day"].replace(".", "-"), start, end, "day it was published or recorded")
    return body[: late.start()]


def _take_scene_artist(rest: _Rest, body: str) -> str:
    """What follows the artist of a release's name, without the group that the folder names as well."""
    artist, _, title = body.partition("-")
    end = rest.offset + len(artist)
    rest.put("artist", tidy_title(artist, dotted=False), rest.offset, end, "artist before the title")
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
        reading.put("disc", int(disc), span, "disc before the track's number")
        reading.put("track", int(value), span, "track's number")
    elif track["n4"] and len(value) == 3 and (known := reading.get("disc")) is not None and value[0] == str(known):
        reading.put("track", int(value[1:]), span, "disc and track in one number")
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
        reading.put("disc", int(value[0]), span, "disc and track in one number")
        reading.put("track", int(value[1:]), span, "disc and track in one number")
    else:
        reading.put("track", int(value), span, "track's number")
    end = offset + track.end()
    second = _SECOND_NUMBER.match(text[end:]) or _OF_ALL.match(text[end:])
    return end + (second.end() if second else 0)


def _after_bracket(body: str, artist: str | None) -> str:
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


def _name_and_year(album: str) -> tuple[str, int | None]:
    """An album's name without the year that stands before or behind it in brackets."""
    found = _DATED.fullmatch(album)
    year = (found["behind"] or found["before"]) if found is not None else None
    return (found["name"], int(year)) if found is not None and year else (album, None)


@dataclass(frozen=True, slots=True)
class _Parts:
    """What is left of a name, parted by its separator."""

    body: str
    parts: Sequence[str]
    cuts: Sequence[tuple[int, int]]
    """Where the separators stand in the body."""
    at: int
    """Where the body begins in the path."""

    def span(self, first: int, last: int) -> tuple[int, int]:
        """Where the parts from the first to the last, both meant, stand in the path."""
        begin = self.cuts[first - 1][1] if first else 0
        end = self.cuts[last][0] if last < len(self.cuts) else len(self.body)
        return self.at + begin, self.at + end


_JOINED = re.compile(r"[&,+]|\b(?:and|und|et|y|x|vs|meets|with|mit|avec|con|med)\b")
"""Between the names of several who play together."""


def _own_artist(
    reading: Reading, body: str, offset: int, at: int, folder_artist: str | None, sense: str, has_folder: bool
) -> tuple[str, int]:
    """`Artist - Title` inside the file's own name; also `Artist - Album - 03 - Title`."""
    parted = _TIGHT if folder_artist == "Various Artists" and _TIGHT_NAME.fullmatch(body) else _PARTED
    cuts = [found.span() for found in parted.finditer(body)]
    if not cuts:
        return body, offset
    told = _Parts(body, parted.split(body), cuts, at + offset)
    cut = _numbered_parts(reading, told, sense)
    if cut is not None:
        return body[cut:], offset + cut
    first = told.parts[0]
    guest = FEATURING.search(first)
    plain = tidy_title(first[: guest.start()] if guest else first, dotted=False)
    of_many = _SCORED.search(str(reading.get("album") or "")) is not None or sense in ("soundtrack", "various")
    alone = not has_folder or (folder_artist is None and ("album" not in reading.facts or of_many))
    if not (alone or (guest and folder_artist) or (folder_artist and _is_who_plays(plain, folder_artist, told))):
        return body, offset
    if guest:
        where = (told.at + guest.start(), told.at + guest.end())
        names = _names((guest["names"] or guest["names2"]).strip())
        reading.put("featuring", names, where, "guest in the artist's part")
    reading.put("artist", plain, told.span(0, 0), "artist before the title")
    cut = cuts[0][1]
    if not has_folder and len(told.parts) == 3 and "album" not in reading.facts:
        name, year = _name_and_year(told.parts[2])
        if year is not None:
            reading.put("album", tidy_title(name, dotted=False), told.span(2, 2), "album behind the title")
            reading.put("year", year, told.span(2, 2), "year of the album")
            return told.parts[1], offset + cut
        if not any(KEEPERS.fullmatch(word) for word in fold(told.parts[2]).split()):
            reading.put("album", tidy_title(told.parts[1], dotted=False), told.span(1, 1), "album before the title")
            cut = cuts[1][1]
    rest, place = body[cut:], offset + cut
    late = _LATE_NUMBER.match(rest)
    if late and "track" not in reading.facts:
        reading.put("track", int(late["n"]), (at + place, at + place + late.end("n")), "track's number")
        rest, place = rest[late.end() :], place + late.end()
    return rest, place


_LATE_NUMBER = re.compile(r"(?P<n>[0-9]{1,2})(?:\s+[-–.]\s*|\.\s+)(?=\S)")


def _numbered_parts(reading: Reading, told: _Parts, sense: str) -> int | None:
    """`Artist - Album - 03 - Title`: states what stands before the title, and returns where that
    begins; None where no part is a number."""
    parts = told.parts
    numbered = next((i for i, part in enumerate(parts[1:-1], 1) if re.fullmatch(r"\s*[0-9]{1,3}\s*", part)), None)
    if numbered is None or "track" in reading.facts:
        return None
    head = tidy_title(parts[0], dotted=False)
    names_its_own = _is_various(head) and len(parts) > numbered + 2
    if names_its_own:
        head = tidy_title(parts[numbered + 1], dotted=False)
    if sense != "podcast" or fold(head) != fold(str(reading.get("album") or "")):
        reading.put("artist", head, told.span(0, 0), "artist before the title")
    reading.put("track", int(parts[numbered].strip()), told.span(numbered, numbered), "track's number")
    if numbered > 1:
        album, year = _name_and_year(" - ".join(parts[1:numbered]))
        if year is not None:
            reading.put("year", year, None, "year of the album")
        reading.put("album", tidy_title(album, dotted=False), told.span(1, numbered - 1), "album before the number")
    return told.cuts[numbered + 1 if names_its_own else numbered][1]


def _is_who_plays(name: str, folder_artist: str, told: _Parts) -> bool:
    """Whether the first part of a name is who plays, as far as the folder's artist
    says: it, with others, or one of them."""
    if folder_artist == "Various Artists" or is_same_name(name, folder_artist):
        return True
    known, own = f" {fold(folder_artist)} ", f" {fold(name)} "
    if known in own and _JOINED.search(name):
        return True
    if own in known and _JOINED.search(folder_artist):
        return True
    return any(known in f" {fold(held)} " for held in re.findall(r"[(\[]([^)\]]+)[)\]]", told.body[told.cuts[0][1] :]))


_ISSUE_OF_A_SONG = re.compile(
    r"""
    [\s_]* [(\[]
    (?P<words>
        (?: [0-9]{4} [\s_]+ )? (?: digital (?: ly )? [\s_]+ )? remaster (?: ed )? (?: [\s_]+ [0-9]{4} )? (?: [\s_]+ version )?
      | deluxe (?: [\s_] edition )? | bonus [\s_] track | unabridged | explicit
    )
    [)\]]
    """,
    re.IGNORECASE | re.VERBOSE,
)
_SECOND_COPY = re.compile(r"\s\([1-9]\)$")
"""The second copy of a file."""
_RATE_AT_END = re.compile(rf"\s*\[(?:{'|'.join(_RATES)})(?:\s?kbps|k)?\]$", re.IGNORECASE)


def _own_title(
    reading: Reading, body: str, offset: int, at: int, underscored: bool, *, after_dot: bool = False
) -> None:
    guest = FEATURING.search(body)
    if guest:
        names = (guest["names"] or guest["names2"]).strip()
        if not (guest.group().strip("([ ").lower().startswith("with") and not names[:1].isupper()):
            reading.put(
                "featuring",
                _names(names),
                (at + offset + guest.start(), at + offset + guest.end()),
                "guest in brackets",
            )
            body = body[: guest.start()] + body[guest.end() :]
    edition = next(
        (m for m in _ISSUE_OF_A_SONG.finditer(body)),
        None,
    )
    if edition:
        said = edition["words"].replace("_", " ").strip()
        if said.lower() not in ("bonus track", "explicit"):
            reading.facts.pop("edition", None)
            reading.put(
                "edition",
                said,
                (at + offset + edition.start("words"), at + offset + edition.end("words")),
                "remaster or edition in brackets",
            )
        body = body[: edition.start()] + body[edition.end() :]
    body = _NOISE.sub("", body) or body
    seen = scan(body)
    for bracket in reversed(seen.brackets):
        if bracket.technical and bracket.start > 0 and not KEEPERS.search(bracket.inner):
            found = Folder("named", body, 0)
            _music_technical(found, seen, len(body))
            for key, (value, start, end) in found.technical.items():
                reading.facts.pop(key, None)
                reading.put(key, value, (at + offset + start, at + offset + end), "technical word of the track")
            body = body[: bracket.start] + body[bracket.end :]
    body = _SECOND_COPY.sub("", body)
    body = _RATE_AT_END.sub("", body)
    dotted = seen.dotted and " " not in body and (body.count(".") > 1 or after_dot)
    title = tidy_title(body, dotted=dotted, articles=False) if body.strip() else ""
    title = title if title else body.strip(" _-") if body.strip(" _-.") else ""
    if title and not (PLACEHOLDER.match(title) and "track" in reading.facts):
        reading.put("title", title, (at + offset, at + offset + len(body)), "what is left is the title")


def read_cover(path: str, folders: list[str], stem: str, role: str) -> Reading:
    """Artwork beside music."""
    reading = Reading("artwork")
    at = len(path) - len(path.rsplit("/", 1)[-1])
    reading.put("role", role, (at, at + len(stem)), "name of an artwork")
    album, artist, _, _ = _place(reading, folders)
    if (
        album is None
        and artist is not None
        and role in ("cover", "back-cover", "booklet", "disc")
        and artist.album
        and (artist.year or artist.artist)
    ):
        album, artist = artist, None
    name = _fill_album(reading, album, artist)
    if name == "Various Artists":
        reading.put("artist", name, None, "folder of a compilation")
    elif name:
        reading.put("artist", name, None, "artist's folder")
    for key in ("audio_codec", "bit_depth", "sample_rate", "bitrate", "source", "release", "edition", "ids"):
        reading.facts.pop(key, None)
    return reading
