"""What a scan says of files that come, go, move and change, and what their entries
keep: from the contract, on a real disk."""

from __future__ import annotations

import os
import random
import shutil
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from sqlalchemy import select, update

from indice.settings import Settings
from indice.store.database import Database
from indice.store.export import export_entries
from indice.store.files import settle_away
from indice.store.libraries import add_library
from indice.store.models import Artwork, Entry, Fact, File, Folder, Gone, Job, Library, Mark, Person, now
from indice.work.queue import perform
from indice.work.requests import request_job

COUNTS = ("new", "changed", "moved", "gone", "away", "back", "unchanged")


@dataclass
class House:
    """Libraries on a disk, and what a person can do about them."""

    database: Database
    settings: Settings
    root: Path

    def declare(self, name: str, kind: str = "movies", *folders: str) -> int:
        """A library of folders below the root; of its own name where none is given."""
        paths = [self.root / folder for folder in folders or (name,)]
        for path in paths:
            path.mkdir(parents=True, exist_ok=True)
        with self.database.begin() as db:
            return add_library(
                db,
                name=name,
                kind=kind,
                folders=[os.fsencode(path) for path in paths],
                language="en",
                country="",
                sources=[],
            ).id

    def put(self, path: str, content: bytes | str = b"") -> Path:
        """A file; without content of its own it holds its path."""
        place = self.root / path
        place.parent.mkdir(parents=True, exist_ok=True)
        told = content if isinstance(content, bytes) else content.encode()
        place.write_bytes(told or f"what {path} holds".encode())
        return place

    def move(self, before: str, after: str) -> None:
        """As `mv` does on one file system."""
        (self.root / after).parent.mkdir(parents=True, exist_ok=True)
        (self.root / before).rename(self.root / after)

    def scan(self, library_id: int, *, verify: bool = False) -> dict[str, Any]:
        """Scan, and give what was counted."""
        job_id = request_job(self.database, "scan", library_id, subject={"verify": True} if verify else None)
        state = perform(self.database, self.settings, job_id)
        with self.database.begin() as db:
            job = db.get_one(Job, job_id)
            assert state == "done", job.message
            return dict(job.subject["counts"])

    def rows(self, library_id: int) -> dict[str, dict[str, Any]]:
        """The export of a library, by key."""
        with self.database.begin() as db:
            told = list(export_entries(db, db.get_one(Library, library_id)))
        assert len({row["key"] for row in told}) == len(told)
        return {row["key"]: row for row in told}

    def key_of(self, library_id: int, path: str) -> str:
        """The key of the film that a file serves."""
        (key,) = [key for key, row in self.rows(library_id).items() if row["files"] == [path]]
        return key


@pytest.fixture
def house(database: Database, settings: Settings, tmp_path: Path) -> House:
    """No library yet."""
    return House(database, settings, tmp_path / "disk")


def counts(**told: int) -> dict[str, int]:
    """Counts of which all that are not named are nought."""
    return {name: told.get(name, 0) for name in COUNTS}


def film(title: str, year: int = 1990) -> str:
    """Where a film lies."""
    return f"{title} ({year})/{title} ({year}).mkv"


TITLES = ("Salt Ferry", "Tin Orchard", "Low Lantern", "Paper Weir", "Grey Sexton", "Ninth Hedge")


def stock(house: House, name: str = "Films", titles: tuple[str, ...] = TITLES) -> int:
    """A library of some films, scanned once."""
    library = house.declare(name)
    for title in titles:
        house.put(f"{name}/{film(title)}")
    assert house.scan(library) == counts(new=len(titles))
    return library


def keep(house: House, library_id: int, path: str) -> int:
    """A person marks a film, writes its plot, and decides what it is; returns its number."""
    with house.database.begin() as db:
        file = db.scalars(select(File).where(File.shown == path)).one()
        entry = db.get_one(Entry, file.entry_id)
        entry.state, entry.decided_by, entry.external_id = "settled", "hand", "x77"
        person = db.scalars(select(Person)).first() or Person(name="Odile", password_hash="", role="owner")
        db.add(person)
        db.flush()
        db.add(Mark(person_id=person.id, entry_id=entry.id, favourite=True, rating=9, tags=["rain"]))
        db.add(Fact(entry_id=entry.id, field="plot", origin="hand", value={"v": "It rains."}, locked=True))
        return entry.id


