"""A plain player of HLS for the tests, written from RFC 8216: reads playlists, fetches
segments, and has ffmpeg look at them."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from posixpath import dirname, join
from typing import Any

import numpy as np
from flask.testing import FlaskClient

from .zoo import run

__all__ = ["Playlist", "attributes", "fetch", "luma_at", "read_media", "times_of"]


def attributes(text: str) -> dict[str, str]:
    """An attribute list (RFC 8216, 4.2)."""
    return {name: value.strip('"') for name, value in re.findall(r'([A-Z0-9-]+)=("[^"]*"|[^",]*)', text)}


@dataclass(slots=True)
class Playlist:
    """A media playlist."""

    address: str
    head: str = ""
    lengths: list[float] = field(default_factory=list)
    segments: list[str] = field(default_factory=list)
    tags: list[str] = field(default_factory=list)

    def start(self, number: int) -> float:
        """Where a segment begins."""
        return sum(self.lengths[:number])


def fetch(client: FlaskClient, address: str) -> bytes:
    """What is at an address."""
    answer = client.get(address)
    assert answer.status_code == 200, f"{address}: {answer.status_code} {answer.get_data()[:300]!r}"
    return answer.get_data()


def read_media(client: FlaskClient, address: str) -> Playlist:
    """A media playlist, checked for what every one of video on demand must have."""
    lines = fetch(client, address).decode().split("\n")
    assert lines[0] == "#EXTM3U"
    found = Playlist(address)
    for line in lines:
        if line.startswith("#EXTINF:"):
            found.lengths.append(float(line[8:].split(",")[0]))
        elif line.startswith("#EXT-X-MAP:"):
            found.head = join(dirname(address), attributes(line[11:])["URI"])
        elif line.startswith("#"):
            found.tags.append(line)
        elif line:
            found.segments.append(join(dirname(address), line))
    assert "#EXT-X-PLAYLIST-TYPE:VOD" in found.tags and "#EXT-X-ENDLIST" in found.tags
    assert len(found.lengths) == len(found.segments) > 0
    most = next(int(tag.partition(":")[2]) for tag in found.tags if tag.startswith("#EXT-X-TARGETDURATION:"))
    assert max(round(length) for length in found.lengths) <= most
    return found


def read_main(client: FlaskClient, address: str) -> tuple[dict[str, str], Playlist, list[dict[str, str]]]:
    """The variant of a multivariant playlist, its media playlist, and the renditions beside it."""
    lines = fetch(client, address).decode().split("\n")
    place = next(i for i, line in enumerate(lines) if line.startswith("#EXT-X-STREAM-INF:"))
    media = [attributes(line[13:]) for line in lines if line.startswith("#EXT-X-MEDIA:")]
    for one in media:
        one["URI"] = join(dirname(address), one["URI"])
    return attributes(lines[place][18:]), read_media(client, join(dirname(address), lines[place + 1])), media


def times_of(content: bytes, folder: Path) -> list[tuple[float, float, bool]]:
    """When each packet is shown, how long it lasts, and whether it is a key."""
    path = folder / "piece.mp4"
    path.write_bytes(content)
    said = run("ffprobe", "-v", "error", "-show_entries", "packet=pts_time,duration_time,flags", "-of", "csv=p=0", path)
    rows = [line.split(",") for line in said.decode().split() if line]
    return [(float(a), float(b) if b != "N/A" else 0.0, "K" in flags) for a, b, flags, *_ in rows]


def luma_at(content: bytes, folder: Path, place: int, *, crop: str = "iw:ih:0:0") -> float:
    """Mean luma of a picture, or a part of it (width:height:left:top), by its place in what was fetched."""
    path = folder / "piece.mp4"
    path.write_bytes(content)
    said = run(
        *(
            "ffmpeg",
            "-v",
            "error",
            "-copyts",
            "-i",
            path,
            "-vf",
            f"select=eq(n\\,{place}),extractplanes=y,crop={crop}",
            "-frames:v",
            "1",
        ),
        *("-f", "rawvideo", "-"),
    )
    picture: Any = np.frombuffer(said, np.uint8)
    return float(picture.mean())
