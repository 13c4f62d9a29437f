"""What is known is written beside and into the files only where it is allowed, and can be taken back."""

from __future__ import annotations

import hashlib
import json
import os
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from PIL import Image
from sqlalchemy import select
from werkzeug.serving import make_server

from indice.demo.media import write_track, write_video
from indice.demo.world import albums
from indice.disk.probe import probe
from indice.errors import IndiceError
from indice.phrases import revived
from indice.settings import Settings
from indice.standins.almanac import create_almanac
from indice.standins.profile import PROFILE
from indice.store.byhand import write_by_hand
from indice.store.database import Database
from indice.store.facts import values_of
from indice.store.libraries import add_library
from indice.store.models import Entry, Job, Library, Plan
from indice.store.plans import plan_at
from indice.store.sources import add_source
from indice.work.queue import perform
from indice.work.requests import request_job, request_plan
from indice.work.write_back import draft_writing


@pytest.fixture(scope="module")
def url() -> Iterator[str]:
    server = make_server("127.0.0.1", 0, create_almanac(), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/reconcile"
    server.shutdown()


def work(database: Database, settings: Settings, job_id: int) -> str:
    assert perform(database, settings, job_id) == "done"
    with database.begin() as db:
        return db.get_one(Job, job_id).message


def declare(database: Database, settings: Settings, folder: Path, kind: str, url: str, writes: list[str]) -> int:
    with database.begin() as db:
        add_source(db, PROFILE.format(url=url), None)
        library = add_library(
            db, name=kind, kind=kind, folders=[os.fsencode(folder)], language="en", country="AT", sources=[]
        )
        library.writes = writes
        library_id = library.id
    work(database, settings, request_job(database, "scan", library_id))
    if kind != "photos":
        work(database, settings, request_job(database, "match", library_id))
    return library_id


def picture(root: Path) -> dict[str, tuple[str, int]]:
    return {
        str(path.relative_to(root)): (hashlib.sha256(path.read_bytes()).hexdigest(), path.stat().st_mtime_ns)
        for path in sorted(root.rglob("*"))
        if path.is_file()
    }


def draft(database: Database, settings: Settings, library_id: int) -> Plan:
    with database.begin() as db:
        return draft_writing(db, settings, library_id)


def test_nothing_is_written_unless_it_is_allowed(
    database: Database, settings: Settings, tmp_path: Path, url: str
) -> None:
    (tmp_path / "f").mkdir()
    library_id = declare(database, settings, tmp_path / "f", "movies", url, [])
    with pytest.raises(IndiceError, match="Nothing may be written"):
        draft(database, settings, library_id)


def test_films_get_sidecars_and_pictures(database: Database, settings: Settings, tmp_path: Path, url: str) -> None:
    root = tmp_path / "films"
    for title, year, minutes in (("Harbour Glass", 1987, 112), ("Moth Season", 2016, 107)):
        name = f"{title} ({year})"
        write_video(root / name / f"{name}.mp4", title=title, year=year, minutes=minutes, height=90)
    theirs = root / "Moth Season (2016)" / "Moth Season (2016).jsonld"
    theirs.write_text('{"@type": "Movie", "name": "Moth Season", "description": "By somebody else."}')
    library_id = declare(database, settings, root, "movies", url, ["facts", "artwork"])
    with database.begin() as db:
        moth = db.scalars(select(Entry).where(Entry.title == "Moth Season")).one()
        plots = {v.origin: v.value for v in values_of(db, [moth.id])[moth.id]["plot"]}
    assert plots["sidecar"] == "By somebody else."
    before = picture(root)
    plan = draft(database, settings, library_id)
    assert {(row[1].rpartition("/")[2], row[2]) for row in plan.moves} == {
        ("Harbour Glass (1987).jsonld", "facts"),
        ("poster.jpg", "artwork"),
        ("backdrop.jpg", "artwork"),
    }
    assert [row[0].rpartition("/")[2] for row in plan.conflicts] == ["Moth Season (2016).jsonld"]
    assert picture(root) == before, "a draft writes nothing"
    assert work(database, settings, request_plan(database, "tidy", plan.id)) == "5 files written."
    made = json.loads((root / "Harbour Glass (1987)" / "Harbour Glass (1987).jsonld").read_text())
    assert (made["@type"], made["name"], made["sdPublisher"]["name"]) == ("Movie", "Harbour Glass", "Indice")
    assert made["identifier"][0]["propertyID"] == "almanac"
    assert Image.open(root / "Moth Season (2016)" / "poster.jpg").format == "JPEG"
    work(database, settings, request_job(database, "scan", library_id))
    with database.begin() as db:
        glass = db.scalars(select(Entry).where(Entry.title == "Harbour Glass")).one()
        origins = {v.origin for v in values_of(db, [glass.id])[glass.id]["title"]}
    assert "echo" in origins and "sidecar" not in origins, "its own sidecar tells nothing new"
    assert not draft(database, settings, library_id).moves, "nothing is written twice"
    assert work(database, settings, request_plan(database, "undo", plan.id)) == "5 files taken back."
    assert picture(root) == before
    with database.begin() as db:
        assert plan_at(db, plan.id).state == "undone"


def test_music_gets_tags(database: Database, settings: Settings, tmp_path: Path, url: str) -> None:
    album = next(a for a in albums() if a.title == "Porchlight")
    root = tmp_path / "music"
    for number, (title, seconds, _, _) in enumerate(album.tracks, 1):
        write_track(
            root / "Mothwing" / "Porchlight (1991)" / f"{number:02d} - {title}.flac",
            title=title,
            seconds=seconds,
            artist="Mothwing",
            tags={"title": title.upper()} if number == 1 else {},
        )
    library_id = declare(database, settings, root, "music", url, ["tags", "facts"])
    before = picture(root)
    plan = draft(database, settings, library_id)
    changed = [row for row in plan.moves if row[2].startswith("tags")]
    assert len(changed) == len(album.tracks)
    touched = root / changed[-1][1]
    touched.write_bytes(touched.read_bytes() + b"\0")
    work(database, settings, request_plan(database, "tidy", plan.id))
    with database.begin() as db:
        assert [revived(why) for _, why in plan_at(db, plan.id).left] == ["It has changed since the plan was made."]
    tags = probe(os.fsencode(root / changed[0][1]), "track").media["tags"]
    assert tags.items() >= {"album": "Porchlight", "album_artist": "Mothwing", "year": 1991}.items()
    assert tags["track"] == int(changed[0][1].rpartition("/")[2][:2])
    assert (root / "Mothwing" / "Porchlight (1991)" / "about.jsonld").exists()
    work(database, settings, request_plan(database, "undo", plan.id))
    after = picture(root)
    del before[str(touched.relative_to(root))], after[str(touched.relative_to(root))]
    assert after == before


def test_photos_get_what_a_person_wrote(database: Database, settings: Settings, tmp_path: Path, url: str) -> None:
    root = tmp_path / "photos"
    root.mkdir()
    Image.new("RGB", (40, 30), "teal").save(root / "2019-07-04 Ferry day.jpg")
    library_id = declare(database, settings, root, "photos", url, ["photos"])
    with database.begin() as db:
        photo = db.scalars(select(Entry).where(Entry.kind == "photo")).one()
        write_by_hand(db, photo, "title", "Ada on the ferry", by="Odile")
        write_by_hand(db, photo, "people", ["Ada"], by="Odile")
    plan = draft(database, settings, library_id)
    work(database, settings, request_plan(database, "tidy", plan.id))
    sidecar = root / "2019-07-04 Ferry day.jpg.xmp"
    assert probe(os.fsencode(sidecar), "sidecar").media["facts"] == {"title": "Ada on the ferry", "people": ["Ada"]}
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        library.writes = []
    work(database, settings, request_plan(database, "undo", plan.id))
    assert not sidecar.exists()
