"""How long it takes to find pictures of one shot among very many, what of the
planted is found, and what it takes of memory.

    python -m benchmarks.likeness --pictures 100000 --said 80

The pictures are made-up greys: a slope of light and a hundred shapes of any place, size and shade, of which a few
thousand would be taken for each other at a first glance, as those of a household are. One in a hundred is a changed
copy of another. `--said` is how many of a hundred say when they were taken.
"""

from __future__ import annotations

import argparse
import resource
import time
from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from indice.core.duplicates import Looks, Picture, pairs_of_shots, picture_of

HEIGHT, WIDTH = 120, 180
COPIES = 100
"""One in so many is a copy."""


def scene(seed: int) -> NDArray[np.float64]:
    """A picture of light that falls from somewhere on boxes and on a ground with a grain."""
    draw = np.random.default_rng(seed)
    down, across = np.mgrid[0:HEIGHT, 0:WIDTH]
    grey = 120 + draw.normal(0, 40) * (down / HEIGHT - 0.5) + draw.normal(0, 40) * (across / WIDTH - 0.5)
    horizon = int(draw.uniform(0.3, 0.8) * HEIGHT)
    grey[horizon:] -= draw.uniform(20, 70)
    for _ in range(40):
        top, left = int(draw.uniform(-0.2, 0.95) * HEIGHT), int(draw.uniform(-0.2, 0.95) * WIDTH)
        size = draw.uniform(4, 50, 2).astype(int)
        grey[max(top, 0) : max(top + size[0], 0), max(left, 0) : max(left + size[1], 0)] += draw.normal(0, 45)
    return grey + draw.normal(0, 4, grey.shape)


def changed(grey: NDArray[np.float64], draw: np.random.Generator) -> NDArray[np.float64]:
    """A copy that was cut, turned or made lighter."""
    cut = (draw.uniform(0, 0.09, 4) * [HEIGHT, HEIGHT, WIDTH, WIDTH]).astype(int)
    grey = grey[cut[0] : HEIGHT - cut[1], cut[2] : WIDTH - cut[3]]
    grey = np.rot90(grey, int(draw.integers(0, 4)))
    return grey * draw.uniform(0.8, 1.15) + draw.uniform(-15, 15)


def pictures(count: int, said: int) -> Iterator[tuple[bytes, str | None]]:
    """Packed sketches and moments. Each hundredth is a copy of the one before,
    and says what that one says, or nothing."""
    moment: str | None = None
    for number in range(count):
        draw = np.random.default_rng(number + 10**9)
        is_copy = number % COPIES == COPIES - 1
        grey = changed(scene(number - 1), draw) if is_copy else scene(number)
        if not is_copy:
            moment = f"{number}" if draw.uniform(0, 100) < said else None
        told = moment if draw.uniform(0, 100) < said else None
        yield picture_of(np.clip(grey, 0, 255).astype(np.uint8)).packed(), told


def main() -> None:
    """Make, look, and print."""
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("--pictures", type=int, default=20_000)
    asked.add_argument("--said", type=int, default=0)
    words = asked.parse_args()
    began = time.perf_counter()
    packed: list[bytes] = []

    def each() -> Iterator[tuple[Picture, str | None]]:
        for data, moment in pictures(words.pictures, words.said):
            packed.append(data)
            yield Picture.unpacked(data), moment

    looks = Looks.of(each(), words.pictures)
    print(f"{words.pictures} pictures made in {time.perf_counter() - began:.0f} s")

    def fetch(numbers: Sequence[int]) -> list[Picture]:
        return [Picture.unpacked(packed[number]) for number in numbers]

    began, used = time.perf_counter(), time.process_time()
    found = set(pairs_of_shots(looks, fetch))
    planted = {(number - 1, number) for number in range(COPIES - 1, words.pictures, COPIES)}
    took = time.perf_counter() - began
    print(
        f"compared in {took:.1f} s, {time.process_time() - used:.1f} s of processors, "
        f"{words.pictures / took:.0f} a second"
    )
    print(f"{len(found & planted)} of {len(planted)} copies found, {len(found - planted)} pairs that were not planted")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{peak:.0f} MB at the most, {sum(map(len, packed)) / 2**20:.0f} MB of them sketches that the product "
        f"reads when needed"
    )


if __name__ == "__main__":
    main()
