"""How names number episodes: one table of words, and the patterns made of it."""

from __future__ import annotations

import re

from .vocabulary import alternation

__all__ = [
    "ABSOLUTE_DASH",
    "DATE",
    "DOUBLE_WORD",
    "EPISODE_WORD",
    "MARKS",
    "NUMBER_WORD",
    "OF_MANY",
    "OF_SO_MANY",
    "SEASON_FOLDER",
    "SPECIAL_FOLDER",
    "SPECIAL_MARK",
    "iso_date",
    "span_numbers",
]

_SEP = r"[\s._\-–]*"
_NUM = r"[0-9]{1,4}"
_EP = rf"(?P<first>{_NUM})(?:(?P<half>\.5)|(?P<letter>[a-d])(?![a-z0-9]))?"
_MORE = (
    r"(?P<more>(?:[\s._]?[-–+&][\s._]?(?:e|ep|s[0-9]{1,2}e)[0-9]{1,4}(?![0-9a-z])"
    r"|[-–+&][0-9]{1,4}(?![0-9a-z])|(?:[-–+&]|[\s._][+&][\s._])[0-9]{1,2}x[0-9]{1,3}(?![0-9a-z])"
    r"|[\s._-]?(?:e|ep)[0-9]{1,4}(?![0-9])|x[0-9]{1,3}(?![0-9a-z]))*)"
)
_B = r"(?<![^\W_])"
_F = re.IGNORECASE

SXXEYY = re.compile(
    rf"{_B}(?:s(?P<season>{_NUM}){_SEP}(?:e|ep|x)|t(?P<season2>[0-9]{{1,2}})[\s._-]?e){_SEP}{_EP}{_MORE}", _F
)
NXNN = re.compile(
    rf"{_B}(?P<season>[0-9]{{1,2}}|(?:19[5-9]|20[0-2])[0-9])x(?P<first>[0-9]{{1,3}})(?:(?P<half>\.5)"
    rf"|(?P<letter>[a-d])(?![a-z0-9]))?{_MORE}(?![0-9a-z])",
    _F,
)
_LONG_SEASON = alternation("season", least=2)
_LONG_EPISODE = alternation("episode", least=2)
_COUNTED_EPISODE = alternation("episode", least=4)
_COUNTED_SEASON = alternation("season", least=4)
_SPECIALS = alternation("specials")
_SPECIAL = alternation("special")
WORDS = re.compile(
    rf"{_B}(?:(?:{_LONG_SEASON}|s){_SEP}(?P<season>{_NUM})|(?P<season2>[0-9]{{1,2}})\.?[ªº°]?{_SEP}(?:{_LONG_SEASON}))"
    rf"[\s._\-–,]*(?:{_LONG_EPISODE}|e){_SEP}(?:\#|n[º°]\s?)?{_EP}{_MORE}",
    _F,
)
_EAST_SEASON = r"""
    第 \s? (?P<season> [0-9]{1,3} | [一二三四五六七八九十]+ ) \s? (?: シーズン | シリーズ | [季期部] )
    | 시즌 \s? (?P<season2> [0-9]{1,3} )
    | (?: 제 \s? | (?<! [0-9] ) ) (?P<season3> [0-9]{1,2} ) \s? (?: 기 | 시즌 )
"""
EAST = re.compile(
    rf"""
    (?: {_EAST_SEASON} ) [\s._\-–]*
    (?: [第제]? \s? (?P<first> [0-9]{{1,4}} | [一二三四五六七八九十]+ ) \s? [集話话回화회] )
    """,
    _F | re.VERBOSE,
)
EAST_EPISODE = re.compile(
    r"""
    (?: [第제] \s? (?P<first> [0-9]{1,4} | [一二三四五六七八九十]+ ) \s? [集話话回화회]
      | (?<! [0-9] ) (?P<first2> [0-9]{1,4} ) \s? [화회話话回集] )
    (?P<more>)
    """,
    re.VERBOSE,
)
EAST_SEASON = re.compile(_EAST_SEASON, re.VERBOSE)
EPISODE_WORD = re.compile(rf"{_B}(?:{_LONG_EPISODE}|e){_SEP}(?:\#|n[º°]\s?)?{_EP}{_MORE}(?![0-9a-z])", _F)
DOUBLE_WORD = re.compile(
    rf"{_B}(?:season|s){_SEP}(?P<season>[0-9]{{1,4}}){_B}?(?![0-9a-z])|(?P<season2>[0-9]{{1,2}})(?:st|nd|rd"
    rf"|th)\s+season",
    _F,
)
_ORDINAL = r"(?:\.|ª|º|°|e|er|ème|-?[йяа]|\.?:?[ae])?"
"""What makes a number an ordinal before its noun: `3. Folge`, `2ª temporada`, `4-я серия`."""
NUMBER_WORD = re.compile(
    rf"{_B}(?P<first>[0-9]{{1,3}}){_ORDINAL}[\s._-]?(?:{_COUNTED_EPISODE}|díl|dil)(?![^\W_])(?P<letter>)(?P<more>)", _F
)
NUMBERS_FIRST = re.compile(
    rf"{_B}(?P<season>[0-9]{{1,2}}){_ORDINAL}[\s._-]?(?:{_COUNTED_SEASON})[\s._,-]+"
    rf"(?P<first>[0-9]{{1,3}}){_ORDINAL}[\s._-]?(?:{_COUNTED_EPISODE}|díl|dil)(?![^\W_])",
    _F,
)
_OF = r"[\s._]?(?:of|von|de|di|van|av|af|sur|z|из|/)[\s._]?(?P<all>[0-9]{1,2})(?![^\W_])"
OF_SO_MANY = re.compile(_OF, _F)
"""How many there are, behind an episode's number: `Ep. 4 of 10`."""
OF_MANY = re.compile(
    rf"{_B}(?P<word>(?:{alternation('part', least=2).replace('#', '[#]')}){_SEP})?(?P<first>[0-9]{{1,2}}){_OF}",
    _F,
)
"""One of a known number: `Part 2 of 3`, `(3 of 6)`."""
SPECIAL_MARK = re.compile(rf"{_B}(?:{_SPECIAL}){_SEP}(?P<first>[0-9]{{1,3}})(?![0-9a-z])", _F)
ABSOLUTE_DASH = re.compile(
    r"(?:^|[\s_.]+[-–][\s_.]+|[\s_.]\#)(?P<first>[0-9]{1,4})(?:(?P<half>\.5)"
    r"|(?P<letter>[a-d]))?(?:\s?[-–~]\s?(?P<last>[0-9]{1,4}))?(?P<proper>v[2-9])?(?=$|[\s_.\[(-])",
    _F,
)
DATE = re.compile(
    r"(?<![0-9])(?P<y>(?:19|20)[0-9]{2})[\s._-]?(?P<m>0[1-9]|1[0-2])[\s._-]?(?P<d>0[1-9]|[12][0-9]|3[01])(?![0-9])|"
    r"(?<![0-9])(?P<d2>0[1-9]|[12][0-9]|3[01])[\s._-](?P<m2>0[1-9]|1[0-2])[\s._-](?P<y2>(?:19|20)[0-9]{2})(?![0-9])|"
    r"(?P<y3>(?:19|20)[0-9]{2})[年년]\s?(?P<m3>[0-9]{1,2})[月월]\s?(?P<d3>[0-9]{1,2})[日일]"
)

