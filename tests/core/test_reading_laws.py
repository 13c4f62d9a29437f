"""Laws of reading: any path at all is read, spans are sound, and the order of reading does not matter."""

from __future__ import annotations

import json
import os
import unicodedata
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from indice.core.reading.model import KINDS, LIBRARIES
from indice.core.reading.reader import read_path

libraries = st.sampled_from(LIBRARIES)
PARTS = (
    "Harbour",
    "Glass",
    "(1987)",
    "S01E02",
    "1x03",
    "- 05",
    "[1080p]",
    "x264-TERN",
    "Season 2",
    "Staffel 1",
    "第05集",
    "feat. Odile",
    "cd2",
    "2019-07-20",
    "IMG_1234",
    "{tt1234567}",
    "…",
    "é",
    "[",
    ")",
    "..",
    "Vol. 3",
    "CD1",
    "The",
    ", The",
)
names = st.lists(st.sampled_from(PARTS) | st.text(max_size=6), min_size=1, max_size=8).map(" ".join)
paths = st.tuples(
    st.lists(names, min_size=1, max_size=4),
    st.sampled_from(("mkv", "mp3", "jpg", "srt", "lrc", "mp4", "flac", "xyz", "")),
).map(lambda made: "/".join(made[0]) + "." + made[1])


@given(st.binary(max_size=300), libraries)
@settings(max_examples=300, deadline=None)
def test_any_bytes_are_read(raw: bytes, library: str) -> None:
    assert read_path(os.fsdecode(raw), library).kind in KINDS


@given(paths, libraries)
@settings(max_examples=500, deadline=None)
def test_spans_lie_inside_and_do_not_overlap(path: str, library: str) -> None:
    for fact in read_path(path, library).facts.values():
        ordered = sorted(fact.spans)
        assert all(0 <= start <= end <= len(path) for start, end in ordered)
        assert all(one[1] <= other[0] for one, other in pairwise(ordered))


@given(st.lists(paths, min_size=2, max_size=6), libraries, st.randoms())
@settings(max_examples=100, deadline=None)
def test_the_order_of_reading_does_not_matter(several: list[str], library: str, random: object) -> None:
    first = {path: read_path(path, library).values() for path in several}
    random.shuffle(several)  # type: ignore[attr-defined]
    assert {path: read_path(path, library).values() for path in several} == first


@given(paths, libraries)
@settings(max_examples=200, deadline=None)
def test_nothing_empty_is_stated_and_json_takes_it(path: str, library: str) -> None:
    values = read_path(path, library).values()
    assert all(value not in (None, "", [], {}) for value in values.values())
    json.dumps(values)


@given(paths, libraries)
@settings(max_examples=200, deadline=None)
def test_composed_and_decomposed_letters_say_the_same(path: str, library: str) -> None:
    composed = read_path(unicodedata.normalize("NFC", path), library)
    decomposed = read_path(unicodedata.normalize("NFD", path), library)
    assert composed.kind == decomposed.kind
    assert set(composed.facts) == set(decomposed.facts)
