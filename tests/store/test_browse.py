"""Shelves by pages, what folders hold, and search, on a catalog that does not fit on one page."""

from __future__ import annotations

import threading

import pytest
from sqlalchemy import text

from indice.errors import IndiceError
from indice.store.browse import PAGE, Wanted, matching_ids, ruler_of, shelf_page
from indice.store.catalog import entries_with, findings_of, safe_findings, search_entries, waiting_entries
from indice.store.database import Database
from indice.store.models import Entry, Fact, File, Finding, Folder, Library
from indice.store.tallies import library_states, tree_level

FILMS = 300


@pytest.fixture
def shelves(database: Database) -> Database:
    """Films, albums and photos: more than a page of each."""
    with database.begin() as db:
        library = Library(name="Everything", kind="mixed")
        db.add(library)
        db.flush()
        db.add(Folder(id=1, library_id=library.id, path=b"/none", shown="/none"))
        common = {"library_id": library.id, "state": "settled"}
        for n in range(FILMS):
            title = f"Film {n % 7} {n:03d}"
            db.add(
                Entry(
                    **common, key=f"m{n}", kind="movie", title=title, sort_title=title.lower(), search=title.lower(),
                    year=None if n % 50 == 0 else 1950 + n % 40,
                )
            )  # fmt: skip
        artists = [
            Entry(
                **common,
                key=f"a{n}",
                kind="artist",
                title=f"Band {n:02d}",
                sort_title=f"band {n:02d}",
                search=f"band {n:02d}",
            )
            for n in range(50)
        ]
        event = Entry(**common, key="e", kind="event", title="Regatta", sort_title="regatta", search="regatta")
        db.add_all([*artists, event])
        db.flush()
        for n in range(150):
            db.add(
                Entry(
                    **common, key=f"b{n}", kind="album", title=f"Album {n}", sort_title=f"album {n}", search=f"album {n}",
                    parent_id=artists[n % 50].id, year=2000 - n // 50,
                )
            )  # fmt: skip
        for n in range(250):
            db.add(
                Entry(
                    **common, key=f"p{n}", kind="clip" if n % 9 == 0 else "photo", title=f"IMG_{n:04d}", sort_title=f"img {n}",
                    search=f"img_{n:04d}", moment=None if n == 7 else f"20{10 + n % 5}-0{1 + n % 9}-11T10:00:00", parent_id=event.id,
                )
            )  # fmt: skip
    return database


def whole(database: Database, wanted: Wanted) -> tuple[list[Entry], int]:
    """All entries of a shelf, page by page, and how many pages there were."""
    found: list[Entry] = []
    pages = 0
    after = wanted.after
    with database.begin() as db:
        while True:
            page = shelf_page(db, Wanted(wanted.shelf, wanted.year, wanted.until, wanted.words, after))
            found += page.entries
            pages += 1
            if page.following is None:
                return found, pages
            assert page.following != after
            after = page.following


def test_pages_of_films_join_without_gap_or_repeat(shelves: Database) -> None:
    found, pages = whole(shelves, Wanted("films"))
    assert (len({e.id for e in found}), len(found), pages) == (FILMS, FILMS, 3)
    keys = [(e.sort_title, e.year or 0, e.id) for e in found]
    assert keys == sorted(keys)


def test_albums_come_by_artist_and_year(shelves: Database) -> None:
    found, pages = whole(shelves, Wanted("music"))
    assert (len(found), pages) == (150, 2)
    assert [e.year for e in found[:3]] == [1998, 1999, 2000]
    assert len({e.parent_id for e in found[:120]}) == 40


def test_photos_come_from_the_newest_to_those_without_a_day(shelves: Database) -> None:
    found, _ = whole(shelves, Wanted("photos"))
    assert len(found) == 250
    moments = [e.moment or "" for e in found]
    assert moments == sorted(moments, reverse=True)
    assert found[-1].moment is None


