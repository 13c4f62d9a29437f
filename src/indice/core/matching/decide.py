"""How like two things are, part by part, and whether that is sure enough to act on alone.

The score is the weighted mean of the parts that both sides state, so a silent side neither helps nor hurts. A part
that contradicts (another year, another running time) is a veto against deciding alone, however like the titles are.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Literal

from rapidfuzz.distance import OSA, JaroWinkler
from rapidfuzz.fuzz import ratio, token_sort_ratio
from rapidfuzz.process import cdist

from ..phrase import Phrase, listed, phrase
from ..reading.scan import without_accents

__all__ = ["Candidate", "Evidence", "Part", "Verdict", "decide", "likeness", "score"]

TAKE_ALONE = 0.90
"""Least score of what is taken without asking."""
TAKE_MISSPELT = 0.84
"""The same where everything else agrees: two features that are right by chance are rarer than a slip of the pen."""
CLEAR_LEAD = 0.12
SLIPPED_TITLE = 0.82
"""A title that is like this may be misspelt."""
LEAD = 0.06
"""Least lead over the next one."""
LIKE_AT_ALL = 0.7
"""Least likeness of the titles of what is worth a look."""
WORTH_SHOWING = 0.42
"""Below this a candidate is no match at all."""

_CONFIRMING = frozenset(("year", "running time", "identifier", "tracks", "episodes", "episode titles"))
"""Parts of which one must agree beside the title, before something is taken without asking."""
SAME_TRACKS = 0.85
"""From here on the track list is that of an album, a missing track allowed."""
OTHER_ISSUE = 0.03
"""Track lists whose likeness differs by as much are two issues of an album."""
LENGTH_SLACK_SECONDS = 4.0
"""So much may the length of a track differ between two rips of one recording."""
_ROMAN = {
    **{
        sign: str(n)
        for n, sign in enumerate(
            ["ii", "iii", "iv", "v", "vi", "vii", "viii", "ix", "x", "xi", "xii", "xiii", "xiv", "xv"], 2
        )
    },
}
"""Behind the first word; at the beginning they are letters."""
_COUNTED = {
    word: str(n)
    for n, word in enumerate(
        [
            "one",
            "two",
            "three",
            "four",
            "five",
            "six",
            "seven",
            "eight",
            "nine",
            "ten",
            "eleven",
            "twelve",
            "thirteen",
            "fourteen",
            "fifteen",
            "sixteen",
            "seventeen",
            "eighteen",
            "nineteen",
            "twenty",
        ],
        1,
    )
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What is known of one side: of the files, or of a source's candidate."""

    titles: tuple[str, ...]
    """All forms of the title, the surest first."""
    year: int | None = None
    minutes: float | None = None
    """Running time of a film."""
    artists: tuple[str, ...] = ()
    tracks: tuple[str, ...] = ()
    """Titles of an album's tracks, in order."""
    seconds: tuple[float, ...] = ()
    """Lengths of an album's tracks."""
    episodes: frozenset[tuple[int, int]] = frozenset()
    """Season and number of the episodes."""
    stories: tuple[str, ...] = ()
    """Titles of a series' episodes."""
    ids: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """Something a source knows."""

    id: str
    name: str
    description: str = ""
    evidence: Evidence
    asked: bool = False
    """Whether its fields were fetched; else only its name and description are known."""
    rank: float = 0.0
    """The source's own score; it tells apart candidates that were not asked."""
    is_of_kind: bool = True
    """Whether it is known to be of the entry's own type; until then it is no rival."""


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a score."""

    name: str
    likeness: float
    """0 to 1."""
    weight: float
    here: str
    """What the files say."""
    there: str
    """What the candidate says."""
    veto: bool = False
    """It contradicts so much that nothing is taken without asking."""


@dataclass(frozen=True, slots=True)
class Verdict:
    """What follows from the candidates."""

    state: Literal["settled", "waiting", "none"]
    ranked: tuple[tuple[Candidate, float, tuple[Part, ...]], ...] = field(default=())
    note: str = ""


@lru_cache(maxsize=65536)
def _spoken(title: str) -> str:
    words = without_accents(title).split()
    return " ".join(
        _COUNTED.get(word) or (_ROMAN.get(word, word) if place else word) for place, word in enumerate(words)
    )


def likeness(one: str, other: str) -> float:
    """How like two titles are, 0 to 1: letters, order of words, numerals; a differing number counts heavily."""
    left, right = _spoken(one), _spoken(other)
    if not left or not right:
        return 0.0
    if left == right:
        return 1.0
    value = max(
        JaroWinkler.similarity(left, right) * 0.6 + token_sort_ratio(left, right) / 100 * 0.4,
        token_sort_ratio(left, right) / 100,
        OSA.normalized_similarity(left, right),  # letters or a blank that changed places (`for oCpper`)
    )
    if sorted(re.findall(r"\d+", left)) != sorted(re.findall(r"\d+", right)):
        value *= 0.72
    if left.startswith(right + " ") or right.startswith(left + " "):
        value = max(value, 0.80)
    return min(value, 0.97)


def _titles(here: Evidence, there: Evidence) -> Part:
    best, mine, theirs = max(
        ((likeness(a, b), a, b) for a in here.titles for b in there.titles),
        default=(0.0, "", ""),
        key=lambda found: found[0],
    )
    return Part("title", best, 5.0, mine, theirs, veto=best < 0.75)


def _year(here: Evidence, there: Evidence) -> Part | None:
    if here.year is None or there.year is None:
        return None
    apart = abs(here.year - there.year)
    return Part("year", {0: 1.0, 1: 0.8, 2: 0.35}.get(apart, 0.0), 3.0, str(here.year), str(there.year), veto=apart > 1)


def _minutes(here: Evidence, there: Evidence) -> Part | None:
    if not here.minutes or not there.minutes:
        return None
    apart = abs(here.minutes - there.minutes) / max(here.minutes, there.minutes)
    if here.year is not None and here.year == there.year:
        apart = min(apart, abs(apart - SPED_UP) + 0.01)  # shown a little faster where pictures come 25 a second
    return Part(
        "running time",
        max(0.0, 1.0 - apart * 4),
        1.5,
        f"{here.minutes:.0f} min",
        f"{there.minutes:.0f} min",
        veto=apart > 0.3,
    )


def _artists(here: Evidence, there: Evidence) -> Part | None:
    if not here.artists or not there.artists:
        return None
    best = max((likeness(a, b), a, b) for a in here.artists for b in there.artists)
    return Part("artist", best[0], 4.0, best[1], ", ".join(there.artists), veto=best[0] < 0.8)


def _tracks(here: Evidence, there: Evidence) -> Part | None:
    """How much of the track list is there, how much of theirs is missing here, and whether the lengths agree."""
    if not here.tracks or not there.tracks:
        return None
    pairs = _pairs(here.tracks, there.tracks)
    share = len(pairs) / len(here.tracks)
    timed = [
        abs(here.seconds[mine] - there.seconds[theirs]) <= LENGTH_SLACK_SECONDS
        for mine, theirs in pairs
        if mine < len(here.seconds) and theirs < len(there.seconds) and here.seconds[mine] and there.seconds[theirs]
    ]
    lengths = 0.5 + 0.5 * sum(timed) / len(timed) if timed else 1.0
    complete = 1 - 0.6 * abs(len(here.tracks) - len(there.tracks)) / max(len(here.tracks), len(there.tracks))
    value = share * complete * lengths
    said = f"{len(pairs)} of {len(there.tracks)}"
    return Part("tracks", value, 4.0, f"{len(here.tracks)}", said, veto=share < 0.6 or lengths < 0.7)


def _pairs(mine: Sequence[str], theirs: Sequence[str]) -> list[tuple[int, int]]:
    """Places of titles that are the same on both sides, a misspelling allowed."""
    places = {_spoken(title): place for place, title in reversed(list(enumerate(theirs)))}
    pairs: list[tuple[int, int]] = []
    rest: list[int] = []
    for place, title in enumerate(mine):
        match = places.get(_spoken(title))
        if match is None:
            rest.append(place)
        else:
            pairs.append((place, match))
    if rest:
        names = list(places)
        near = cdist([_spoken(mine[place]) for place in rest], names, scorer=ratio, score_cutoff=86)
        best = near.argmax(axis=1)
        pairs += [
            (place, places[names[at]]) for row, (place, at) in enumerate(zip(rest, best, strict=True)) if near[row, at]
        ]
    return pairs


def _titles_of_episodes(here: Evidence, there: Evidence) -> Part | None:
    """Of a series: how many of the episode titles that the names give are there; the household seldom has them all."""
    if not here.stories or not there.stories:
        return None
    found = len(_pairs(here.stories, there.stories))
    share = found / len(here.stories)
    return Part(
        "episode titles", share, 4.0, f"{len(here.stories)}", f"{found} of {len(here.stories)}", veto=share < 0.5
    )


def _episodes(here: Evidence, there: Evidence) -> Part | None:
    if not here.episodes or not there.episodes:
        return None
    ordinary = {pair for pair in here.episodes if pair[0] != 0} or here.episodes
    share = len(ordinary & there.episodes) / len(ordinary)
    return Part("episodes", share, 2.0, f"{len(here.episodes)}", f"{len(there.episodes)}", veto=share < 0.5)


def _ids(here: Evidence, there: Evidence) -> Part | None:
    if not here.ids:
        return None
    same = bool(here.ids & there.ids)
    return Part(
        "identifier",
        1.0 if same else 0.0,
        60.0 if same else 2.0,
        ", ".join(sorted(here.ids)),
        ", ".join(sorted(there.ids)),
        veto=not same,
    )


def score(here: Evidence, there: Evidence) -> tuple[float, tuple[Part, ...]]:
    """The weighted mean of the parts, 0 to 1, and the parts themselves."""
    title, year = _titles(here, there), _year(here, there)
    lists: list[Part | None] = []
    if title.likeness >= LIKE_AT_ALL or here.ids:  # else it is thrown away, and lists are the dear part
        tracks = _tracks(here, there)
        if (
            year is not None
            and tracks is not None
            and tracks.likeness >= SAME_TRACKS
            and here.seconds
            and there.seconds
        ):
            year = replace(year, weight=0.5, veto=False)  # the track list decides, whatever year the folder says
        lists = [tracks, _titles_of_episodes(here, there), _episodes(here, there)]
    found = [title, year, _minutes(here, there), _artists(here, there), *lists, _ids(here, there)]
    parts = tuple(part for part in found if part is not None)
    return sum(part.likeness * part.weight for part in parts) / sum(part.weight for part in parts), parts


def _is_named(parts: tuple[Part, ...]) -> bool:
    """Whether an identifier in the name says that it is this one."""
    return any(part.name == "identifier" and not part.veto for part in parts)


def _is_quite_another(parts: tuple[Part, ...]) -> bool:
    """Whether a candidate has another title and another year or length, and nothing
    that speaks for it: not worth a look."""
    return parts[0].veto and any(part.veto for part in parts[1:]) and not any(part.likeness > 0.9 for part in parts[1:])


def _is_same_issue(one: Candidate, other: Candidate) -> bool:
    """Whether two albums are issues with the same tracks: then either is right."""
    mine, theirs = one.evidence.tracks, other.evidence.tracks
    return bool(mine) and [*map(_spoken, mine)] == [*map(_spoken, theirs)]


_Row = tuple[Candidate, float, tuple[Part, ...]]


def _by_issue(worth: tuple[_Row, ...]) -> tuple[tuple[_Row, ...], list[Candidate]]:
    """Among issues of one album the one with the likest track list goes first;
    returns the others, which are no rivals."""

    def tracks(row: _Row) -> float:
        return next((part.likeness for part in row[2] if part.name == "tracks"), 0.0)

    issues = [
        row
        for row in worth
        if tracks(row) and not any(part.veto for part in row[2] if part.name in ("title", "artist"))
    ]
    if len(issues) < 2:
        return worth, []
    first, second, *_ = sorted(issues, key=lambda row: -tracks(row))
    if tracks(first) < SAME_TRACKS or tracks(first) - tracks(second) < OTHER_ISSUE:
        return worth, []
    return (first, *(row for row in worth if row is not first)), [row[0] for row in issues if row is not first]


_LENGTH = "running time"
SPED_UP = 0.04
"""By so much a film of 24 pictures a second is shorter at 25."""
SAME_LENGTH = 0.92
"""From here on the running time is that of the film (two minutes in a hundred)."""
OTHER_LENGTH = 0.8
"""Below this it is another film's, or another cut."""
_LISTS = frozenset(("identifier", "tracks", "episodes", "episode titles"))


