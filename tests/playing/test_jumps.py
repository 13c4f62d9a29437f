"""Who jumps into the middle of a segment sees the moment soon: what lies before it is made thinly, and kept nowhere."""

from __future__ import annotations

import contextlib
import itertools
import os
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from indice.core.playing.decide import PicturePlan
from indice.core.playing.orders import LEAD_SECONDS, THIN_STEP, Order, picture_order
from indice.core.playing.streams import Streams, Video
from indice.core.playing.timeline import Timeline, picture_timeline
from indice.disk.encoder import AHEAD_NICENESS, NICENESS, PATIENCE_SECONDS, Run
from indice.disk.inside import key_before
from indice.settings import Settings
from indice.store.database import Database

from .player import fetch, luma_at, read_main, times_of
from .test_delivery import STEP_AT_MOST, begin, scanned
from .zoo import Animal, brightness_of, make

FRAME = 1 / 25
LONG_GROUPS = (
    Animal(
        "far-keys.mkv",
        "-c:v libx265 -preset ultrafast -x265-params log-level=error:keyint=250:scenecut=0 -pix_fmt yuv420p -c:a ac3",
        "converted",
    ),
    Animal(
        "no-list.ts", "-c:v libx265 -preset ultrafast -x265-params log-level=error:keyint=100 -c:a ac3", "converted"
    ),
    Animal("old-keys.avi", "-c:v mpeg4 -q:v 3 -g 120 -c:a libmp3lame", "converted"),
    Animal("old-head.mp4", "-c:v mpeg4 -q:v 3 -g 200 -sc_threshold 1000000000 -c:a ac3", "converted"),
)


@pytest.fixture
def player(owner: FlaskClient) -> Iterator[FlaskClient]:
    """A signed-in browser; whatever it plays ends with the test."""
    yield owner
    owner.application.extensions["indice-delivery"].close()


@pytest.mark.parametrize("animal", LONG_GROUPS, ids=lambda animal: animal.name)
@pytest.mark.parametrize("moment", [16.6, 11.3])
def test_the_moment_is_whole_and_what_lies_before_it_thin(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path, animal: Animal, moment: float
) -> None:
    make(animal, tmp_path / "zoo")
    entry = scanned(database, settings, tmp_path / "zoo")[animal.name]
    _, picture, _ = read_main(player, begin(player, entry, from_seconds=moment)["url"])
    number = next(at for at in range(len(picture.segments)) if picture.start(at + 1) > moment)
    head = fetch(player, picture.head)
    thin = head + fetch(player, f"{picture.segments[number]}?moment={moment}")
    following = fetch(player, picture.segments[number + 1])
    times = sorted(times_of(thin + following, tmp_path))
    begins = picture.start(number)
    assert times[0][0] == pytest.approx(begins, abs=0.05) and times[0][2]
    whole = [shown for shown, _, _ in times if shown >= moment - LEAD_SECONDS]
    steps = [after - one for one, after in itertools.pairwise(whole)]
    assert max(steps) == pytest.approx(FRAME, abs=0.002) and min(steps) == pytest.approx(FRAME, abs=0.002)
    before = [shown for shown, _, _ in times if shown < moment - LEAD_SECONDS - THIN_STEP * FRAME]
    assert len(before) <= (moment - begins) / FRAME / THIN_STEP + 1
    keys = [shown for shown, _, is_key in times if is_key]
    assert keys == pytest.approx([begins, picture.start(number + 1)], abs=0.05)
    second = int(moment) + 0.5
    place = min(range(len(times)), key=lambda at: abs(times[at][0] - second))
    assert luma_at(thin + following, tmp_path, place) == pytest.approx(brightness_of(int(second)), abs=STEP_AT_MOST)

    again = times_of(head + fetch(player, picture.segments[number - 1]), tmp_path)  # another run takes its place
    assert len(again) == round(picture.lengths[number - 1] / FRAME)
    full = times_of(head + fetch(player, picture.segments[number]), tmp_path)
    assert len(full) == round(picture.lengths[number] / FRAME), "what was thin is not kept"


@pytest.mark.parametrize("said", ["nan", "inf", "-3", "1e300", "5.9999999999", "x", "12.05", ""])
def test_a_moment_that_is_none_of_the_segment_changes_nothing(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path, said: str
) -> None:
    animal = next(one for one in LONG_GROUPS if one.name == "old-keys.avi")
    make(animal, tmp_path / "zoo")
    entry = scanned(database, settings, tmp_path / "zoo")[animal.name]
    _, picture, _ = read_main(player, begin(player, entry)["url"])
    content = fetch(player, picture.head) + fetch(player, f"{picture.segments[2]}?moment={said}")
    assert len(times_of(content, tmp_path)) == round(picture.lengths[2] / FRAME)