def is_kept(house: House, entry_id: int) -> bool:
    """Whether all of that is still there."""
    with house.database.begin() as db:
        entry = db.get(Entry, entry_id)
        marks = db.scalars(select(Mark.rating).where(Mark.entry_id == entry_id)).all()
        plots = db.scalars(select(Fact.value).where(Fact.entry_id == entry_id, Fact.field == "plot")).all()
        return (
            entry is not None
            and (entry.decided_by, entry.external_id) == ("hand", "x77")
            and (marks, plots) == ([9], [{"v": "It rains."}])
        )


def test_nothing_has_changed(house: House) -> None:
    library = stock(house)
    assert house.scan(library) == counts(unchanged=6)
    assert house.scan(library) == counts(unchanged=6)


def test_only_media_and_what_belongs_to_it_are_counted(house: House) -> None:
    library = stock(house, titles=TITLES[:1])
    house.put(f"Films/{film('Salt Ferry')[:-4]}.en.srt", "1\n00:00:01,000 --> 00:00:02,000\nRain.\n")
    house.put("Films/ledger.xyz")
    assert house.scan(library) == counts(new=1, unchanged=1)
    (house.root / "Films/ledger.xyz").unlink()
    assert house.scan(library) == counts(unchanged=2)


def test_a_file_that_only_got_another_time_is_unchanged(house: House) -> None:
    library = stock(house)
    os.utime(house.root / "Films" / film("Tin Orchard"), ns=(5, 5))
    assert house.scan(library) == counts(unchanged=6)
    with house.database.begin() as db:
        assert 5 in db.scalars(select(File.mtime_ns)).all()
    assert house.scan(library) == counts(unchanged=6)


@pytest.mark.parametrize("how", ["in place", "by another of the same size", "longer", "of the same time"])
def test_another_content_at_the_same_path_is_changed(house: House, how: str) -> None:
    library = stock(house)
    place = house.root / "Films" / film("Low Lantern")
    key = house.key_of(library, film("Low Lantern"))
    old = place.read_bytes()
    time_before = place.stat().st_mtime_ns
    if how == "longer":
        place.write_bytes(old + b"!")
    elif how == "in place":
        place.write_bytes(old[::-1])
    else:
        other = place.with_suffix(".tmp")
        other.write_bytes(old[::-1])
        if how == "of the same time":
            os.utime(other, ns=(time_before, time_before))
        other.rename(place)
    assert house.scan(library) == counts(changed=1, unchanged=5)
    assert house.key_of(library, film("Low Lantern")) == key


def test_a_renamed_file_is_moved_and_its_entry_keeps_all(house: House) -> None:
    library = stock(house)
    entry = keep(house, library, film("Paper Weir"))
    key = house.key_of(library, film("Paper Weir"))
    house.move(f"Films/{film('Paper Weir')}", f"Films/{film('Paper Wharf', 1991)}")
    assert house.scan(library) == counts(moved=1, unchanged=5)
    assert house.key_of(library, film("Paper Wharf", 1991)) == key
    assert is_kept(house, entry)


@pytest.mark.parametrize(
    "to", ["Films/Cinder Weir (1986).mkv", "More/Cinder Weir (1986).mkv", "Attic/Cinder Weir (1986).mkv"]
)
def test_a_large_file_is_moved_within_its_folder_to_another_and_to_another_library(house: House, to: str) -> None:
    films, attic = house.declare("Films", "movies", "Films", "More"), house.declare("Attic")
    large = house.put("Films/cinder.weir.1986.mkv")
    os.truncate(large, 5 << 30)  # larger than a number of 32 bits says; nothing of it is on the disk
    assert house.scan(films)["new"] == 1
    house.scan(attic)
    (before,) = house.rows(films)
    house.move("Films/cinder.weir.1986.mkv", to)
    target = attic if to.startswith("Attic") else films
    assert house.scan(target)["moved"] == 1
    (after,) = house.rows(target)
    assert after == before