def _is_twin(best: tuple[Part, ...], rival: tuple[Part, ...]) -> bool:
    """Whether a rival has the same title in the year before or after: a year in a
    name may be one off, so neither is sure.

    What lists or identifiers tell apart is none.
    """
    mine, theirs = ({part.name: part for part in parts} for parts in (best, rival))
    if (
        _LENGTH in mine
        and _LENGTH in theirs
        and mine[_LENGTH].likeness >= SAME_LENGTH > OTHER_LENGTH > theirs[_LENGTH].likeness
    ):
        return False  # the year may be one off, but not the year and the length
    return (
        not _LISTS & mine.keys()
        and theirs["title"].likeness >= mine["title"].likeness
        and "year" in theirs
        and not any(part.veto for part in rival)
    )


def _is_open(best: tuple[Part, ...], rival: _Row) -> bool:
    """Whether, with no year to go by, a namesake may be it as well: its length is not known, or is not another.

    One length that agrees says little while another of the same title was never measured.
    """
    names = {part.name for part in best}
    if "year" in names or _LISTS & names or not rival[0].is_of_kind or rival[2][0].likeness < best[0].likeness:
        return False
    length = next((part for part in rival[2] if part.name == _LENGTH), None)
    return length is None or length.likeness >= OTHER_LENGTH


