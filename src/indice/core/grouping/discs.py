"""Discs that were copied as they are: which of the files in their folders are the film, and in which order.

A DVD (`VIDEO_TS`) holds sets of titles, `VTS_02_1.VOB`, `VTS_02_2.VOB` …, each cut into pieces of a gigabyte;
the piece 0 of a set and `VIDEO_TS.VOB` are menus. A Blu-ray (`BDMV/STREAM`) holds a stream a title,
`00003.m2ts`. The film is what lasts longest.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Sequence

__all__ = ["disc_of", "feature_of"]

_STRUCTURE = re.compile(r"(?:^|/)(?:VIDEO_TS|BDMV)(?=/)", re.IGNORECASE)
_PIECE = re.compile(r"^VTS_(?P<set>[0-9]{2})_(?P<piece>[0-9])\.VOB$", re.IGNORECASE)
_STREAM = re.compile(r"^[0-9]{5}\.(?:m2ts|mts)$", re.IGNORECASE)


def disc_of(path: str) -> str | None:
    """The folder of the disc's own structure that a file lies in; None for what lies in none."""
    ends = [found.end() for found in _STRUCTURE.finditer(path)]
    return path[: ends[-1]] if ends else None


def feature_of(files: Iterable[tuple[str, float | None]]) -> Sequence[str]:
    """Paths of the film among the files (path and seconds, where known) of one disc,
    in their order; empty where none is one.

    What lasts longest is the film. As long as no lengths are known, the set with most pieces is taken, then the first.
    """
    titles: dict[str, list[tuple[str, float]]] = defaultdict(list)
    for path, seconds in files:
        name = path.rpartition("/")[2]
        piece = _PIECE.match(name)
        if piece and piece["piece"] != "0":
            titles[piece["set"]].append((path, seconds or 0.0))
        elif _STREAM.match(name):
            titles[name].append((path, seconds or 0.0))
    if not titles:
        return ()

    def rank(title: str) -> tuple[float, int, list[int]]:
        pieces = titles[title]
        return sum(seconds for _, seconds in pieces), len(pieces), [-ord(letter) for letter in title]

    return sorted(path for path, _ in titles[max(titles, key=rank)])