def test_a_copy_of_which_the_first_is_deleted_is_moved(house: House) -> None:
    library = stock(house)
    entry = keep(house, library, film("Paper Weir"))
    before, after = house.root / "Films" / film("Paper Weir"), house.root / "Films" / film("Paper Wharf")
    after.parent.mkdir()
    shutil.copyfile(before, after)
    shutil.rmtree(before.parent)
    os.utime(after, ns=(9, 9))
    assert house.scan(library) == counts(moved=1, unchanged=5)
    assert is_kept(house, entry)


def test_a_copy_beside_the_first_is_new(house: House) -> None:
    library = stock(house)
    key = house.key_of(library, film("Paper Weir"))
    house.put(f"Films/{film('Paper Wharf')}", (house.root / "Films" / film("Paper Weir")).read_bytes())
    assert house.scan(library) == counts(new=1, unchanged=6)
    assert house.key_of(library, film("Paper Weir")) == key


@pytest.mark.parametrize("by_copy", [False, True])
def test_two_files_that_swap_names_are_two_moved(house: House, by_copy: bool) -> None:
    library = stock(house)
    one, two = film("Salt Ferry"), film("Grey Sexton")
    kept = keep(house, library, one)
    keys = house.key_of(library, one), house.key_of(library, two)
    first, second = house.root / "Films" / one, house.root / "Films" / two
    if by_copy:
        held, other = first.read_bytes(), second.read_bytes()
        first.write_bytes(other)
        second.write_bytes(held)
    else:
        aside = first.with_suffix(".aside")
        first.rename(aside)
        second.rename(first)
        aside.rename(second)
    assert house.scan(library) == counts(moved=2, unchanged=4)
    assert (house.key_of(library, two), house.key_of(library, one)) == keys
    assert is_kept(house, kept)


def test_three_files_that_pass_their_names_on(house: House) -> None:
    library = stock(house)
    names = [film(title) for title in TITLES[:3]]
    keys = [house.key_of(library, name) for name in names]
    places = [house.root / "Films" / name for name in names]
    aside = places[0].with_suffix(".aside")
    places[2].rename(aside)
    places[1].rename(places[2])
    places[0].rename(places[1])
    aside.rename(places[0])
    assert house.scan(library) == counts(moved=3, unchanged=3)
    assert [house.key_of(library, names[place]) for place in (1, 2, 0)] == keys


def test_a_file_moved_away_and_another_put_in_its_place(house: House) -> None:
    library = stock(house)
    kept = keep(house, library, film("Salt Ferry"))
    house.move(f"Films/{film('Salt Ferry')}", f"Films/{film('Salt Barge')}")
    house.put(f"Films/{film('Salt Ferry')}", b"another film")
    assert house.scan(library) == counts(moved=1, new=1, unchanged=5)
    assert is_kept(house, kept)
    with house.database.begin() as db:
        files = dict(db.execute(select(File.shown, File.entry_id)).all())
    assert files[film("Salt Barge")] == kept


def test_a_file_moved_onto_another_leaves_that_one_gone(house: House) -> None:
    library = stock(house)
    over = keep(house, library, film("Grey Sexton"))
    key = house.key_of(library, film("Salt Ferry"))
    gone = house.key_of(library, film("Grey Sexton"))
    house.move(f"Films/{film('Salt Ferry')}", f"Films/{film('Grey Sexton')}")
    assert house.scan(library) == counts(moved=1, gone=1, unchanged=4)
    assert house.key_of(library, film("Grey Sexton")) == key
    assert house.rows(library)[gone]["state"] == "gone"
    assert not is_kept(house, over)
    with house.database.begin() as db:
        assert db.get(Gone, over) is not None
    assert house.scan(library) == counts(unchanged=5)