def _is_certain(parts: tuple[Part, ...]) -> bool:
    """Whether what is beside the title leaves no room for another: the track list or
    the stories, or year and length both."""
    by_name = {part.name: part for part in parts}
    exact = by_name.get("year") is not None and by_name["year"].likeness == 1.0
    timed = _LENGTH in by_name and by_name[_LENGTH].likeness >= SAME_LENGTH
    listed = any(name in by_name and by_name[name].likeness >= SAME_TRACKS for name in ("tracks", "episode titles"))
    return listed or (exact and timed)


def _is_a_slip(parts: tuple[Part, ...]) -> bool:
    """Whether all that is known agrees but for a letter of the title: somebody misspelt it."""
    return parts[0].likeness >= SLIPPED_TITLE and _is_certain(parts)


def _is_looked_at(row: _Row) -> bool:
    """Whether a candidate was looked at closely and agrees: silence about a feature
    is no agreement, and never outranks it."""
    return row[0].asked and not any(part.veto for part in row[2]) and len(row[2]) > 1


def _is_rival(row: _Row, best: _Row) -> bool:
    """Whether a candidate speaks against taking the best one: it was looked at,
    or the source itself ranks it as high."""
    if not row[0].is_of_kind:
        return False
    if row[0].asked:
        return True
    if best[0].asked and _is_certain(best[2]):
        return False
    is_dated = any(part.name == "year" for part in best[2])
    return (row[0].rank >= best[0].rank or not is_dated) and row[2][0].likeness >= best[2][0].likeness


