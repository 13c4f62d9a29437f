"""A second machine carries a conversion where home is at as many as it may; one that
dies or sees nothing holds nothing up."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.disk.hardware import encoder_version
from indice.settings import Settings
from indice.store.database import Database
from indice.store.encodings import ask_for, drop, far_room, move_on, state_of, take_encoding, want
from indice.store.machines import join
from indice.store.models import Encoding, Playing
from indice.web.app import create_app

from .player import fetch, luma_at, read_main
from .test_delivery import begin, scanned
from .zoo import Animal, brightness_of, make

OLD = "-c:v mpeg4 -q:v 3 -c:a libmp3lame"
FILES = (Animal("one.avi", OLD, "converted"), Animal("two.avi", OLD, "converted"))
SOURCE = str(Path(__file__).parents[2] / "src")


@pytest.fixture
def entries(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> dict[str, int]:
    """Two films that this browser does not take; home may convert one at a time."""
    for animal in FILES:
        make(animal, tmp_path / "zoo", seconds=22 * 6)
    found = scanned(database, settings, tmp_path / "zoo")
    return {name: found[name] for name in ("one.avi", "two.avi")}


@pytest.fixture
def player(owner: FlaskClient, database: Database, settings: Settings) -> Iterator[FlaskClient]:
    """A signed-in browser of a home that converts one film at a time."""
    object.__setattr__(settings, "conversions", 1)
    app = create_app(settings, database)
    app.secret_key = owner.application.secret_key
    made = app.test_client()
    made.environ_base = dict(owner.environ_base)
    made._cookies = owner._cookies
    yield made
    app.extensions["indice-delivery"].close()


@contextlib.contextmanager
def machine(database: Database, settings: Settings, folder: Path) -> Iterator[subprocess.Popen[bytes]]:
    """A worker that converts, in a process of its own."""
    words = [sys.executable, "-m", "indice.cli", "worker", "--database", database.url, "--can", "convert"]
    words += ["--sees", f"{folder}={folder}", "--data", str(settings.home), "--name", "attic"]
    env = {**os.environ, "PYTHONPATH": SOURCE, "INDICE_HOME": str(settings.home)}
    process = subprocess.Popen(words, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT)

    def is_there() -> bool:
        if process.poll() is not None:
            pytest.fail(process.stdout.read().decode() if process.stdout else "it ended")
        with database.begin() as db:
            return far_room(db, encoder_version()) > 0

    try:
        until(is_there)
        yield process
    finally:
        with contextlib.suppress(OSError):
            process.kill()
        process.wait()


def until(what: Callable[[], Any], seconds: float = 30) -> Any:
    """Wait until something is so."""
    end = time.monotonic() + seconds
    while not (found := what()):
        assert time.monotonic() < end, "it did not come to that"
        time.sleep(0.1)
    return found


def machines(player: FlaskClient) -> dict[str, str]:
    """Title of what is played → machine that carries it."""
    told = player.get("/api/playbacks").get_json()
    return {one["title"]: one["machine"] for one in told["playings"]}


def picture_of(player: FlaskClient, told: dict[str, Any]) -> Any:
    """The playlist of a playing's picture."""
    return read_main(player, told["url"])[1]


def test_home_full_a_second_machine_carries_it_and_the_picture_is_right(
    player: FlaskClient, database: Database, settings: Settings, entries: dict[str, int], tmp_path: Path
) -> None:
    first = begin(player, entries["one.avi"])
    fetch(player, picture_of(player, first).segments[0])
    refused = player.post(f"/api/entries/{entries['two.avi']}/playback", json={"can": ["audio/mpeg"]})
    assert refused.status_code == 429, "home alone is full"
    with machine(database, settings, tmp_path / "zoo") as attic:
        second = begin(player, entries["two.avi"])
        playlist = picture_of(player, second)
        for number in (0, 2):
            segment = fetch(player, playlist.head) + fetch(player, playlist.segments[number])
            moment = playlist.start(number) + 0.5
            light = luma_at(segment, tmp_path, 12)
            assert light == pytest.approx(brightness_of(int(moment)), abs=4), (number, moment)
        assert machines(player) == {"one": "", "two": "attic"}
        fetch(player, playlist.segments[16])
        assert machines(player) == {"one": "", "two": "attic"}, "who jumps stays with the machine"
        attic.send_signal(signal.SIGKILL)
        attic.wait()
        player.application.extensions["indice-delivery"].close()
        for old in (settings.home / "segments").glob("*/picture/*.m4s"):
            old.unlink()
        began = time.monotonic()
        segment = fetch(player, playlist.head) + fetch(player, playlist.segments[1])
        assert time.monotonic() - began < 25
        assert luma_at(segment, tmp_path, 12) == pytest.approx(brightness_of(int(playlist.start(1) + 0.5)), abs=4)