def test_an_inode_that_is_used_again_proves_nothing(house: House) -> None:
    library = stock(house)
    place = house.root / "Films" / film("Salt Ferry")
    with house.database.begin() as db:
        db.execute(update(File).where(File.shown == film("Salt Ferry")).values(inode=777))
    house.put(f"Films/{film('Salt Heron')}", b"quite another thing")
    inode = (house.root / "Films" / film("Salt Heron")).stat().st_ino
    with house.database.begin() as db:
        db.execute(update(File).where(File.shown == film("Salt Ferry")).values(inode=inode))
    shutil.rmtree(place.parent)
    assert house.scan(library) == counts(new=1, gone=1, unchanged=5)


def test_what_is_gone_is_kept_and_comes_back_whole(house: House) -> None:
    library = stock(house)
    kept = keep(house, library, film("Ninth Hedge"))
    key = house.key_of(library, film("Ninth Hedge"))
    house.move(f"Films/{film('Ninth Hedge')}", "elsewhere.mkv")
    assert house.scan(library) == counts(gone=1, unchanged=5)
    row = house.rows(library)[key]
    assert (row["state"], row["files"], row["facts"]["plot"]) == ("gone", [], "It rains.")
    with house.database.begin() as db:
        assert db.get(Entry, kept) is None
    assert house.scan(library) == counts(unchanged=5)
    house.move("elsewhere.mkv", f"Films/{film('Ninth Hedge')}")
    assert house.scan(library) == counts(back=1, unchanged=5)
    assert is_kept(house, kept)
    assert house.rows(library)[key]["state"] == "present"


def test_what_is_gone_comes_back_under_another_name_and_is_moved(house: House) -> None:
    library = stock(house)
    kept = keep(house, library, film("Ninth Hedge"))
    key = house.key_of(library, film("Ninth Hedge"))
    held = (house.root / "Films" / film("Ninth Hedge")).read_bytes()
    shutil.rmtree((house.root / "Films" / film("Ninth Hedge")).parent)
    house.scan(library)
    house.put(f"Films/{film('Tenth Hedge')}", held)
    assert house.scan(library) == counts(moved=1, unchanged=5)
    assert is_kept(house, kept)
    assert house.key_of(library, film("Tenth Hedge")) == key


def test_a_better_file_of_a_film_that_is_gone_finds_what_was_kept(house: House) -> None:
    library = stock(house)
    kept = keep(house, library, film("Ninth Hedge"))
    shutil.rmtree((house.root / "Films" / film("Ninth Hedge")).parent)
    house.scan(library)
    house.put("Films/Ninth Hedge (1990)/Ninth Hedge (1990) - 2160p.mkv", b"much larger")
    assert house.scan(library) == counts(new=1, unchanged=5)
    assert is_kept(house, kept)


def test_what_is_gone_for_too_long_is_forgotten(house: House) -> None:
    library = stock(house)
    key = house.key_of(library, film("Ninth Hedge"))
    shutil.rmtree((house.root / "Films" / film("Ninth Hedge")).parent)
    house.scan(library)
    long_ago = now().replace(year=now().year - 1)
    with house.database.begin() as db:
        db.execute(update(Gone).values(at=long_ago))
        db.execute(update(File).where(File.state == "missing").values(gone_at=long_ago))
    house.scan(library)
    assert key not in house.rows(library)
    with house.database.begin() as db:
        assert "missing" not in db.scalars(select(File.state)).all()


