"""Putting together what a change reaches comes to the same as putting everything together."""

from __future__ import annotations

import os
import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from indice.core.reading.reader import read_path
from indice.disk.walk import shown
from indice.store.database import Database
from indice.store.files import Inside, NewFile, mark_state, reserve_numbers, save_files, save_probe
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, File, Folder
from indice.store.moved import settle_moves
from indice.store.served import add_serving, everything
from indice.store.stages import GROUPED, due_files
from indice.store.vicinity import Vicinity
from indice.work import grouping
from indice.work.grouping import group_new, regroup, show_new, view_of_new

TITLES = ("Gull Harvest", "Nine Lanterns", "Åkerö", "Slow Ferry", "夜の橋")
ARTISTS = ("Tarn Hollow", "The Pell Sisters", "Quiet Motor")


def names(kind: str, draw: random.Random) -> str:
    """A path as a household has it: tidy, loose, in a sorting folder, with things beside."""
    title, year = draw.choice(TITLES), draw.choice((1999, 2004, None))
    said = f"{title} ({year})" if year else title
    above = draw.choice(("", "", "Films/", "Shelf/New/"))
    if kind == "movies":
        return draw.choice(
            (
                f"{above}{said}/{said}.mkv",
                f"{above}{said}/{said} - 720p.mkv",
                f"{above}{said}.mp4",
                f"{above}{said}/{said}.de.srt",
                f"{above}{said}/Subs/English.srt",
                f"{above}{said}/poster.jpg",
                f"{above}{said}/{said}.json",
                f"{above}film.json",
                f"{above}{said}/Extras/Making of.mkv",
            )
        )
    if kind == "series":
        season, number = draw.randint(1, 2), draw.randint(1, 3)
        mark = f"S{season:02d}E{number:02d}"
        return draw.choice(
            (
                f"{above}{said}/Season {season}/{title} - {mark}.mkv",
                f"{above}{said}/{title} - {mark} - Part.mkv",
                f"{above}Season {season}/{title} - {mark}.mkv",
                f"{above}{said}/Season {season}/{title} - {mark}.en.srt",
                f"{above}subtitles/{title} - {mark}.fr.srt",
                f"{above}{said}/poster.jpg",
                f"{above}{said}/series.json",
                f"{above}{said}/{title} - S{season:02d}E{number:02d}-E{number + 1:02d}.mkv",
            )
        )
    if kind == "music":
        artist, track = draw.choice(ARTISTS), draw.randint(1, 4)
        return draw.choice(
            (
                f"{above}{artist}/{said}/{track:02d} - Song {track}.flac",
                f"{above}{artist} - {said}/{track:02d} Song {track}.mp3",
                f"{above}{artist}/{said}/cover.jpg",
                f"{above}{artist}/artist.jpg",
                f"{above}{artist}/{said}/{track:02d} - Song {track}.lrc",
                f"{above}{artist}/{said}/album.json",
                f"{above}{artist}/{title} (2004)/CD{draw.randint(1, 2)}/{track:02d} - Song {track}.flac",
            )
        )
    day = draw.randint(1, 28)
    return draw.choice(
        (
            f"2019/2019-08-{day:02d} {title}/IMG_{draw.randint(1, 5):04d}.jpg",
            f"{title}/IMG_201908{day:02d}_101500.jpg",
            f"{title}/IMG_201{draw.randint(0, 9)}0101_101500.jpg",
            f"IMG_201908{day:02d}_101500.jpg",
            f"{title}/VID_201908{day:02d}_101500.mp4",
            f"{title}/{draw.choice(('RAW/', 'raw/', ''))}IMG_201908{day % 3:02d}_101500.dng",
            f"{title}/{draw.choice(('JPG/', ''))}IMG_201908{day % 3:02d}_101500.jpg",
            f"{draw.choice(('RAW/', ''))}IMG_201908{day % 3:02d}_101500.{draw.choice(('dng', 'jpg'))}",
        )
    )


def found_inside(path: str, draw: random.Random) -> dict[str, Any]:
    """What might be inside a file."""
    if path.endswith(".json"):
        about = draw.choice(("", "movie", "series", "album"))
        return {"facts": {"plot": f"Told {draw.randint(1, 3)}"}, "about": about, "own": draw.random() < 0.2}
    if path.endswith((".flac", ".mp3")) and draw.random() < 0.5:
        return {"tags": {"artist": draw.choice(ARTISTS), "album": draw.choice(TITLES), "year": 2004}}
    if path.endswith((".mkv", ".mp4")) and draw.random() < 0.5:
        return {"seconds": draw.choice((5400.0, 5500.0, 1200.0))}
    if path.endswith(".jpg") and "IMG" in path and draw.random() < 0.5:
        return {"taken": f"201{draw.randint(0, 9)}-08-{draw.randint(1, 28):02d}T10:00:00"}
    return {}


