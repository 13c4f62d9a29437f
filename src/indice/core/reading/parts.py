"""The parts that names of films and of episodes share: groups, technical words, editions, titles, numbered parts."""

from __future__ import annotations

import re
from typing import Any

from ..phrase import term
from .found import Found, Work
from .scan import Scan, Tech, tidy_title
from .vocabulary import alternation

__all__ = [
    "AKA",
    "BARE",
    "MARK",
    "PART",
    "PART_NUMBERS",
    "SCRAMBLED",
    "in_a_label",
    "is_loud",
    "last_match",
    "leading_bracket",
    "number_of",
    "residue",
    "split_aka",
    "tail_start",
    "take_edition",
    "take_technical",
    "title_of",
]

PART = re.compile(
    rf"""
    (?<![^\W_]) (?: {alternation("part", least=2).replace("#", "[#]")} ) [\s._-]*
    (?P<n> [0-9]{{1,2}} | [a-h] | i{{1,3}} | iv | v | vi | one | two | three | four )
    (?: \s? (?: of | von | de | av | van | di | z | из ) \s? [0-9]{{1,2}} )?
    (?![^\W_])
    """,
    re.IGNORECASE | re.VERBOSE,
)
AKA = re.compile(r"[\s._(\[]+(?:aka|a\.k\.a\.?|alias)[\s._:]+", re.IGNORECASE)
SITE = re.compile(
    r"^\s*(?:www\.)?[\w-]+(?:\.[\w-]+)*\.(?:com|net|org|info|test|example|tv|to|cc|me|io|co|eu|de|fr|es|ru)\s*$",
    re.IGNORECASE,
)
_SITE_FIRST = re.compile(r"^\s*(?P<site>www\.[\w-]+(?:\.[\w-]+)+)\s+[-–]\s+(?=\S)", re.IGNORECASE)
MARK = re.compile(r"\s*(?:s[0-9]{1,3}[\s._-]?e[0-9]{1,4}|[0-9]{1,2}x[0-9]{1,3}).*", re.IGNORECASE)
"""A bracket that holds the mark of an episode: no group, and no title."""
RELEASE = re.compile(r"(?<=[^\s])-\[?(?P<group>[^\W_][\w@]*(?:\.\w+(?=\]))?)\]?(?P<tail>(?:\s*[\[(][^\])]*[\])])*)$")
_ORDINAL_EDITION = re.compile(
    r"(?<![^\W_])(?:the\s+)?[0-9]{1,3}(?:st|nd|rd|th)[\s._]anniversary(?:[\s._](?:edition|remaster|cut))?",
    re.IGNORECASE,
)
_EDITION_BRACE = re.compile(r"^edition-(?P<words>.+)$", re.IGNORECASE)
_EDITION_WORDS = re.compile(
    r"(?<![^\W_])(?:[^\W\d_]+['’]?[^\W\d_]*[\s._])?(?:edition|cut|[^\W\d_]*fassung|edición|edizione|edição"
    r"|utgave|utgåva|udgave|versie)$",
    re.IGNORECASE,
)
PART_NUMBERS = {
    "a": 1,
    "b": 2,
    "c": 3,
    "d": 4,
    "e": 5,
    "f": 6,
    "g": 7,
    "h": 8,
    "i": 1,
    "ii": 2,
    "iii": 3,
    "iv": 4,
    "v": 5,
    "vi": 6,
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
}
BARE = re.compile(
    r"^(?:movie|film|video|feature|main|main feature|full movie|title[\s_]?t?[0-9]*|[0-9]{1,2}"
    r"|vts[_ ][0-9_ ]+|video_ts|index|disc|disk|(?:cd|disc|disk|dvd|part|pt)[\s._-]?[0-9a-d]|play|file"
    r"|untitled|[0-9a-f]{12,})$",
    re.IGNORECASE,
)
SCRAMBLED = re.compile(
    r"^(?=[^\W_]*[0-9])(?=[^\W_]*[a-z])[a-z0-9]{10,}$|^(?=[a-z0-9]{7,}$)(?:[a-z]+[0-9]+[a-z]+[0-9]"
    r"|[0-9]+[a-z]+[0-9]+[a-z])[a-z0-9]*$|^[a-z0-9]+-[a-z0-9]+(?:[0-9]{3,4}|xvid|x264)[a-z]?$",
    re.IGNORECASE,
)