@pytest.mark.parametrize("there_first", [False, True])
@pytest.mark.parametrize("by_copy", [False, True])
def test_a_move_to_another_library_is_counted_there(house: House, there_first: bool, by_copy: bool) -> None:
    films = stock(house)
    more = stock(house, "More", ("Blue Cartwright",))
    kept = keep(house, films, film("Tin Orchard"))
    key = house.key_of(films, film("Tin Orchard"))
    before, after = house.root / "Films" / film("Tin Orchard"), house.root / "More" / film("Tin Orchard")
    after.parent.mkdir()
    if by_copy:
        after.write_bytes(before.read_bytes())
        shutil.rmtree(before.parent)
    else:
        before.rename(after)
    told = {library: house.scan(library) for library in ((more, films) if there_first else (films, more))}
    with house.database.begin() as db:
        last = select(Job).where(Job.library_id == films).order_by(Job.id.desc())
        said = db.scalars(last).first()
        assert said is not None
        assert said.subject["counts"] == counts(unchanged=5), "it is not gone: it was found elsewhere"
    assert told[more] == counts(moved=1, unchanged=1)
    assert house.key_of(more, film("Tin Orchard")) == key
    assert is_kept(house, kept)
    assert key not in house.rows(films)
    with house.database.begin() as db:
        assert db.get_one(Entry, kept).library_id == more
    assert house.scan(films) == counts(unchanged=5)
    assert house.scan(more) == counts(unchanged=2)


def test_a_whole_series_moves_to_another_library(house: House) -> None:
    first, second = house.declare("Series", "series"), house.declare("Attic", "series")
    for number in range(1, 5):
        house.put(f"Series/Long Tide (2001)/Season 01/Long Tide - S01E{number:02d}.mkv")
    house.put("Series/Wan Moor (2005)/Season 01/Wan Moor - S01E01.mkv")
    house.scan(first), house.scan(second)
    before = {row["title"]: key for key, row in house.rows(first).items() if row["kind"] == "series"}
    house.move("Series/Long Tide (2001)", "Attic/Long Tide (2001)")
    house.scan(first)
    assert house.scan(second) == counts(moved=4)
    there = house.rows(second)
    assert before["Long Tide"] in there
    assert sorted(row["kind"] for row in there.values()) == ["episode"] * 4 + ["season", "series"]
    assert {row["title"] for row in house.rows(first).values() if row["kind"] == "series"} == {"Wan Moor"}


def test_a_drive_that_is_away_and_back(house: House) -> None:
    library = stock(house)
    kept = keep(house, library, film("Salt Ferry"))
    house.move("Films", "unplugged")
    assert house.scan(library) == counts(away=6)
    assert {row["state"] for row in house.rows(library).values()} == {"away"}
    assert house.scan(library) == counts()
    house.move("unplugged", "Films")
    assert house.scan(library) == counts(back=6)
    assert {row["state"] for row in house.rows(library).values()} == {"present"}
    assert is_kept(house, kept)


@pytest.mark.parametrize("there", ["empty", "closed"])
def test_an_empty_mount_point_is_away(house: House, there: str) -> None:
    library = stock(house)
    house.move("Films", "unplugged")
    (house.root / "Films").mkdir()
    if there == "closed":
        (house.root / "Films").chmod(0)
    assert house.scan(library) == counts(away=6)


def test_more_than_half_lost_at_once_is_away_until_a_person_decides(house: House) -> None:
    library = house.declare("Films")
    for number in range(60):
        house.put(f"Films/{film(f'Plain Song {number + 100}')}")
    house.scan(library)
    for number in range(31):
        shutil.rmtree((house.root / "Films" / film(f"Plain Song {number + 100}")).parent)
    assert house.scan(library) == counts(away=31, unchanged=29)
    for number in range(40):
        house.put(f"Films/{film(f'Loud Song {number + 100}')}")
    assert house.scan(library) == counts(new=40, unchanged=29)
    assert sum(row["state"] == "away" for row in house.rows(library).values()) == 31
    with house.database.begin() as db:
        assert settle_away(db, library, gone=True) == 31
    assert house.scan(library) == counts(unchanged=69)
    assert sum(row["state"] == "gone" for row in house.rows(library).values()) == 31


def test_half_or_few_lost_are_gone(house: House) -> None:
    library = house.declare("Films")
    for number in range(60):
        house.put(f"Films/{film(f'Plain Song {number + 100}')}")
    house.scan(library)
    for number in range(30):
        shutil.rmtree((house.root / "Films" / film(f"Plain Song {number + 100}")).parent)
    assert house.scan(library) == counts(gone=30, unchanged=30)


