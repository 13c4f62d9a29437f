"""Clips of few seconds, as phones and cameras make them: each is played to its end."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from selenium import webdriver

from .drive import ask, wait
from .test_photos import prepared

SILENT = "-f lavfi -i testsrc=s=320x240:r=15:d={seconds}"
SPOKEN = SILENT + " -f lavfi -i sine=d={seconds} -c:a aac"
CLIPS = {
    "VID_20190704_100000.mov": SILENT.format(seconds=2.4),
    "VID_20190704_110000.mov": SPOKEN.format(seconds=2.5),
    "VID_20190704_120000.mp4": SPOKEN.format(seconds=8) + " -g 9999 -sc_threshold 0",
    "VID_20190704_130000.mov": SPOKEN.format(seconds=9),
}


@pytest.fixture(scope="module")
def clips(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The address of a house with a few clips: silent and not, of one key picture and of several."""
    folder: Path = tmp_path_factory.mktemp("clips")
    for name, made_of in CLIPS.items():
        words = ["ffmpeg", "-v", "error", "-y", *made_of.split(), "-c:v", "libx264", "-pix_fmt", "yuv420p"]
        subprocess.run([*words, str(folder / name)], check=True)
    return prepared(browser, empty, folder)


@pytest.mark.parametrize("name", CLIPS)
def test_a_short_clip_is_played_to_its_end(browser: webdriver.Chrome, clips: str, name: str) -> None:
    (entry,) = (one for one in ask(browser, "/api/shelves/photos")["entries"] if one["title"] == name)
    browser.get(f"{clips}/play/{entry['id']}")
    over = "const v = document.querySelector('video'); return v && v.currentTime > 2 && v.ended"
    wait(browser, lambda b: b.execute_script(over), 40)
