"""Which copy is the better, and when files of one work are meant to be there side by side."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.duplicates import Copy, Held, better_first, is_meant, quality_of, why_better


def film(number: int, path: str, height: int = 0, size: int = 1000, codec: str = "h264", **more: Any) -> Copy:
    """A film of a height."""
    media = {"width": height * 16 // 9, "height": height, "video": [{"codec": codec}]} if height else {}
    return Copy(number, path, "movie", size, media, **more)


def track(number: int, path: str, codec: str, bitrate: int, rate: int = 44100) -> Copy:
    """A track of a codec."""
    return Copy(number, path, "track", bitrate * 30, {"audio": [{"codec": codec, "bitrate": bitrate, "rate": rate}]})


def photo(number: int, path: str, width: int, height: int, size: int = 1000) -> Copy:
    """A photo of a size."""
    return Copy(number, path, "photo", size, {"width": width, "height": height})


@pytest.mark.parametrize(
    ("better", "worse", "why"),
    [
        (film(1, "a.mkv", 1080), film(2, "b.mkv", 720, 9000), "More pixels"),
        (film(1, "a.mkv", 720), film(2, "b.mkv", 1080, is_whole=False), "Whole"),
        (film(1, "a.mkv", 720, 2000), film(2, "b.mkv", 720, 1000), "More bits for the same picture"),
        (film(1, "a.mkv", 720, 900, "hevc"), film(2, "b.mkv", 720, 1000), "More bits for the same picture"),
        (film(1, "a.mkv", 720), film(2, "b.mkv", 720, is_tidy=False), "Tidier name"),
        (film(1, "a.mkv", 720), film(2, "caf\ufffd.mkv", 720), "Tidier name"),
        (film(1, "a.mkv", 720), film(2, "a/b.mkv", 720), "Shorter path"),
        (track(1, "a.flac", "flac", 800_000), track(2, "b.mp3", "mp3", 1_320_000), "Lossless"),
        (track(1, "a.mp3", "mp3", 320_000), track(2, "b.mp3", "mp3", 128_000), "Higher bit rate"),
        (track(1, "a.flac", "flac", 1, 96_000), track(2, "b.flac", "flac", 9, 44_100), "Higher sample rate"),
        (photo(1, "a.jpg", 4000, 3000), photo(2, "b.jpg", 800, 600), "More pixels"),
        (photo(1, "a.cr2", 4000, 3000), photo(2, "b.jpg", 4000, 3000), "As the camera took it"),
    ],
)
def test_the_better_copy_comes_first_and_says_why(better: Copy, worse: Copy, why: str) -> None:
    for copies in ([better, worse], [worse, better]):
        assert better_first(copies) == [better, worse]
    assert why_better(better, worse) == why


def test_of_the_same_bytes_only_names_count() -> None:
    tidy, wild = film(1, "a long way/to it.mkv", 720), film(2, "x.mkv", 1080, 9000, is_tidy=False)
    assert better_first([wild, tidy], same_bytes=True) == [tidy, wild]
    assert why_better(tidy, wild, same_bytes=True) == "Same bytes, tidier name"
    assert why_better(tidy, tidy, same_bytes=True) == "Same bytes"
    assert why_better(tidy, tidy) == "Nothing tells them apart"


@pytest.mark.parametrize(
    ("copy", "words"),
    [
        (film(1, "a.mkv", 1080, 4_200_000_000), "1920 × 1080 · H.264 · 4.2 GB"),
        (film(1, "a.mkv", 0, 12), "12 bytes"),
        (track(1, "a.flac", "flac", 912_345), "FLAC · 912 kbit/s · 27.4 MB"),
        (photo(1, "a.heic", 4032, 3024, 1_500_000), "4032 × 3024 · HEIC · 1.5 MB"),
        (photo(1, "a.jpg", 0, 0, 999), "JPG · 999 bytes"),
    ],
)
def test_quality_in_words(copy: Copy, words: str) -> None:
    assert quality_of(copy) == words


@pytest.mark.parametrize(
    ("one", "other", "kind", "first", "second", "meant"),
    [
        ("A (1990)/A (1990).mkv", "A (1990)/A (1990) - 2160p.mkv", "movie", {}, {}, True),
        ("A (1990)/A (1990).mkv", "A (1990)/A (1990).avi", "movie", {}, {}, False),
        ("A (1990)/A (1990).mkv", "A (1990)/A (1990) (1).mkv", "movie", {}, {}, False),
        ("A (1990)/A (1990).mkv", "A (1990)/A (1990) copy.mkv", "movie", {}, {}, False),
        ("A (1990)/A (1990).mkv", "B/A 1990 720p.mkv", "movie", {}, {}, False),
        ("A (1990)/A (1990).mkv", "B/A (1990).mkv", "movie", {}, {"edition": "Long Cut"}, True),
        ("A (1990)/A 1.mkv", "A (1990)/A 2.mkv", "movie", {"part": 1}, {"part": 2}, True),
        ("S/S - S01E01.mkv", "S/s.s01e01.480p.avi", "episode", {"series": "S"}, {"series": "S"}, True),
        ("M/01 - A.flac", "M/01 - A 320.mp3", "track", {}, {}, False),
    ],
)
def test_versions_that_somebody_meant(
    one: str, other: str, kind: str, first: dict[str, Any], second: dict[str, Any], meant: bool
) -> None:
    told = {"title": "A", "year": 1990}
    held = Held(one, kind, told | first), Held(other, kind, told | second)
    assert is_meant(*held) is meant and is_meant(*reversed(held)) is meant
