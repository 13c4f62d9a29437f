"""What a song sings: from its tags, from a file beside it, by hand; and songs by what they sing."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import mutagen.flac
import mutagen.id3
import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.demo.media import write_track
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Entry
from indice.work.queue import perform
from indice.work.requests import request_job

from .kettle import said


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """An album of four songs: words beside, in tags, in both, in none."""
    made = tmp_path / "m" / "Osk" / "Low Tide (2001)"
    for number, title in enumerate(("Marl", "Weir", "Sluice", "Dyke"), 1):
        write_track(made / f"{number:02d} {title}.flac", artist="Osk", title=title, seconds=3, tags=None)
    (made / "01 Marl.lrc").write_text("[ar:Osk]\n[00:00.50]Grey sand under\n[00:01.50]a grey-blue hull\n", "utf-8")
    for number, title in ((2, "Weir"), (3, "Sluice")):
        file = mutagen.flac.FLAC(made / f"{number:02d} {title}.flac")
        file["LYRICS"] = f"{title} by night,\r\nthe gate stands wide"
        file.save()
    (made / "03 Sluice.lrc").write_bytes("[00:00.10]Läuft über die Schwelle".encode("cp1252"))
    return tmp_path / "m"


def scan(database: Database, settings: Settings, library: int) -> dict[str, int]:
    """Scan, and tell songs by their titles."""
    assert perform(database, settings, request_job(database, "scan", library)) == "done"
    with database.begin() as db:
        return {entry.title: entry.id for entry in db.scalars(select(Entry).where(Entry.kind == "track"))}


@pytest.fixture
def library(owner: FlaskClient, database: Database, folder: Path) -> int:
    """The library of the album."""
    with database.begin() as db:
        return add_library(
            db, name="M", kind="music", folders=[os.fsencode(folder)], language="en", country="", sources=[]
        ).id


def lines(client: FlaskClient, song: int) -> dict[str, Any]:
    """What a song sings."""
    return said(client.get(f"/api/songs/{song}/lyrics"))


def test_words_come_from_where_they_are(
    owner: FlaskClient, database: Database, settings: Settings, library: int, folder: Path
) -> None:
    songs = scan(database, settings, library)
    marl = lines(owner, songs["Marl"])
    assert marl["lines"] == [
        {"text": "Grey sand under", "at_seconds": 0.5},
        {"text": "a grey-blue hull", "at_seconds": 1.5},
    ]
    assert (marl["is_timed"], marl["origin"], marl["may_write"]) == (True, "sidecar", True)
    weir = lines(owner, songs["Weir"])
    assert [line["text"] for line in weir["lines"]] == ["Weir by night,", "the gate stands wide"]
    assert (weir["is_timed"], weir["origin"]) == (False, "tags")
    assert [line["text"] for line in lines(owner, songs["Sluice"])["lines"]] == ["Läuft über die Schwelle"]
    assert lines(owner, songs["Dyke"]) == {
        "lines": [],
        "is_timed": False,
        "text": "",
        "origin": "",
        "may_write": True,
    }

    beside = next(folder.rglob("01 Marl.lrc"))
    beside.write_text("[00:02.00]Another shore", "utf-8")
    scan(database, settings, library)
    assert [line["text"] for line in lines(owner, songs["Marl"])["lines"]] == ["Another shore"]
    beside.unlink()
    scan(database, settings, library)
    assert lines(owner, songs["Marl"])["lines"] == []


def test_a_person_writes_them_and_takes_them_back(
    owner: FlaskClient, database: Database, settings: Settings, library: int
) -> None:
    songs = scan(database, settings, library)
    for value in ("", 3, ["a"]):
        assert owner.put(f"/api/entries/{songs['Weir']}/facts/lyrics", json={"value": value}).status_code == 400
    said(owner.put(f"/api/entries/{songs['Weir']}/facts/lyrics", json={"value": "[00:01.00]By my own hand\n\nand pen"}))
    own = lines(owner, songs["Weir"])
    assert [line["text"] for line in own["lines"]] == ["By my own hand", "and pen"] and own["origin"] == "hand"
    scan(database, settings, library)
    assert lines(owner, songs["Weir"])["origin"] == "hand"
    said(owner.put(f"/api/entries/{songs['Weir']}/facts/lyrics", json={"value": None}))
    assert lines(owner, songs["Weir"])["origin"] == "tags"


@pytest.mark.parametrize(
    ("words", "found"),
    [
        ("grey-BLUE", {"Marl": "a grey-blue hull"}),
        ("gate stands", {"Weir": "the gate stands wide"}),
        ("über die", {"Sluice": "Läuft über die Schwelle"}),
        ("00:01", {}),  # a moment is nothing that is sung
        ("_gate", {}),
        ("san", {}),  # too little to go by
    ],
)
def test_songs_are_found_by_what_they_sing(
    owner: FlaskClient, database: Database, settings: Settings, library: int, words: str, found: dict[str, str]
) -> None:
    songs = scan(database, settings, library)
    told = said(owner.get("/api/search", query_string={"q": words}))
    assert told["lines"] == {str(songs[title]): line for title, line in found.items()}
    assert {songs[title] for title in found} <= {entry["id"] for entry in told["entries"]}


def test_words_in_the_tags_of_other_boxes_and_broken_ones(tmp_path: Path) -> None:
    from indice.disk.probe import probe

    path = tmp_path / "01 Marl.mp3"
    write_track(path, artist="Osk", title="Marl", seconds=1, tags=None)
    tags = mutagen.id3.ID3()
    tags.add(mutagen.id3.USLT(encoding=3, lang="eng", desc="", text="plain words"))
    tags.save(path)
    assert probe(bytes(path), "track").media["facts"] == {"lyrics": "plain words"}
    tags.add(mutagen.id3.SYLT(encoding=3, lang="eng", format=2, type=1, text=[("Low ", 500), ("tide", 61_250)]))
    tags.save(path)
    assert probe(bytes(path), "track").media["facts"] == {"lyrics": "[00:00.50]Low\n[01:01.25]tide"}
    path = tmp_path / "01 Marl.lrc"
    for content, told in ((b"\0" * 50 + b"\xff" * 50, None), ("Ebbe\nund Flut".encode("utf-16"), "Ebbe\nund Flut")):
        path.write_bytes(content)
        assert probe(bytes(path), "lyrics").media.get("facts", {}).get("lyrics") == told
