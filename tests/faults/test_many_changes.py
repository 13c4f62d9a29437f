"""Whatever people do to their folders between scans: at the end all is as if it had been found like that at once."""

from __future__ import annotations

import json
import os
import random
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from sqlalchemy import select

from indice.demo.media import write_video
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Artwork, Entry, Finding
from indice.work.queue import requeue_lost
from indice.work.requests import request_job

from .conftest import declare, hollow, told
from .test_many_kills import killed, plain

FORMS = Path(__file__).parents[1] / "core" / "data" / "unseen-forms.jsonl"
SEED = int(os.environ.get("INDICE_CHANGES_SEED", "20261129"))
KILLS = int(os.environ.get("INDICE_KILLS", "4"))
LONGEST_SECONDS = 2.0
ROUNDS = int(os.environ.get("INDICE_CHANGES", "6"))
KINDS = ("movies", "series", "music", "photos")


def names_of(kind: str) -> list[str]:
    """Paths below a folder of this kind, in all the forms that people give them."""
    rows = [json.loads(line) for line in FORMS.read_text("utf-8").splitlines()]
    return sorted({str(row["path"]).lstrip("/") for row in rows if row["library"] == kind})


class Household:
    """A folder that people work in."""

    def __init__(self, root: Path, names: list[str], dice: random.Random) -> None:
        self.root, self._names, self._dice, self._made = root, names, dice, 0

    def files(self) -> list[Path]:
        return sorted(path for path in self.root.rglob("*") if path.is_file())

    def add(self) -> None:
        """A new file, whatever it is called."""
        path = self.root / self._dice.choice(self._names)
        if self._is_free(path):
            path.parent.mkdir(parents=True, exist_ok=True)
            self._write(path)

    def rename(self) -> None:
        """A file gets the name of something else, at its place or elsewhere."""
        one, target = self._dice.choice(self.files()), self.root / self._dice.choice(self._names)
        if self._dice.random() < 0.5:
            target = one.with_name(target.name)
        if self._is_free(target):
            target.parent.mkdir(parents=True, exist_ok=True)
            one.rename(target)

    def move_folder(self) -> None:
        """A folder gets another name, or goes into another."""
        folders = sorted({path.parent for path in self.files()} - {self.root})
        if not folders:
            return
        one, other = self._dice.choice(folders), self._dice.choice(folders)
        name = Path(self._dice.choice(self._names)).parts[0]
        target = other / one.name if self._dice.random() < 0.3 else one.with_name(name)
        if self._is_free(target) and one not in (target, *target.parents):
            one.rename(target)

    def remove(self) -> None:
        self._dice.choice(self.files()).unlink()

    def write_again(self) -> None:
        """Another content under the same name."""
        self._write(self._dice.choice(self.files()))

    def swap(self) -> None:
        """Two files take each other's names."""
        one, other = self._dice.choice(self.files()), self._dice.choice(self.files())
        if one != other:
            aside = self.root / "aside"
            one.rename(aside)
            other.rename(one)
            aside.rename(other)

    def copy(self) -> None:
        """The same bytes once more."""
        one, target = self._dice.choice(self.files()), self.root / self._dice.choice(self._names)
        if self._is_free(target):
            target.parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(one, target)

    def do_something(self) -> None:
        doing = (
            self.add,
            self.rename,
            self.rename,
            self.move_folder,
            self.remove,
            self.write_again,
            self.swap,
            self.copy,
        )
        if self.files():
            self._dice.choice(doing)()

    def _is_free(self, path: Path) -> bool:
        above = [one for one in path.parents if one != self.root and self.root in one.parents]
        return not path.exists() and not any(one.is_file() for one in above)

    def _write(self, path: Path) -> None:
        self._made += 1
        path.write_bytes(f"{self._made} ".encode() * (20 + self._made))


def lived_in(root: Path, kind: str, dice: random.Random) -> Household:
    """A household with some files."""
    house = Household(root, names_of(kind), dice)
    root.mkdir()
    for _ in range(60):
        house.add()
    return house


