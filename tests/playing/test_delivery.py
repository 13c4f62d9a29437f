"""Every file of the zoo reaches a player: the right way, at the right second, with the right sound."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import File
from indice.work.queue import perform
from indice.work.requests import request_job

from .pictured import pictured_subtitle
from .player import fetch, luma_at, read_main, read_media, times_of
from .zoo import SECONDS, ZOO, Animal, brightness_of, make, run

CAN = [
    'video/mp4; codecs="avc1.640033"',
    'video/mp4; codecs="vp09.00.51.08"',
    'video/webm; codecs="vp09.00.51.08"',
    'video/webm; codecs="opus"',
    'audio/mp4; codecs="mp4a.40.2"',
    'audio/mp4; codecs="opus"',
    'audio/mp4; codecs="flac"',
    "audio/mpeg",
    "audio/flac",
]
"""What a common browser takes."""


def scanned(database: Database, settings: Settings, folder: Path, kind: str = "home-videos") -> dict[str, int]:
    """Entries of a folder: name of a file → number of its entry."""
    with database.begin() as db:
        library = add_library(
            db, name="Zoo", kind=kind, folders=[bytes(folder)], language="en", country="", sources=[]
        ).id
    perform(database, settings, request_job(database, "scan", library))
    with database.begin() as db:
        return {file.shown: file.entry_id for file in db.scalars(select(File)) if file.entry_id}


def begin(client: FlaskClient, entry: int, **asked: Any) -> dict[str, Any]:
    """The answer of a playback call."""
    answer = client.post(f"/api/entries/{entry}/playback", json={"can": CAN, **asked})
    assert answer.status_code == 200, answer.get_data()
    return answer.get_json()


@pytest.fixture
def player(owner: FlaskClient, settings: Settings) -> Iterator[FlaskClient]:
    """A signed-in browser; whatever it plays ends with the test."""
    yield owner
    owner.application.extensions["indice-delivery"].close()
    assert list(settings.home.glob("segments/**/*.part")) == []


@pytest.mark.parametrize("animal", ZOO, ids=lambda animal: animal.name)
def test_a_file_of_the_zoo_plays(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path, animal: Animal
) -> None:
    made = make(animal, tmp_path / "zoo")
    entry = scanned(database, settings, tmp_path / "zoo")[animal.name]
    told = begin(player, entry)
    assert (told["mode"], told["width"], told["height"]) == (animal.mode, *animal.size), told["reason"]
    assert told["duration_seconds"] == pytest.approx(SECONDS, abs=0.4)
    assert len(told["sounds"]) == animal.sounds
    assert bool(told["reason"]) == (told["mode"] != "direct")
    if told["mode"] == "direct":
        assert player.get(told["url"], headers={"Range": "bytes=0-99"}).status_code == 206
        assert player.get(told["url"]).get_data() == made.read_bytes()
        return
    variant, picture, media = read_main(player, told["url"])
    assert variant["RESOLUTION"] == f"{animal.size[0]}x{animal.size[1]}"
    assert sum(picture.lengths) == pytest.approx(SECONDS, abs=0.4)
    sounds = [read_media(player, one["URI"]) for one in media if one["TYPE"] == "AUDIO"]
    assert len(sounds) == animal.sounds and "CODECS" in variant
    last = len(picture.segments) - 1
    for number in (last, 0, 1):  # a jump to the end, one back, and on from there
        content = fetch(player, picture.head) + fetch(player, picture.segments[number])
        times = times_of(content, tmp_path)
        start = min(moment for moment, _, _ in times)
        assert times[0][2], "a segment begins with a key frame"
        assert start == pytest.approx(picture.start(number), abs=0.05)
        end = max(moment + length for moment, length, _ in times)
        assert end == pytest.approx(min(picture.start(number + 1), SECONDS), abs=0.3 if number == last else 0.05)
        shown = sorted(moment for moment, _, _ in times)
        wanted = int(shown[len(shown) // 3]) + 0.5
        place = min(range(len(shown)), key=lambda at: abs(shown[at] - wanted))
        assert luma_at(content, tmp_path, place) == pytest.approx(brightness_of(int(wanted)), abs=STEP_AT_MOST)
    for sound in sounds:
        for number in (1, 0):
            times = times_of(fetch(player, sound.head) + fetch(player, sound.segments[number]), tmp_path)
            assert min(moment for moment, _, _ in times) == pytest.approx(sound.start(number), abs=0.05)


STEP_AT_MOST = 4.6
"""Half of what a second differs by from the next."""


def test_segments_of_two_runs_fit_together(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    """Who jumps, and who watched until there, get the same times without a gap, of picture and of sound."""
    animal = next(one for one in ZOO if one.name == "film-rate.mkv")
    make(animal, tmp_path / "zoo")
    entry = scanned(database, settings, tmp_path / "zoo")[animal.name]
    _, picture, media = read_main(player, begin(player, entry)["url"])
    for playlist in (picture, read_media(player, media[0]["URI"])):
        head = fetch(player, playlist.head)
        jumped = fetch(player, playlist.segments[2])
        before = fetch(player, playlist.segments[1])
        times = times_of(head + before + jumped, tmp_path)
        gaps = [after[0] - one[0] for one, after in itertools.pairwise(times)]
        assert max(gaps) - min(gaps) < 0.002, "no picture is missing, and none comes twice"


def test_bounds_and_wishes(player: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> None:
    tall = Animal("tall.mp4", "-c:v libx264 -pix_fmt yuv420p -c:a aac", "direct", source="640x360")
    make(tall, tmp_path / "zoo", seconds=7)
    entry = scanned(database, settings, tmp_path / "zoo")[tall.name]
    assert begin(player, entry, max_height=720)["mode"] == "direct", "nothing is made larger"
    small = begin(player, entry, max_height=240)
    assert (small["mode"], small["width"], small["height"]) == ("converted", 426, 240)
    assert small["reasons"] == ["height"] and small["kbps"] is None, "no bound was wished for"
    whole = begin(player, entry)
    size = (tmp_path / "zoo" / "tall.mp4").stat().st_size
    assert whole["kbps"] == pytest.approx(size * 8 / 1000 / whole["duration_seconds"], rel=0.2)
    narrow = begin(player, entry, max_kbps=20)
    assert narrow["mode"] == "converted" and narrow["reasons"] == ["kbps"] and narrow["kbps"]
    noise = player.get("/api/line")
    assert len(noise.data) == 1_000_000 and noise.headers["Cache-Control"] == "no-store"
    assert "Content-Encoding" not in noise.headers
    refused = player.post(f"/api/entries/{entry}/playback", json={"can": CAN, "max_height": 240, "hls": False})
    assert refused.status_code == 409 and refused.get_json()["download"].startswith("/api/files/")


def test_only_so_many_are_converted_at_once(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    application: Any = player.application
    application.extensions["indice"] = (replace(settings, conversions=1), database)
    animal = next(one for one in ZOO if one.name == "old.avi")
    make(animal, tmp_path / "zoo", seconds=7)
    entry = scanned(database, settings, tmp_path / "zoo")[animal.name]
    first = begin(player, entry)
    second = player.post(f"/api/entries/{entry}/playback", json={"can": CAN})
    assert second.status_code == 429 and int(second.headers["Retry-After"]) > 0
    assert player.post(f"/api/playbacks/{first['key']}/beat").status_code == 200
    del player.environ_base["HTTP_X_INDICE_TOKEN"]
    assert player.post(f"/api/playbacks/{first['key']}/end").status_code == 200, "a closing page sends no headers"
    assert player.get(first["url"]).status_code == 404


def test_what_cannot_be_played_says_so(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    folder = tmp_path / "zoo"
    folder.mkdir()
    (folder / "noise.mkv").write_bytes(bytes(range(256)) * 40)
    animal = next(one for one in ZOO if one.name == "boxed.mkv")
    whole = make(animal, folder)
    (folder / "cut.mkv").write_bytes(whole.read_bytes()[: whole.stat().st_size * 6 // 10])
    entries = scanned(database, settings, folder)
    refused = player.post(f"/api/entries/{entries['noise.mkv']}/playback", json={"can": CAN})
    assert refused.status_code == 422 and refused.get_json()["message"] and refused.get_json()["download"]
    assert player.get(refused.get_json()["download"]).headers["Content-Disposition"].startswith("attachment")
    cut = begin(player, entries["cut.mkv"])
    assert 5 < cut["duration_seconds"] < 16, "a file that is cut off is as long as what is there"
    whole.unlink()
    gone = player.post(f"/api/entries/{entries['boxed.mkv']}/playback", json={"can": CAN})
    assert gone.status_code == 404 and "not there" in gone.get_json()["message"]


@pytest.mark.parametrize(
    "order", [((0, False), (1, True), (2, False)), ((1, True), (2, False)), ((2, False), (1, True))]
)
def test_subtitles_that_are_pictures_are_drawn_in_when_they_are_chosen(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path, order: tuple[tuple[int, bool], ...]
) -> None:
    """Also for who jumps to where they have stood for some seconds."""
    plain = make(Animal("dark.mkv", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a aac", ""), tmp_path, seconds=14)
    words = tmp_path / "words.sup"
    words.write_bytes(pictured_subtitle((320, 180), (100, 120, 120, 40), (2.0, 12.0)))
    folder = tmp_path / "zoo"
    folder.mkdir()
    both = ("-copyts", "-i", plain, "-i", words, "-map", "0", "-map", "1", "-c", "copy")
    run("ffmpeg", "-v", "error", *both, folder / "worded.mkv")
    entry = scanned(database, settings, folder)["worded.mkv"]
    told = begin(player, entry)
    assert told["mode"] == "repackaged" and told["texts"][0]["flags"] == ["picture"] and told["texts"][0]["url"] is None
    drawn = begin(player, entry, text=0)
    assert (drawn["mode"], drawn["reasons"]) == ("converted", ["words"])
    _, picture, media = read_main(player, drawn["url"])
    assert not [one for one in media if one["TYPE"] == "SUBTITLES"]
    for number, is_shown in order:
        segment = fetch(player, picture.segments[number])
        content = fetch(player, picture.head) + segment
        light = luma_at(content, tmp_path, 20, crop="40:20:140:130")
        second = int(picture.start(number) + 20 / 25)
        assert (light > 200) is is_shown, (number, light)
        assert luma_at(content, tmp_path, 20, crop="40:20:10:10") == pytest.approx(
            brightness_of(second), abs=STEP_AT_MOST
        )


def test_a_high_dynamic_range_is_brought_to_what_screens_show(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    """Grey of 100 candela in PQ (ITU-R BT.2100: signal 0.508) is neither black nor burnt out, and tagged BT.709."""
    folder = tmp_path / "zoo"
    folder.mkdir()
    level = round(64 + 0.508 * 876)
    look = f"color=black:s=320x180:r=25,format=yuv420p10le,geq=lum={level}:cb=512:cr=512"
    tags = "colorprim=bt2020:transfer=smpte2084:colormatrix=bt2020nc:log-level=error"
    run(
        *("ffmpeg", "-v", "error", "-f", "lavfi", "-i", look, "-t", "7", "-c:v", "libx265", "-preset", "ultrafast"),
        *("-x265-params", tags, folder / "bright.mkv"),
    )
    entry = scanned(database, settings, folder)["bright.mkv"]
    told = begin(player, entry)
    assert (told["mode"], told["reasons"][-1]) == ("converted", "range")
    _, picture, _ = read_main(player, told["url"])
    content = fetch(player, picture.head) + fetch(player, picture.segments[0])
    assert 90 < luma_at(content, tmp_path, 10) < 225
    (tmp_path / "piece.mp4").write_bytes(content)
    about = run(
        "ffprobe",
        "-v",
        "error",
        "-show_entries",
        "stream=color_transfer,color_primaries,color_space",
        "-of",
        "csv=p=0",
        tmp_path / "piece.mp4",
    )
    assert about.decode().strip() == "bt709,bt709,bt709"


def test_a_film_in_parts_has_one_time(
    player: FlaskClient, database: Database, settings: Settings, tmp_path: Path
) -> None:
    folder = tmp_path / "zoo" / "Kettle Morning (2004)"
    for part, seconds in ((1, 8), (2, 6)):
        made = make(Animal("part.mp4", "-c:v libx264 -pix_fmt yuv420p -c:a aac", ""), tmp_path, seconds=seconds)
        folder.mkdir(parents=True, exist_ok=True)
        made.rename(folder / f"Kettle Morning (2004) cd{part}.mp4")
    entries = scanned(database, settings, tmp_path / "zoo", "movies")
    assert len(set(entries.values())) == 1
    told = begin(player, next(iter(entries.values())))
    assert [round(part["start_seconds"]) for part in told["parts"]] == [0, 8]
    assert told["duration_seconds"] == pytest.approx(14, abs=0.3)
    second = begin(player, next(iter(entries.values())), file_id=told["parts"][1]["file_id"])
    assert second["file_id"] == told["parts"][1]["file_id"] != told["file_id"]