_TECHNICAL = term("technical word")
_RULES = {
    "resolution": term("technical word for resolution"),
    "source": term("technical word for source"),
    "video_codec": term("technical word for video codec"),
    "audio_codec": term("technical word for audio codec"),
    "languages": term("technical word for languages"),
    "channels": term("technical word for channels"),
    "hdr": term("technical word for hdr"),
    "bit_depth": term("technical word for bit depth"),
    "proper": term("technical word for proper"),
    "remux": term("technical word for remux"),
    "three_d": term("technical word for three d"),
    "bitrate": term("technical word for bitrate"),
    "sample_rate": term("technical word for sample rate"),
}


def last_match(pattern: re.Pattern[str], text: str, start: int, end: int) -> re.Match[str] | None:
    """The last place where a pattern matches."""
    matches = list(pattern.finditer(text, start, end))
    return matches[-1] if matches else None


def number_of(text: str) -> int:
    return int(text) if text.isdigit() else PART_NUMBERS[text.lower()]


def leading_bracket(seen: Scan, work: Work) -> int:
    """Skip a site or take a group that stands in brackets before everything; returns where the name begins."""
    site = _SITE_FIRST.match(seen.text)
    begin = site.end() if site else 0
    if site:
        work.ignored.append(site.span("site"))
    while seen.brackets and seen.text[begin:].lstrip(" .-_").startswith(("[", "(", "{")):
        bracket = next((b for b in seen.brackets if b.start >= begin), None)
        if bracket is None or seen.text[begin : bracket.start].strip(" .-_"):
            break
        inner = bracket.inner.strip()
        if MARK.fullmatch(inner):
            break
        if bracket.technical and not inner.isdigit() and _has_words_outside(seen, bracket.end):
            begin = bracket.end
            continue  # `[1080p] Title`: its words are taken with the others
        if SITE.match(inner) or inner.lower().startswith("www"):
            work.ignored.append((bracket.start, bracket.end))
        elif (
            bracket.technical
            or bracket.used
            or not inner
            or inner.isdigit()
            or seen.text[bracket.start] != "["
            or "release" in work.technical
            or not seen.text[bracket.end :].strip()
        ):
            break
        else:
            work.technical["release"] = (inner, bracket.start, bracket.end, term("group in brackets at the start"))
        bracket.used = True
        begin = bracket.end
    return begin


def _has_words_outside(seen: Scan, start: int) -> bool:
    """Whether letters stand outside of all brackets from there on."""
    inside = [range(bracket.start, bracket.end) for bracket in seen.brackets]
    return any(
        letter.isalpha() and not any(start + place in span for span in inside)
        for place, letter in enumerate(seen.text[start:])
    )


def tail_start(seen: Scan, anchor: int, *, loose: bool) -> int:
    """Where the technical part begins, at or after `anchor`; `loose` lets weak words begin it."""
    size = len(seen.text)
    closing = [b for b in seen.brackets if b.technical]
    first = next(
        (
            t
            for t in seen.techs
            if t.start >= anchor and (t.strong or loose or any(b.start < t.start < b.end for b in closing))
        ),
        None,
    )
    if first is None:
        last = _trailing_run(seen, anchor)
        after_dash = (
            last is not None and seen.text[:last].endswith(" - ") and any(c.isalnum() for c in seen.text[anchor:last])
        )
        return last if last is not None and (seen.dotted or after_dash or is_loud(seen, 0, last, size)) else size
    place = seen.techs.index(first)
    start, token = first.start, first.first
    while place > 0:
        earlier = seen.techs[place - 1]
        if (
            earlier.start < anchor
            or earlier.last != token - 1
            or any(b.start < first.start < b.end for b in seen.brackets)
        ):
            break
        if earlier.first == 0 or (" - " in seen.text[earlier.end : start]):
            break
        place, start, token = place - 1, earlier.start, earlier.first
    around = next((b for b in seen.brackets if b.start < start < b.end), None)
    if around is not None:
        return around.start
    return start


