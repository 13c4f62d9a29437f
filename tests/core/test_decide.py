"""How a file reaches a player: the cheapest that it can take and that keeps what was wished."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playing.codecs import read_can
from indice.core.playing.decide import Unplayable, Wish, decide
from indice.core.playing.streams import Sound, Streams, Text, Video

CAN = read_can(['video/mp4; codecs="avc1.640033"', 'audio/mp4; codecs="mp4a.40.2"', "audio/mpeg"])
FILM = Video(index=0, codec="h264", mark="avc1.640028", width=1920, height=1080, rate=(24, 1))
SOUND = Sound(index=1, codec="aac", mark="mp4a.40.2", channels=2, rate=48000)
DOLBY = Sound(index=2, codec="ac3", mark="ac-3", channels=6, rate=48000)
MP4 = Streams(box="mp4", seconds=6000, size_bytes=3_000_000_000, video=FILM, sounds=(SOUND,))
MKV = replace(MP4, box="matroska")


def wish(**said: Any) -> Wish:
    """What a common browser asks for."""
    return Wish(**{"can": CAN, **said})


@pytest.mark.parametrize(
    ("streams", "asked", "mode", "reasons", "size"),
    [
        (MP4, wish(), "direct", (), (1920, 1080)),
        (MKV, wish(), "repackaged", ("box",), (1920, 1080)),
        (replace(MKV, sounds=(DOLBY,)), wish(), "converted", ("box", "sound"), (1920, 1080)),
        (replace(MP4, sounds=(SOUND, DOLBY)), wish(), "direct", (), (1920, 1080)),
        (
            replace(MP4, sounds=(SOUND, replace(SOUND, index=3))),
            wish(sound=1),
            "repackaged",
            ("other-sound",),
            (1920, 1080),
        ),
        (MP4, wish(max_height=720), "converted", ("height",), (1280, 720)),
        (MP4, wish(max_height=2160), "direct", (), (1920, 1080)),
        (MP4, wish(max_kbps=1500), "converted", ("kbps",), (854, 480)),
        (MP4, wish(max_kbps=90_000), "direct", (), (1920, 1080)),
        (MP4, wish(words=0), "converted", ("words",), (1920, 1080)),
        (replace(MP4, video=replace(FILM, is_interlaced=True)), wish(), "converted", ("interlaced",), (1920, 1080)),
        (replace(MP4, is_cut=True), wish(), "repackaged", ("cut",), (1920, 1080)),
        (
            replace(MP4, video=replace(FILM, mark="avc1.6E0028", bits=10)),
            wish(),
            "converted",
            ("picture",),
            (1920, 1080),
        ),
        (
            replace(MP4, video=replace(FILM, transfer="pq", width=3840, height=2160)),
            wish(),
            "converted",
            ("range",),
            (1920, 1080),
        ),
        (
            replace(MKV, video=replace(FILM, codec="mpeg2video", mark="")),
            wish(),
            "converted",
            ("box", "picture"),
            (1920, 1080),
        ),
        (
            replace(
                MKV, video=replace(FILM, codec="mpeg4", mark="mp4v.20.9", width=720, height=576, pixel_shape=64 / 45)
            ),
            wish(),
            "converted",
            ("box", "picture"),
            (1024, 576),
        ),
        (
            replace(MKV, video=replace(FILM, codec="mjpeg", mark="", width=640, height=480, turn=90)),
            wish(),
            "converted",
            ("box", "picture"),
            (480, 640),
        ),
    ],
)
def test_the_cheapest_way_wins(
    streams: Streams, asked: Wish, mode: str, reasons: tuple[str, ...], size: tuple[int, int]
) -> None:
    found = decide(streams, asked)
    assert (found.mode, found.reasons) == (mode, reasons)
    assert found.picture is not None and (found.picture.width, found.picture.height) == size


def test_a_picture_whose_keys_nobody_knows_is_encoded() -> None:
    found = decide(MKV, wish(), has_keys=False)
    assert found.mode == "converted" and found.picture is not None and found.picture.how == "encode"


def test_sound_alone_and_nothing_at_all() -> None:
    song = replace(MP4, box="mp3", video=None, sounds=(replace(SOUND, codec="mp3", mark="mp3"),))
    assert decide(song, wish()).mode == "direct"
    lossless = replace(song, box="mp4", sounds=(replace(SOUND, codec="alac", mark="alac"),))
    found = decide(lossless, wish())
    assert (found.mode, found.picture, found.sounds[0].how) == ("converted", None, "encode")
    with pytest.raises(Unplayable):
        decide(replace(song, sounds=()), wish())


def test_a_weak_player_gets_a_picture_that_it_can_take() -> None:
    weak = read_can(['video/mp4; codecs="avc1.42E01E"', 'audio/mp4; codecs="mp4a.40.2"'])
    found = decide(MP4, wish(can=weak))
    assert found.picture is not None
    assert found.picture.profile == "baseline" and found.picture.level <= 30 and found.picture.height < 600


@given(
    st.integers(16, 8000),
    st.integers(16, 5000),
    st.floats(0.25, 4),
    st.sampled_from([0, 90, 180, 270]),
    st.sampled_from([(24, 1), (24000, 1001), (25, 1), (60, 1), (120, 1)]),
    st.one_of(st.none(), st.integers(100, 3000)),
    st.sampled_from(["mpeg4", "h264"]),
)
def test_nothing_is_enlarged_or_bent(
    width: int, height: int, shape: float, turn: int, rate: tuple[int, int], most: int | None, codec: str
) -> None:
    video = replace(
        FILM, width=width, height=height, pixel_shape=shape, turn=turn, rate=rate, codec=codec, mark="avc1.640028"
    )
    picture = decide(replace(MKV, video=video), wish(max_height=most, words=0)).picture
    assert picture is not None
    assert picture.height <= max(video.upright[1], 2) and (most is None or picture.height <= most)
    assert picture.width % 2 == 0 and picture.height % 2 == 0
    assert abs(picture.width - picture.height * video.aspect) <= 3 + video.aspect * 2
    assert picture.rate[0] / picture.rate[1] <= 61


def test_texts_are_counted_with_the_file() -> None:
    text = Text(index=4, codec="hdmv_pgs_subtitle", is_picture=True)
    assert decide(replace(MP4, texts=(text,)), wish()).mode == "direct", "nobody asked for it"
