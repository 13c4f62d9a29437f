"""Playlists as files: what others write is read, what is written is read again, and what is none is said to be none."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playlists import Line, PlaylistFile, read_playlist_file, write_playlist_file

WORDS = st.text(st.characters(codec="utf-8", categories=("L", "N", "P", "S")), min_size=1, max_size=20)
PATHS = st.lists(WORDS.filter(lambda w: w.strip(".") != "" and "/" not in w and "\\" not in w), min_size=1, max_size=4)


@pytest.mark.parametrize(
    ("content", "lines"),
    [
        (b"a.mp3\n", [Line("a.mp3")]),
        (b"\xef\xbb\xbf#EXTM3U\r\n#EXTINF:213,Ottar Vane - Slow Tin\r\nA\\b.flac\r\n",
         [Line("A\\b.flac", "Slow Tin", "Ottar Vane", 213.0)]),
        (b"#EXTINF:-1 tvg-id=x,Only a title\nx/y.ogg\n", [Line("x/y.ogg", "Only a title", "", -1.0)]),
        (b"# a word of somebody\n\n  /srv/Music/One.mp3  \n", [Line("/srv/Music/One.mp3")]),
        (b"file:///srv/My%20Music/Tr%C3%A4ne.mp3\n", [Line("/srv/My Music/Träne.mp3")]),
        ("Träne.mp3\n".encode("cp1252"), [Line("Träne.mp3")]),
        (b"", []),
        (b'<?xml version="1.0"?><playlist version="1" xmlns="http://xspf.org/ns/0/"><trackList>'
         b"<track><location>Music/Slow%20Tin.flac</location><title>Slow Tin</title><creator>Ottar Vane</creator>"
         b"<duration>213000</duration></track><track><title>no place</title></track></trackList></playlist>",
         [Line("Music/Slow Tin.flac", "Slow Tin", "Ottar Vane", 213.0)]),
        (b'<playlist version="1" xmlns="http://xspf.org/ns/0/"><trackList><track>'
         b"<location>file:///m/a%23b.mp3</location><duration>soon</duration></track></trackList></playlist>",
         [Line("/m/a#b.mp3")]),
    ],
)  # fmt: skip
def test_what_others_write_is_read(content: bytes, lines: list[Line]) -> None:
    assert list(read_playlist_file(content).lines) == lines


@pytest.mark.parametrize(
    "content",
    [
        b"<html><body/></html>",
        b"<playlist>",
        b'<!DOCTYPE p [<!ENTITY a "b">]><playlist version="1" xmlns="http://xspf.org/ns/0/">&a;</playlist>',
        b"\0\0\0\x18ftypmp42",
        b"a.mp3\n" * 20_001,
    ],
)
def test_what_is_no_playlist_is_told(content: bytes) -> None:
    with pytest.raises(ValueError, match=r"\w+ \w+"):
        read_playlist_file(content)


@pytest.mark.parametrize("form", ["m3u8", "xspf"])
@given(name=WORDS, paths=st.lists(PATHS, max_size=6), seconds=st.none() | st.integers(0, 9999))
def test_what_is_written_is_read_again(form: str, name: str, paths: list[list[str]], seconds: int | None) -> None:
    lines = tuple(Line("/".join(parts), seconds=seconds) for parts in paths)
    told = read_playlist_file(write_playlist_file(PlaylistFile(name, lines), form))
    assert told.name == name.strip()
    assert [line.path.removeprefix("./") for line in told.lines] == [line.path for line in lines]


def test_paths_of_m3u_stay_plain_and_comments_stay_comments() -> None:
    written = write_playlist_file(PlaylistFile("Two\nlines", (Line("#1/It.mp3", "A\nB", "", 61.4),)), "m3u8").decode()
    assert written.splitlines() == ["#EXTM3U", "#PLAYLIST:Two lines", "#EXTINF:61,A B", "./#1/It.mp3"]