def test_a_folder_inside_that_cannot_be_listed_makes_what_is_below_away(house: House) -> None:
    library = stock(house)
    closed = house.root / "Films" / "Salt Ferry (1990)"
    closed.chmod(0)
    try:
        assert house.scan(library) == counts(away=1, unchanged=5)
        assert house.scan(library) == counts(unchanged=5)
    finally:
        closed.chmod(0o755)
    assert house.scan(library) == counts(back=1, unchanged=5)


def test_a_file_that_still_grows_waits(house: House) -> None:
    library = stock(house)
    place = house.root / "Films" / film("Slow Copy")
    place.parent.mkdir()
    ends = threading.Event()

    def write() -> None:
        with place.open("wb") as file:
            while not ends.is_set():
                file.write(b"more")
                file.flush()
                time.sleep(0.05)

    writer = threading.Thread(target=write)
    writer.start()
    calm = house.settings
    house.settings = replace(calm, still_seconds=0.6)
    try:
        assert house.scan(library) == counts(unchanged=6)
    finally:
        ends.set()
        writer.join()
    assert house.scan(library) == counts(new=1, unchanged=6)


def test_verify_finds_what_has_rotted(house: House) -> None:
    library = stock(house)
    place = house.root / "Films" / film("Low Lantern")
    whole, was = place.read_bytes(), place.stat()
    assert house.scan(library, verify=True) == counts(unchanged=6) | {"rotten": 0, "rotten_paths": []}
    place.write_bytes(bytes([whole[0] ^ 1]) + whole[1:])
    os.utime(place, ns=(was.st_atime_ns, was.st_mtime_ns))
    assert house.scan(library) == counts(unchanged=6)
    told = house.scan(library, verify=True)
    assert (told["rotten"], told["rotten_paths"]) == (1, [film("Low Lantern")])
    assert house.scan(library, verify=True)["rotten"] == 0, "it is not newly so"
    place.write_bytes(whole)
    os.utime(place, ns=(was.st_atime_ns, was.st_mtime_ns))
    assert house.scan(library, verify=True)["rotten"] == 0
    with house.database.begin() as db:
        assert db.scalars(select(File.rotten_at).where(File.rotten_at.is_not(None))).all() == []


def test_a_byte_in_the_middle_of_a_large_file(house: House) -> None:
    library = house.declare("Films")
    place = house.put(f"Films/{film('Long Reel')}", os.urandom(3_000_000))
    house.scan(library)
    was = place.stat()
    with place.open("r+b") as file:
        file.seek(1_234_567)
        byte = file.read(1)
        file.seek(1_234_567)
        file.write(bytes([byte[0] ^ 255]))
    os.utime(place, ns=(was.st_atime_ns, was.st_mtime_ns + 1))
    assert house.scan(library) == counts(changed=1), "its time has changed, and so has it"


Act = Callable[[random.Random, "World"], None]


@dataclass
class World:
    """What lies on the disk by the test's own books: path → which thing it is; and what each thing was last seen as."""

    house: House
    lies: dict[str, int]
    keys: dict[int, str]
    gone: dict[int, tuple[str, bytes]]
    number: int = 0

    def place(self, path: str) -> Path:
        """Where a path is."""
        return self.house.root / "Films" / path

    def free(self) -> str:
        """A path that was never used."""
        self.number += 1
        return film(f"Made Up {self.number + 100}", 1900 + self.number % 100)


