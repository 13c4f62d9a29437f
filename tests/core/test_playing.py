"""What a moment in playing comes to."""

from __future__ import annotations

import pytest

from indice.core.playing.moments import settle_moment


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
