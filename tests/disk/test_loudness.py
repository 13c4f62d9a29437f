"""How loud a song is, as tags of each container say it."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from mutagen.flac import FLAC
from mutagen.id3 import ID3
from mutagen.id3._frames import RVA2, TCOM, TXXX
from mutagen.mp4 import MP4, MP4FreeForm
from mutagen.oggopus import OggOpus

from indice.disk.loudness import loudness_of
from indice.disk.probe import probe

Said = dict[str, float]


@pytest.mark.parametrize(
    ("tags", "said"),
    [
        ({"REPLAYGAIN_TRACK_GAIN": ["-7.20 dB"], "replaygain_track_peak": ["0.988"]}, {"track": -7.2, "track_peak": 0.988}),
        ({"replaygain_album_gain": "+3.5"}, {"album": 3.5}),
        ({"ReplayGain_Track_Gain": ["4 DB"]}, {"track": 4.0}),
        ({"R128_TRACK_GAIN": ["-1280"], "R128_ALBUM_GAIN": ["256"]}, {"track": 0.0, "album": 6.0}),
        # What is no number, or none that a gain can be, is left out.
        ({"replaygain_track_gain": ["loud"], "replaygain_album_gain": ["-"]}, {}),
        ({"replaygain_track_gain": ["-7,20 dB"]}, {}),
        ({"replaygain_track_gain": ["200 dB"], "replaygain_track_peak": ["0"]}, {}),
        ({"replaygain_track_peak": ["-0.5"], "replaygain_album_peak": ["99"]}, {}),
        ({"R128_TRACK_GAIN": ["1.5 dB"]}, {}),
        ({"replaygain_track_gain": []}, {}),
        ({"title": ["replaygain_track_gain"]}, {}),
        (None, {}),
        ("no tags", {}),
    ],
)  # fmt: skip
def test_what_tags_say(tags: Any, said: Said) -> None:
    assert loudness_of(tags) == said


@given(st.dictionaries(st.text(max_size=12) | st.sampled_from(["replaygain_track_gain", "R128_TRACK_GAIN"]),
                       st.text(max_size=20) | st.lists(st.text(max_size=9)) | st.binary() | st.integers() | st.none()))  # fmt: skip
def test_whatever_tags_hold_gains_are_numbers_that_one_can_hear(tags: dict[str, Any]) -> None:
    found = loudness_of(tags)
    assert set(found) <= {"track", "album", "track_peak", "album_peak"}
    assert all(abs(value) <= 140 for value in found.values())


def made(tmp_path: Path, name: str, *codec: str) -> Path:
    """A second of sound."""
    path = tmp_path / name
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "sine=duration=1", *codec, "-map_metadata", "-1", str(path)],
        check=True,
    )
    return path


def tag_flac(path: Path) -> None:
    tagged = FLAC(path)
    tagged["REPLAYGAIN_TRACK_GAIN"], tagged["REPLAYGAIN_ALBUM_PEAK"] = "-4.25 dB", "0.5"
    tagged["composer"] = ["Ines Marlow", "Otto Perrin"]
    tagged.save()


def tag_mp3(path: Path) -> None:
    tagged = ID3(path)
    tagged.add(TXXX(encoding=3, desc="replaygain_track_gain", text=["-4.25 dB"]))
    tagged.add(RVA2(desc="album", channel=1, gain=-2.0, peak=0.5))
    tagged.add(RVA2(desc="track", channel=1, gain=9.0, peak=0.25))
    tagged.add(TCOM(encoding=3, text=["Ines Marlow", "Otto Perrin"]))
    tagged.save()


def tag_mp4(path: Path) -> None:
    tagged = MP4(path)
    assert tagged.tags is not None
    tagged.tags["----:org.example.tags:REPLAYGAIN_TRACK_GAIN"] = [MP4FreeForm(b"-4.25 dB")]
    tagged.tags["\xa9wrt"] = ["Ines Marlow", "Otto Perrin"]
    tagged.save()


def tag_opus(path: Path) -> None:
    tagged = OggOpus(path)
    tagged["R128_TRACK_GAIN"] = ["-2368"]
    tagged["COMPOSER"] = ["Ines Marlow", "Otto Perrin"]
    tagged.save()


@pytest.mark.parametrize(
    ("name", "codec", "tag", "said"),
    [
        ("a.flac", (), tag_flac, {"track": -4.25, "album_peak": 0.5}),
        ("a.mp3", (), tag_mp3, {"track": -4.25, "album": -2.0, "album_peak": 0.5, "track_peak": 0.25}),
        ("a.m4a", ("-c:a", "aac"), tag_mp4, {"track": -4.25}),
        ("a.opus", ("-c:a", "libopus"), tag_opus, {"track": -4.25}),
    ],
)
def test_songs_say_how_loud_they_are_and_who_wrote_them(
    tmp_path: Path, name: str, codec: tuple[str, ...], tag: Any, said: Said
) -> None:
    path = made(tmp_path, name, *codec)
    assert "loudness" not in probe(os.fsencode(path), "track").media
    tag(path)
    found = probe(os.fsencode(path), "track").media
    assert found["loudness"] == pytest.approx(said, abs=0.001)
    assert found["tags"]["composers"] == ["Ines Marlow", "Otto Perrin"]