@pytest.mark.parametrize("seed", range(12))
def test_whatever_happens_is_told_truly(house: House, seed: int) -> None:
    """Rounds of random changes, each thing touched once a round; the expectation is kept by the test alone."""
    draw = random.Random(seed)
    library = house.declare("Films")
    world = World(house, {}, {}, {})
    for thing in range(14):
        path = world.free()
        world.lies[path] = thing
        house.put(f"Films/{path}", f"thing {thing:04d} of {'many' * draw.randint(1, 2)}")
    assert house.scan(library) == counts(new=14)
    things = 14
    for path, thing in world.lies.items():
        world.keys[thing] = house.key_of(library, path)
    for _ in range(5):
        wanted = counts()
        untouched = list(world.lies)
        draw.shuffle(untouched)
        for _ in range(draw.randint(1, 5)):
            act = draw.choice(("rename", "copy", "swap", "delete", "change", "touch", "come", "return"))
            if act in ("rename", "copy"):
                before, after = untouched.pop(), world.free()
                world.place(after).parent.mkdir(parents=True)
                if act == "rename":
                    world.place(before).rename(world.place(after))
                else:
                    shutil.copyfile(world.place(before), world.place(after))
                    world.place(before).unlink()
                world.lies[after] = world.lies.pop(before)
                wanted["moved"] += 1
            elif act == "swap":
                one, two = untouched.pop(), untouched.pop()
                aside = house.root / "aside"
                world.place(one).rename(aside)
                world.place(two).rename(world.place(one))
                aside.rename(world.place(two))
                world.lies[one], world.lies[two] = world.lies[two], world.lies[one]
                wanted["moved"] += 2
            elif act == "delete":
                path = untouched.pop()
                thing = world.lies.pop(path)
                world.gone[thing] = path, world.place(path).read_bytes()
                world.place(path).unlink()
                wanted["gone"] += 1
            elif act == "change":
                path = untouched.pop()
                world.place(path).write_bytes(world.place(path).read_bytes() + b" changed")
                wanted["changed"] += 1
            elif act == "touch":
                os.utime(world.place(untouched[-1]), ns=(draw.randint(1, 10**9), draw.randint(1, 10**9)))
                untouched.pop()
                wanted["unchanged"] += 1
            elif act == "come":
                path = world.free()
                house.put(f"Films/{path}", f"thing {things:04d} of few")
                world.lies[path] = things
                things += 1
                wanted["new"] += 1
            elif world.gone:
                thing = draw.choice(sorted(world.gone))
                path, held = world.gone[thing]
                if path in world.lies or thing in world.lies.values() or wanted["gone"]:
                    continue
                del world.gone[thing]
                house.put(f"Films/{path}", held)
                world.lies[path] = thing
                wanted["back"] += 1
        wanted["unchanged"] += len(untouched)
        assert house.scan(library) == wanted
        for path, thing in world.lies.items():
            key = house.key_of(library, path)
            assert world.keys.setdefault(thing, key) == key, (path, thing)
        rows = house.rows(library)
        assert {thing for thing in world.gone if rows[world.keys[thing]]["state"] != "gone"} == set()
        assert house.scan(library) == counts(unchanged=len(world.lies))


def pictures(house: House, library_id: int) -> dict[str, list[str]]:
    """File of each present photo → digests of the pictures that its entry shows."""
    with house.database.begin() as db:
        query = (
            select(File.shown, Artwork.digest)
            .join(Folder, Folder.id == File.folder_id)
            .outerjoin(Artwork, Artwork.entry_id == File.entry_id)
            .where(Folder.library_id == library_id, File.state == "present")
        )
        found: dict[str, list[str]] = {}
        for shown, digest in db.execute(query):
            found.setdefault(shown, []).extend([digest] if digest else [])
        return found


def paint(house: House, path: str, colour: tuple[int, int, int]) -> None:
    place = house.root / path
    place.parent.mkdir(parents=True, exist_ok=True)
    Image.new("RGB", (64, 48), colour).save(place)


def test_what_is_back_has_its_picture_again(house: House) -> None:
    library = house.declare("Photos", "photos")
    for number in range(4):
        paint(house, f"Photos/2019-07-20 Ferry/P{number}.jpg", (number * 60, 90, 30))
    house.scan(library)
    before = pictures(house, library)
    assert all(len(shown) == 1 for shown in before.values()) and len(before) == 4
    house.move("Photos/2019-07-20 Ferry/P1.jpg", "aside.jpg")
    assert house.scan(library) == counts(gone=1, unchanged=3)
    house.move("aside.jpg", "Photos/2019-07-20 Ferry/P1.jpg")
    assert house.scan(library) == counts(back=1, unchanged=3)
    assert pictures(house, library) == before