def decide(here: Evidence, candidates: Sequence[Candidate]) -> Verdict:
    """Rank the candidates, best first, and say whether the first may be taken alone.

    Ties are broken by the id, so that the order in which a source answers does not matter.
    """
    ranked = sorted(
        ((c, *score(here, c.evidence)) for c in candidates),
        key=lambda row: (not _is_looked_at(row), -row[1], -row[0].rank, row[0].id),
    )
    worth = tuple(
        row
        for row in ranked
        if _is_named(row[2])
        or (row[1] >= WORTH_SHOWING and row[2][0].likeness >= LIKE_AT_ALL and not _is_quite_another(row[2]))
    )
    if not worth and here.ids:
        return Verdict("waiting", (), phrase("The source does not know the identifier that the name gives."))
    if not worth:
        return Verdict("none", (), phrase("No source knows anything like it."))
    worth, others = _by_issue(worth)
    best, value, parts = worth[0]
    vetoes = [part.name for part in parts if part.veto and not (part.name in ("title", "year") and _is_named(parts))]
    confirmed = any(part.name in _CONFIRMING and part.likeness >= 0.75 for part in parts)
    rivals = [
        row
        for row in worth[1:]
        if _is_rival(row, worth[0]) and row[0] not in others and not _is_same_issue(best, row[0])
    ]
    twins = [row for row in worth[1:] if _is_twin(parts, row[2]) or _is_open(parts, row)]
    lead = 0.0 if twins else value - rivals[0][1] if rivals else 1.0
    rivals = twins or rivals
    if vetoes:
        return Verdict("waiting", worth, _against(vetoes))
    if value < (TAKE_MISSPELT if _is_a_slip(parts) and lead >= CLEAR_LEAD else TAKE_ALONE):
        return Verdict("waiting", worth, phrase("Like, but not like enough to be sure."))
    if lead < LEAD:
        return Verdict("waiting", worth, _nearly_as_like(rivals[0][0]))
    if not confirmed or not best.asked:
        return Verdict("waiting", worth, phrase("Only the title agrees; nothing else confirms it."))
    agree = [_CALLED[p.name] for p in parts if p.name != "title" and p.likeness > 0.7]
    return Verdict("settled", worth, phrase("Title and {parts} agree.", parts=listed(agree)))


def _against(parts: Sequence[str]) -> Phrase:
    if len(parts) > 1:
        return phrase("These speak against it: {parts}.", parts=listed([_CALLED[name] for name in parts]))
    return _SPEAKS[parts[0]]


def _nearly_as_like(rival: Candidate) -> Phrase:
    return phrase("{name} is nearly as like.", name=rival.description or rival.name)


_CALLED = {
    "title": phrase("title"),
    "year": phrase("year"),
    "running time": phrase("running time"),
    "artist": phrase("artist"),
    "tracks": phrase("tracks"),
    "episodes": phrase("episodes"),
    "episode titles": phrase("episode titles"),
    "identifier": phrase("identifier"),
}
_SPEAKS = {
    "title": phrase("The title speaks against it."),
    "year": phrase("The year speaks against it."),
    "running time": phrase("The running time speaks against it."),
    "artist": phrase("The artist speaks against it."),
    "tracks": phrase("The tracks speak against it."),
    "episodes": phrase("The episodes speak against it."),
    "episode titles": phrase("The episode titles speak against it."),
    "identifier": phrase("The identifier speaks against it."),
}
