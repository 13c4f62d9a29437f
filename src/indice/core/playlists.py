"""Playlists as files: XSPF (version 1, https://xspf.org/spec) and M3U8, the M3U of old
in UTF-8 with its usual `#EXTINF` lines.

Paths are relative, with `/` between their parts: the name of a library's folder, then the path below it.
"""

from __future__ import annotations

import contextlib
from dataclasses import dataclass
from urllib.parse import quote, unquote, urlsplit
from xml.etree.ElementTree import Element, ParseError, SubElement, tostring

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from .phrase import phrase

__all__ = ["FORMATS", "Line", "PlaylistFile", "read_playlist_file", "write_playlist_file"]

FORMATS = {"m3u8": "audio/x-mpegurl", "xspf": "application/xspf+xml"}
"""Extension → media type."""
_XSPF = "http://xspf.org/ns/0/"
MOST_LINES = 20_000
_MARK = "#EXTINF:"


@dataclass(frozen=True, slots=True)
class Line:
    """A file that a playlist names."""

    path: str
    title: str = ""
    by: str = ""
    seconds: float | None = None


@dataclass(frozen=True, slots=True)
class PlaylistFile:
    """What a playlist says."""

    name: str
    lines: tuple[Line, ...]


def write_playlist_file(told: PlaylistFile, form: str) -> bytes:
    """A playlist as a file of one of :data:`FORMATS`."""
    return _write_xspf(told) if form == "xspf" else _write_m3u8(told)


def _write_m3u8(told: PlaylistFile) -> bytes:
    rows = ["#EXTM3U", f"#PLAYLIST:{_one_line(told.name)}"]
    for line in told.lines:
        said = " - ".join(part for part in (_one_line(line.by), _one_line(line.title)) if part)
        rows.append(f"{_MARK}{-1 if line.seconds is None else round(line.seconds)},{said}")
        # A path that begins like a comment is none: one step from here is the same place.
        rows.append(f"./{line.path}" if line.path.startswith("#") else line.path)
    return ("\n".join(rows) + "\n").encode("utf-8", "replace")


def _one_line(text: str) -> str:
    return " ".join(text.split())


def _write_xspf(told: PlaylistFile) -> bytes:
    root = Element("playlist", {"version": "1", "xmlns": _XSPF})
    SubElement(root, "title").text = _printable(told.name)
    tracks = SubElement(root, "trackList")
    for line in told.lines:
        track = SubElement(tracks, "track")
        SubElement(track, "location").text = quote(line.path, safe="/", errors="replace")
        if line.title:
            SubElement(track, "title").text = _printable(line.title)
        if line.by:
            SubElement(track, "creator").text = _printable(line.by)
        if line.seconds is not None:
            SubElement(track, "duration").text = str(round(line.seconds * 1000))
    return tostring(root, encoding="utf-8", xml_declaration=True)


def _printable(text: str) -> str:
    """Without what XML cannot hold."""
    return "".join(letter for letter in text if letter in "\t\n" or (letter >= " " and letter not in "\ufffe\uffff"))


def read_playlist_file(content: bytes) -> PlaylistFile:
    """What a playlist file says, whichever of the two it is; raises ValueError when it is neither, or too long."""
    told = _read_xspf(content) if content.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<") else _read_m3u(content)
    if len(told.lines) > MOST_LINES:
        raise ValueError(phrase("It names more than {most} files.", most=MOST_LINES))
    return told


def _read_m3u(content: bytes) -> PlaylistFile:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", "replace")  # what wrote `.m3u` before it was agreed on UTF-8
    if "\0" in text:
        raise ValueError(phrase("It is no playlist."))
    name, lines, said = "", list[Line](), ("", "", None)
    for row in map(str.strip, text.splitlines()):
        if row.startswith("#PLAYLIST:"):
            name = row.removeprefix("#PLAYLIST:").strip()
        elif row.startswith(_MARK):
            said = _told(row.removeprefix(_MARK))
        elif row and not row.startswith("#"):
            lines.append(Line(_local(row), *said))
            said = ("", "", None)
    return PlaylistFile(name, tuple(lines))


def _told(text: str) -> tuple[str, str, float | None]:
    """Title, artist and length of `213,Artist - Title`; what stands between length and comma says nothing here."""
    before, _, said = text.partition(",")
    by, dash, title = said.strip().partition(" - ")
    seconds: float | None = None
    with contextlib.suppress(ValueError, IndexError):
        seconds = float(before.split()[0])
    return (title.strip(), by.strip(), seconds) if dash else (said.strip(), "", seconds)


def _local(path: str) -> str:
    """A path from an address of a file, which may be written as a URI."""
    if path.lower().startswith("file:"):
        return unquote(urlsplit(path).path)
    return path


def _read_xspf(content: bytes) -> PlaylistFile:
    try:
        root = fromstring(content, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError) as error:
        raise ValueError(phrase("It is no playlist: its XML cannot be read.")) from error
    if root.tag != f"{{{_XSPF}}}playlist":
        raise ValueError(phrase("It is no playlist."))

    def text(holder: Element, name: str) -> str:
        found = holder.find(f"{{{_XSPF}}}{name}")
        return (found.text or "").strip() if found is not None else ""

    lines: list[Line] = []
    for track in root.iter(f"{{{_XSPF}}}track"):
        location, length = text(track, "location"), text(track, "duration")
        if location:
            path = unquote(urlsplit(location).path if "://" in location else location.removeprefix("file:"))
            seconds = int(length) / 1000 if length.isascii() and length.isdigit() and len(length) < 12 else None
            lines.append(Line(path, text(track, "title"), text(track, "creator"), seconds))
    return PlaylistFile(text(root, "title"), tuple(lines))
