"""What is there twice on a disk, planted by hand: each kind is found, its better copy named, and nothing else."""

from __future__ import annotations

import os
import shutil
import subprocess
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import select

from indice.settings import Settings
from indice.store.database import Database
from indice.store.duplicates import not_the_same
from indice.store.libraries import add_library
from indice.store.models import File, Likeness, now
from indice.work.bins import bin_name, empty_bins
from indice.work.duplicates import Group, find_duplicates
from indice.work.queue import perform
from indice.work.requests import request_job

from .scenes import CHANGES, burst, melody, scene


def declare(database: Database, settings: Settings, root: Path, kind: str) -> int:
    """A library, scanned."""
    with database.begin() as db:
        library = add_library(
            db,
            name=root.name,
            kind=kind,
            folders=[os.fsencode(root)],
            language="en",
            country="",
            sources=[],
        ).id
    assert perform(database, settings, request_job(database, "scan", library)) == "done"
    return library


def found(database: Database, *libraries: int) -> list[tuple[str, str, frozenset[str]]]:
    """Groups: kind, the one to keep, all of it."""
    groups: list[Group] = list(find_duplicates(database, libraries))
    return sorted((g.kind, g.files[0].path, frozenset(f.path for f in g.files)) for g in groups)


def encode(samples: np.ndarray, path: Path, *options: str) -> None:
    """A track of 44.1 kHz by the system's encoder."""
    path.parent.mkdir(parents=True, exist_ok=True)
    raw = samples.astype(np.float32).tobytes()
    asked = ["ffmpeg", "-v", "error", "-y", "-f", "f32le", "-ar", "44100", "-ac", "1", "-i", "-", *options, str(path)]
    subprocess.run(asked, input=raw, check=True)


@pytest.fixture
def films(tmp_path: Path) -> Path:
    """No films yet."""
    root = tmp_path / "Films"
    root.mkdir()
    return root


def put(path: Path, content: bytes) -> None:
    """A file."""
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(content)


def test_the_same_bytes(database: Database, settings: Settings, films: Path) -> None:
    put(films / "Cold Ferry (1990)" / "Cold Ferry (1990).mkv", b"the very same" * 40_000)
    put(films / "from the old drive" / "ferry_cold_copy.mkv", b"the very same" * 40_000)
    put(films / "Warm Ferry (1990)" / "Warm Ferry (1990).mkv", b"the very samE" * 40_000)
    put(films / "Bare (1991)" / "Bare (1991).mkv", b"")
    put(films / "Bald (1991)" / "Bald (1991).mkv", b"")
    os.link(
        films / "Warm Ferry (1990)" / "Warm Ferry (1990).mkv", films / "Warm Ferry (1990)" / "Warm Ferry (1990) - b.mkv"
    )
    library = declare(database, settings, films, "movies")
    best = "Cold Ferry (1990)/Cold Ferry (1990).mkv"
    assert ("same-bytes", best, frozenset((best, "from the old drive/ferry_cold_copy.mkv"))) in found(database, library)
    assert len([group for group in found(database, library) if group[0] == "same-bytes"]) == 1


def test_one_work_in_two_qualities(database: Database, settings: Settings, films: Path) -> None:
    put(films / "Cold Ferry (1990)" / "Cold Ferry (1990).mkv", b"a" * 10)
    put(films / "New" / "Cold.Ferry.1990.720p.WEB.x264" / "Cold.Ferry.1990.720p.WEB.x264.mkv", b"b" * 11)
    put(films / "Salt Weir (1991)" / "Salt Weir (1991) - 2160p.mkv", b"c" * 12)
    put(films / "Salt Weir (1991)" / "Salt Weir (1991) - 1080p.mkv", b"d" * 13)
    put(films / "Paper Moor (1992)" / "Paper Moor (1992) - part 1.mkv", b"e" * 14)
    put(films / "Paper Moor (1992)" / "Paper Moor (1992) - part 2.mkv", b"f" * 15)
    put(films / "Grey Oar (1993)" / "Grey Oar (1993).mkv", b"g" * 16)
    put(films / "Grey Oar (1993)" / "Grey Oar (1993).avi", b"h" * 17)
    put(films / "Long Hour (1994)" / "Long Hour (1994).mkv", b"i" * 18)
    put(films / "other cuts" / "Long Hour (1994) - Director's Cut.mkv", b"j" * 19)
    library = declare(database, settings, films, "movies")
    told = {group[2] for group in found(database, library)}
    assert told == {
        frozenset(
            (
                "Cold Ferry (1990)/Cold Ferry (1990).mkv",
                "New/Cold.Ferry.1990.720p.WEB.x264/Cold.Ferry.1990.720p.WEB.x264.mkv",
            )
        ),
        frozenset(("Grey Oar (1993)/Grey Oar (1993).mkv", "Grey Oar (1993)/Grey Oar (1993).avi")),
    }