def as_found(db: Session, kind: str, path: str) -> NewFile:
    """A path as a scan records it."""
    reading = read_path(path, kind)
    return NewFile(
        path=os.fsencode(path),
        shown=shown(os.fsencode(path)),
        directory=shown(os.fsencode(path)).rpartition("/")[0],
        size_bytes=10,
        mtime_ns=1,
        inode=db.execute(text("select nextval('test_inode')")).scalar_one(),
        kind=reading.kind,
        reading={name: value for name, value in reading.values().items() if name != "kind"},
        marks=[],
    )


def change(db: Session, folder: Folder, kind: str, draw: random.Random) -> None:
    """Something happens on the disk: files come, go, come back, are moved, are looked into."""
    files = list(db.scalars(select(File).where(File.folder_id == folder.id).order_by(File.id)))
    what = draw.choice(("come", "come", "go", "back", "move", "inside"))
    if what == "come" or len(files) < 6:
        paths = {names(kind, draw) for _ in range(draw.randint(1, 4))}
        save_files(db, folder.id, [as_found(db, kind, path) for path in sorted(paths)])
    elif what in ("go", "back"):
        wanted = "missing" if what == "go" else "present"
        some = [file.id for file in files if file.state != wanted]
        mark_state(db, draw.sample(some, min(len(some), draw.randint(1, 2))), wanted)
    elif what == "move":
        old = draw.choice([file for file in files if file.state == "present"] or files)
        path = names(kind, draw)
        if any(file.shown == path for file in files):
            return
        was = (old.inode, old.size_bytes, old.mtime_ns)
        save_files(db, folder.id, [as_found(db, kind, path)])
        new = db.scalars(select(File).where(File.shown == path)).one()
        new.inode, new.size_bytes, new.mtime_ns = was
        db.flush()
        settle_moves(db, folder.library_id, {new.id: old.id}, {})
    else:
        some = draw.sample(files, min(len(files), 3))
        save_probe(db, [Inside(file.id, found_inside(file.shown, draw)) for file in some])


def records(db: Session) -> dict[str, Any]:
    """All that grouping writes, without the numbers of rows."""
    keys = dict(db.execute(select(Entry.id, Entry.key)).all())
    return {
        "entries": sorted(
            (e.key, e.kind, e.title, e.year, e.season, e.number, e.disc, e.moment, keys.get(e.parent_id or 0, ""))
            for e in db.scalars(select(Entry))
        ),
        "serves": sorted(
            (f.shown, keys.get(f.entry_id or 0, ""), f.serves if f.entry_id else "")
            for f in db.scalars(select(File).where(File.state != "missing"))
        ),
        "facts": sorted(
            (keys[f.entry_id], f.origin, f.field, str(f.value)) for f in db.scalars(select(Fact)) if f.origin != "name"
        ),
    }


@pytest.fixture(autouse=True)
def small(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[bool]]:
    """Small libraries are looked at in part as large ones are; tells which groupings were in part."""
    monkeypatch.setattr(grouping, "FEW", 10_000)
    parts: list[bool] = []
    near = grouping._near  # pyright: ignore[reportPrivateUsage]

    def noted(db: Session, library_id: int, vicinity: Vicinity) -> Any:
        found = near(db, library_id, vicinity)
        parts.append(len(found[1].files) < len(everything(db, library_id).files))
        return found

    monkeypatch.setattr(grouping, "_near", noted)
    yield parts


def empty_library(db: Session, kind: str, root: Path) -> tuple[int, int]:
    """A library that holds nothing yet, and its folder."""
    db.execute(text("create sequence test_inode"))
    folders = [str(root).encode()]
    library = add_library(db, name="L", kind=kind, folders=folders, language="en", country="", sources=[])
    return library.id, db.scalars(select(Folder.id)).one()


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos"])
@pytest.mark.parametrize("seed", range(3))
def test_in_part_as_in_whole(database: Database, small: list[bool], kind: str, seed: int, tmp_path: Path) -> None:
    """After each of many changes the records are those of a grouping of everything."""
    draw = random.Random(f"{kind} {seed}")
    with database.begin() as db:
        library_id, folder_id = empty_library(db, kind, tmp_path)
        save_files(db, folder_id, [as_found(db, kind, path) for path in sorted({names(kind, draw) for _ in range(25)})])
    regroup(database, library_id)
    for round_ in range(25):
        with database.begin() as db:
            change(db, db.get_one(Folder, folder_id), kind, draw)
        regroup(database, library_id)
        with database.begin() as db:
            in_part = records(db)
        regroup(database, library_id, whole=True)
        with database.begin() as db:
            in_whole = records(db)
            db.execute(text("update folder set stirred = '[]'"))
        for name, rows in in_whole.items():
            assert in_part[name] == rows, f"{name} in round {round_}"
    assert any(small), "no change was small enough to be looked at in part"


