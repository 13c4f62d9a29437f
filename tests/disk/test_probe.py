"""Looking inside real, tiny files, whole and broken."""

from __future__ import annotations

import os
import subprocess
from datetime import datetime
from pathlib import Path

import pytest

from indice.demo.media import write_photo, write_track, write_video
from indice.demo.photographs import SCENES, render
from indice.demo.posters import cover
from indice.disk.probe import embedded_picture, probe
from indice.disk.thumbnails import frame_of, make_thumbnails, thumbnail_path


@pytest.mark.parametrize("name", ["a.mp4", "a.mkv", "a.avi", "a.mov"])
def test_a_video_tells_its_length_and_streams(tmp_path: Path, name: str) -> None:
    write_video(tmp_path / name, title="Moth Season", year=2016, minutes=2, languages=("eng", "deu"))
    media = probe(os.fsencode(tmp_path / name), "movie").media
    assert media["seconds"] == pytest.approx(120, abs=2)
    assert len(media["video"]) == 1
    if name in ("a.mp4", "a.mkv"):
        assert [stream["language"] for stream in media["audio"]] == ["eng", "deu"]
    assert frame_of(os.fsencode(tmp_path / name)) is not None


@pytest.mark.parametrize("name", ["a.flac", "a.mp3", "a.m4a"])
def test_a_track_tells_its_tags_and_its_cover(tmp_path: Path, name: str) -> None:
    tags = {
        "title": "Ash",
        "artist": "Mothwing",
        "albumartist": "Mothwing",
        "album": "Porchlight",
        "date": "1991",
        "tracknumber": "4",
        "genre": "rock",
    }
    write_track(
        tmp_path / name,
        title="Ash",
        seconds=15,
        artist="Mothwing",
        tags=tags,
        picture=cover("Porchlight", "Mothwing", 1991),
    )
    found = probe(os.fsencode(tmp_path / name), "track")
    assert found.problem == ""
    assert found.media["tags"] == {
        "title": "Ash",
        "artist": "Mothwing",
        "album_artist": "Mothwing",
        "album": "Porchlight",
        "year": 1991,
        "track": 4,
        "genres": ["rock"],
    }
    assert found.media["seconds"] == pytest.approx(15, abs=0.5)
    assert found.media["has_picture"]
    assert (embedded_picture(os.fsencode(tmp_path / name)) or b"")[:2] == b"\xff\xd8"


def test_a_photo_tells_when_with_what_and_where(tmp_path: Path) -> None:
    write_photo(
        tmp_path / "a.jpg",
        render(SCENES[0], 1, (90, 60)),
        moment=datetime(2019, 8, 11, 9, 30),
        camera=("Pell", "Pocket 7"),
        place=(54.41, -0.53),
    )
    media = probe(os.fsencode(tmp_path / "a.jpg"), "photo").media
    assert (media["taken"], media["camera"], media["width"]) == ("2019-08-11T09:30:00", "Pell Pocket 7", 90)
    assert media["place"] == pytest.approx([54.41, -0.53], abs=0.001)


@pytest.mark.parametrize(
    ("said", "place"),
    [
        ("+54.4100-000.5300/", [54.41, -0.53]),
        ("-33.8688+151.2093+012.000/", [-33.8688, 151.2093]),
        ("+48.2-016.3CRSWGS_84/", [48.2, -16.3]),
        ("+48+016/", [48.0, 16.0]),
        ("+98.2-016.3/", None),
        ("somewhere", None),
        ("+4812.5-01630.2/", None),
    ],
)
def test_a_clip_tells_where(tmp_path: Path, said: str, place: list[float] | None) -> None:
    made = tmp_path / "a.mp4"
    source = ["-f", "lavfi", "-i", "color=c=gray:s=64x48:d=0.2", "-metadata", f"location={said}"]
    subprocess.run(["ffmpeg", "-v", "error", *source, str(made)], check=True)
    assert probe(os.fsencode(made), "clip").media.get("place") == place


@pytest.mark.parametrize(
    ("name", "kind", "content", "told"),
    [
        ("a.mkv", "movie", b"", "empty"),
        ("a.mp4", "movie", b"\0\0\0\x18ftypmp42" + bytes(100), "cut off"),
        ("a.mkv", "movie", b"no video at all", "cut off"),
        ("a.jpg", "photo", b"This is only a text.", "none"),
        ("a.jpg", "photo", b"\xff\xd8\xff\xe0" + bytes(40), "none"),
        ("a.mp3", "track", b"no sound at all" * 20, "cut off"),
    ],
)
def test_a_broken_file_is_told_in_words(tmp_path: Path, name: str, kind: str, content: bytes, told: str) -> None:
    (tmp_path / name).write_bytes(content)
    assert told in probe(os.fsencode(tmp_path / name), kind).problem


def test_thumbnails_are_kept_in_their_sizes(tmp_path: Path) -> None:
    write_photo(tmp_path / "a.jpg", render(SCENES[1], 1, (900, 600)), moment=None, camera=None, place=None)
    made = make_thumbnails(tmp_path / "home", tmp_path / "a.jpg")
    assert (made.width, made.height) == (900, 600)
    assert made.blur.startswith("data:image/webp")
    assert all(thumbnail_path(tmp_path / "home", made.digest, width).is_file() for width in (240, 480, 1280))
    assert make_thumbnails(tmp_path / "home", tmp_path / "a.jpg") == made


def test_what_is_no_picture_makes_no_thumbnail(tmp_path: Path) -> None:
    with pytest.raises(ValueError, match="none"):
        make_thumbnails(tmp_path, b"This is only a text.")
