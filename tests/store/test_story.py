"""What is played next follows the story, specials included."""

from __future__ import annotations

import pytest

from indice.store.database import Database
from indice.store.models import Entry, Fact, File, Folder, Library
from indice.store.playings import following_of, what_plays
from indice.store.viewer import Viewer

DATES = [[1, 1, "", "2011-01-03"], [1, 2, "", "2011-01-10"], [0, 1, "", "2011-01-05"], [0, 2, "", "2010-12-24"]]


@pytest.fixture
def series(database: Database) -> int:
    """Two episodes and three specials, each with a file; the third special's day is not known."""
    with database.begin() as db:
        library = Library(name="Series", kind="series")
        db.add(library)
        db.flush()
        folder = Folder(library_id=library.id, path=b"/series", shown="/series")
        top = _entry(library.id, None, "series", "Gannet Row", None, None)
        db.add_all([folder, top])
        db.flush()
        db.add(Fact(entry_id=top.id, field="expected", origin="source:a", value={"v": DATES}))
        for season in (0, 1):
            row = _entry(library.id, top.id, "season", f"Season {season}", season, None)
            db.add(row)
            db.flush()
            for number in (1, 2, 3)[: 3 - season]:
                name = f"{season}x{number}"
                episode = _entry(library.id, row.id, "episode", name, season, number)
                db.add(episode)
                db.flush()
                file = File(
                    folder_id=folder.id,
                    path=name.encode(),
                    shown=name,
                    directory="",
                    size_bytes=1,
                    mtime_ns=1,
                    kind="episode",
                )
                file.reading, file.marks, file.entry_id = {}, [], episode.id
                db.add(file)
        return top.id


def _entry(library: int, parent: int | None, kind: str, title: str, season: int | None, number: int | None) -> Entry:
    key = f"{kind} {title}"
    return Entry(
        library_id=library, parent_id=parent, kind=kind, title=title, sort_title=title, search=title, key=key,
        season=season, number=number,
    )  # fmt: skip


def test_specials_play_where_they_were_aired(database: Database, series: int) -> None:
    with database.begin() as db:
        top = db.get_one(Entry, series)
        one = what_plays(db, Viewer(1), top)
        told = [one.title]
        while (following := following_of(db, one)) is not None:
            one = following
            told.append(one.title)
    assert told == ["0x2", "1x1", "0x1", "1x2", "0x3"]