def test_what_nobody_takes_is_done_at_home(
    player: FlaskClient, database: Database, settings: Settings, entries: dict[str, int], tmp_path: Path
) -> None:
    first = begin(player, entries["one.avi"])
    fetch(player, picture_of(player, first).segments[0])
    with database.begin() as db:  # it says that it can, and takes nothing
        join(db, name="cellar", pid=1, is_home=False, can=["convert"], sees=[], converts=1, ffmpeg=encoder_version())
    second = begin(player, entries["two.avi"])
    playlist = picture_of(player, second)
    segment = fetch(player, playlist.head) + fetch(player, playlist.segments[0])
    assert luma_at(segment, tmp_path, 12) == pytest.approx(brightness_of(0), abs=4)
    assert machines(player) == {"one": "", "two": ""}


def test_an_encoder_of_another_kind_is_not_asked(database: Database) -> None:
    with database.begin() as db:
        join(db, name="cellar", pid=1, is_home=False, can=["convert"], sees=[], converts=3, ffmpeg="ffmpeg of old")
        assert far_room(db, encoder_version()) == 0
        assert far_room(db, "ffmpeg of old") == 3


def test_what_a_machine_carries_for_a_playing_makes_room_for_its_jump(
    player: FlaskClient, database: Database, entries: dict[str, int]
) -> None:
    begin(player, entries["one.avi"])
    with database.begin() as db:
        key = db.scalars(select(Playing.key)).one()
        join(db, name="cellar", pid=1, is_home=False, can=["convert"], sees=[], converts=1, ffmpeg="x")
        ask_for(db, key, "picture", 0, "abc/picture")
        assert [far_room(db, "x"), far_room(db, "x", "of another"), far_room(db, "x", key)] == [0, 0, 1]


def test_one_machine_takes_it_and_its_end_is_heard(
    player: FlaskClient, database: Database, entries: dict[str, int]
) -> None:
    begin(player, entries["one.avi"])
    with database.begin() as db:
        key = db.scalars(select(Playing.key)).one()
        here = [
            join(db, name=name, pid=1, is_home=False, can=["convert"], sees=[], converts=1, ffmpeg="x")
            for name in ("attic", "cellar")
        ]
        asked = ask_for(db, key, "picture", 4, "abc/picture")
        assert take_encoding(db, here[0], [asked]) is None, "one that was refused is left to others"
    with database.begin() as one, database.begin() as other:
        taken = take_encoding(one, here[0], [])
        assert taken is not None
        assert (taken.track, taken.first, taken.folder) == ("picture", 4, "abc/picture")
        assert take_encoding(other, here[1], []) is None, "two do not take the same"
    with database.begin() as db:
        want(db, asked, 7)
        want(db, asked, 5)
        assert move_on(db, asked, place=5, speed=2.5, is_ended=False) == 7
        state = state_of(db, asked)
        assert state is not None
        assert (state.is_taken, state.is_ended, state.place, state.speed) == (True, False, 5, 2.5)
        again = ask_for(db, key, "picture", 9, "abc/picture")
        assert state_of(db, asked) is None, "what was asked before is dropped"
        drop(db, again)
        assert move_on(db, again, place=9, speed=1, is_ended=False) is None
        assert db.scalars(select(Encoding.id)).all() == []
