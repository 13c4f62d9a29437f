"""What a moment in playing comes to."""

from __future__ import annotations

import pytest

from indice.core.playing.moments import closing_start, settle_moment


@pytest.mark.parametrize(
    ("seconds", "whole", "came"),
    [
        (0, 6000, "left"),
        (119.9, 6000, "left"),
        (120, 6000, "kept"),
        (3000, 6000, "kept"),
        (5520, 6000, "kept"),
        (5520.1, 6000, "seen"),
        (6000, 6000, "seen"),
        (9000, 6000, "seen"),
        (10, 0, "left"),
        (10, -1, "left"),
        (-3, 6000, "left"),
        (float("nan"), 6000, "left"),
        (10, float("nan"), "left"),
        (float("inf"), 6000, "left"),
    ],
)
def test_moments(seconds: float, whole: float, came: str) -> None:
    assert settle_moment(seconds, whole) == came


@pytest.mark.parametrize(
    ("chapters", "closing"),
    [
        ([(0.0, "The boat"), (5000.0, "End Credits")], 5000.0),
        ([(0.0, "1"), (5000.0, "Abspann")], 5000.0),
        ([(0.0, "1"), (5000.0, "Générique de fin")], 5000.0),
        ([(0.0, "Opening credits"), (5000.0, "The lamp")], None),
        ([(0.0, "1"), (5000.0, "The lamp"), (5500.0, "Credits"), (5700.0, "After the credits")], 5500.0),
        ([(0.0, "1"), (5000.0, "Weekend at the pier")], None),
        ([(0.0, "1"), (5000.0, "The Bender")], None),
        ([], None),
    ],
)
def test_the_closing_chapter_is_told_by_its_name_and_place(
    chapters: list[tuple[float, str]], closing: float | None
) -> None:
    assert closing_start(chapters, 6000) == closing


def test_who_leaves_in_the_closing_chapter_has_seen_it() -> None:
    assert settle_moment(4999, 6000, closing_seconds=5000) == "kept"
    assert settle_moment(5000, 6000, closing_seconds=5000) == "seen"
