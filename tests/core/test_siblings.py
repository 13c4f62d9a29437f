"""What names beside a name settle."""

from __future__ import annotations

import random

from indice.core.reading.siblings import read_listing


def test_three_digits_that_count_by_seasons() -> None:
    paths = [f"Gannet Row/Gannet Row - {n} - Story.avi" for n in (101, 102, 103, 201, 202)]
    read = read_listing(paths, "series")
    assert [(r.get("season"), r.get("episodes")) for r in read.values()] == [
        (1, [1]),
        (1, [2]),
        (1, [3]),
        (2, [1]),
        (2, [2]),
    ]
    assert all(r.get("absolute") is None for r in read.values())


def test_running_numbers_stay_running() -> None:
    read = read_listing([f"Hoshi/Hoshi - {n:03d}.mkv" for n in range(98, 125)], "series")
    assert [r.get("absolute") for r in read.values()] == [[n] for n in range(98, 125)]


def test_one_name_alone_settles_nothing() -> None:
    assert read_listing(["Gannet Row/Gannet Row - 101 - Story.avi"], "series").popitem()[1].get("absolute") == [101]


def test_a_mix_of_artists_is_seen_by_all_names_together() -> None:
    paths = [
        f"Mothwing/Friends (2001)/0{n} - {who} - Song {n}.mp3"
        for n, who in enumerate(("Kopper", "Dorrit Vane", "Sister Salt", "Mothwing"), 1)
    ]
    read = list(read_listing(paths, "music").values())
    assert [(r.get("artist"), r.get("title")) for r in read[:2]] == [("Kopper", "Song 1"), ("Dorrit Vane", "Song 2")]
    assert read[0].get("album_artist") == "Mothwing"
    assert read[3].get("artist") == "Mothwing"


def test_a_work_in_movements_is_left_alone() -> None:
    paths = [
        f"Ottoline Brask/Suites (1994)/0{n} - Suite No. 1 - {name}.flac"
        for n, name in enumerate(("Allegro", "Andante", "Presto"), 1)
    ]
    assert [r.get("artist") for r in read_listing(paths, "music").values()] == ["Ottoline Brask"] * 3


def test_the_order_of_the_listing_does_not_matter() -> None:
    paths = [f"Gannet Row/Gannet Row - {n}.avi" for n in (101, 102, 103, 104)]
    wanted = {path: reading.values() for path, reading in read_listing(paths, "series").items()}
    random.Random(3).shuffle(paths)
    assert {path: reading.values() for path, reading in read_listing(paths, "series").items()} == wanted
