"""Two entries become one: nothing that people kept of either is lost."""

from __future__ import annotations

import os
from collections.abc import Mapping
from pathlib import Path

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from indice.core.grouping import FileView, group
from indice.store.database import Database
from indice.store.files import NewFile, library_files, save_files
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, File, Folder, Mark, Person, Playlist, PlaylistItem
from indice.store.plans import follow_moves
from indice.store.served import apply_grouping, everything

PARTS = [f"Slow Weir/{number:02d} - Weir {number}.flac" for number in range(1, 6)]
"""The first three are of one album, the others of another until somebody mends their tags."""


def new_track(path: str, inode: int) -> NewFile:
    """A track of which nothing but its name is known."""
    return NewFile(
        path=path.encode(),
        shown=path,
        directory=path.rpartition("/")[0],
        size_bytes=1000,
        mtime_ns=1,
        inode=inode,
        kind="track",
        reading={},
        marks=[],
    )


def put_together(db: Session, library_id: int, albums: Mapping[str, str]) -> dict[str, int]:
    """Group the tracks by the albums that they name; returns title → id of the albums."""
    views = [
        FileView(
            id=file.id,
            path=file.shown,
            kind="track",
            reading={"artist": "Ada Reed", "album": albums[file.shown], "track": int(file.shown[10:12])},
            tags={},
        )
        for file in library_files(db, library_id)
    ]
    apply_grouping(db, library_id, group(views), everything(db, library_id))
    return {entry.title: entry.id for entry in db.scalars(select(Entry).where(Entry.kind == "album"))}


@pytest.fixture
def library_id(database: Database, tmp_path: Path) -> int:
    with database.begin() as db:
        folders = [os.fsencode(tmp_path)]
        library = add_library(db, name="Music", kind="music", folders=folders, language="en", country="", sources=[])
        folder = db.scalars(select(Folder)).one()
        save_files(db, folder.id, [new_track(path, number) for number, path in enumerate(PARTS)])
        return library.id


def apart() -> dict[str, str]:
    return {path: "Slow Weir" if number < 3 else "Swift Weir" for number, path in enumerate(PARTS)}


def joined() -> dict[str, str]:
    return dict.fromkeys(PARTS, "Slow Weir")


def test_marks_words_and_places_of_the_one_that_goes_are_kept_by_the_one_that_stays(
    database: Database, library_id: int
) -> None:
    with database.begin() as db:
        albums = put_together(db, library_id, apart())
        assert set(albums) == {"Slow Weir", "Swift Weir"}
        person = Person(name="Orla", role="adult", password_hash="")
        db.add(person)
        db.flush()
        evening = Playlist(person_id=person.id, name="Evening")
        db.add(evening)
        db.flush()
        db.add_all(
            [
                Mark(person_id=person.id, entry_id=albums["Slow Weir"], rating=6, note="of the river"),
                Mark(person_id=person.id, entry_id=albums["Swift Weir"], rating=9, favourite=True, tags=["rain"]),
                PlaylistItem(playlist_id=evening.id, entry_id=albums["Swift Weir"], place=0),
                Fact(
                    entry_id=albums["Swift Weir"],
                    field="genres",
                    origin="hand",
                    value={"v": ["Choir"]},
                    locked=True,
                ),
            ]
        )
    with database.begin() as db:
        assert put_together(db, library_id, joined()) == {"Slow Weir": albums["Slow Weir"]}
    with database.begin() as db:
        mark = db.scalars(select(Mark)).one()
        assert (mark.rating, mark.note) == (6, "of the river"), "the word of the one that stays is kept"
        assert (mark.favourite, mark.tags) == (True, ["rain"]), "and what it did not say comes from the other"
        assert db.scalars(select(PlaylistItem)).one().entry_id == albums["Slow Weir"]
        assert db.scalars(select(Fact).where(Fact.origin == "hand")).one().entry_id == albums["Slow Weir"]
        assert {file.entry_id is not None for file in db.scalars(select(File))} == {True}


def test_while_a_scan_runs_what_serves_an_entry_goes_on_to_serve_it(database: Database, library_id: int) -> None:
    """Names are shown before all is looked at: only what is new may be added then."""
    with database.begin() as db:
        put_together(db, library_id, apart())
        before = {file.shown: file.entry_id for file in db.scalars(select(File))}
        new = "Slow Weir/06 - Weir 6.flac"
        folder_id = db.scalars(select(Folder.id)).one()
        save_files(db, folder_id, [new_track(new, 9)])
        views = [
            FileView(
                id=file.id,
                path=file.shown,
                kind="track",
                reading={"artist": "Ada Reed", "album": "Weirs of the World", "track": int(file.shown[10:12])},
                tags={},
            )
            for file in library_files(db, library_id)
        ]
        apply_grouping(db, library_id, group(views))
    with database.begin() as db:
        after = {file.shown: file.entry_id for file in db.scalars(select(File))}
        assert after.pop(new) is not None
        assert after == before
        titles = sorted(db.scalars(select(Entry.title).where(Entry.kind == "track", Entry.number == 6)))
        assert len(titles) == 1 and db.query(Entry).filter_by(kind="track").count() == 6, "no entry without a file"


def test_what_a_scan_found_already_at_the_place_that_a_file_is_moved_to_leaves_no_entry(
    database: Database, library_id: int, tmp_path: Path
) -> None:
    target = "Slow Weir/09 - Weir 1.flac"
    with database.begin() as db:
        put_together(db, library_id, joined())
        folder_id = db.scalars(select(Folder.id)).one()
        save_files(db, folder_id, [new_track(target, 77)])
        put_together(db, library_id, joined() | {target: "Slow Weir"})
        assert db.query(Entry).filter_by(kind="track").count() == len(PARTS) + 1
    with database.begin() as db:
        root = os.fsencode(tmp_path)
        follow_moves(db, {root + b"/" + PARTS[0].encode(): root + b"/" + target.encode()})
    with database.begin() as db:
        assert db.query(File).count() == len(PARTS)
        assert db.query(Entry).filter_by(kind="track").count() == len(PARTS)
        assert all(db.scalars(select(File.entry_id)))