def one_after_the_other(db: Session, library_id: int, folder_id: int, new: list[NewFile]) -> None:
    """Names are recorded, and then the entries they make."""
    ids = {one.path: one.id for one in save_files(db, folder_id, new)}
    show_new(db, library_id, [view_of_new(file, ids[file.path]) for file in new])


def together(db: Session, library_id: int, folder_id: int, new: list[NewFile]) -> None:
    """Names of which none is known are recorded with their entries."""
    numbered = dict(zip(reserve_numbers(db, len(new)), new, strict=True))
    add_serving(db, library_id, folder_id, numbered, group_new(numbered))


def what_is_there(db: Session) -> dict[str, list[Any]]:
    """Files, entries, what is said of them, and what is still due, without numbers."""
    asked = {
        "files": "select file.shown, entry.key, serves, looked_by, pictured_by, grouped_by, checked_by, file.state"
        " from file left join entry on entry.id = entry_id",
        "entries": "select one.key, one.handle, one.title, one.year, above.key from entry one"
        " left join entry above on above.id = one.parent_id",
        "facts": "select key, field, origin, value::text from fact join entry on entry.id = entry_id",
        "ages": "select distinct key from age_due join entry on entry.id = entry_id",
        "traits": "select distinct key from trait_due join entry on entry.id = entry_id",
        "names": "select shown, name from file_name join file on file.id = file_id",
        "counted": "select distinct directory from tally_change",
    }
    return {name: sorted(map(repr, db.execute(text(query)).all())) for name, query in asked.items()}


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos"])
def test_names_recorded_with_their_entries_as_one_after_the_other(
    database: Database, kind: str, tmp_path: Path
) -> None:
    draw = random.Random(f"together {kind}")
    paths = sorted({names(kind, draw) for _ in range(60)})
    found = []
    for way in (one_after_the_other, together):
        with database.begin() as db:
            library_id, folder_id = empty_library(db, kind, tmp_path)
            for table in ("age_due", "trait_due", "tally_change"):
                db.execute(text(f"delete from {table}"))
            for start in range(0, len(paths), 25):
                way(db, library_id, folder_id, [as_found(db, kind, path) for path in paths[start : start + 25]])
            found.append(what_is_there(db))
            db.rollback()
    assert found[0]["files"] and found[0]["ages"]
    assert found[0] == found[1]


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos"])
@pytest.mark.parametrize("seed", range(4))
def test_a_first_scan_in_bunches_as_in_whole(
    database: Database, small: list[bool], kind: str, seed: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Names are shown as they come, some at a time; then bunch after bunch is put together, as in a large library."""
    monkeypatch.setattr(grouping, "SMALL", 0)
    monkeypatch.setattr(grouping, "FEW", 5)
    draw = random.Random(f"first {kind} {seed}")
    with database.begin() as db:
        library_id, folder_id = empty_library(db, kind, tmp_path)
    paths = sorted({names(kind, draw) for _ in range(90)})
    for start in range(0, len(paths), 7):
        with database.begin() as db:
            new = [as_found(db, kind, path) for path in paths[start : start + 7]]
            draw.choice((one_after_the_other, together))(db, library_id, folder_id, new)
    regroup(database, library_id)
    for _ in range(2):
        with database.begin() as db:
            files = list(db.scalars(select(File)))
            save_probe(db, [Inside(file.id, found_inside(file.shown, draw)) for file in files if draw.random() < 0.6])
        regroup(database, library_id)
        with database.begin() as db:
            in_bunches = records(db)
            due, _ = due_files(db, GROUPED, library_id)
        assert due == []
        regroup(database, library_id, whole=True)
        with database.begin() as db:
            in_whole = records(db)
        for name, rows in in_whole.items():
            assert in_bunches[name] == rows, (
                name,
                set(in_bunches[name]) - set(rows),
                set(rows) - set(in_bunches[name]),
            )
    assert small, "it went into no bunches"
