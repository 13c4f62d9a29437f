"""Openings and closings are found by their sound, in episodes that have all else for themselves."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from indice.core.playing.passages import RATE, Print, Span, common_span, passages_of, print_of


def tune(seed: int, seconds: float) -> NDArray[np.float32]:
    """Music of a kind: chords of some tones that change every third of a second, with a beat."""
    dice = np.random.default_rng(seed)
    step = RATE // 3
    pieces: list[NDArray[np.float64]] = []
    for _ in range(int(seconds * 3) + 1):
        t = np.arange(step) / RATE
        tones = sum(np.sin(2 * np.pi * dice.uniform(160, 3000) * t + dice.uniform(0, 6)) for _ in range(5))
        pieces.append(tones * np.exp(-t * dice.uniform(0, 6)) * dice.uniform(0.3, 1.0))
    return np.concatenate(pieces)[: int(seconds * RATE)].astype(np.float32)


def talk(seed: int, seconds: float) -> NDArray[np.float32]:
    """Noise that comes and goes in bands, as talk does."""
    if not seconds:
        return np.zeros(0, np.float32)
    dice = np.random.default_rng(10_000 + seed)
    noise = dice.normal(0, 0.6, int(seconds * RATE))
    envelope = np.repeat(dice.uniform(0, 1, int(seconds * 5) + 1), RATE // 5)[: len(noise)]
    kernel = dice.normal(0, 1, 24)
    return (np.convolve(noise, kernel / np.abs(kernel).sum(), "same") * envelope * 4).astype(np.float32)


def episode(
    number: int, before: float, opening: NDArray[np.float32], after: float, *, noise: float = 0.0
) -> NDArray[np.float32]:
    sound = np.concatenate([talk(number * 2, before), opening, talk(number * 2 + 1, after)])
    return (sound + np.random.default_rng(number).normal(0, noise, len(sound))).astype(np.float32)


def near(found: Span | None, start: float, end: float) -> bool:
    return found is not None and abs(found.start_seconds - start) < 1.5 and abs(found.end_seconds - end) < 1.5


OPENING = tune(1, 31.3)


@pytest.mark.parametrize("noise", [0.0, 0.05])
def test_an_opening_is_found_wherever_it_stands(noise: float) -> None:
    befores = [0.0, 41.77, 93.4, 12.13, 77.7]
    prints = [print_of(episode(n, b, OPENING, 150 - b, noise=noise)) for n, b in enumerate(befores)]
    for found, before in zip(passages_of(prints), befores, strict=True):
        assert near(found, before, before + 31.3), (found, before)


def test_an_episode_without_the_opening_has_none() -> None:
    prints = [print_of(episode(n, 20.0 + n * 7, OPENING, 100)) for n in range(4)]
    prints.insert(2, print_of(talk(99, 150)))
    found = passages_of(prints)
    assert found[2] is None
    assert all(near(found[place], 20.0 + n * 7, 51.3 + n * 7) for n, place in enumerate((0, 1, 3, 4)))


def test_episodes_that_have_nothing_in_common_have_no_opening() -> None:
    assert passages_of([print_of(talk(n, 200)) for n in range(5)]) == [None] * 5
    assert passages_of([print_of(tune(50 + n, 120)) for n in range(4)]) == [None] * 4


def test_what_only_two_of_many_have_in_common_is_no_opening() -> None:
    scene = tune(7, 40)
    prints = [print_of(talk(n, 180)) for n in range(4)]
    prints[1:3] = [print_of(episode(n + 20, 30.0 * n, scene, 90)) for n in (1, 2)]
    assert passages_of(prints) == [None] * 4


def test_two_episodes_are_enough_where_there_are_no_more() -> None:
    prints = [print_of(episode(n, 10.0 * n, OPENING, 100)) for n in (1, 2)]
    assert near(passages_of(prints)[0], 10, 41.3)
    assert passages_of(prints[:1]) == [None]
    assert passages_of([]) == []


def test_silence_is_not_what_they_have_in_common() -> None:
    quiet = np.zeros(60 * RATE, np.float32)
    prints = [print_of(np.concatenate([talk(n, 40), quiet, talk(n + 50, 40)])) for n in range(3)]
    assert passages_of(prints) == [None] * 3
    hum = (0.2 * np.sin(2 * np.pi * 400 * np.arange(60 * RATE) / RATE)).astype(np.float32)
    held = [print_of(np.concatenate([talk(n, 40), hum, talk(n + 50, 40)])) for n in range(3)]
    assert passages_of(held) == [None] * 3


def test_the_same_episode_twice_is_no_opening_of_ten_minutes() -> None:
    whole = print_of(tune(3, 240))
    assert passages_of([whole, whole, whole]) == [None] * 3


def test_a_print_is_kept_and_read_again() -> None:
    made = print_of(tune(2, 20))
    again = Print.unpacked(made.packed())
    assert np.array_equal(made.bits, again.bits)
    assert np.array_equal(made.heard, again.heard)
    empty = Print.unpacked(print_of(np.zeros(10, np.float32)).packed())
    assert len(empty.bits) == 0
    assert common_span(empty, made) is None
