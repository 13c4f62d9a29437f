"""All songs in one list: in order, each once, by words of their own, their album or artist, and of what one may see."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from indice.demo.media import write_track
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Entry, Library, now
from indice.work.queue import perform
from indice.work.requests import request_job

from .kettle import Sign, said


def songs(client: FlaskClient, **query: str) -> list[dict[str, Any]]:
    """All songs, page after page."""
    found: list[dict[str, Any]] = []
    after: str | None = ""
    while after is not None:
        page = said(client.get("/api/songs", query_string={**query, "after": after}))
        assert (page["total"] is None) == bool(after)
        found += page["songs"]
        after = page["following"]
    return found


@pytest.fixture
def music(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> int:
    """Two albums, of real files."""
    rows = (("Osk", "Low Tide", 2001, "Marl"), ("Osk", "Low Tide", 2001, "Weir"), ("Ida Quell", "Gate", 1999, "Weir"))
    for number, (artist, album, year, title) in enumerate(rows, 1):
        path = tmp_path / "m" / artist / f"{album} ({year})" / f"{number:02d} {title}.flac"
        write_track(path, artist=artist, title=title, seconds=20 + number, tags=None)
    with database.begin() as db:
        folder = os.fsencode(tmp_path / "m")
        library = add_library(db, name="M", kind="music", folders=[folder], language="en", country="", sources=[]).id
    assert perform(database, settings, request_job(database, "scan", library)) == "done"
    return library


def test_where_more_hold_a_word_than_are_counted_it_is_said(
    owner: FlaskClient, music: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    for most, told in ((3, (3, False)), (2, (2, True)), (1, (1, True))):
        for module in ("indice.store.songs", "indice.web.songs"):
            monkeypatch.setattr(f"{module}.MOST_COUNTED", most)
        page = said(owner.get("/api/songs", query_string={"words": "e"}))
        assert (page["total"], page["is_more"]) == told
        assert said(owner.get("/api/songs"))["is_more"] is False, "all of them are counted"


def test_songs_say_where_they_are_from_and_how_long_they_are(owner: FlaskClient, music: int) -> None:
    found = songs(owner)
    assert sorted((one["title"], one["artist"], one["album"], one["year"]) for one in found) == [
        ("Marl", "Osk", "Low Tide", 2001),
        ("Weir", "Ida Quell", "Gate", 1999),
        ("Weir", "Osk", "Low Tide", 2001),
    ]
    assert [one["title"] for one in found] == ["Marl", "Weir", "Weir"]
    assert found[0]["seconds"] == pytest.approx(21, abs=0.5)
    assert all(one["file_id"] for one in found)


@pytest.mark.parametrize(
    ("words", "titles"),
    [
        ("marl", ["Marl"]),
        ("low tide", ["Marl", "Weir"]),
        ("quell", ["Weir"]),
        ("weir osk", ["Weir"]),
        ("quell marl", []),
        ("%", []),
        ("_", []),
    ],
)
def test_words_are_looked_for_in_songs_albums_and_artists(
    owner: FlaskClient, music: int, words: str, titles: list[str]
) -> None:
    assert [one["title"] for one in songs(owner, words=words)] == titles


def test_pages_hold_every_song_once_in_either_order(owner: FlaskClient, database: Database) -> None:
    with database.begin() as db:
        library = Library(name="M", kind="music", language="en", country="")
        db.add(library)
        db.flush()
        album = Entry(library_id=library.id, key="a", handle="a", kind="album", title="A", sort_title="a", search="a")
        db.add(album)
        db.flush()
        for number in range(357):
            title = f"Song {number % 40:02d}"
            db.add(
                Entry(
                    library_id=library.id, parent_id=album.id, key=f"s{number}", handle=f"s{number}", kind="track",
                    title=title, sort_title=title.lower(), search=title.lower(), added_at=now(),
                )
            )  # fmt: skip
    by_title, by_age = songs(owner), songs(owner, sort="added")
    assert len(by_title) == len(by_age) == 357
    assert len({one["id"] for one in by_title}) == len({one["id"] for one in by_age}) == 357
    assert [one["title"] for one in by_title] == sorted(one["title"] for one in by_title)
    assert [one["id"] for one in by_age] == sorted((one["id"] for one in by_age), reverse=True)
    assert said(owner.get("/api/songs"))["total"] == 357
    # a word that many hold, one that few do, and both
    assert [one["id"] for one in songs(owner, words="song")] == [one["id"] for one in by_title]
    sevens = [one["id"] for one in by_title if one["title"] == "Song 07"]
    assert len(sevens) == 9
    assert [one["id"] for one in songs(owner, words="07")] == sevens
    assert [one["id"] for one in songs(owner, words="song 07")] == sevens
    assert said(owner.get("/api/songs", query_string={"words": "song 07"}))["total"] == 9


@pytest.mark.parametrize("after", ["x", "WzFd", "W10", "e30", "WyJhIiwxXQ"])
def test_a_page_that_was_never_given_out_is_refused(owner: FlaskClient, after: str) -> None:
    answer = owner.get("/api/songs", query_string={"after": after})
    assert (answer.status_code, answer.get_json()["reference"]) == (400, "page-unknown")


def test_songs_of_libraries_that_are_not_ones_own_are_not_there(household: Database, sign: Sign) -> None:
    with household.begin() as db:
        library = Library(name="M", kind="music", language="en", country="")
        db.add(library)
        db.flush()
        db.add(Entry(library_id=library.id, key="s", handle="s", kind="track", title="S", sort_title="s", search="s"))
    assert len(songs(sign("owner"))) == 1
    for person in ("member", "child", "guest"):
        assert songs(sign(person)) == []
        assert said(sign(person).get("/api/songs"))["total"] == 0