MARKS = (SXXEYY, NXNN, WORDS, EAST, NUMBERS_FIRST)
"""Patterns that give a season and an episode, surest first."""

SEASON_FOLDER = re.compile(
    rf"""
    ^ (?: (?P<title> .*? ) [\s._\-–]+ )?
    (?: (?: (?-x:{_LONG_SEASON}) | s ) {_SEP} (?P<season> [0-9]{{1,4}} )
      | (?P<season2> [0-9]{{1,2}} ) (?: st | nd | rd | th | \. | ª | e | re | er | ème | a )? {_SEP} (?-x:{_LONG_SEASON})
      | (?: 第 | シーズン | シリーズ ) \s? (?P<season3> [0-9]{{1,3}} | [一二三四五六七八九十]+ )
          \s? (?: シーズン | シリーズ | [季期部] )?
      | 시즌 \s? (?P<season4> [0-9]{{1,3}} )
      | (?: 제 \s? )? (?P<season5> [0-9]{{1,2}} ) (?: 기 | \s? 시즌 )
      | (?: season | series | staffel | saison | temporada | stagione | book | volume ) [\s._-]+
        (?P<season6> one | two | three | four | five | six | seven | eight | nine | ten | i{{1,3}} | iv | v | vi{{1,3}} | ix | x )
        (?= \s* $ ) )
    (?P<after> (?: [\s._\-–(\[] .* )? ) $
    """,
    _F | re.VERBOSE,
)
SOME_SPECIALS = re.compile(
    rf"""
    ^ [^\W\d_]+ (?: [\s._-]+ | s )? (?: {alternation("specials", least=6)} ) $
    """,
    re.IGNORECASE | re.VERBOSE,
)
"""Specials of one occasion, below a series: `Christmas Specials`, `Weihnachtsspecial`."""
SPECIAL_FOLDER = re.compile(rf"^(?:{_SPECIALS}|(?:{_LONG_SEASON}|s)[\s._-]?0+)$", _F)

_HAN = {"一": 1, "二": 2, "三": 3, "四": 4, "五": 5, "六": 6, "七": 7, "八": 8, "九": 9}

_SPELLED = {
    word: value
    for value, words in enumerate(
        (
            ("one", "i"),
            ("two", "ii"),
            ("three", "iii"),
            ("four", "iv"),
            ("five", "v"),
            ("six", "vi"),
            ("seven", "vii"),
            ("eight", "viii"),
            ("nine", "ix"),
            ("ten", "x"),
        ),
        1,
    )
    for word in words
}
_MORE_NUMBERS = re.compile(r"([-–+&]?)[\s._]?(?:e|ep|x|s[0-9]{1,2}e|[0-9]{1,2}x(?=[0-9]))?([0-9]{1,4})", re.IGNORECASE)


def number(text: str) -> int:
    """A number in digits, in words up to ten, in Roman numerals up to ten, or in Chinese ones up to 99."""
    if text.lower() in _SPELLED:
        return _SPELLED[text.lower()]
    if text[0] not in _HAN and text[0] != "十":
        return int(text)
    tens, ten, ones = text.partition("十")
    return (_HAN.get(tens, 1) * 10 if ten else _HAN.get(tens, 0)) + _HAN.get(ones, 0)


def iso_date(match: re.Match[str]) -> str:
    """The day of a match of :data:`DATE`, as `YYYY-MM-DD`."""
    year, month, day = (match[k] or match[f"{k}2"] or match[f"{k}3"] for k in ("y", "m", "d"))
    return f"{year}-{int(month):02d}-{int(day):02d}"


def span_numbers(first: int, more: str) -> list[int]:
    """The episode numbers of a mark: `3`, `-E05` → 3, 4, 5; `E04E05` → 3, 4, 5."""
    numbers = [first]
    for sign, digits in _MORE_NUMBERS.findall(more or ""):
        value = int(digits)
        if value <= numbers[-1] or value > numbers[-1] + 200:
            continue
        numbers.extend(range(numbers[-1] + 1, value + 1) if sign in ("-", "–") else [value])
    return numbers
