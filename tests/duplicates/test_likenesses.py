"""Likenesses of pictures and sounds: what is done to copies does not hide them, and what is another is told apart."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from indice.core.duplicates import (
    Looks,
    Picture,
    Sound,
    alike_pairs,
    grouped,
    pairs_of_shots,
    picture_of,
    same_recording,
    same_shot,
    shots,
    sound_of,
)
from indice.core.duplicates.pictures import turned_vectors
from indice.core.duplicates.sounds import RATE

from .scenes import BURSTS, CHANGES, burst, melody, scene


def sketch(picture: Image.Image) -> Picture:
    """As it is made of a file, without the file."""
    grey = picture.convert("L")
    grey.thumbnail((320, 320), Image.Resampling.BOX)
    return picture_of(np.asarray(grey))


SHOTS = range(100, 112)


@pytest.mark.parametrize("change", CHANGES)
def test_a_changed_copy_is_the_same_shot(change: str) -> None:
    found = [same_shot(sketch(scene(seed)), sketch(CHANGES[change](scene(seed)))) for seed in SHOTS]
    assert sum(found) >= len(found) - 1, found


@pytest.mark.parametrize("how", BURSTS)
def test_the_next_moment_is_another_shot(how: str) -> None:
    taken = [seed for seed in SHOTS if same_shot(sketch(scene(seed)), sketch(burst(seed, how)))]
    # Who hardly differs from what is behind them, or hardly moves, may be missed once in a while.
    assert len(taken) <= (2 if how == "somebody moves a little" else 1), taken


def test_other_places_are_other_shots() -> None:
    sketches = [sketch(scene(seed)) for seed in range(40)]
    assert not [(a, b) for a in range(40) for b in range(a) if same_shot(sketches[a], sketches[b])]


def test_a_picture_without_anything_in_it_is_no_trouble() -> None:
    plain = sketch(Image.new("RGB", (300, 200), "grey"))
    assert not same_shot(plain, sketch(scene(1)))
    for size in ((1, 1), (3, 900), (900, 3)):
        sketch(Image.new("RGB", size, "white"))


def test_a_sketch_is_kept_and_read_again() -> None:
    made = sketch(scene(5))
    kept = Picture.unpacked(made.packed())
    assert (kept.grey == made.grey).all() and np.allclose(kept.vector, made.vector, atol=0.02)
    heard = sound_of(melody(5, RATE))
    assert heard is not None
    again = Sound.unpacked(heard.packed())
    assert again.seconds == heard.seconds and (again.levels == heard.levels).all()
    assert len(made.packed()) < 12_000 and len(heard.packed()) < 12_000


def coded(samples: np.ndarray, seed: int) -> np.ndarray:
    """What a poor encoder leaves: noise below what is loud, a few samples later."""
    noise = np.random.default_rng(seed).normal(0, 1, samples.size)
    smooth = np.convolve(np.abs(samples), np.ones(400) / 400, "same")
    return np.concatenate([np.zeros(317), samples + noise * smooth * 0.02]).astype(np.float32)


PIECES = range(20, 28)


@pytest.mark.parametrize("seed", PIECES)
def test_a_recording_is_known_again(seed: int) -> None:
    plain = melody(seed, RATE)
    made = sound_of(plain)
    silence = np.zeros(RATE, np.float32)
    assert made is not None
    for other in (coded(plain, seed), plain * 0.1, np.concatenate([silence, plain, silence, silence])):
        heard = sound_of(other.astype(np.float32))
        assert heard is not None and same_recording(made, heard) and same_recording(heard, made)


@pytest.mark.parametrize("seed", PIECES)
@pytest.mark.parametrize(("take", "tempo", "crowd"), [(1, 1.0, 0.0), (2, 1.0, 0.05), (0, 1.02, 0.0)])
def test_another_take_is_another_recording(seed: int, take: int, tempo: float, crowd: float) -> None:
    made, other = (sound_of(melody(seed, RATE, **kw)) for kw in ({}, {"take": take, "tempo": tempo, "crowd": crowd}))
    assert made is not None and other is not None and not same_recording(made, other)


def test_silence_has_no_likeness() -> None:
    assert sound_of(np.zeros(RATE * 10, np.float32)) is None
    assert sound_of(np.ones(100, np.float32)) is None


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(0, 12)).filter(lambda pair: pair[0] != pair[1]), max_size=20))
def test_groups_are_what_pairs_join(pairs: list[tuple[int, int]]) -> None:
    groups = grouped(pairs)
    held = [thing for group in groups for thing in group]
    assert sorted(held) == sorted({thing for pair in pairs for thing in pair})
    where = {thing: number for number, group in enumerate(groups) for thing in group}
    assert all(where[one] == where[other] for one, other in pairs)


@given(st.integers(0, 10_000), st.integers(2, 40))
def test_pairs_are_those_of_a_plain_search(seed: int, count: int) -> None:
    draw = np.random.default_rng(seed)
    vectors = draw.normal(size=(count, 4))
    vectors /= np.linalg.norm(vectors, axis=1, keepdims=True)
    lengths = draw.integers(0, 5, count).astype(float)
    plain = {
        (a, b)
        for b in range(count)
        for a in range(b)
        if vectors[a] @ vectors[b] >= 0.9 and abs(lengths[a] - lengths[b]) < 1.5
    }
    assert set(alike_pairs(vectors, lengths, least=0.9, within=1.5)) == plain


def test_a_turned_picture_has_the_turned_vector() -> None:
    made = sketch(scene(3))
    for turns, vector in enumerate(turned_vectors(made.vector[None])):
        turned = Picture.unpacked(Picture(made.vector, np.ascontiguousarray(np.rot90(made.grey, turns))).packed())
        assert np.allclose(vector[0], turned.vector, atol=0.01)


def crowd() -> list[Picture]:
    """Scenes, and changed copies of each fifth of them, by turns."""
    plain = [scene(seed) for seed in range(200, 230)]
    changed = [list(CHANGES.values())[number % len(CHANGES)](plain[number]) for number in range(0, 30, 5)]
    return [sketch(one) for one in [*plain, *changed]]


@pytest.mark.parametrize("at_once", [3, 256])
@pytest.mark.parametrize(
    "moments",
    [
        [None] * 36,
        [f"2014-05-{number + 1:02d}" for number in range(30)] + [None] * 6,
        [None] * 30 + [f"2014-05-{number + 1:02d}" for number in range(0, 30, 5)],
        [f"2014-05-{number + 1:02d}" for number in range(30)]
        + [f"2014-05-{number + 1:02d}" for number in range(0, 30, 5)],
    ],
    ids=["nothing said", "copies say nothing", "only copies say", "all say"],
)
def test_pairs_among_many_are_those_of_each_with_each(
    moments: list[str | None], at_once: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(shots, "AT_ONCE", at_once)
    pictures = crowd()
    looks = Looks.of(zip(pictures, moments, strict=True), len(pictures))
    done: list[int] = []
    found = set(pairs_of_shots(looks, lambda numbers: [pictures[number] for number in numbers], looked=done.append))
    plain = {(a, b) for b in range(36) for a in range(b) if same_shot(pictures[a], pictures[b])}
    assert found == plain and len(found) >= 5
    assert sum(done) == len(pictures)


def test_another_moment_is_another_shot_and_what_must_not_be_is_none() -> None:
    pictures = [sketch(scene(7)), sketch(scene(7)), sketch(scene(7))]
    looks = Looks.of(zip(pictures, ["2014", "2015", None], strict=True), 3)

    def fetch(numbers: Sequence[int]) -> list[Picture]:
        return [pictures[number] for number in numbers]

    assert set(pairs_of_shots(looks, fetch)) == {(0, 2), (1, 2)}
    assert set(pairs_of_shots(looks, fetch, may_be=lambda one, other: 0 not in (one, other))) == {(1, 2)}
    assert not list(pairs_of_shots(Looks.of(iter(()), 0), fetch))
