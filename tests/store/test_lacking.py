"""What is missing, asked of real records: series by seasons, albums by discs, parts by findings, in pages."""

from __future__ import annotations

import csv
import io
import os
from collections.abc import Iterator
from tempfile import gettempdir
from typing import Any

import pytest
from flask.testing import FlaskClient

from indice.store.database import Database
from indice.store.lacking import Lacking, lacking_page
from indice.store.libraries import add_library
from indice.store.models import Entry, Fact, File, Finding, Folder

TODAY = "2031-05-14"


class Shelf:
    """Makes entries."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.count = 0
        with database.begin() as db:
            made = add_library(
                db,
                name="All",
                kind="series",
                folders=[os.fsencode(gettempdir())],
                language="en",
                country="",
                sources=[],
            )
            self.library = made.id
            self.folder = db.query(Folder).one().id

    def add(self, kind: str, title: str, parent: int | None = None, expected: Any = None, **more: Any) -> int:
        """An entry, with what a source expects below it."""
        self.count += 1
        key = f"{kind}-{self.count}"
        with self.database.begin() as db:
            files = more.pop("episodes", None)
            entry = Entry(
                library_id=self.library,
                key=key,
                kind=kind,
                title=title,
                sort_title=title.lower(),
                parent_id=parent,
                **more,
            )
            db.add(entry)
            db.flush()
            if expected is not None:
                db.add(Fact(entry_id=entry.id, field="expected", origin="source:A", value={"v": expected}))
            if files:
                path = f"{key}.mkv"
                db.add(
                    File(
                        folder_id=self.folder,
                        path=path.encode(),
                        shown=path,
                        directory="",
                        kind="episode",
                        size_bytes=1,
                        mtime_ns=1,
                        inode=self.count,
                        entry_id=entry.id,
                        reading={"episodes": files},
                        marks=[],
                    )
                )
            return entry.id

    def series(self, title: str, seasons: dict[int, list[int]], expected: Any = None) -> int:
        """A series with the episodes of its seasons."""
        made = self.add("series", title, expected=expected)
        for season, numbers in seasons.items():
            above = self.add("season", f"Season {season}", made, season=season)
            for number in numbers:
                self.add("episode", f"{number}", above, season=season, number=number)
        return made


@pytest.fixture
def shelf(database: Database) -> Shelf:
    """A library without entries."""
    return Shelf(database)


def all_of(database: Database, limit: int = 60) -> Iterator[Lacking]:
    """All pages."""
    after: str | None = ""
    while after is not None:
        with database.begin() as db:
            page = lacking_page(db, today=TODAY, after=after, limit=limit)
        yield from page.rows
        after = page.following


def short(rows: Iterator[Lacking]) -> dict[str, list[str]]:
    """Title → what it lacks."""
    return {one.title: [f"{lack.group}×{lack.number}" for lack in one.lacks] for one in rows}


def test_series_and_albums(database: Database, shelf: Shelf) -> None:
    shelf.series(
        "Reed", {1: [1, 3], 0: [1, 4]}, [[1, 1, "a", ""], [1, 2, "b", ""], [1, 3, "c", ""], [2, 1, "d", "2040"]]
    )
    shelf.series("Whole", {1: [1, 2, 3]})
    two = shelf.series("Double", {1: [1]})
    above = shelf.add("season", "Season 2", two, season=2)
    shelf.add("episode", "1 and 2", above, season=2, number=1, episodes=[1, 2])
    shelf.add("episode", "4", above, season=2, number=4)
    dated = shelf.series("Dated", {}, [[1, 1, "x", ""]])
    shelf.add("episode", "of a day", dated, moment="2018-04-02")
    through = shelf.series("Through", {}, [[1, 1, "x", ""], [1, 2, "y", ""]])
    shelf.add("episode", "112", through, number=112)
    artist = shelf.add("artist", "Ada Reed")
    album = shelf.add("album", "Slow Weir", artist, year=1991)
    for disc, number in ((1, 2), (1, 3), (2, 1)):
        shelf.add("track", "t", album, disc=disc, number=number)
    loose = shelf.add("album", "Loose", artist)
    shelf.add("track", "t", loose, number=None)
    shelf.add("track", "t", loose, number=7)
    assert short(all_of(database)) == {"Reed": ["1×2", "2×1"], "Double": ["2×3"], "Slow Weir": ["1×1"]}
    reed, slow = (one for one in all_of(database) if one.title in ("Reed", "Slow Weir"))
    assert [lack.is_out for lack in reed.lacks] == [True, False]
    assert (slow.by, slow.year, slow.library) == ("Ada Reed", 1991, "All")


@pytest.mark.parametrize("limit", [1, 2, 3, 7, 60])
def test_pages_hold_each_once(database: Database, shelf: Shelf, limit: int) -> None:
    names = ["b", "a", "b", "c c", "", "ä 1", "z"]
    for name in names:
        shelf.series(name, {1: [1, 3]})
        shelf.series(f"{name} whole", {1: [1, 2]})
    with database.begin() as db:
        db.add(
            Finding(
                library_id=shelf.library, folder_id=shelf.folder, check="part-missing", severity="advice",
                path="Weir (1990)/", message="", missing=[2],
            )
        )  # fmt: skip
    rows = list(all_of(database, limit))
    assert sorted(one.title for one in rows) == sorted([*names, "Weir (1990)"])
    assert rows[-1].kind == "movie" and [lack.number for lack in rows[-1].lacks] == [2]


def test_many_whole_ones_before_the_first_that_lacks(
    database: Database, shelf: Shelf, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("indice.store.lacking.AT_ONCE", 3)
    monkeypatch.setattr("indice.store.lacking.MOST_LOOKED_AT", 6)
    for number in range(20):
        shelf.series(f"whole {number:02}", {1: [1]})
    shelf.series("zest", {1: [1, 3]})
    with database.begin() as db:
        first = lacking_page(db, today=TODAY)
    assert first.rows == [] and first.following, "it looked through as many as it may, and says where it was"
    assert short(all_of(database)) == {"zest": ["1×2"]}


def test_the_list_is_taken_along(owner: FlaskClient, database: Database) -> None:
    shelf = Shelf(database)
    shelf.series('=cmd|"x", the series', {1: [1, 3]}, [[1, 1, "", ""], [1, 2, "@Flow\n", "2020-01-08"], [1, 3, "", ""]])
    answer = owner.get("/api/missing/list.csv")
    assert answer.mimetype == "text/csv" and "missing.csv" in answer.headers["Content-Disposition"]
    told = list(csv.DictReader(io.StringIO(answer.get_data(as_text=True).removeprefix("\ufeff"))))
    assert [(row["title"], row["group"], row["number"], row["name"], row["out"]) for row in told] == [
        ('\'=cmd|"x", the series', "1", "2", "'@Flow\n", "yes")
    ]
    (row,) = owner.get("/api/missing").get_json()["rows"]
    assert row["lacks"][0]["title"] == "@Flow\n"
    assert owner.get("/api/missing?after=nonsense").get_json()["rows"] == [row]
    assert owner.get("/api/missing?library_id=99").get_json()["rows"] == []
