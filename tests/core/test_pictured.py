"""Since when pictured subtitles stand: by the compositions of presentation graphics, or by how long packets say."""

from __future__ import annotations

import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playing.pictured import Told, shown_since

EPOCH, COME_IN, NORMAL = 0x80, 0x40, 0x00


def segment(kind: int, body: bytes) -> bytes:
    return bytes([kind]) + struct.pack(">H", len(body)) + body


def composed(state: int, objects: int) -> bytes:
    """A display set: its composition, a window and its end."""
    head = struct.pack(">HHBHBBBB", 1920, 1080, 0x10, 1, state, 0, 0, objects)
    return segment(0x16, head + bytes(8 * objects)) + segment(0x17, bytes(10)) + segment(0x80, b"")


def apart(content: bytes) -> list[bytes]:
    """The segments of a display set as packets of their own, as a transport stream has them."""
    found, place = [], 0
    while place < len(content):
        length = 3 + int.from_bytes(content[place + 1 : place + 3], "big")
        found.append(content[place : place + length])
        place += length
    return found


SETS = [(5.0, EPOCH, 1), (7.0, NORMAL, 0), (9.0, EPOCH, 2), (10.0, NORMAL, 2), (14.0, COME_IN, 1), (16.0, EPOCH, 0)]


@pytest.mark.parametrize(
    ("moment", "since"),
    [(4.0, None), (5.5, 5.0), (7.5, None), (9.5, 9.0), (12.0, 9.0), (15.0, 14.0), (17.0, None), (40.0, None)],
)
@pytest.mark.parametrize("is_apart", [False, True])
def test_compositions_say_when_they_begin_and_when_they_are_cleared(
    moment: float, since: float | None, is_apart: bool
) -> None:
    told = [
        Told(at, 0.0, content)
        for at, state, objects in SETS
        for content in (apart(composed(state, objects)) if is_apart else [composed(state, objects)])
    ]
    assert shown_since(told, "hdmv_pgs_subtitle", moment) == since


@pytest.mark.parametrize(
    ("moment", "since"),
    [(9.0, None), (10.5, 10.0), (12.5, 10.0), (13.5, 12.0), (18.0, None), (25.0, 20.0), (29.0, None)],
)
def test_others_say_how_long_they_stand_or_stand_for_a_while(moment: float, since: float | None) -> None:
    told = [Told(10.0, 3.0, b"x"), Told(12.0, 4.0, b"x"), Told(20.0, 0.0, b"x")]
    assert shown_since(told, "dvd_subtitle", moment) == since


@given(st.lists(st.tuples(st.floats(0, 100), st.binary(max_size=60)), max_size=8), st.floats(0, 100))
def test_whatever_stands_in_the_packets_what_is_found_was_told_before(
    packets: list[tuple[float, bytes]], moment: float
) -> None:
    told = [Told(at, 0.0, content) for at, content in sorted(packets)]
    for codec in ("hdmv_pgs_subtitle", "dvb_subtitle"):
        since = shown_since(told, codec, moment)
        assert since is None or since in {one.moment for one in told if one.moment <= moment}