def is_loud(seen: Scan, begin: int, start: int, end: int) -> bool:
    """Whether a stretch is in capitals and what stands before it, from `begin` on, is not: `S02E05 FRENCH`."""
    shown = seen.text[start:end].strip()
    return shown.isupper() and len(shown) > 3 and not seen.text[begin:start].isupper()


def in_a_label(seen: Scan, tech: Tech) -> bool:
    """`- Dad's VHS transfer`: an ordinary word with words of no table on both
    sides, after a dash, is none of the trade."""
    if tech.first == 0 or tech.last + 1 >= len(seen.tokens):
        return False
    known = {index for other in seen.techs for index in range(other.first, other.last + 1)}
    dash = seen.text.rfind(" - ", 0, tech.start)
    before, after = seen.tokens[tech.first - 1], seen.tokens[tech.last + 1]
    return (
        dash >= 0
        and before[0] > dash
        and tech.first - 1 not in known
        and tech.last + 1 not in known
        and seen.text[tech.end : after[0]] == " "
    )


def _trailing_run(seen: Scan, anchor: int) -> int | None:
    start, index = None, len(seen.tokens)
    for tech in reversed(seen.techs):
        if tech.last != index - 1 or tech.start < anchor or tech.first == 0:
            break
        start, index = tech.start, tech.first
    return start


def take_technical(seen: Scan, work: Work, start: int) -> None:
    """State the technical words from `start` on, and those in brackets of their own."""
    many: dict[str, list[Any]] = {"audio_codec": [], "hdr": [], "languages": []}
    places: dict[str, list[int]] = {}
    closed = [b for b in seen.brackets if b.technical]
    for tech in seen.techs:
        if tech.start < start and not any(b.start < tech.start < b.end for b in closed):
            continue
        if not tech.facts:
            work.ignored.append((tech.start, tech.end))
        for name, value in tech.facts:
            if name == "edition":
                follows = work.edition is not None and not seen.text[work.edition[2] : tech.start].strip(" ._")
                if work.edition is None or follows:  # `Extended Remastered` is one cut
                    first = tech.start if work.edition is None else work.edition[1]
                    words = tidy_title(seen.text[first : tech.end], dotted=seen.dotted)
                    work.edition = (words, first, tech.end, term("word for a cut or an issue"))
            elif name in many:
                if value not in many[name]:
                    many[name].append(value)
                places.setdefault(name, []).extend((tech.start, tech.end))
            elif name not in work.technical:
                work.technical[name] = (value, tech.start, tech.end, _RULES.get(name, _TECHNICAL))
    for name, values in many.items():
        if values and name not in work.technical:
            shown = values if name == "audio_codec" else sorted(values)
            work.technical[name] = (
                shown,
                min(places[name]),
                max(places[name]),
                _RULES.get(name, _TECHNICAL),
            )
    _take_release(seen, work, start)


def _take_release(seen: Scan, work: Work, start: int) -> None:
    if "release" in work.technical:
        return
    match = RELEASE.search(seen.text)
    if match is None or match.start() < start or not (seen.techs or seen.dotted):
        return
    if seen.text[: match.start()].endswith(" ") or any(
        tech.end > match.start("group") >= tech.start for tech in seen.techs
    ):
        return
    if not any(tech.end <= match.start() for tech in seen.techs if tech.start >= start) and not (
        seen.dotted and start < len(seen.text)
    ):
        return
    if match["group"].isdigit() and len(match["group"]) < 3:
        return
    work.technical["release"] = (
        match["group"],
        match.start("group"),
        match.end("group"),
        term("group after the last dash"),
    )


