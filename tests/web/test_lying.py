"""Music and photos in their folders as they lie: level by level, each once, and nothing that one may not see."""

from __future__ import annotations

import os
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as some
from sqlalchemy import update

from indice.core.facts.clean import clean_text
from indice.store import lying
from indice.store.ages import limit_directory
from indice.store.database import Database
from indice.store.lying import folders_in, pieces_below, pieces_in
from indice.store.models import Entry, File, Folder, Library

from .kettle import Sign, said

HELD = (
    "loose.mp3",
    "Osk/Low Tide/01 Marl.mp3",
    "Osk/Low Tide/02 Weir.mp3",
    "Osk/Low Tide - live/01 Marl.mp3",
    "Osk - the early years/CD 2/01 Sill.mp3",
    "Osk - the early years/CD 10/01 Oar.mp3",
    "Osk - the early years/10 Quay.mp3",
    "osprey/01 100% Rain_.mp3",
    "osprey_/01 Hail.mp3",
    "Ólafs/01 Ís.mp3",
    "波止場/01 汽笛.mp3",
)


def lay(database: Database, *paths: str | bytes, kind: str = "track", name: str = "M", folder: bytes = b"/m") -> int:
    """Records of files at these paths, an entry each; returns the number of the library's folder."""
    with database.begin() as db:
        library = Library(name=name, kind="music", language="en", country="")
        db.add(library)
        db.flush()
        home = Folder(library_id=library.id, path=folder, shown=folder.decode())
        db.add(home)
        db.flush()
        for path in map(os.fsencode, paths):
            shown = path.decode(errors="replace")
            title = shown.rpartition("/")[2]
            entry = Entry(
                library_id=library.id, key=f"{name} {path!r}", handle=f"{name} {path!r}", kind=kind, title=title,
                sort_title=title.lower(), search=title.lower(),
            )  # fmt: skip
            db.add(entry)
            db.flush()
            db.add(
                File(
                    folder_id=home.id, path=path, shown=clean_text(shown), directory=shown.rpartition("/")[0],
                    size_bytes=1, mtime_ns=1, kind=kind, reading={}, marks=[], entry_id=entry.id,
                )
            )  # fmt: skip
        return home.id


def names(client: FlaskClient, **query: Any) -> list[str]:
    """The folders of a level, page after page."""
    found: list[str] = []
    after: str | None = ""
    while after is not None:
        page = said(client.get("/api/shelves/music/folders", query_string={**query, "after": after}))
        found += [one["name"] for one in page["folders"]]
        after = page["following"]
    return found


def songs(client: FlaskClient, **query: Any) -> list[str]:
    """The songs of a folder, page after page."""
    found: list[str] = []
    after: str | None = ""
    while after is not None:
        page = said(client.get("/api/shelves/music/folders/pieces", query_string={**query, "after": after}))
        assert page["entries"] == []
        found += [one["title"] for one in page["songs"]]
        after = page["following"]
    return found


def test_a_level_has_the_folders_right_below_and_the_songs_in_it(owner: FlaskClient, database: Database) -> None:
    at = lay(database, *HELD)
    (root,) = said(owner.get("/api/shelves/music/folders"))["folders"]
    assert (root["folder_id"], root["path"], root["name"]) == (at, "", "M")
    assert sorted(names(owner, folder_id=at)) == sorted(
        ["Osk", "Osk - the early years", "osprey", "osprey_", "Ólafs", "波止場"]
    )
    assert songs(owner, folder_id=at) == ["loose.mp3"]
    assert names(owner, folder_id=at, path="Osk") == ["Low Tide", "Low Tide - live"]
    assert songs(owner, folder_id=at, path="Osk") == []
    assert names(owner, folder_id=at, path="Osk - the early years") == ["CD 2", "CD 10"], "by number"
    assert songs(owner, folder_id=at, path="Osk - the early years") == ["10 Quay.mp3"]
    assert songs(owner, folder_id=at, path="osprey") == ["01 100% Rain_.mp3"]
    assert songs(owner, folder_id=at, path="波止場") == ["01 汽笛.mp3"]
    assert names(owner, folder_id=at, path="nowhere") == songs(owner, folder_id=at, path="nowhere") == []


def test_all_below_comes_in_the_order_of_the_disk(owner: FlaskClient, database: Database) -> None:
    at = lay(database, *HELD)
    assert songs(owner, folder_id=at, path="Osk", below=True) == ["01 Marl.mp3", "01 Marl.mp3", "02 Weir.mp3"]
    assert len(songs(owner, folder_id=at, below=True)) == len(HELD)