@pytest.mark.parametrize(
    ("wanted", "count"),
    [
        (Wanted("films", year="1955"), 8),
        (Wanted("films", year="?"), 6),
        (Wanted("films", words="film 3"), 43),
        (Wanted("films", words="FILM 3"), 43),
        (Wanted("films", words="100%"), 0),
        (Wanted("films", words="_ilm"), 0),
        (Wanted("music", words="band 07"), 3),
        (Wanted("photos", words="regatta"), 250),
        (Wanted("photos", year="2011"), 50),
        (Wanted("photos", year="2011-02"), 6),
        (Wanted("series"), 0),
    ],
)
def test_a_shelf_by_year_and_by_words(shelves: Database, wanted: Wanted, count: int) -> None:
    found, _ = whole(shelves, wanted)
    assert len(found) == count
    with shelves.begin() as db:
        assert matching_ids(db, wanted) == sorted(e.id for e in found)


def test_a_list_of_photos_begins_where_it_is_asked_to(shelves: Database) -> None:
    found, _ = whole(shelves, Wanted("photos", until="2012-03"))
    assert found[0].moment == max(m for e in found if (m := e.moment))
    assert str(found[0].moment) < "2012-04"
    assert len(found) == 250 - len([e for e in whole(shelves, Wanted("photos"))[0] if (e.moment or "") >= "2012-04"])


def test_a_ruler_counts_what_the_pages_hold(shelves: Database) -> None:
    with shelves.begin() as db:
        films, photos = ruler_of(db, Wanted("films")), ruler_of(db, Wanted("photos"))
        assert (sum(films.values()), films["?"], films["1955"]) == (FILMS, 6, 8)
        assert (sum(photos.values()), photos["?"]) == (250, 1)
        assert set(map(len, photos)) == {1, 7}
        assert sum(ruler_of(db, Wanted("films", words="film 3")).values()) == 43


@pytest.mark.parametrize("after", ["x", "e30", "W10", "W251bGxd", "WyJhIiwxXQ", "\x00", "é", "A" * 500])
def test_a_page_that_was_never_given_out_is_refused_in_words(shelves: Database, after: str) -> None:
    with shelves.begin() as db, pytest.raises(IndiceError) as refused:
        shelf_page(db, Wanted("films", after=after))
    assert refused.value.reference == "page-unknown"


def test_what_comes_in_between_two_pages_moves_nothing(shelves: Database) -> None:
    with shelves.begin() as db:
        first = shelf_page(db, Wanted("films"))
        db.execute(text("insert into entry (library_id, key, kind, title, sort_title, search, state, note, added_at)"
                        " select library_id, 'new', 'movie', 'A', 'a', 'a', 'settled', '', now() from entry limit 1"))  # fmt: skip
        second = shelf_page(db, Wanted("films", after=first.following or ""))
    assert not {e.id for e in first.entries} & {e.id for e in second.entries}
    assert len(second.entries) == PAGE


def put_files(database: Database) -> None:
    """Files in folders, one of them with signs that patterns know."""
    with database.begin() as db:
        for n, path in enumerate(("a/b/1.mkv", "a/b/2.mkv", "a/c%/3.mkv", "a/c_/d/4.mkv", "ax/5.mkv", "6.mkv")):
            db.add(
                File(
                    folder_id=1, path=path.encode(), shown=path, directory=path.rpartition("/")[0], size_bytes=10, mtime_ns=1,
                    inode=n, kind="movie", reading={}, marks=[],
                )
            )  # fmt: skip


def test_a_tree_is_read_level_by_level(shelves: Database) -> None:
    put_files(shelves)
    with shelves.begin() as db:
        assert [(n.path, n.states, n.has_children) for n in tree_level(db, None)] == [("", {"other": 6}, True)]
        assert [(n.path, n.states["other"], n.has_children) for n in tree_level(db, 1)] == [
            ("a", 4, True),
            ("ax", 1, False),
        ]
        assert [(n.path, n.has_children) for n in tree_level(db, 1, "a")] == [
            ("a/b", False),
            ("a/c%", False),
            ("a/c_", True),
        ]
        assert [n.path for n in tree_level(db, 1, "a/c_")] == ["a/c_/d"]
        assert tree_level(db, 1, "a/c%") == []
        assert tree_level(db, 1, "no\x00thing") == []
        assert tree_level(db, 99) == []


