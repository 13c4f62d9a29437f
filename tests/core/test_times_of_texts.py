"""Times of texts are moved, stretched, and fitted to what is heard."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from indice.core.playing.timing import STEP_SECONDS, fit, retimed
from indice.core.playing.words import BadText, as_webvtt, spans_of

SRT = "1\n00:00:10,000 --> 00:00:12,500\nWho is there?\n\n2\n00:01:00,000 --> 00:01:02,000\n<i>Nobody.</i>\n"
ASS = (
    "[Script Info]\nScriptType: v4.00+\n\n[Events]\n"
    "Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text\n"
    "Dialogue: 0,0:00:10.00,0:00:12.50,Default,,0,0,0,,Who is there?\n"
)
VTT = "WEBVTT\n\n00:10.000 --> 00:12.500 line:0\nWho is there?\n"


def talk(seed: int, seconds: float) -> list[tuple[float, float]]:
    """Moments at which somebody speaks, as irregular as talk is."""
    dice = np.random.default_rng(seed)
    spans: list[tuple[float, float]] = []
    at = 5.0
    while at < seconds - 10:
        length = float(dice.uniform(0.8, 5.0))
        spans.append((at, at + length))
        at += length + float(dice.exponential(4.0)) + 0.3
    return spans


def heard(spans: list[tuple[float, float]], seconds: float, *, noise: float, seed: int) -> NDArray[np.float32]:
    dice = np.random.default_rng(seed)
    levels = dice.normal(0, noise, int(seconds / STEP_SECONDS))
    for start, end in spans:
        levels[int(start / STEP_SECONDS) : int(end / STEP_SECONDS)] += 6.0
    return levels.astype(np.float32)


@pytest.mark.parametrize("stretch", [1.0, 25 / 24, 24 / 25, 25 * 1001 / 24000, 24000 / 1001 / 25])
@pytest.mark.parametrize("offset", [0.0, -37.3, 81.6])
def test_a_text_is_fitted_to_loud_and_poor_sound(stretch: float, offset: float) -> None:
    spans = talk(3, 3600)
    film = [(start * stretch + offset, end * stretch + offset) for start, end in spans if start * stretch + offset > 0]
    found = fit(spans, heard(film, 3900, noise=6.0, seed=8))
    assert found.is_sure
    assert found.stretch == pytest.approx(stretch, abs=2e-4)
    assert found.offset_seconds == pytest.approx(offset, abs=0.3)


def test_it_is_enough_to_have_listened_here_and_there() -> None:
    spans = talk(5, 5400)
    levels = heard([(a + 12.4, b + 12.4) for a, b in spans], 5600, noise=4.0, seed=2)
    listened = np.zeros(len(levels), bool)
    for start in np.linspace(0, len(levels) - 2400, 8).astype(int):
        listened[start : start + 2400] = True
    levels[~listened] = np.nan
    found = fit(spans, levels)
    assert found.is_sure
    assert (found.stretch, found.offset_seconds) == (1.0, pytest.approx(12.4, abs=0.2))


@pytest.mark.parametrize("seed", range(6))
def test_what_does_not_belong_to_the_film_is_not_fitted(seed: int) -> None:
    other = heard(talk(100 + seed, 3600), 3600, noise=4.0, seed=seed)
    assert not fit(talk(seed, 3600), other).is_sure


def test_silence_and_nothing_heard_fit_nothing() -> None:
    assert not fit(talk(1, 600), np.zeros(12_000, np.float32)).is_sure
    assert not fit(talk(1, 600), np.full(12_000, np.nan, np.float32)).is_sure
    assert not fit([], np.zeros(12_000, np.float32)).is_sure


@pytest.mark.parametrize(("text", "extension"), [(SRT, "srt"), (ASS, "ass"), (VTT, "vtt"), (SRT, "txt")])
def test_times_are_multiplied_then_moved_in_every_form(text: str, extension: str) -> None:
    made = retimed(text, extension, offset_seconds=1.5, stretch=2.0)
    assert spans_of(as_webvtt(made, extension))[0] == (pytest.approx(21.5), pytest.approx(26.5))
    assert "Who is there?" in made


def test_what_is_slanted_stays_and_cues_before_the_film_go() -> None:
    made = retimed(SRT, "srt", offset_seconds=-30, stretch=1.0)
    assert "Who is there?" not in made
    assert "<i>Nobody.</i>" in made


@pytest.mark.parametrize(("offset", "stretch"), [(0.0, 0.1), (0.0, float("nan")), (1e9, 1.0), (float("nan"), 1.0)])
def test_a_wish_that_no_film_needs_is_refused(offset: float, stretch: float) -> None:
    with pytest.raises(ValueError, match="times"):
        retimed(SRT, "srt", offset_seconds=offset, stretch=stretch)


def test_nothing_left_is_refused() -> None:
    with pytest.raises(BadText, match="left"):
        retimed(SRT, "srt", offset_seconds=-4000, stretch=1.0)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 600_000), st.integers(0, 4000).map(lambda n: n / 2000 - 1))
def test_a_move_taken_back_gives_the_same_times(start: int, share: float) -> None:
    offset = round(share * start / 1000 * 0.9, 3)
    end = start + 1700
    text = f"1\n{stamp(start)} --> {stamp(end)}\nHere.\n"
    there = retimed(text, "srt", offset_seconds=offset, stretch=1.0)
    back = retimed(there, "srt", offset_seconds=-offset, stretch=1.0)
    assert spans_of(as_webvtt(back, "srt")) == [
        (pytest.approx(start / 1000, abs=0.002), pytest.approx(end / 1000, abs=0.002))
    ]


def stamp(ms: int) -> str:
    return f"{ms // 3600000:02d}:{ms // 60000 % 60:02d}:{ms // 1000 % 60:02d},{ms % 1000:03d}"