def test_pages_hold_each_folder_and_each_song_once(
    owner: FlaskClient, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    at = lay(database, *HELD)
    whole = set(names(owner, folder_id=at))
    many = lay(database, *(f"a/{n:02d}.mp3" for n in range(23)), name="N", folder=b"/n")
    for size in (1, 2, 5, 11):
        monkeypatch.setattr(lying, "FOLDERS_A_PAGE", size)
        monkeypatch.setattr(lying, "PIECES_A_PAGE", size)
        found = names(owner, folder_id=at)
        assert len(found) == len(whole)
        assert set(found) == whole
        assert songs(owner, folder_id=many, path="a") == [f"{n:02d}.mp3" for n in range(23)]


def test_libraries_with_two_folders_say_which(owner: FlaskClient, database: Database) -> None:
    lay(database, "a.mp3")
    lay(database, "b.mkv", kind="movie", name="Films", folder=b"/films")
    with database.begin() as db:
        library = db.query(Library).filter_by(name="M").one()
        db.add(Folder(library_id=library.id, path=b"/disk/attic", shown="/disk/attic"))
    assert [one["name"] for one in said(owner.get("/api/shelves/music/folders"))["folders"]] == ["M: m"]


def test_folders_of_pictures_show_pictures(owner: FlaskClient, database: Database) -> None:
    at = lay(database, "2019/Lagoon/a.jpg", "2019/Lagoon/b.jpg", kind="photo")
    assert said(owner.get("/api/shelves/music/folders"))["folders"] == []
    level = said(owner.get("/api/shelves/photos/folders", query_string={"folder_id": at}))
    assert [one["path"] for one in level["folders"]] == ["2019"]
    inside = {"folder_id": at, "path": "2019/Lagoon"}
    pieces = said(owner.get("/api/shelves/photos/folders/pieces", query_string=inside))
    assert [one["title"] for one in pieces["entries"]] == ["a.jpg", "b.jpg"]
    assert pieces["songs"] == []


def test_a_name_that_is_no_text_has_what_lies_in_it(owner: FlaskClient, database: Database) -> None:
    at = lay(database, b"Caf\xe9/01 Oar.mp3", b"Caf\xe9/More/02 Sill.mp3")
    assert names(owner, folder_id=at) == ["Caf\ufffd"]
    assert songs(owner, folder_id=at, path="Caf\ufffd") == ["01 Oar.mp3"]


@pytest.mark.parametrize(
    ("path", "status", "reference"),
    [
        ("films/folders", 404, "shelf-unknown"),
        ("films/folders/pieces?folder_id=1", 404, "shelf-unknown"),
        ("music/folders?folder_id=999", 404, "folder-unknown"),
        ("music/folders?folder_id=FOLDER&after=x", 400, "page-unknown"),
        ("music/folders?folder_id=FOLDER&path=Osk&after=WyJhIl0", 400, "page-unknown"),
        ("music/folders?folder_id=FOLDER&path=Osk&after=WyJcdTAwMDAiXQ", 400, "page-unknown"),
        ("music/folders?folder_id=FOLDER&path=Osk&after=WyJcdWQ4MDAiXQ", 400, "page-unknown"),
        ("music/folders/pieces?folder_id=FOLDER&after=WyJ6eiJd", 400, "page-unknown"),
        ("music/folders/pieces", 422, "request-wrong"),
    ],
)
def test_what_is_not_there_is_said(
    owner: FlaskClient, database: Database, path: str, status: int, reference: str
) -> None:
    at = lay(database, "Osk/01 Marl.mp3")
    answer = owner.get(f"/api/shelves/{path.replace('FOLDER', str(at))}")
    assert (answer.status_code, answer.get_json()["reference"]) == (status, reference)


def test_folders_with_nothing_that_one_may_see_are_not_there(household: Database, sign: Sign) -> None:
    at = lay(household, "Open/a.mp3", "Cellar/b.mp3")
    for person in ("member", "child", "guest"):
        assert said(sign(person).get("/api/shelves/music/folders"))["folders"] == []
        answer = sign(person).get("/api/shelves/music/folders", query_string={"folder_id": at})
        assert answer.status_code == 404
        assert songs(sign(person), folder_id=at, below=True) == []
    with household.begin() as db:
        films = db.query(Library).filter_by(name="Films").one().id
        db.execute(update(Folder).where(Folder.id == at).values(library_id=films))
        db.execute(update(Entry).where(Entry.kind == "track").values(library_id=films))
        limit_directory(db, db.get_one(Folder, at), "Cellar", 18)
    assert names(sign("child"), folder_id=at) == ["Open"]
    assert songs(sign("child"), folder_id=at, path="Cellar") == []
    assert songs(sign("child"), folder_id=at, below=True) == ["a.mp3"]
    assert sorted(names(sign("member"), folder_id=at)) == ["Cellar", "Open"]


_PART = some.text("aA0.-_ %\\é波'", min_size=1, max_size=3).filter(lambda one: one not in (".", ".."))


@hypothesis_settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(paths=some.sets(some.lists(_PART, min_size=1, max_size=3).map("/".join), min_size=1, max_size=12))
def test_walking_down_finds_every_file_once(database: Database, paths: set[str]) -> None:
    with database.begin() as db:
        db.query(Library).delete()
    at = lay(database, *(f"{path}/x.mp3" for path in paths))

    def walked(path: str) -> list[str]:
        found: list[str] = []
        after: str | None = ""
        with database.begin() as db:
            pieces = [f"{path}/{one.title}" for one in pieces_in(db, "music", at, path)[0]]
            assert len(pieces_below(db, "music", at, path, limit=50)) >= len(pieces)
            while after is not None:
                folders, after = folders_in(db, "music", at, path, after)
                found += [one.path for one in folders]
        return [*pieces, *(piece for one in found for piece in walked(one))]

    assert sorted(walked("")) == sorted(f"{path}/x.mp3" for path in paths)