def test_what_was_counted_follows_every_change(shelves: Database) -> None:
    put_files(shelves)

    def states() -> dict[str, int]:
        with shelves.begin() as db:
            return library_states(db)[0][1]

    assert states() == {"other": 6}
    with shelves.begin() as db:
        entry = db.query(Entry).filter_by(kind="movie").first()
        assert entry is not None
        db.query(File).filter(File.directory == "a/b").update({"entry_id": entry.id})
    assert states() == {"other": 4, "settled": 2}
    with shelves.begin() as db:
        db.query(Entry).filter_by(id=entry.id).update({"state": "waiting"})
    assert states() == {"other": 4, "waiting": 2}
    with shelves.begin() as db:
        db.add(
            Finding(library_id=entry.library_id, folder_id=1, check="junk", severity="advice", path="6.mkv", message="")
        )
    assert states() == {"other": 3, "waiting": 2, "name": 1}
    with shelves.begin() as db:
        db.query(File).filter(File.directory == "ax").delete()
    assert states() == {"other": 2, "waiting": 2, "name": 1}


def test_a_change_that_commits_late_is_counted_all_the_same(shelves: Database) -> None:
    """A transaction that began before the counting, and ends after it, is not forgotten."""
    put_files(shelves)
    with shelves.begin() as slow:
        slow.query(File).filter(File.directory == "a/b").delete()
        with shelves.begin() as db:
            assert library_states(db)[0][1] == {"other": 6}
    with shelves.begin() as db:
        assert library_states(db)[0][1] == {"other": 4}


def test_several_may_ask_at_once(shelves: Database) -> None:
    put_files(shelves)
    told: list[dict[str, int]] = []

    def ask() -> None:
        with shelves.begin() as db:
            told.append(library_states(db)[0][1])

    askers = [threading.Thread(target=ask) for _ in range(6)]
    for asker in askers:
        asker.start()
    for asker in askers:
        asker.join()
    assert told == [{"other": 6}] * 6


@pytest.mark.parametrize(
    ("words", "first"),
    [
        ("fi", "Film 0 000"),
        ("band 07", "Band 07"),
        ("album 14", "Album 14"),
        ("albun 14", "Album 14"),
        ("img_0042", "IMG_0042"),
    ],
)
def test_search_finds_by_beginning_by_part_and_by_likeness(shelves: Database, words: str, first: str) -> None:
    with shelves.begin() as db:
        assert search_entries(db, words, limit=5)[0].title == first


def test_what_shows_a_value_is_bounded_and_the_rest_is_counted(shelves: Database) -> None:
    with shelves.begin() as db:
        ids = [entry.id for entry in db.query(Entry).filter(Entry.kind.in_(("movie", "album")))]
        db.add_all(Fact(entry_id=id_, field="genres", origin="hand", value={"v": ["Sea", "Fog"]}) for id_ in ids)
        db.add(Fact(entry_id=ids[0], field="label", origin="hand", value={"v": "Sea"}))
    with shelves.begin() as db:
        found, more = entries_with(db, ("genres",), "Fog")
        assert (len(found), more) == (120, 330)
        assert [len(entries_with(db, (name,), "Sea")[0]) for name in ("label", "cast")] == [1, 0]


def test_what_waits_goes_on_behind_an_entry(shelves: Database) -> None:
    with shelves.begin() as db:
        db.query(Entry).filter_by(kind="movie").update({"state": "waiting"})
    with shelves.begin() as db:
        first = waiting_entries(db, limit=100)
        second = waiting_entries(db, after=first[-1].id, limit=100)
        assert [e.id for e in first + second] == [e.id for e in waiting_entries(db, limit=200)]
        assert waiting_entries(db, after=2_000_000_000) == []


def test_findings_with_a_cure_come_first(shelves: Database) -> None:
    with shelves.begin() as db:
        library_id = db.query(Library).one().id
        for n, (check, fix, kind) in enumerate(
            (("junk", None, None), ("loose-film", "x", "look"), ("loose-film", "y", "safe"))
        ):
            db.add(
                Finding(
                    library_id=library_id, folder_id=1, check=check, severity="advice", path=f"{n}", message="", fix=fix, fix_kind=kind
                )
            )  # fmt: skip
    with shelves.begin() as db:
        assert [f.check for f in findings_of(db, limit=2)] == ["loose-film", "loose-film"]
        assert len(findings_of(db)) == 3
        assert [library for _, library in safe_findings(db)] == [library_id]
        assert safe_findings(db, check="junk") == []
