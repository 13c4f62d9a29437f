"""The words and shapes by which tracks, albums and their folders are told."""

from __future__ import annotations

import re
import unicodedata
from functools import cache

from .scan import scan
from .vocabulary import alternation, words_for

__all__ = [
    "ACT",
    "AT_RATE",
    "BARE_YEAR",
    "BONUS_DISC",
    "BOOK",
    "BOOK_OF_SERIES",
    "BOOK_PART",
    "COPY_WORDS",
    "COUNTED",
    "DISC",
    "DISCOGRAPHY",
    "DISC_TAIL",
    "EDITION",
    "FEATURING",
    "KEEPERS",
    "LATE_DAY",
    "LIVE_DAY",
    "NOISE",
    "OF_ALL",
    "PARTED",
    "PICTURE_FOLDERS",
    "PLACEHOLDER",
    "PODCAST",
    "RATE",
    "RATES",
    "READER_BEHIND",
    "READ_BY",
    "RIPPED",
    "SCENE_ISSUE",
    "SCORED",
    "SCORE_WORDS",
    "SECOND_NUMBER",
    "SERIES_IN_BRACKET",
    "SKIP_EDITION",
    "SORTED",
    "SOURCES",
    "TIGHT",
    "TIGHT_NAME",
    "TIMED",
    "TRACK",
    "TWO_NAMES",
    "VINYL",
    "WORDS_BEHIND",
    "YEAR_AT_END",
    "YEAR_AT_HEAD",
    "YEAR_IN_BRACKET",
    "is_kind_of_release",
    "is_various",
    "scene_of",
]

