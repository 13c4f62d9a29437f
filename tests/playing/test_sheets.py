"""The sheet of pictures under a time line: laid out by length and shape, drawn from real files, kept as the file is."""

from __future__ import annotations

import io
import math
import time
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageStat

from indice.core.playing.sheets import Sheet, plan_sheet
from indice.disk.apart import sheet_apart
from indice.work.sheets import Sheets

from .zoo import FIRST_BRIGHTNESS, STEP, ZOO, Animal, make

SECONDS = 20


@given(st.floats(0.1, 60_000), st.integers(2, 8000), st.integers(2, 8000))
def test_a_sheet_covers_the_whole_film_and_stays_small(seconds: float, width: int, height: int) -> None:
    sheet = plan_sheet(seconds, width, height)
    assert sheet is not None
    assert sheet.count <= 150
    assert sheet.count * sheet.step_seconds >= seconds or sheet.count == 150
    assert (sheet.count - 1) * sheet.step_seconds < seconds
    rows = math.ceil(sheet.count / sheet.columns)
    assert rows * sheet.height <= 4000
    assert sheet.columns * sheet.width <= 4000
    assert 2 <= sheet.height <= 176
    if 0.3 < width / height < 3:
        assert sheet.width / sheet.height == pytest.approx(width / height, rel=0.06)


@pytest.mark.parametrize("wrong", [(0, 10, 10), (math.nan, 10, 10), (math.inf, 10, 10), (9, 0, 10), (9, 10, 0)])
def test_what_has_no_length_or_picture_has_no_sheet(wrong: tuple[float, int, int]) -> None:
    assert plan_sheet(*wrong) is None


def luma(sheet: Image.Image, plan: Sheet, place: int) -> float:
    left, top = place % plan.columns * plan.width, place // plan.columns * plan.height
    inner = (left + plan.width // 4, top + plan.height // 4, left + plan.width * 3 // 4, top + plan.height * 3 // 4)
    return ImageStat.Stat(sheet.crop(inner).convert("L")).mean[0]


FEW = [one for one in ZOO if one.name in ("plain.mp4", "boxed.mkv", "hevc.mkv", "old.avi", "boxed.ts", "desktop.wmv")]


@pytest.mark.parametrize("animal", FEW, ids=lambda one: one.name)
def test_each_picture_shows_its_moment(animal: Animal, tmp_path: Path) -> None:
    path = make(animal, tmp_path)
    plan = Sheet(5.0, 4, 2, 88, 50)
    sheet = Image.open(io.BytesIO(sheet_apart(bytes(path), plan, 0)))
    assert sheet.size == (176, 100)
    seen = [luma(sheet, plan, place) for place in range(4)]
    assert seen == sorted(seen)
    for place, value in enumerate(seen):  # a key frame may lie some seconds before
        second = (value - (FIRST_BRIGHTNESS - 16) * 255 / 219) / (STEP * 255 / 219)
        assert place * 5 - 11 <= second <= place * 5 + 1.5


def test_what_is_no_video_is_refused_in_words(tmp_path: Path) -> None:
    path = tmp_path / "x.mkv"
    path.write_bytes(b"\x1aE\xdf\xa3" + bytes(900))
    with pytest.raises(ValueError, match=r"\w"):
        sheet_apart(bytes(path), Sheet(5.0, 4, 2, 88, 50), 0)


def test_a_sheet_is_drawn_in_the_background_once_and_anew_for_another_file(tmp_path: Path) -> None:
    path = make(FEW[0], tmp_path)
    sheets = Sheets(tmp_path / "home")
    first = sheets.sheet(bytes(path))
    assert first is not None
    assert first[1] is None
    kept = wait(sheets, path)
    drawn = kept.stat().st_mtime_ns
    assert wait(sheets, path).stat().st_mtime_ns == drawn
    path.write_bytes(path.read_bytes() + b"\0")
    again = sheets.sheet(bytes(path))
    assert again is not None
    assert again[1] is None


def wait(sheets: Sheets, path: Path) -> Path:
    for _ in range(300):
        found = sheets.sheet(bytes(path))
        assert found is not None
        if found[1] is not None:
            return found[1]
        time.sleep(0.05)
    raise AssertionError("no sheet was drawn")


def test_a_file_that_cannot_be_read_is_given_up(tmp_path: Path) -> None:
    path = tmp_path / "x.mp4"
    path.write_bytes(bytes(4000))
    assert Sheets(tmp_path).sheet(bytes(path)) is None
    with pytest.raises(OSError):
        Sheets(tmp_path).sheet(bytes(tmp_path / "gone.mp4"))


def test_who_may_not_see_a_film_gets_no_sheet_of_it(client: FlaskClient) -> None:
    assert client.get("/api/files/1/sheet").status_code == 401
    assert client.get("/api/files/1/sheet.webp").status_code == 401
