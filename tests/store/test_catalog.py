"""Questions that the screens ask, on real records."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from sqlalchemy import delete, text
from sqlalchemy.exc import IntegrityError

from indice.core.grouping import FileView, group
from indice.core.reading.reader import read_path
from indice.errors import IndiceError
from indice.store.browse import Wanted, shelf_page
from indice.store.catalog import search_entries, waiting_counts
from indice.store.database import Database
from indice.store.facts import put_facts, values_of
from indice.store.files import NewFile, library_files, save_files
from indice.store.jobs import create_job, find_active, lost_jobs, recent_jobs
from indice.store.libraries import add_library, libraries_named, remove_library
from indice.store.models import Entry, Fact, File, Job, Library, Source, now
from indice.store.served import apply_grouping, everything
from indice.store.shown import refresh_shown
from indice.store.sources import key_of, recall, remember, set_key
from indice.store.tallies import library_states, tree_level

FILMS = (
    "Harbour Glass (1987)/Harbour Glass (1987).mkv",
    "Moth Season (2016)/Moth Season (2016).mkv",
    "The Paper Lighthouse (2000)/The Paper Lighthouse (2000).mkv",
    "夜市の時計屋 (2001)/夜市の時計屋 (2001).mkv",
    "junk.zip",
)


@pytest.fixture
def library_id(database: Database, tmp_path: object) -> int:
    """A library with a few films, grouped."""
    with database.begin() as db:
        library = add_library(
            db, name="Films", kind="movies", folders=[str(tmp_path).encode()], language="en", country="", sources=[]
        )
        folder_id = db.execute(text("select id from folder")).scalar_one()
        files: list[NewFile] = []
        for path in FILMS:
            reading = read_path(path, "movies")
            values = {k: v for k, v in reading.values().items() if k != "kind"}
            files.append(
                NewFile(
                    path=path.encode(),
                    shown=path,
                    directory=path.rpartition("/")[0],
                    size_bytes=1000,
                    mtime_ns=1,
                    inode=1,
                    kind=reading.kind,
                    reading=values,
                    marks=[],
                )
            )
        save_files(db, folder_id, files)
        views = [FileView(id=f.id, path=f.shown, kind=f.kind, reading=f.reading) for f in library_files(db, library.id)]
        apply_grouping(db, library.id, group(views), everything(db, library.id))
        return library.id


@pytest.mark.parametrize(
    ("words", "first"),
    [
        ("harbour", "Harbour Glass"),
        ("moth seas", "Moth Season"),
        ("paper", "The Paper Lighthouse"),
        ("harbor glas", "Harbour Glass"),
        ("夜市", "夜市の時計屋"),
        ("Season (2016).mkv", "Moth Season"),
    ],
)
def test_search_finds_by_part_by_slip_and_by_file(database: Database, library_id: int, words: str, first: str) -> None:
    with database.begin() as db:
        assert search_entries(db, words, limit=5)[0].title == first


def test_a_file_is_found_by_what_it_is_called_now(database: Database, library_id: int) -> None:
    with database.begin() as db:
        file = next(f for f in library_files(db, library_id) if f.shown.startswith("Moth"))
        file.path, file.shown = b"Moth Season (2016)/mths-1080p-KRAGEL.mkv", "Moth Season (2016)/mths-1080p-KRAGEL.mkv"
        file.problem = "No permission to read it."
    with database.begin() as db:
        assert [entry.title for entry in search_entries(db, "kragel", limit=5)] == ["Moth Season"]
        assert search_entries(db, "Season (2016).mkv", limit=1) == []
        db.execute(delete(File).where(File.shown.startswith("Moth")))
    with database.begin() as db:
        assert search_entries(db, "kragel", limit=5) == []


@pytest.mark.parametrize(
    ("told", "kept"),
    [
        ([("name", {"title": "Glass", "year": 1987})], {"title": "Glass", "year": 1987}),
        ([("name", {"title": "", "plot": None, "genres": [], "year": 0})], {"year": 0}),
        ([("name", {"title": "One"}), ("name", {"title": "Two", "year": 3})], {"title": "Two", "year": 3}),
        ([("name", {"title": "One"}), ("name", {"title": None, "year": 3})], {"title": "One", "year": 3}),
        (
            [("name", {"genres": ["Sea", "Fog"], "about": {"a": [1, None]}})],
            {"genres": ["Sea", "Fog"], "about": {"a": [1, None]}},
        ),
        ([("name", {"title": '夜市 "%s" :x \\ \u2028'})], {"title": '夜市 "%s" :x \\ \u2028'}),
        ([("name", {"title": False})], {"title": False}),
    ],
)
def test_facts_are_kept_as_they_are_told(
    database: Database, library_id: int, told: list[tuple[str, dict[str, Any]]], kept: dict[str, Any]
) -> None:
    with database.begin() as db:
        entry = shelf_page(db, Wanted("films")).entries[0]
        db.execute(delete(Fact).where(Fact.entry_id == entry.id))
        put_facts(db, [(entry.id, origin, values) for origin, values in told])
    with database.begin() as db:
        found = values_of(db, [entry.id]).get(entry.id, {})
        assert {field: value.value for field, values in found.items() for value in values} == kept


def test_only_new_facts_leave_what_is_known(database: Database, library_id: int) -> None:
    with database.begin() as db:
        entry = shelf_page(db, Wanted("films")).entries[0]
        put_facts(db, [(entry.id, "sidecar", {"plot": "As it was."})])
        put_facts(db, [(entry.id, "sidecar", {"plot": "Another.", "tagline": "New."})], only_new=True)
    with database.begin() as db:
        found = values_of(db, [entry.id], fields=["plot", "tagline"])[entry.id]
        assert (found["plot"][0].value, found["tagline"][0].value) == ("As it was.", "New.")


@pytest.mark.parametrize("words", ["", "   ", "xyzzy", "%", "_", "\\", "';--"])
def test_search_takes_any_words(database: Database, library_id: int, words: str) -> None:
    with database.begin() as db:
        assert search_entries(db, words, limit=5) == []


def test_shelves_are_sorted_without_articles(database: Database, library_id: int) -> None:
    with database.begin() as db:
        assert [e.title for e in shelf_page(db, Wanted("films")).entries][:3] == [
            "Harbour Glass",
            "Moth Season",
            "The Paper Lighthouse",
        ]


def test_states_of_folders_add_up(database: Database, library_id: int) -> None:
    with database.begin() as db:
        root = tree_level(db, None)[0]
        assert (root.path, root.has_children) == ("", True)
        assert root.states == {"unseen": 4, "other": 1}
        assert library_states(db)[0][2] == 1000 * len(FILMS)
        assert waiting_counts(db) == {"matches": 0, "names": 0}


def test_grouping_again_changes_nothing(database: Database, library_id: int) -> None:
    with database.begin() as db:
        before = {e.key: e.id for e in shelf_page(db, Wanted("films")).entries}
        views = [FileView(id=f.id, path=f.shown, kind=f.kind, reading=f.reading) for f in library_files(db, library_id)]
        assert apply_grouping(db, library_id, group(views), everything(db, library_id)) == 0
        assert {e.key: e.id for e in shelf_page(db, Wanted("films")).entries} == before


def test_a_locked_fact_stays(database: Database, library_id: int) -> None:
    with database.begin() as db:
        entry = shelf_page(db, Wanted("films")).entries[0]
        put_facts(db, [(entry.id, "hand", {"title": "My Glass"})])
        db.query(Fact).filter_by(entry_id=entry.id, origin="hand").update({"locked": True})
    with database.begin() as db:
        put_facts(
            db,
            [
                (entry.id, "hand", {"title": "Other"}),
                (entry.id, "source:Almanac", {"title": "Their Glass", "date": "1990-01-01"}),
            ],
        )
        refresh_shown(db, [entry.id])
    with database.begin() as db:
        shown = db.get_one(Entry, entry.id)
        assert (shown.title, shown.year) == ("My Glass", 1990)
        assert {v.origin: v.value for v in values_of(db, [entry.id])[entry.id]["title"]} == {
            "name": "Harbour Glass",
            "hand": "My Glass",
            "source:Almanac": "Their Glass",
        }


def test_a_library_forgotten_takes_its_records_along(database: Database, library_id: int) -> None:
    with database.begin() as db:
        remove_library(db, library_id)
    with database.begin() as db:
        assert db.query(Entry).count() == 0
        with pytest.raises(IndiceError):
            remove_library(db, library_id)
        with pytest.raises(IndiceError, match="no library called"):
            libraries_named(db, ["Films"])


def test_names_of_libraries_are_unique(database: Database, library_id: int) -> None:
    with pytest.raises(IntegrityError), database.begin() as db:
        db.add(Library(name="Films", kind="music"))


def test_a_job_whose_worker_died_goes_back_to_the_queue(database: Database, library_id: int) -> None:
    with database.begin() as db:
        lost = create_job(db, "scan", "Scan Films", library_id)
        lost.state, lost.beat_at = "running", now() - timedelta(minutes=5)
        alive = create_job(db, "match", "Match Films", library_id)
        alive.state, alive.beat_at = "running", now()
        db.flush()
        assert lost_jobs(db, lambda job_id: job_id == lost.id) == [lost.id]
    with database.begin() as db:
        assert db.get_one(Job, lost.id).state == "queued"
        assert find_active(db, "match", library_id) is not None
        assert len(recent_jobs(db, limit=5)) == 2


def test_answers_of_a_source_are_remembered_and_keys_kept_apart(database: Database) -> None:
    with database.begin() as db:
        source = Source(name="Almanac", url="http://x.test", profile="")
        db.add(source)
        set_key(db, "Almanac", "tern")
    assert recall(database, source.id, ["asked"]) == {}
    remember(database, source.id, {"asked": {"a": 1}})
    remember(database, source.id, {"asked": {"a": 2}, "other": {"b": 1}})
    assert recall(database, source.id, ["asked", "unknown"]) == {"asked": {"a": 2}}
    with database.begin() as db:
        assert key_of(db, "Almanac") == "tern"
        assert key_of(db, "Other") == ""
        assert "tern" not in str(db.execute(text("select * from source")).all())


def test_a_library_of_any_size_is_grouped_again(database: Database, library_id: int) -> None:
    """More entries than a statement can have single parameters, grouped, renamed all at once, and dropped."""
    many = 70_000
    with database.begin() as db:
        folder_id = db.execute(text("select id from folder")).scalar_one()
        db.execute(
            text(
                "insert into file (folder_id, path, shown, directory, size_bytes, mtime_ns, inode, state, kind, reading, marks,"
                " problem, serves, added_at) select :folder, convert_to(p, 'UTF8'), p, p, 1, 1, n, 'present', 'photo',"
                " '{}', '[]', '', '', now() from (select n, 'IMG_' || n || '.jpg' as p from generate_series(1, :many) n) as made"
            ),
            {"folder": folder_id, "many": many},
        )
        views = [FileView(id=f.id, path=f.shown, kind=f.kind, reading=f.reading) for f in library_files(db, library_id)]
        apply_grouping(db, library_id, group(views), everything(db, library_id))
        assert db.query(Entry).filter_by(kind="photo").count() == many
    moved = [FileView(id=v.id, path=f"2019/{v.path}", kind=v.kind, reading=v.reading) for v in views]
    with database.begin() as db:
        ids = {e.id for e in db.query(Entry).filter_by(kind="photo")}
        apply_grouping(db, library_id, group(moved), everything(db, library_id))
        assert {e.id for e in db.query(Entry).filter_by(kind="photo")} == ids, "entries follow their files"
    with database.begin() as db:
        apply_grouping(db, library_id, group(moved[:10]), everything(db, library_id))
        assert db.query(Entry).filter_by(kind="photo").count() <= 10
