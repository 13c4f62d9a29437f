"""What codecs are called, and whether who takes one takes another."""

from __future__ import annotations

import pytest

from indice.core.playing.codecs import grade_of, read_can, takes


@pytest.mark.parametrize(
    ("said", "box", "mark", "taken"),
    [
        ('video/mp4; codecs="avc1.640028"', "mp4", "avc1.640028", True),
        ('video/mp4; codecs="avc1.640028"', "mp4", "avc1.4D401E", True),
        ('video/mp4; codecs="avc1.640028"', "mp4", "avc1.640033", False),
        ('video/mp4; codecs="avc1.4D4028"', "mp4", "avc1.640028", False),
        ('video/mp4; codecs="avc1.640033"', "mp4", "avc1.6E0033", False),
        ('video/mp4; codecs="avc1.6E0033"', "mp4", "avc1.640033", True),
        ("video/mp4;codecs=avc1.640028", "mp4", "avc1.640028", True),
        ('video/mp4; codecs="avc1.640028, mp4a.40.2"', "mp4", "mp4a.40.2", True),
        ('audio/mp4; codecs="mp4a.40.5"', "mp4", "mp4a.40.2", True),
        ('audio/mp4; codecs="mp4a.40.2"', "mp4", "mp4a.40.5", False),
        ('audio/mp4; codecs="mp4a.6B"', "mp4", "mp3", True),
        ('video/mp4; codecs="avc1.640028"', "matroska", "avc1.640028", False),
        ('video/x-matroska; codecs="avc1.640028"', "matroska", "avc1.640028", True),
        ('video/webm; codecs="vp9"', "webm", "vp09.00.41.08", True),
        ('video/webm; codecs="vp9"', "webm", "vp09.02.41.10", False),
        ('video/webm; codecs="vp09.02.51.10"', "webm", "vp09.00.51.08", True),
        ('video/mp4; codecs="hvc1.2.4.L153.B0"', "mp4", "hvc1.1.6.L120.B0", True),
        ('video/mp4; codecs="hev1.1.6.L120.90"', "mp4", "hvc1.1.6.L120.B0", True),
        ('video/mp4; codecs="hvc1.1.6.L93.B0"', "mp4", "hvc1.1.6.L120.B0", False),
        ('video/mp4; codecs="av01.0.05M.08"', "mp4", "av01.0.04M.08", True),
        ('video/mp4; codecs="av01.0.05M.08"', "mp4", "av01.0.04M.10", False),
        ("audio/mpeg", "mp3", "mp3", True),
        ("audio/flac", "flac", "flac", True),
        ('audio/wav; codecs="1"', "wav", "1", True),
        ("video/mp4", "mp4", "avc1.42E01E", False),
        ("nonsense", "mp4", "avc1.42E01E", False),
        ('video/mp4; codecs="avc1.zz"', "mp4", "avc1.42E01E", False),
        ('video/mp4; codecs="avc1.640028"', "mp4", "", False),
    ],
)
def test_a_player_takes_what_it_names_and_what_is_less(said: str, box: str, mark: str, taken: bool) -> None:
    assert takes(read_can([said]), box, mark) is taken


def test_high_dynamic_range_is_taken_only_where_it_is_named() -> None:
    plain = read_can(['video/webm; codecs="vp09.02.51.10"'])
    named = read_can(['video/webm; codecs="vp09.02.51.10.01.09.16.09"'])
    mark = "vp09.02.41.10.01.09.16.09"
    assert not takes(plain, "webm", mark, transfer="pq")
    assert takes(named, "webm", mark, transfer="pq")
    assert not takes(named, "webm", mark, transfer="hlg")
    assert takes(named, "webm", "vp09.00.41.08"), "and less than that"


@pytest.mark.parametrize("mark", ["", "x", "avc1.", "avc1.1", "hvc1.x", "vp09.0", "av01.a.b.c", "mp4a.99", "mp4a.40.x"])
def test_a_name_that_says_nothing_is_no_error(mark: str) -> None:
    grade_of(mark)
