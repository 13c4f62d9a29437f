"""One segment of a path, cut into tokens and brackets, with its technical words, years and identifiers found.

A segment is a folder's name, or a file's name without its extension. Full-width signs are first replaced one for one,
so that every position in the scan is a position in the segment.
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise
from typing import Any, NamedTuple

from .words import FIRST, Word, language_of

__all__ = ["Bracket", "Scan", "Tech", "fold", "is_same_name", "names_of", "scan", "tidy_title", "without_accents"]

TOKEN = re.compile(
    r"(?:hdr10|dd)\+[^\W_]*|(?:[^\W_]|[\u0300-\u036f\u0900-\u097f])+(?:['’](?:[^\W_]|[\u0300-\u036f])+)*", re.IGNORECASE
)
PLAIN_TOKEN = re.compile(r"(?:hdr10|dd)\+[a-z0-9]*|[a-z0-9]+(?:'[a-z0-9]+)*")
"""The same for lower-case ASCII, which most names are: several times as fast."""
YEAR = re.compile(r"(?<![^\W_])(?:18[89]|19[0-9]|20[0-9])[0-9](?![^\W_])")
BRACKET = re.compile(r"\[([^\[\]]*)\]|\(([^()]*)\)|\{([^{}]*)\}")
ID = re.compile(
    r"^\s*(?:([a-z][a-z0-9]*[a-z]|[a-z]{2,}(?:-[a-z]+)*)(?:\s+id\s+|[-=:]|id[-=:]\s?)([a-z0-9][\w.-]*)"
    r"|(tt[0-9]{7,}))\s*$",
    re.IGNORECASE,
)
_WIDE = {ord(wide): narrow for wide, narrow in zip("（）【】［］｛｝「」　：，＿－～", "()[][]{}[] :,_-~", strict=True)}
_WIDE.update({0xFF10 + digit: str(digit) for digit in range(10)})
_WIDE.update({0xFF21 + letter: chr(65 + letter) for letter in range(26)})
_WIDE.update({0xFF41 + letter: chr(97 + letter) for letter in range(26)})
_HEIGHTS = (
    (4000, "4320p"),
    (2000, "2160p"),
    (1300, "1440p"),
    (800, "1080p"),
    (640, "720p"),
    (540, "576p"),
    (400, "480p"),
    (0, "360p"),
)
_MEASURES = re.compile(
    r"^(?:(?P<width>[0-9]{3,4})x(?P<height>[0-9]{3,4})|(?P<kbps>[0-9]{2,4})k(?:bps|bit|b)?"
    r"|(?P<khz>[0-9]{2,3})khz|(?P<bits>8|10|12|16|24)bits?)$"
)
LATEST_YEAR = 2028
"""Two years from now, as the contract counts; raised with each release."""


class Tech(NamedTuple):
    """A technical word found in a segment."""

    start: int
    end: int
    strong: bool
    facts: tuple[tuple[str, Any], ...]
    first: int
    """Index of its first token."""
    last: int


@dataclass(slots=True)
class Bracket:
    """Words in brackets."""

    start: int
    end: int
    inner: str
    technical: bool = False
    """Every word in it is a technical one."""
    used: bool = False


@dataclass(slots=True)
class Scan:
    """A segment, taken apart."""

    text: str
    tokens: list[tuple[int, int, str]]
    techs: list[Tech]
    brackets: list[Bracket]
    years: list[tuple[int, int, int, bool]]
    """Start, end, year, whether it stands in brackets."""
    ids: list[tuple[str, str, int, int]] = field(default_factory=list)
    dotted: bool = False
    """Dots or underscores stand for spaces."""
    raw: str = ""
    """As it was written, letter for letter: `text` has plain signs for wide ones."""


def scan(segment: str) -> Scan:
    """Take one segment apart."""
    text = segment.translate(_WIDE) if not segment.isascii() else segment
    if text.isascii():
        lowered = text.lower()
        tokens = [(*m.span(), m.group()) for m in PLAIN_TOKEN.finditer(lowered)]
    else:
        tokens = [(m.start(), m.end(), unicodedata.normalize("NFC", m.group().lower())) for m in TOKEN.finditer(text)]
    techs = _technical(text, tokens)
    brackets: list[Bracket] = []
    ids: list[tuple[str, str, int, int]] = []
    if "[" in text or "(" in text or "{" in text:
        for match in BRACKET.finditer(text):
            inner = (
                match.group(1)
                if match.group(1) is not None
                else match.group(2)
                if match.group(2) is not None
                else match.group(3)
            )
            bracket = Bracket(match.start(), match.end(), inner)
            identifier = ID.match(inner)
            if identifier and (identifier[3] or (_is_id(identifier[1], identifier[2]))):
                scheme, value = (
                    ("tt", identifier[3].lower()) if identifier[3] else (identifier[1].lower(), identifier[2])
                )
                ids.append((scheme, value, match.start(), match.end()))
                bracket.used = True
            else:
                if text[match.start()] in "[{" and text[: match.start()].strip():
                    techs = _with_spoken(bracket, text, tokens, techs)
                bracket.technical = _all_technical(bracket, tokens, techs)
            brackets.append(bracket)
    years = [
        (m.start(), m.end(), int(m.group()), any(b.start < m.start() < b.end for b in brackets))
        for m in YEAR.finditer(text)
        if 1888 <= int(m.group()) <= LATEST_YEAR
    ]
    techs = _with_codes(text, tokens, techs, years)
    dotted = (" " not in text.strip() and ("." in text or "_" in text)) or text.count(".") + text.count(
        "_"
    ) > 2 * text.count(" ") + 1
    return Scan(text, tokens, techs, brackets, years, ids, dotted, segment)


_NO_SCHEMES = frozenset(["edition", "cut", "disc", "cd", "vol", "part", "season", "episode", "ep", "opus"])


def _is_id(scheme: str, value: str) -> bool:
    """An id's scheme is written in lower-case letters and its value holds a digit;
    catalogue numbers and editions are none."""
    lowered = scheme.lower()
    if lowered in FIRST or lowered in _NO_SCHEMES or not any(letter.isdigit() for letter in value):
        return False
    return scheme.islower() or (scheme.isupper() and len(scheme) > 4)


def _technical(text: str, tokens: list[tuple[int, int, str]]) -> list[Tech]:
    found: list[Tech] = []
    index, count = 0, len(tokens)
    while index < count:
        start, _, token = tokens[index]
        words = FIRST.get(token)
        hit: Word | None = None
        if words is not None:
            behind_sound = bool(found) and found[-1].last == index - 1 and _is_sound(found[-1])
            for word in words:
                if _follows(word, text, tokens, index, is_behind_sound=behind_sound):
                    hit = word
                    break
        if hit is not None:
            last = index + len(hit.rest)
            found.append(Tech(start, tokens[last][1], hit.strong, hit.facts, index, last))
            index = last + 1
            continue
        if token[0].isdigit() and token.isascii():
            facts, length = _measured(tokens, index, text)
            if facts:
                found.append(Tech(start, tokens[index + length - 1][1], True, facts, index, index + length - 1))
                index += length
                continue
        index += 1
    return found


def _is_sound(tech: Tech) -> bool:
    return any(name == "audio_codec" for name, _ in tech.facts)


def _follows(word: Word, text: str, tokens: list[tuple[int, int, str]], index: int, *, is_behind_sound: bool) -> bool:
    """Whether the rest of a word stands behind its first token; `5 1` means channels
    only behind what says how sound is kept."""
    rest = word.rest
    if not rest:
        return True
    if index + len(rest) >= len(tokens):
        return False
    layout = bool(word.facts) and word.facts[-1][0] == "channels"
    for step, wanted in enumerate(rest, index + 1):
        if tokens[step][2] != wanted or tokens[step][0] - tokens[step - 1][1] != 1:
            return False
        if (
            layout
            and not is_behind_sound
            and len(word.facts) == 1
            and len(wanted) == 1
            and text[tokens[step - 1][1]] not in ".,_"
        ):
            return False
    return True


def _measured(tokens: list[tuple[int, int, str]], index: int, text: str) -> tuple[tuple[tuple[str, Any], ...], int]:
    token = tokens[index][2]
    following = tokens[index + 1][2] if index + 1 < len(tokens) and tokens[index + 1][0] - tokens[index][1] == 1 else ""
    if token.isdigit():
        if following in ("kbps", "khz", "kbit") and 1 < len(token) < 5:
            return (("bitrate", int(token)) if following != "khz" else ("sample_rate", int(token) * 1000),), 2
        if following.endswith("khz") and following[:-3].isdigit():
            return (("sample_rate", int(float(f"{token}.{following[:-3]}") * 1000)),), 2
        if (
            index + 2 < len(tokens)
            and tokens[index + 2][2] == "khz"
            and following.isdigit()
            and text[tokens[index][1]] == "."
        ):
            return (("sample_rate", int(float(f"{token}.{following}") * 1000)),), 3
        return (), 0
    match = _MEASURES.match(token)
    if match is None:
        return (), 0
    if match["height"]:
        height = int(match["height"])
        return (("resolution", next(name for least, name in _HEIGHTS if height >= least)),), 1
    if match["khz"]:
        return (("sample_rate", int(match["khz"]) * 1000),), 1
    if match["bits"]:
        return (("bit_depth", int(match["bits"])),), 1
    if match["kbps"] and (
        token.endswith(("ps", "bit")) or int(match["kbps"]) in (64, 96, 128, 160, 192, 224, 256, 320)
    ):
        return (("bitrate", int(match["kbps"])),), 1
    return (), 0


_ALSO_OTHERS = frozenset(["ca", "id", "is", "la", "ml", "ms", "no", "pa", "ta", "te", "uk", "vf"])
"""Codes that stand for something else as often when they stand alone: a country, a word."""


_TOLD_BARE = frozenset(["DE", "EN", "FR", "ES", "IT", "PL", "RU", "NL", "HU", "FI"])
"""Codes that mean a language where they stand among technical words; others mean something else there as often."""


def _with_codes(
    text: str, tokens: list[tuple[int, int, str]], techs: list[Tech], years: list[tuple[int, int, int, bool]]
) -> list[Tech]:
    """Languages by their codes alone, in capitals: behind the year or a technical word, and before a sure one."""
    codes = [
        place for place, (start, end, _) in enumerate(tokens) if end - start == 2 and text[start:end] in _TOLD_BARE
    ]
    if not codes:
        return techs
    begins = {tech.first for tech in techs if tech.strong}
    ends = {tech.last for tech in techs}
    ends |= {place for place, token in enumerate(tokens) for year in years if token[:2] == year[:2]}
    spoken = [
        Tech(
            *tokens[place][:2],
            False,
            (("languages", language_of(tokens[place][2])),),
            place,
            place,
        )
        for place in codes
        if place - 1 in ends and place + 1 in begins and place not in ends
    ]
    return sorted([*techs, *spoken], key=lambda tech: tech.start) if spoken else techs


def _with_spoken(bracket: Bracket, text: str, tokens: list[tuple[int, int, str]], techs: list[Tech]) -> list[Tech]:
    """The technical words, and the languages of a bracket that holds nothing but their codes: `[DE]`, `[FR+EN]`."""
    inside = [place for place, one in enumerate(tokens) if bracket.start < one[0] and one[1] < bracket.end]
    codes = [text[tokens[place][0] : tokens[place][1]] for place in inside]
    if not codes or not all(len(code) == 2 and code.isascii() and language_of(code.lower()) for code in codes):
        return techs
    between = [text[tokens[one][1] : tokens[other][0]].strip() for one, other in pairwise(inside)]
    if not all(code.isupper() for code in codes) and (not between or not all(between)):
        return techs  # `(it is)` is no list of languages, `[it-de]` is
    if len(codes) == 1 and codes[0].lower() in _ALSO_OTHERS:
        return techs
    spoken = [
        Tech(*tokens[place][:2], False, (("languages", language_of(code.lower())),), place, place)
        for place, code in zip(inside, codes, strict=True)
    ]
    known = [tech for tech in techs if not bracket.start < tech.start < bracket.end]
    return sorted([*known, *spoken], key=lambda tech: tech.start)


def _all_technical(bracket: Bracket, tokens: list[tuple[int, int, str]], techs: list[Tech]) -> bool:
    inside = sum(1 for start, end, _ in tokens if start > bracket.start and end < bracket.end)
    covered = sum(tech.last - tech.first + 1 for tech in techs if tech.start > bracket.start and tech.end < bracket.end)
    years = sum(
        1 for start, end, token in tokens if start > bracket.start and end < bracket.end and YEAR.fullmatch(token)
    )
    strong = any(tech.strong for tech in techs if tech.start > bracket.start and tech.end < bracket.end)
    return inside > 0 and covered > 0 and (covered + years >= inside or (strong and covered + years + 1 >= inside))


_ARTICLE = re.compile(
    r"^(?P<name>.+?),\s+(?P<article>The|An|A|Der|Die|Das|Le|La|Les|L['’]|El|Los|Las|Il|Lo|Gli|I|De|Het|Een"
    r"|Ein|Eine|Un|Une|O|Os|As)(?P<rest>\s*(?:[-–:(].*)?)$",
    re.IGNORECASE,
)
_ACRONYM = re.compile(
    r"(?<![^\W_])(?:[^\W\d_]\.){2,}(?:[^\W\d_](?![^\W_]))?|(?<![^\W_])(?:[^\W\d_]\.)+[^\W\d_](?![^\W_])"
)
_SPACES = re.compile(r"\s{2,}")
_EDGES = " \t-–_.,;:~|+"


def tidy_title(text: str, *, dotted: bool, articles: bool = True) -> str:
    """A title as it is shown: signs that stand for spaces become spaces, a trailing article goes to the front.

    An acronym keeps its dots, so does an ellipsis.
    """
    shown = text.replace("_", " ") if "_" in text else text
    if dotted and "." in shown:
        if "..." in shown:
            shown = shown.replace("...", "\0")
        kept: list[str] = []
        place = 0
        for match in _ACRONYM.finditer(shown):
            kept.append(shown[place : match.start()].replace(".", " "))
            acronym = match.group()
            kept.append(acronym)
            place = match.end()
            if acronym.endswith(".") and shown[place : place + 1].isalnum():
                kept.append(" ")
        kept.append(shown[place:].replace(".", " "))
        shown = "".join(kept).replace("\0", "... ")
    if "  " in shown or "\t" in shown or "\u3000" in shown:
        shown = _SPACES.sub(" ", shown)
    acronym_end = (
        not dotted
        and shown.rstrip().endswith(".")
        and (_ACRONYM.search(shown) is not None or shown.rstrip().endswith("..."))
    )
    shown = shown.strip(_EDGES) + ("." if acronym_end and not shown.rstrip().endswith("...") else "...") * acronym_end
    if articles and "," in shown:
        match = _ARTICLE.match(shown)
        if match:
            article = match["article"]
            shown = f"{article}{'' if article[-1] in chr(39) + '’' else ' '}{match['name']}{match['rest']}"
    elif articles and dotted and shown.endswith(" The"):
        shown = f"The {shown[:-4]}"  # where dots stand for spaces the comma is lost; no title ends so
    return shown.strip()


_ASCII_WORDS = re.compile(r"[a-z0-9]+")


@lru_cache(maxsize=16384)
def fold(text: str) -> str:
    """A title for comparing, as the contract folds: NFKC, case, apostrophes, punctuation."""
    if text.isascii():
        return " ".join(_ASCII_WORDS.findall(text.lower().replace("'", "").replace("`", "")))
    text = unicodedata.normalize("NFKC", text).casefold()
    for sign in "'’ʼ`":
        text = text.replace(sign, "")
    return " ".join("".join(c if c.isalnum() or unicodedata.category(c)[0] == "M" else " " for c in text).split())


def names_of(text: str) -> frozenset[str]:
    """Somebody's name folded, as it is written and, where it is turned around for
    sorting (`Varn, Odile`), as it is said."""
    folded = fold(text)
    last, comma, first = text.partition(", ")
    if not comma or "," in first or not 1 <= len(first.split()) <= 3:
        return frozenset((folded,)) - {""}
    return frozenset((folded, fold(f"{first} {last}"))) - {""}


def is_same_name(one: str, other: str) -> bool:
    """Whether two spellings are of one name."""
    return not names_of(one).isdisjoint(names_of(other))


_LETTERS = str.maketrans(
    {"ø": "o", "æ": "ae", "œ": "oe", "ß": "ss", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "ı": "i", "&": " and "}
)


_SMALL = frozenset(["the", "a", "an", "and", "und", "et", "der", "die", "das", "le", "la", "les", "l"])


@lru_cache(maxsize=16384)
def without_accents(text: str) -> str:
    """A folded title without accents, articles and `and`: for judging whether two spellings are one title."""
    if text.isascii():
        words = fold(text.replace("&", " and ")).split()
    else:
        folded = unicodedata.normalize("NFKD", text.casefold().translate(_LETTERS))
        words = fold("".join(c for c in folded if not unicodedata.combining(c))).split()
    return " ".join(word for word in words if word not in _SMALL) or " ".join(words)