def test_an_episode_twice(database: Database, settings: Settings, tmp_path: Path) -> None:
    root = tmp_path / "Series"
    put(root / "Wan Moor (2005)" / "Season 01" / "Wan Moor - S01E01.mkv", b"a")
    put(root / "Wan Moor (2005)" / "Season 01" / "wan.moor.s01e01.480p.avi", b"bb")
    put(root / "Wan Moor (2005)" / "old" / "Wan Moor 1x02.avi", b"ccc")
    put(root / "Wan Moor (2005)" / "Season 01" / "Wan Moor - S01E02.mkv", b"dddd")
    put(root / "Wan Moor (2005)" / "Season 01" / "Wan Moor - S01E03.mkv", b"eeeee")
    library = declare(database, settings, root, "series")
    told = [group for group in found(database, library) if group[0] == "same-work"]
    assert frozenset(("Wan Moor (2005)/old/Wan Moor 1x02.avi", "Wan Moor (2005)/Season 01/Wan Moor - S01E02.mkv")) in [
        group[2] for group in told
    ]


def test_near_pictures(database: Database, settings: Settings, tmp_path: Path) -> None:
    root = tmp_path / "Photos"
    (root / "2019").mkdir(parents=True)
    wanted: set[frozenset[str]] = set()
    for number, change in enumerate(("smaller", "cut at one side", "turned left", "brighter", "white border")):
        shot = scene(300 + number)
        shot.save(root / "2019" / f"shot{number}.jpg", quality=95)
        CHANGES[change](shot).save(root / "2019" / f"sent{number}.webp", quality=80)
        wanted.add(frozenset((f"2019/shot{number}.jpg", f"2019/sent{number}.webp")))
    for how, name in (("somebody walks on", "b1"), ("the camera shakes", "b2")):
        burst(300, how).save(root / "2019" / f"{name}.jpg", quality=95)
    for number in range(20):
        scene(500 + number).save(root / "2019" / f"other{number}.jpg", quality=90)
    shutil.copy(root / "2019" / "other3.jpg", root / "other3 again.jpg")
    library = declare(database, settings, root, "photos")
    told = found(database, library)
    assert {group[2] for group in told if group[0] == "near-picture"} == wanted
    kept = {group[1] for group in told if group[0] == "near-picture"} - {"2019/sent4.webp"}
    assert kept == {f"2019/shot{number}.jpg" for number in range(4)}, "the border makes the fifth copy larger"
    assert [group[2] for group in told if group[0] == "same-bytes"] == [
        frozenset(("2019/other3.jpg", "other3 again.jpg"))
    ]


def test_near_sounds(database: Database, settings: Settings, tmp_path: Path) -> None:
    root = tmp_path / "Music"
    piece = melody(70)
    pause = np.zeros(30_000, np.float32)
    encode(piece, root / "Ada Reed" / "Slow Weir (1991)" / "01 - Weir.flac")
    encode(np.concatenate([pause, piece, pause]), root / "mix" / "ada weir.mp3", "-b:a", "96k")
    encode(melody(70, take=1), root / "Ada Reed" / "Live (1993)" / "01 - Weir (live).flac")
    for number in range(6):
        encode(melody(80 + number), root / "Ada Reed" / "Slow Weir (1991)" / f"{number + 2:02d} - Oar {number}.flac")
    library = declare(database, settings, root, "music")
    best = "Ada Reed/Slow Weir (1991)/01 - Weir.flac"
    assert found(database, library) == [("near-sound", best, frozenset((best, "mix/ada weir.mp3")))]


def test_what_a_person_told_apart_is_not_said_again(database: Database, settings: Settings, films: Path) -> None:
    put(films / "Cold Ferry (1990)" / "Cold Ferry (1990).mkv", b"the very same")
    put(films / "Copy (1990)" / "Copy (1990).mkv", b"the very same")
    library = declare(database, settings, films, "movies")
    assert len(found(database, library)) == 1
    with database.begin() as db:
        not_the_same(db, db.scalars(select(File.id)))
    assert found(database, library) == []


def test_a_damaged_picture_is_looked_at_once(database: Database, settings: Settings, tmp_path: Path) -> None:
    root = tmp_path / "Photos"
    put(root / "2019" / "broken.jpg", b"\xff\xd8\xff\xe0 no picture at all")
    library = declare(database, settings, root, "photos")
    assert found(database, library) == []
    with database.begin() as db:
        assert db.scalars(select(Likeness.data)).all() == [None]


def test_a_bin_is_emptied_of_what_is_old_and_ours(database: Database, settings: Settings, films: Path) -> None:
    put(films / "Cold Ferry (1990)" / "Cold Ferry (1990).mkv", b"stays")
    library = declare(database, settings, films, "movies")
    bin_ = films / ".indice-bin"
    old, young = (bin_name(number, now() - timedelta(days=days)) for number, days in ((1, 31), (2, 29)))
    put(films / old / "a" / "x.mkv", b"old")
    put(films / young / "y.mkv", b"young")
    put(bin_ / "mine" / "z.mkv", b"of a person")
    (bin_ / "9-20000101000000").symlink_to(films / "Cold Ferry (1990)")
    assert empty_bins(database) == 1
    assert sorted(path.name for path in bin_.iterdir()) == ["2-" + young[-14:], "9-20000101000000", "mine"]
    assert empty_bins(database, days=0, library_ids=[library + 1]) == 0
    assert empty_bins(database, days=0, library_ids=[library]) == 1
    assert (films / "Cold Ferry (1990)" / "Cold Ferry (1990).mkv").read_bytes() == b"stays"
    assert (bin_ / "mine" / "z.mkv").exists()
