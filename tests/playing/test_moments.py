"""Photos with the moments around them: one entry, that is played; what was two
before becomes one and keeps its marks."""

from __future__ import annotations

import os
from datetime import datetime
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select, update

from indice.demo.media import write_moments, write_photo
from indice.demo.photographs import SCENES, render
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Artwork, Entry, File
from indice.work.grouping import regroup

from .test_delivery import begin, scanned
from .test_delivery import player as player

QUAY = "2021/2021-05-01 Quay"


@pytest.fixture
def shots(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> dict[str, int]:
    """A photo that moves, one that does not, and a film of half a minute under a photo's name."""
    folder = tmp_path / "photos"
    for number, name in enumerate(("IMG_0411.JPG", "IMG_0412.JPG", "IMG_0413.JPG")):
        picture = render(SCENES[number], number, (320, 240))
        write_photo(folder / QUAY / name, picture, moment=datetime(2021, 5, 1, 9, number), camera=None, place=None)
    write_moments(folder / QUAY / "IMG_0411.MOV", render(SCENES[0], 0, (320, 240)))
    write_moments(folder / QUAY / "IMG_0413.MOV", render(SCENES[2], 2, (320, 240)), seconds=30)
    (folder / QUAY / "IMG_0412.CR2").write_bytes(b"as the sensor gave it, which nobody here can read")
    return scanned(database, settings, folder, "photos")


def test_a_photo_and_its_moments_are_one_entry(player: FlaskClient, shots: dict[str, int]) -> None:
    assert shots[f"{QUAY}/IMG_0411.JPG"] == shots[f"{QUAY}/IMG_0411.MOV"]
    assert shots[f"{QUAY}/IMG_0412.JPG"] == shots[f"{QUAY}/IMG_0412.CR2"]
    assert shots[f"{QUAY}/IMG_0413.JPG"] != shots[f"{QUAY}/IMG_0413.MOV"], "half a minute is a clip"
    wall = player.get("/api/shelves/photos").get_json()["entries"]
    told = {one["title"]: (one["kind"], one["moves"]) for one in wall}
    assert told == {
        "IMG_0411.JPG": ("photo", True),
        "IMG_0412.JPG": ("photo", False),
        "IMG_0413.JPG": ("photo", False),
        "IMG_0413.MOV": ("clip", False),
    }


def test_the_moments_are_played_and_nothing_else_of_a_photo(
    player: FlaskClient,
    shots: dict[str, int],
) -> None:
    told = begin(player, shots[f"{QUAY}/IMG_0411.JPG"], hls=True)
    assert told["duration_seconds"] == pytest.approx(2.5, abs=0.2)
    refused = player.post(f"/api/entries/{shots[f'{QUAY}/IMG_0412.JPG']}/playback", json={"can": []})
    assert (refused.status_code, refused.get_json()["reference"]) == (404, "nothing-to-play")
    page = player.get(f"/api/entries/{shots[f'{QUAY}/IMG_0411.JPG']}").get_json()
    assert (page["plays"], page["versions"]) == ([], []), "a photo is looked at"
    kept = player.get(f"/api/entries/{shots[f'{QUAY}/IMG_0411.JPG']}/kept").get_json()
    assert sorted(file["serves"] for file in kept["files"]) == ["live", "main"]


def test_the_picture_is_that_of_the_photo_not_of_its_raw_file(database: Database, shots: dict[str, int]) -> None:
    with database.begin() as db:
        of = select(Artwork).where(Artwork.entry_id == shots[f"{QUAY}/IMG_0412.JPG"])
        (picture,) = db.scalars(of)
        assert (picture.role, picture.width > picture.height) == ("photo", True)


def test_what_were_two_entries_becomes_the_photo_with_what_was_kept_of_it(
    player: FlaskClient,
    database: Database,
    shots: dict[str, int],
) -> None:
    photo = shots[f"{QUAY}/IMG_0411.JPG"]
    player.put("/api/marks", json={"entry_ids": [photo], "favourite": True})
    with database.begin() as db:  # as a version before this one has put them together
        library_id = db.get_one(Entry, photo).library_id
        clip = Entry(library_id=library_id, key=f"clip:{QUAY}/IMG_0411.MOV", kind="clip", title="IMG_0411.MOV")
        clip.sort_title, clip.handle = "img_0411.mov", clip.key
        db.add(clip)
        db.flush()
        moved = update(File).where(File.shown == f"{QUAY}/IMG_0411.MOV")
        db.execute(moved.values(entry_id=clip.id, serves="main"))
        db.execute(update(File).values(grouped_by=1))
    regroup(database, library_id)
    with database.begin() as db:
        served = {os.path.basename(f.shown): (f.entry_id, f.serves) for f in db.scalars(select(File))}
        assert served["IMG_0411.JPG"] == (photo, "main")
        assert served["IMG_0411.MOV"] == (photo, "live")
        assert db.scalars(select(Entry.title).where(Entry.kind == "clip")).all() == ["IMG_0413.MOV"]
    assert player.get(f"/api/entries/{photo}").get_json()["card"]["mark"]["favourite"]