COUNTED = {
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
_SPELLED = rf"(?:{'|'.join(sorted(COUNTED, key=len, reverse=True))})(?![^\W_])"
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
    [\s._(\[,-]+ (?: {alternation("disc")} ) [\s._-]* (?P<n> [0-9]{{1,2}} | {_SPELLED} )
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
SECOND_NUMBER = re.compile(
    rf"[\s._-]+(?:{alternation('episode', 'chapter', least=2)})[\s._#]*([0-9]{{1,4}})(?=[\s._-]|$)", re.IGNORECASE
)
OF_ALL = re.compile(r"\s*(?:of|von|de|di|van|av|af|/)\s*[0-9]{1,3}(?=\s*[-–—.)])", re.IGNORECASE)
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
RATE = re.compile(
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


def scene_of(name: str) -> re.Match[str] | None:
    """A folder as groups name it; between its year and the group stand technical words at most."""
    found = _SCENE.match(name)
    late = found["late"].split("-") if found is not None else []
    return found if all(not word or word.lower() in SOURCES or scan(word).techs for word in late) else None


SCENE_ISSUE = re.compile(
    r"(?<![A-Za-z])(?:[A-Za-z]+_)?(?:REMASTERED|DELUXE(?:_EDITION)?|LIMITED_EDITION|SPECIAL_EDITION"
    r"|EXPANDED(?:_EDITION)?|REISSUE)"
    r"(?![A-Za-z])",
    re.IGNORECASE,
)
DISCOGRAPHY = re.compile(r"dis[ck]ogra(?:ph|f)(?:y|i[ae]?|ía)|дискография|complete works", re.IGNORECASE)
ACT = re.compile(r"(?:act|akt|acte|acto|atto|ato|akte|dejstvo|действие)\s+(?:[0-9]{1,2}|[ivx]{1,4})")
"""A part of an opera, as a folder."""
NOISE = re.compile(
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
SERIES_IN_BRACKET = re.compile(
    r"(?<=\S) \s+ [-–—] \s+ (?: \[ (?! (?:19|20)[0-9]{2} \] ) [^\[\]]* [0-9] \s* \] | \( (?! (?:19"
    r"|20)[0-9]{2} \) ) [^()]* [0-9] \s* \) ) (?= \s+ [-–—] \s )",
    re.VERBOSE,
)
"""A series and its number between author and book: `Author - [Crown 01] - Book`."""
LIVE_DAY = re.compile(
    r"^\s*(?P<y>(?:19|20)[0-9]{2})[-.](?P<m>0[1-9]|1[0-2])[-.](?P<d>0[1-9]|[12][0-9]|3[01])(?:\s*[-–—]\s*|\s+)(?=\S)"
)
AT_RATE = re.compile(r"\s@\s?(?P<rate>64|96|112|128|160|192|224|256|320)\s?(?:k|kbps|kbit)?\s*$", re.IGNORECASE)
TIMED = re.compile(r"\s*[(\[][^()\[\]]*[0-9][^()\[\]]*[)\]]\s*$")


PARTED = re.compile(r"\s+[-–—]{1,3}\s+|_-_|\.-\.|_{2,}|\s+[·•|~]\s+")
"""What parts artist, album and title: a dash with room around it, in whatever way it was
typed, and what nobody types in words."""
TIGHT = re.compile(r"-")
TIGHT_NAME = re.compile(r"[^\s-]*_[^\s-]*-[^\s-]+|[^\s-]+-[^\s-]*_[^\s-]*")
"""Words with underscores between them, and one dash: `tin_foxes-borrowed_rain`."""
LATE_DAY = re.compile(
    r"(?:\s+[-–—]\s+|[\s_]+)(?P<y>(?:19|20)[0-9]{2})[-.](?P<m>0[1-9]|1[0-2])[-.](?P<d>0[1-9]|[12][0-9]"
    r"|3[01])(?=\s*$|\s+[-–—]\s)"
)
"""The day of a recording at the end of an album's name, or between its parts."""
WORDS_BEHIND = re.compile(r"(?:\s*[-–—]\s*|\s+)[^\W\d_][^()\[\]{}]*$")
"""Nothing but words behind a bracket with a year: `Tin Foxes (2003) Harbour`."""
SORTED = re.compile(
    rf"^\s*[0-9]{{1,2}}\.\s+(?=[^\W\d_])(?!(?:{alternation('work-form', least=4)})(?![^\W_]))", re.IGNORECASE
)
"""A number with a dot before an album's name puts it in its place; before a symphony's it counts."""
_LED = re.compile(r"\s*(?:[^\W\d_]+\s+)?[0-9]{1,2}\s*[-–]\s")
BOOK_OF_SERIES = re.compile(
    r"\s*(?:(?P<book>(?:book|volume|vol\.?|part|band|buch|teil|tome|livre|libro|livro|boek|deel|bok|bog"
    r"|del|kirja|tom|kniha|книга)\s*[0-9]{1,2}\s*[-–:,.]\s*)|(?:[^\W\d_]+\s+)?[0-9]{1,2}\s*[-–]\s"
    r"|[0-9]{1,2}\.\s+(?=[^\W\d_])|(?P<plain>[0-9]{1,2}\s+(?=[^\W\d_])))",
    re.IGNORECASE,
)
"""A book's folder with its place in a series: `Customs 2 - The Ferry Tax`, `01. Low Water`, `01 Low Water`."""
RIPPED = re.compile(r"[\s_]+(?P<from>vinyl|lp|cd|cassette|tape|web)[\s_-]?rip\s*$", re.IGNORECASE)
SOURCES = {"vinyl": "vinyl", "lp": "vinyl", "cd": "cd", "cassette": "cassette", "tape": "cassette", "web": "web"}
TWO_NAMES = re.compile(r"(?P<artist>[^_]*[^\W_] [^_]*[^\W_])_(?P<album>[^\W_][^_]* [^_]*)")
"""Two names of several words with one underscore between them."""
READER_BEHIND = re.compile(r"(?:read|narrated) by\s|gelesen von\s|lu par\s|le[ií]do por\s|letto da\s", re.IGNORECASE)
YEAR_IN_BRACKET = re.compile(
    r"(?P<year>(?:18|19|20)[0-9]{2})(?:[-.][0-9]{2}){0,2}$|(?:[^,;]*[,;]\s*)?(?P<year2>(?:19|20)[0-9]{2})\s*(?:[,;]|$)"
)
YEAR_AT_HEAD = re.compile(r"\s*((?:18|19|20)[0-9]{2})(?:[-.][0-9]{2}){0,2}\s*(?:[-–—._·•|~]+\s*|\s)(?=\S)")
YEAR_AT_END = re.compile(r"(?<![0-9][-–/])(?<![-–/])[\s_.-]+(?<![0-9][-–/])((?:19|20)[0-9]{2})\s*$")
"""A year at the end, and no last year of several."""
COPY_WORDS = re.compile(
    r"flac|mp3|web|vinyl|kbps|cd[0-9]|\b(?:cd|tape|cassette|lp)[\s_-]?rip\b|\bv[0-9]\b|lp\b", re.IGNORECASE
)
BARE_YEAR = re.compile(r"(?:19|20)[0-9]{2}")
RATES = ("64", "96", "112", "128", "160", "192", "224", "256", "320")
BONUS_DISC = re.compile(rf"(?:bonus|extras?|extra|zusatz|supplément)[\s._-]*(?:{alternation('disc')})")
"""A disc without a number: it says nothing of what lies on it."""
PICTURE_FOLDERS = frozenset(
    ("scans", "artwork", "covers", "art", "images", "pics", "extras", "lyrics", "texte", "paroles", "letras", "testi")
)


def is_various(name: str) -> bool:
    """Whether a name says that many play, whatever stands between its letters: `V.A.`, `VA`, `vv. aa.`."""
    return _letters(name) in _various()


def is_kind_of_release(name: str) -> bool:
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


SCORED = re.compile(
    r"(?:[(\[]\s*(?:the\s+)?(?:original\s+)?(?:motion\s+picture\s+|film\s+|tv\s+)?(?:soundtrack"
    r"|score)[^()\[\]]*[)\]]|(?-i:\bO\.?S\.?T\.?|(?<=[\s._-])ost))\s*$",
    re.IGNORECASE,
)
"""An album that says that it was written for something: nobody is called so, but somebody may be called `Ost`."""
SCORE_WORDS = re.compile(
    r"(?:the\s+)?(?:(?:original|complete|motion\s+picture|film|tv|series|game)\s+)*(?:soundtrack|score|ost"
    r"|filmmusik)(?:\s+album)?",
    re.IGNORECASE,
)
READ_BY = re.compile(r"[(\[]\s*(?:read|narrated|gelesen|gesprochen|lu|le[ií]do|letto|voorgelezen)\s", re.IGNORECASE)
"""A book that says who reads it."""