def test_what_was_gone_and_is_in_another_library_has_its_picture(house: House) -> None:
    library = house.declare("Photos", "photos")
    other = house.declare("Others", "photos")
    for number in range(4):
        paint(house, f"Photos/2019-07-20 Ferry/P{number}.jpg", (number * 60, 90, 30))
    house.scan(library)
    house.move("Photos/2019-07-20 Ferry/P1.jpg", "aside.jpg")
    house.scan(library)
    house.move("aside.jpg", "Others/2019-07-20 Ferry/P1.jpg")
    assert house.scan(other)["moved"] == 1
    assert [len(shown) for shown in pictures(house, other).values()] == [1]


@pytest.mark.parametrize("renames", [1, 2, 3])
def test_a_folder_that_is_renamed_after_each_scan_that_was_broken_off_is_moved(
    house: House, monkeypatch: pytest.MonkeyPatch, renames: int
) -> None:
    library = house.declare("Photos", "photos")
    for number in range(4):
        paint(house, f"Photos/Ferry 0/P{number}.jpg", (number * 60, 90, 30))
    house.scan(library)
    key = house.key_of(library, "Ferry 0/P2.jpg")

    class BrokenOff(Exception):
        """The power went."""

    def stop(*_: object) -> None:
        raise BrokenOff

    for step in range(renames):
        house.move(f"Photos/Ferry {step}", f"Photos/Ferry {step + 1}")
        if step == renames - 1:
            paint(house, f"Photos/Ferry {step + 1}/Q.jpg", (7, 200, 9))
        with monkeypatch.context() as broken:
            broken.setattr("indice.work.scan._Scan.settle", stop)
            assert perform(house.database, house.settings, request_job(house.database, "scan", library)) == "failed"
    house.move(f"Photos/Ferry {renames}", "Photos/Ferry")
    assert house.scan(library) == counts(moved=4, new=1)
    assert house.key_of(library, "Ferry/P2.jpg") == key
    assert sorted(pictures(house, library)) == [f"Ferry/{name}.jpg" for name in ("P0", "P1", "P2", "P3", "Q")]
    assert all(len(shown) == 1 for shown in pictures(house, library).values())
    with house.database.begin() as db:
        assert {file.state for file in db.scalars(select(File))} == {"present"}
        assert len(list(db.scalars(select(Entry).where(Entry.kind == "photo")))) == 5
    assert house.scan(library) == counts(unchanged=5)


def test_a_poster_that_is_back_is_shown_again(house: House) -> None:
    library = house.declare("Films")
    house.put(f"Films/{film('Salt Ferry')}")
    poster = "Films/Salt Ferry (1990)/poster.jpg"
    paint(house, poster, (200, 90, 30))
    house.scan(library)
    shown = {name: sorted(found) for name, found in pictures(house, library).items()}
    assert [len(found) for found in shown.values()] == [1, 1]
    house.move(poster, "poster.jpg")
    house.scan(library)
    assert [len(found) for found in pictures(house, library).values()] == [0]
    house.move("poster.jpg", poster)
    house.scan(library)
    assert pictures(house, library) == shown


def test_a_picture_that_was_painted_over_while_it_was_gone_is_the_new_one(house: House) -> None:
    library = house.declare("Photos", "photos")
    for number in range(3):
        paint(house, f"Photos/2019-07-20 Ferry/P{number}.jpg", (number * 60, 90, 30))
    house.scan(library)
    before = pictures(house, library)
    gone = "2019-07-20 Ferry/P1.jpg"
    house.move(f"Photos/{gone}", "aside.jpg")
    house.scan(library)
    paint(house, f"Photos/{gone}", (3, 3, 240))
    house.scan(library)
    after = pictures(house, library)
    assert {name: after[name] == before[name] for name in before} == {name: name != gone for name in before}
    assert [len(shown) for shown in after.values()] == [1, 1, 1]