def take_edition(seen: Scan, work: Work, start: int) -> None:
    """Editions that are no fixed word: `{edition-…}`, `40th Anniversary Edition`, `[Collector's Edition]`."""
    for bracket in seen.brackets:
        if bracket.used:
            continue
        brace = _EDITION_BRACE.match(bracket.inner.strip())
        words = (
            brace["words"]
            if brace
            else bracket.inner.strip()
            if _EDITION_WORDS.search(bracket.inner.strip()) and bracket.start >= start
            else None
        )
        if words:
            at = bracket.start + 1 + (len("edition-") if brace else 0)
            work.edition = (tidy_title(words, dotted=seen.dotted), at, bracket.end - 1, term("edition in brackets"))
            bracket.used = True
            return
    match = _ORDINAL_EDITION.search(seen.text, start)
    if match:
        work.edition = (
            tidy_title(match.group(), dotted=seen.dotted),
            match.start(),
            match.end(),
            "anniversary edition",
        )


def residue(seen: Scan, work: Work, start: int, end: int) -> list[tuple[int, int]]:
    """The stretches between `start` and `end` that no fact, bracket or technical word has taken."""
    taken = sorted(
        [(t.start, t.end) for t in seen.techs if t.end > start]
        + [(b.start, b.end) for b in seen.brackets if b.end > start]
        + [(f[1], f[2]) for f in (work.part, work.edition) if f]
        + [(f[1], f[2]) for f in work.technical.values()]
    )
    rest: list[tuple[int, int]] = []
    place = start
    for left, right in [*taken, (end, end)]:
        if left > place and any(c.isalnum() for c in seen.text[place : min(left, end)]):
            rest.append((place, min(left, end)))
        place = max(place, right)
    return rest


def title_of(seen: Scan, start: int, end: int, rule: str) -> Found | None:
    raw = seen.text[start:end]
    here = raw.strip(" -–_")
    text = tidy_title(raw, dotted=seen.dotted or (here.count(".") > 1 and " " not in here))
    if not text or not any(c.isalnum() or ord(c) > 0x2000 for c in text):
        return None
    while start < end and seen.text[start] in " ._-–([":
        start += 1
    while end > start and seen.text[end - 1] in " ._-–([":
        end -= 1
    return (text, start, end, rule)


def split_aka(seen: Scan, work: Work) -> None:
    """`One Title AKA Another` states two."""
    if work.title is None:
        return
    _, start, end, rule = work.title
    match = AKA.search(seen.text, start)
    if match is None:
        return
    bracket = next((b for b in seen.brackets if b.start < match.end() < b.end), None)
    if match.start() < end:
        # `One Title (2001) AKA Another (2001)`: the year is said of each.
        said = {year[0] for year in seen.years if year[3]}
        years = (b.start for b in seen.brackets if start < b.start < match.start() and b.start + 1 in said)
        work.title = title_of(seen, start, next(years, match.start()), rule) or work.title
        last = max(end, match.end())
    elif bracket is not None:
        bracket.used = True
        last = bracket.end - 1
    else:
        opened = (b.start for b in seen.brackets if b.start > match.end())
        last = min(tail_start(seen, match.end(), loose=True), next(opened, len(seen.text)))
    if work.part is not None and work.part[1] > match.end():
        last = min(last, work.part[1])
    third = AKA.search(seen.text, match.end(), last)
    last = third.start() if third else last
    alternative = title_of(seen, match.end(), last, term("second title after AKA"))
    if alternative:
        text, left, right, why = alternative
        work.alt_title = (text.rstrip(")]"), left, right, why)