def assert_as_found_at_once(
    tmp_path: Path, database: Database, scan: Callable[[int], str], house: Household, library: int, kind: str
) -> None:
    """What is known of a library is what one scan of a copy of its folder finds."""
    calm = declare(database, shutil.copytree(house.root, tmp_path / "calm" / "here"), kind)
    assert scan(calm) == "done"
    here, there = told(database, library), told(database, calm)
    assert plain(here) == plain(there)
    assert here["findings"] == there["findings"]
    serving = [
        [
            (shown, kind, state, problem, media, serves, reading)
            for shown, kind, state, problem, media, _, serves, reading in one["files"]
            if state == "present"
        ]
        for one in (here, there)
    ]
    assert serving[0] == serving[1]
    assert sorted(hollow(database, library)) == sorted(hollow(database, calm))


@pytest.mark.parametrize("kind", KINDS)
def test_many_scans_of_a_changing_folder_end_as_one_scan_of_it(
    tmp_path: Path, database: Database, scan: Callable[[int], str], kind: str
) -> None:
    dice = random.Random(f"{SEED} {kind}")
    house = lived_in(tmp_path / "here", kind, dice)
    library = declare(database, house.root, kind)
    assert scan(library) == "done"
    for _ in range(ROUNDS):
        for _ in range(dice.randrange(1, 9)):
            house.do_something()
        assert scan(library) == "done"
    assert_as_found_at_once(tmp_path, database, scan, house, library, kind)


@pytest.mark.parametrize("kind", KINDS)
def test_scans_that_are_killed_while_folders_change_end_as_one_scan(
    tmp_path: Path, database: Database, settings: Settings, scan: Callable[[int], str], kind: str
) -> None:
    dice = random.Random(f"{SEED} killed {kind}")
    house = lived_in(tmp_path / "here", kind, dice)
    library = declare(database, house.root, kind)
    kills = tries = 0
    while kills < KILLS:
        tries += 1
        for _ in range(dice.randrange(1, 4)):
            house.do_something()
        job_id = request_job(database, "scan", library)
        if killed(database, settings, job_id, dice.uniform(0.05, LONGEST_SECONDS)):
            kills += 1
            requeue_lost(database)
        assert tries < KILLS * 20, "scans are over before they can be killed"
    assert scan(library) == "done"
    assert_as_found_at_once(tmp_path, database, scan, house, library, kind)


def said(database: Database, library: int, check: str) -> list[str]:
    """What a check says of a library, by its paths."""
    with database.begin() as db:
        query = select(Finding.path).where(Finding.library_id == library, Finding.check == check)
        return sorted(db.scalars(query))


def test_a_folder_that_is_empty_or_not_any_more_is_noticed_although_no_file_tells_of_it(
    tmp_path: Path, database: Database, scan: Callable[[int], str]
) -> None:
    root = tmp_path / "films"
    for title in ("Harbour Glass (1987)", "Salt Weather (2004)"):
        (root / title).mkdir(parents=True)
        (root / title / f"{title}.mkv").write_bytes(title.encode() * 50)
    library = declare(database, root, "movies")
    scan(library)
    assert said(database, library, "folder-empty") == []
    (root / "Tin Kite (2009)" / "Disc").mkdir(parents=True)
    scan(library)
    assert said(database, library, "folder-empty") == ["Tin Kite (2009)/"]
    (root / "Tin Kite (2009)" / "Disc").rmdir()
    scan(library)
    assert said(database, library, "folder-empty") == ["Tin Kite (2009)/"]
    (root / "Tin Kite (2009)").rmdir()
    scan(library)
    assert said(database, library, "folder-empty") == []


