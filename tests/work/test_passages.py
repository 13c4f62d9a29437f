"""A season is listened to in the background; a player is told where its openings and closings lie."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.core.playing.moments import passages_of_chapters
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Entry, Hearing, Job
from indice.work.passages import has_unheard
from indice.work.queue import perform
from indice.work.requests import request_job

from ..core.test_passages import RATE, talk, tune
from ..playing.sounding import write_sounding

OPENING, CLOSING = tune(21, 24), tune(22, 20)
BEFORE = (6.0, 31.4, 17.2)


def write_season(root: Path) -> None:
    for number, before in enumerate(BEFORE, 1):
        sound = [talk(number, before), OPENING, talk(number + 50, 70), CLOSING, talk(number + 80, 5)]
        path = root / "Kettle Row" / "Season 01" / f"Kettle Row - S01E0{number}.mkv"
        write_sounding(path, np.concatenate(sound) * 0.12, RATE)


def run(database: Database, settings: Settings, kind: str, library: int) -> str:
    job_id = request_job(database, kind, library)
    assert perform(database, settings, job_id) == "done"
    with database.begin() as db:
        return db.get_one(Job, job_id).message


@pytest.fixture
def season(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> int:
    write_season(tmp_path / "tv")
    with database.begin() as db:
        folder = os.fsencode(tmp_path / "tv")
        library = add_library(db, name="S", kind="series", folders=[folder], language="en", country="AT", sources=[]).id
    run(database, settings, "scan", library)
    return library


def playback(owner: FlaskClient, database: Database, number: int) -> list[dict[str, Any]]:
    with database.begin() as db:
        entry = db.scalars(select(Entry.id).where(Entry.kind == "episode", Entry.number == number)).one()
    asked = {"can": ['video/mp4; codecs="avc1.64002a"', 'audio/mp4; codecs="mp4a.40.2"'], "hls": True}
    answer = owner.post(f"/api/entries/{entry}/playback", json=asked)
    assert answer.status_code == 200, answer.get_json()
    return answer.get_json()["passages"]


def test_a_player_is_told_where_an_episode_opens_and_closes(
    owner: FlaskClient, database: Database, settings: Settings, season: int, tmp_path: Path
) -> None:
    with database.begin() as db:
        assert db.scalars(select(Job.kind).where(Job.kind == "listen")).all() == ["listen"], "a scan asks for it"
    assert playback(owner, database, 1) == []
    assert run(database, settings, "listen", season).startswith("6 openings")
    for number, before in enumerate(BEFORE, 1):
        opening, closing = playback(owner, database, number)
        assert (opening["kind"], closing["kind"]) == ("opening", "closing")
        assert opening["start_seconds"] == pytest.approx(before, abs=1.5)
        assert opening["end_seconds"] == pytest.approx(before + 24, abs=1.5)
        assert closing["start_seconds"] == pytest.approx(before + 94, abs=1.5)
        assert closing["end_seconds"] == pytest.approx(before + 114, abs=1.5)
    assert not has_unheard(database, season)
    changed = next((tmp_path / "tv").rglob("*S01E02.mkv"))
    os.utime(changed, ns=(1, 1))
    changed.write_bytes(changed.read_bytes() + bytes(4096))
    run(database, settings, "scan", season)
    assert playback(owner, database, 2) == [], "another file is not the one that was listened to"
    assert has_unheard(database, season)


def test_a_file_without_sound_is_listened_to_once_and_the_others_go_on(
    owner: FlaskClient, database: Database, settings: Settings, season: int, tmp_path: Path
) -> None:
    broken = next((tmp_path / "tv").rglob("*S01E03.mkv"))
    broken.with_name("Kettle Row - S01E04.mkv").write_bytes(broken.read_bytes()[:3000])
    run(database, settings, "scan", season)
    assert run(database, settings, "listen", season).startswith("6 openings")
    assert not has_unheard(database, season)
    with database.begin() as db:
        assert len(db.scalars(select(Hearing.file_id)).all()) >= 3


@pytest.mark.parametrize(
    ("chapters", "expected"),
    [
        ([(0, "Previously"), (40, "Intro"), (100, "Part one"), (2400, "Credits")],
         [("recap", 0, 40), ("opening", 40, 100), ("closing", 2400, 2520)]),
        ([(0, "Cold open"), (95, "Title sequence"), (140, "Act I")], [("opening", 95, 140)]),
        ([(0, "Was bisher geschah"), (33, "Vorspann"), (70, "Das Wehr"), (2450, "Abspann")],
         [("recap", 0, 33), ("opening", 33, 70), ("closing", 2450, 2520)]),
        ([(0, "Chapter 1"), (600, "Chapter 2")], []),
        ([(0, "Introduction to the house"), (900, "The cellar")], []),
        ([(0, "The harbour"), (2000, "Opening the chest")], []),
        ([], []),
    ],
)  # fmt: skip
def test_chapters_that_are_named_so_are_passages(
    chapters: list[tuple[float, str]], expected: list[tuple[str, float, float]]
) -> None:
    found = passages_of_chapters(chapters, 2520)
    assert [(one.kind, one.start_seconds, one.end_seconds) for one in found] == expected
