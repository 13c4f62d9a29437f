"""A small household goes the whole way on real files and a real database: scan,
group, check, match, decide, take back."""

from __future__ import annotations

import os
import shutil
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import func, select, update
from werkzeug.serving import make_server

from indice.demo.media import write_subtitle, write_track, write_video
from indice.demo.posters import cover
from indice.demo.world import albums
from indice.settings import Settings
from indice.standins.almanac import create_almanac
from indice.standins.profile import PROFILE
from indice.store.database import Database
from indice.store.decisions import restore
from indice.store.export import export_entries
from indice.store.libraries import add_library
from indice.store.models import Artwork, Decision, Entry, Fact, File, Finding, Folder, Job, JobLine, Library
from indice.store.sources import add_source
from indice.work.queue import perform
from indice.work.requests import request_job


@pytest.fixture(scope="module")
def household(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A few films, a series and an album, one file broken, one name in no known encoding."""
    root = tmp_path_factory.mktemp("household")
    films = root / "Films"
    for title, year, minutes in (
        ("Harbour Glass", 1987, 112),
        ("Harbour Glass", 2019, 104),
        ("Moth Season", 2016, 107),
    ):
        write_video(
            films / f"{title} ({year})" / f"{title} ({year}).mp4", title=title, year=year, minutes=minutes, height=90
        )
    write_video(
        films / "Dust Oprea (1971)" / "Dust Oprea (1971).mp4", title="Dust Opera", year=1968, minutes=151, height=90
    )
    write_video(
        films / "Home Movie Nobody Knows (2003)" / "Home Movie Nobody Knows (2003).mp4",
        title="x",
        year=2003,
        minutes=3,
        height=90,
    )
    write_subtitle(films / "Moth Season (2016)" / "Moth Season (2016).en.srt", ("Lights out.",))
    (films / "Cut (1999)").mkdir()
    (films / "Cut (1999)" / "Cut (1999).mkv").write_bytes(b"cut off")
    (films / "Thumbs.db").write_bytes(b"x")
    series = root / "Series" / "Undercroft (2022)"
    for number in (1, 2, 4):
        write_video(series / f"Undercroft - S01E{number:02d}.mp4", title="Undercroft", year=2022, minutes=52, height=90)
    album = next(a for a in albums() if a.title == "Porchlight")
    for number, (title, seconds, artist, _) in enumerate(album.tracks, 1):
        write_track(
            root / "Music" / "Mothwing" / "Porchlight (1991)" / f"{number:02d} - {title}.flac",
            title=title,
            seconds=seconds,
            artist=artist,
            tags={"title": title, "artist": artist, "album": album.title},
            picture=cover(album.title, artist, 1991),
        )
    odd = os.fsencode(root / "Music") + b"/Cami\xf3n"
    os.makedirs(odd)
    shutil.copy(next((root / "Music").rglob("01*.flac")), os.fsdecode(odd + b"/01 - Pe\xf1a.flac"))
    return root


@pytest.fixture(scope="module")
def almanac_url() -> Iterator[str]:
    """The stand-in source on a free port."""
    server = make_server("127.0.0.1", 0, create_almanac(), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/reconcile"
    server.shutdown()


def declare(database: Database, household: Path, name: str, kind: str) -> int:
    """Declare a library of the household."""
    with database.begin() as db:
        return add_library(
            db, name=name, kind=kind, folders=[os.fsencode(household / name)], language="en", country="", sources=[]
        ).id


def run(database: Database, settings: Settings, kind: str, library_id: int) -> Job:
    """Run a job here and now."""
    job_id = request_job(database, kind, library_id)
    perform(database, settings, job_id)
    with database.begin() as db:
        return db.get_one(Job, job_id)


def entries(database: Database, kind: str) -> dict[tuple[str, int | None], Entry]:
    """Entries of a kind by title and year."""
    with database.begin() as db:
        return {(entry.title, entry.year): entry for entry in db.scalars(select(Entry).where(Entry.kind == kind))}


def test_films_go_the_whole_way(database: Database, settings: Settings, household: Path, almanac_url: str) -> None:
    library_id = declare(database, household, "Films", "movies")
    assert run(database, settings, "scan", library_id).state == "done"
    with database.begin() as db:
        assert {f.check for f in db.scalars(select(Finding))} == {"junk"}
        assert [
            line.path.rpartition("/")[2] for line in db.scalars(select(JobLine).where(JobLine.level == "warning"))
        ] == ["Cut (1999).mkv"]
        add_source(db, PROFILE.format(url=almanac_url), None)
    assert run(database, settings, "match", library_id).message == "3 settled, 1 waiting, 2 none"
    films = entries(database, "movie")
    assert films["Harbour Glass", 1987].external_id != films["Harbour Glass", 2019].external_id
    assert films["Dust Oprea", 1971].state == "waiting"
    assert films["Home Movie Nobody Knows", 2003].state == "none"
    with database.begin() as db:
        plot = db.scalars(
            select(Fact).where(Fact.entry_id == films["Moth Season", 2016].id, Fact.field == "plot")
        ).one()
        assert plot.origin == "source:Almanac"
        assert db.scalar(select(func.count()).select_from(Artwork).where(Artwork.origin == "source:Almanac")) == 6
        rows = list(export_entries(db, db.get_one(Library, library_id)))
    assert {row["decision"] for row in rows} == {"automatic", "waiting", "none"}
    assert next(row for row in rows if row["title"] == "Dust Oprea")["candidates"][0]["id"]


def test_a_second_scan_changes_nothing(database: Database, settings: Settings, household: Path) -> None:
    library_id = declare(database, household, "Music", "music")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        before = [(f.id, f.path, f.mtime_ns, f.entry_id) for f in db.scalars(select(File).order_by(File.id))]
    assert run(database, settings, "scan", library_id).message == "Nothing has changed."
    with database.begin() as db:
        assert [(f.id, f.path, f.mtime_ns, f.entry_id) for f in db.scalars(select(File).order_by(File.id))] == before
        assert any(b"\xf1" in bytes(path) for _, path, _, _ in before)


def test_an_album_is_matched_by_its_tracks(
    database: Database, settings: Settings, household: Path, almanac_url: str
) -> None:
    library_id = declare(database, household, "Music", "music")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        add_source(db, PROFILE.format(url=almanac_url), None)
    run(database, settings, "match", library_id)
    album = entries(database, "album")["Porchlight", 1991]
    assert album.state == "settled"
    with database.begin() as db:
        tracks = list(db.scalars(select(Entry).where(Entry.parent_id == album.id)))
        assert all(track.external_id for track in tracks)
        assert (
            db.scalars(select(Artwork).where(Artwork.entry_id == album.id, Artwork.origin == "tags")).one().role
            == "cover"
        )


def test_a_series_is_matched_once_and_its_episodes_assigned(
    database: Database, settings: Settings, household: Path, almanac_url: str
) -> None:
    library_id = declare(database, household, "Series", "series")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        add_source(db, PROFILE.format(url=almanac_url), None)
        assert db.scalars(select(Finding.check)).all() == ["season-folder-missing", "episode-missing"]
    run(database, settings, "match", library_id)
    assert entries(database, "series")["Undercroft", 2022].state == "settled"
    with database.begin() as db:
        episodes = list(db.scalars(select(Entry).where(Entry.kind == "episode").order_by(Entry.number)))
    assert [episode.number for episode in episodes] == [1, 2, 4]
    assert all(episode.external_id and not episode.title.startswith("Episode") for episode in episodes)


def test_a_decision_can_be_taken_back(
    database: Database, settings: Settings, household: Path, almanac_url: str
) -> None:
    library_id = declare(database, household, "Films", "movies")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        add_source(db, PROFILE.format(url=almanac_url), None)
    run(database, settings, "match", library_id)
    film = entries(database, "movie")["Moth Season", 2016]
    with database.begin() as db:
        restore(db, db.scalars(select(Decision).where(Decision.entry_id == film.id)).one())
    with database.begin() as db:
        again = db.get_one(Entry, film.id)
        assert (again.state, again.external_id, again.title) == ("waiting", None, "Moth Season")
        assert (
            db.scalar(
                select(func.count())
                .select_from(Fact)
                .where(Fact.entry_id == film.id, Fact.origin.startswith("source:"))
            )
            == 0
        )


def test_a_source_that_is_down_fails_the_job_and_loses_nothing(
    database: Database, settings: Settings, household: Path
) -> None:
    library_id = declare(database, household, "Series", "series")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        add_source(db, PROFILE.format(url="http://127.0.0.1:9/reconcile"), None)
    job = run(database, settings, "match", library_id)
    assert job.state == "failed"
    assert "Almanac" in job.message
    assert all(entry.state == "unseen" for entry in entries(database, "series").values())


def test_files_come_go_and_come_back(database: Database, settings: Settings, tmp_path: Path) -> None:
    folder = tmp_path / "Films"
    film = folder / "Moth Season (2016)" / "Moth Season (2016).mkv"
    film.parent.mkdir(parents=True)
    film.write_bytes(b"x")
    (folder / "keep.txt").write_bytes(b"x")
    with database.begin() as db:
        library_id = add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(folder)], language="en", country="", sources=[]
        ).id
    run(database, settings, "scan", library_id)
    film.rename(tmp_path / "away.mkv")
    assert "1 gone" in run(database, settings, "scan", library_id).message
    assert entries(database, "movie") == {}
    (tmp_path / "away.mkv").rename(film)
    run(database, settings, "scan", library_id)
    assert list(entries(database, "movie")) == [("Moth Season", 2016)]


def test_an_unplugged_drive_loses_nothing(database: Database, settings: Settings, tmp_path: Path) -> None:
    folder = tmp_path / "Films"
    (folder / "Moth Season (2016)").mkdir(parents=True)
    (folder / "Moth Season (2016)" / "Moth Season (2016).mkv").write_bytes(b"x")
    with database.begin() as db:
        library_id = add_library(
            db, name="Films", kind="movies", folders=[os.fsencode(folder)], language="en", country="", sources=[]
        ).id
    run(database, settings, "scan", library_id)
    folder.rename(tmp_path / "unplugged")
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        assert db.scalars(select(File.state)).all() == ["away"]
        assert "not there" in db.scalars(select(Folder.problem)).one()
    assert list(entries(database, "movie")) == [("Moth Season", 2016)]
    (tmp_path / "unplugged").rename(folder)
    run(database, settings, "scan", library_id)
    with database.begin() as db:
        assert db.scalars(select(File.state)).all() == ["present"]


def test_a_job_can_be_stopped_and_goes_on_later(database: Database, settings: Settings, household: Path) -> None:
    library_id = declare(database, household, "Films", "movies")
    job_id = request_job(database, "scan", library_id)
    with database.begin() as db:
        db.execute(update(Job).values(stop_wanted=True))
    assert perform(database, settings, job_id) == "stopped"
    assert run(database, settings, "scan", library_id).state == "done"
    assert len(entries(database, "movie")) == 6