def test_two_files_that_would_take_one_name_are_checked_together(
    tmp_path: Path, database: Database, scan: Callable[[int], str]
) -> None:
    """Only one may be promised the name; when that one is gone the other is."""
    root = tmp_path / "films"
    root.mkdir()
    first, second = root / "Salt.Weather.2004.720p.mkv", root / "Drama" / "Salt Weather 2004.mkv"
    first.write_bytes(b"first " * 50)
    (root / "Harbour Glass (1987)").mkdir()
    (root / "Harbour Glass (1987)" / "Harbour Glass (1987).mkv").write_bytes(b"another " * 50)
    library = declare(database, root, "movies")
    scan(library)
    assert len(fixes(database, library)) == 1
    second.parent.mkdir()
    second.write_bytes(b"second " * 60)
    scan(library)
    both = fixes(database, library)
    assert len(both) == len({fix for fix, _ in both}), "no name is promised to two"
    first.unlink()
    scan(library)
    calm = declare(database, shutil.copytree(root, tmp_path / "calm" / "films"), "movies")
    scan(calm)
    assert fixes(database, library) == fixes(database, calm) != []


def fixes(database: Database, library: int) -> list[tuple[str, str]]:
    """All names that are proposed in a library, and for what."""
    with database.begin() as db:
        query = select(Finding.fix, Finding.path).where(Finding.library_id == library, Finding.fix.is_not(None))
        return sorted({(str(fix), path) for fix, path in db.execute(query)})


def test_pictures_go_with_the_file_that_gave_them_and_change_with_it(
    tmp_path: Path, database: Database, scan: Callable[[int], str]
) -> None:
    root, films = tmp_path / "videos", tmp_path / "films"
    root.mkdir()
    write_video(root / "Regatta.mp4", title="Regatta", year=2009, minutes=1, height=90)
    write_video(tmp_path / "other.mp4", title="Kite day", year=2014, minutes=2, height=120)
    write_video(films / "Wood Fair (2022)" / "Wood Fair (2022).mp4", title="Wood Fair", year=2022, minutes=1, height=90)
    poster = films / "Wood Fair (2022)" / "poster.jpg"
    Image.new("RGB", (64, 96), (9, 90, 160)).save(poster)
    videos, movies = declare(database, root, "home-videos"), declare(database, films, "movies")
    scan(videos)
    scan(movies)
    ((title, role, digest),) = pictures(database, videos)
    assert (title, role) == ("Regatta", "thumb")
    assert [row[:2] for row in pictures(database, movies)] == [("Wood Fair", "poster")]
    (tmp_path / "other.mp4").replace(root / "Regatta.mp4")
    poster.unlink()
    scan(videos)
    scan(movies)
    ((title, role, other),) = pictures(database, videos)
    assert (title, role) == ("Regatta", "thumb") and other != digest
    assert pictures(database, movies) == []


def pictures(database: Database, library: int) -> list[tuple[str, str, str]]:
    """Title, role and digest of every picture of a library."""
    with database.begin() as db:
        query = select(Entry.title, Artwork.role, Artwork.digest).join(Artwork, Artwork.entry_id == Entry.id)
        return sorted(db.execute(query.where(Entry.library_id == library)))


def artists(database: Database, library: int) -> list[str]:
    with database.begin() as db:
        return list(db.scalars(select(Entry.title).where(Entry.library_id == library, Entry.kind == "artist")))


GOOD, POOR = "Bo Lind/Anchor/04 - Rope.mp3", "bo lind/Kiln/04 - Salt.mp3"


@pytest.mark.parametrize(("first", "second"), [(GOOD, POOR), (POOR, GOOD)])
def test_an_artist_is_spelled_as_the_best_of_all_names_that_are_there_spells_it(
    tmp_path: Path, database: Database, scan: Callable[[int], str], first: str, second: str
) -> None:
    """Although the files lie far apart, and a change of one does not look at the other."""
    root = tmp_path / "music"
    root.mkdir()
    library = declare(database, root, "music")
    for name in (first, second):
        (root / name).parent.mkdir(parents=True)
        (root / name).write_bytes(name.encode() * 50)
        scan(library)
    assert artists(database, library) == ["Bo Lind"]
    (root / GOOD).rename(tmp_path / "aside.mp3")
    scan(library)
    assert artists(database, library) == ["bo lind"]
    (tmp_path / "aside.mp3").rename(root / GOOD)
    scan(library)
    assert artists(database, library) == ["Bo Lind"]
