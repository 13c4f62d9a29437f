"""Sidecars and what is written inside files."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from PIL.ExifTags import Base

from indice.disk.probe import probe
from indice.disk.sidecars import read_sidecar
from indice.disk.xmp import moment_of_xmp, read_xmp, write_xmp

PACKET = b"""<?xpacket begin=""?><x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:exif="http://ns.adobe.com/exif/1.0/" xmp:Rating="4" exif:DateTimeOriginal="2019-07-04T10:00:00">
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">The ferry</rdf:li></rdf:Alt></dc:title>
<dc:subject><rdf:Bag><rdf:li>boat</rdf:li><rdf:li>Ada</rdf:li></rdf:Bag></dc:subject></rdf:Description></rdf:RDF></x:xmpmeta>"""


def test_xmp_is_read() -> None:
    assert read_xmp(PACKET) == {
        "title": "The ferry",
        "keywords": ["boat", "Ada"],
        "stars": 4,
        "taken": "2019-07-04T10:00:00",
    }
    assert moment_of_xmp(PACKET) == "2019-07-04T10:00:00"


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"<a",
        b"\xff\xfe",
        b'<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>',
        b'<!DOCTYPE a SYSTEM "file:///etc/passwd"><a/>',
        b"<a>" * 3000,
    ],
    ids=["empty", "broken", "no text", "entities", "another file", "deep"],
)
def test_hostile_packets_say_nothing(content: bytes) -> None:
    assert read_xmp(content) == {}


def test_an_older_packet_keeps_what_it_says() -> None:
    made = write_xmp({"title": "Ferry day", "people": ["Ada"]}, PACKET)
    assert read_xmp(made) == {
        "title": "Ferry day",
        "people": ["Ada"],
        "keywords": ["boat", "Ada"],
        "stars": 4,
        "taken": "2019-07-04T10:00:00",
    }
    with pytest.raises(ValueError, match="cannot be read"):
        write_xmp({"title": "x"}, b"<broken")


words = st.text(st.characters(codec="utf-8", categories=("L", "N", "P")), min_size=1, max_size=20)


@given(words, st.lists(words, min_size=1, max_size=4), st.integers(0, 5))
def test_what_is_written_is_read_again(title: str, keywords: list[str], stars: int) -> None:
    facts = {"title": title, "keywords": keywords, "stars": stars}
    assert read_xmp(write_xmp(facts)) == facts


@pytest.mark.parametrize(
    ("name", "content", "found"),
    [
        ("a.jsonld", b'{"@type": "Movie", "name": "Kite"}', {"about": "movie", "facts": {"title": "Kite"}}),
        ("a.json", b'{"title": "Kite"}', {"about": "", "facts": {"title": "Kite"}}),
        ("a.json", b'{"version": 3}', {}),
        ("a.JSON", b"[1, 2]", {}),
        ("a.xml", b"<x/>", {}),
        ("a.xmp", b"<x/>", {}),
    ],
)
def test_sidecars(tmp_path: Path, name: str, content: bytes, found: dict[str, object]) -> None:
    (tmp_path / name).write_bytes(content)
    assert read_sidecar(os.fsencode(tmp_path / name)) == found


@pytest.mark.parametrize(
    ("name", "content"), [("a.json", b"{"), ("a.json", b"[" * 100_000), ("a.xmp", b"nothing"), ("a.jsonld", b"\xff")]
)
def test_a_broken_sidecar_is_a_problem_in_words(tmp_path: Path, name: str, content: bytes) -> None:
    (tmp_path / name).write_bytes(content)
    found = probe(os.fsencode(tmp_path / name), "sidecar")
    assert found.problem
    assert "Error" not in found.problem


def test_a_picture_says_what_it_shows(tmp_path: Path) -> None:
    exif = Image.Exif()
    exif[Base.ImageDescription] = "Ada on the ferry"
    Image.new("RGB", (8, 8)).save(tmp_path / "a.jpg", exif=exif, xmp=PACKET)
    facts = probe(os.fsencode(tmp_path / "a.jpg"), "photo").media["facts"]
    assert facts == {"plot": "Ada on the ferry", "title": "The ferry", "keywords": ["boat", "Ada"], "stars": 4}


def test_a_sidecar_survives_as_json(tmp_path: Path) -> None:
    (tmp_path / "a.jsonld").write_text(json.dumps({"@type": "Movie", "name": "Kite\0"}))
    assert probe(os.fsencode(tmp_path / "a.jsonld"), "sidecar").media["facts"] == {"title": "Kite"}