def test_a_key_frame_before_a_moment_is_found_where_the_box_lists_them(tmp_path: Path) -> None:
    for animal, keys in (
        (LONG_GROUPS[0], [0.0, 10.0]),
        (LONG_GROUPS[3], [0.0, 8.0, 16.0]),
    ):
        path = bytes(make(animal, tmp_path))
        for moment in (0.4, 7.9, 8.3, 9.8, 10.4, 15.9, 16.4, 19.5):
            assert key_before(path, moment) == pytest.approx(max(key for key in keys if key <= moment), abs=0.1)
    for animal in LONG_GROUPS[1:3]:
        assert key_before(bytes(make(animal, tmp_path)), 9.0) is None
    broken = tmp_path / "broken.mkv"
    broken.write_bytes(b"\x1a\x45\xdf\xa3" + b"\0" * 200)
    assert key_before(bytes(broken), 1.0) is None


VIDEO = Video(
    index=0,
    codec="hevc",
    mark="",
    width=640,
    height=360,
    pixel_shape=1.0,
    turn=0,
    rate=(25, 1),
    is_interlaced=False,
    bits=8,
    pixels="yuv420p",
    transfer="sdr",
    matrix="",
    is_full_range=False,
    shift_seconds=0.0,
)


@pytest.mark.parametrize(
    ("moment", "key", "full_seconds", "seek"),
    [
        (None, None, 0.0, "11.980000"),
        (12.1, None, 0.0, "11.980000"),  # it is waited for at the beginning anyway
        (16.0, None, 15.68, "11.980000"),
        (16.0, 14.0, 15.68, "14.140000"),  # nothing before the key frame is decoded
        (16.0, 10.0, 15.68, "11.980000"),  # ffmpeg finds that one by itself
        (16.0, 15.9, 15.68, "11.980000"),  # too late: pictures would be missing
        (18.5, 13.0, 0.0, "11.980000"),  # in another segment
    ],
)
def test_what_the_encoder_is_told_of_a_moment(
    moment: float | None, key: float | None, full_seconds: float, seek: str
) -> None:
    streams = Streams(
        box="matroska", seconds=60.0, size_bytes=1, is_cut=False, video=VIDEO, sounds=(), texts=(), chapters=()
    )
    plan = PicturePlan(how="encode", width=640, height=360, mark="avc1.64001E", profile="high", level=30, rate=(25, 1))
    order = picture_order(streams, plan, picture_timeline((25, 1), 60.0), 2, moment=moment, key=key)
    assert order.full_seconds == pytest.approx(full_seconds, abs=0.05)
    assert order.before[order.before.index("-ss") + 1] == seek
    assert ("-noaccurate_seek" in order.before) == (seek == "14.140000")
    assert any("select=" in word for word in order.after) == bool(full_seconds)


@pytest.mark.parametrize(
    ("place", "made", "speed", "asked", "is_near"),
    [
        (4, 26.0, 2.0, 4, True),  # it is being made
        (4, 26.0, 2.0, 5, False),  # 4 seconds of film at twice the speed: two seconds of waiting
        (4, 28.0, 2.0, 5, True),
        (4, 28.0, 0.5, 5, False),
        (8, 48.0, 200.0, 12, True),  # a copy is made faster than anybody jumps
        (4, 26.0, 2.0, 3, False),  # behind it
        (4, 24.0, 0.0, 5, True),  # it has just begun: nobody knows
        (4, 24.0, 0.0, 6, False),
    ],
)
def test_a_run_is_waited_for_where_it_is_sooner_there_than_a_new_one(
    tmp_path: Path, place: int, made: float, speed: float, asked: int, is_near: bool
) -> None:
    timeline = Timeline(tuple(6.0 * number for number in range(20)), 120.0, 150)
    run = Run(Order((), (), 4, 0.0, True), b"/none", timeline, tmp_path)
    run.place, run._made = place, made  # pyright: ignore[reportPrivateUsage]
    run._began = time.monotonic() - ((made - 24.0) / speed if speed else 0.0)  # pyright: ignore[reportPrivateUsage]
    assert run.is_near(asked) == is_near
    assert PATIENCE_SECONDS < 2.0


def test_who_makes_what_nobody_waits_for_yet_stands_back(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    folder = tmp_path / "long"
    folder.mkdir()
    source = ["-f", "lavfi", "-i", "testsrc2=s=640x360:r=25:d=90", "-c:v", "mpeg2video", "-q:v", "6"]
    subprocess.run(["ffmpeg", "-v", "error", *source, str(folder / "long.mkv")], check=True)
    entry = scanned(database, settings, folder)["long.mkv"]
    _, picture, _ = read_main(player, begin(player, entry, max_height=240)["url"])
    fetch(player, picture.head)
    assert min(threads_of(folder)) >= NICENESS
    fetch(player, picture.segments[0])
    ends = time.monotonic() + 20
    while set(threads_of(folder)) != {AHEAD_NICENESS} and time.monotonic() < ends:
        time.sleep(0.1)
    assert set(threads_of(folder)) == {AHEAD_NICENESS}


def threads_of(folder: Path) -> list[int]:
    """How far the threads of encoders stand back that read from a folder (`proc(5)`, field 19 of `stat`)."""
    found: list[int] = []
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if os.fsencode(folder) in (process / "cmdline").read_bytes():
                stats = [stat.read_text().rpartition(")")[2].split() for stat in process.glob("task/*/stat")]
                found += [int(stat[16]) for stat in stats]
    return found
