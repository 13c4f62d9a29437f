"""Candidate pairs scored a second on one core. Run: .venv/bin/python -m benchmarks.scoring"""

from __future__ import annotations

import random
import time

from indice.core.matching.decide import Evidence, score
from indice.standins.world import make_world

PAIRS = 60_000


def main() -> None:
    """Score works against others, and against themselves, as a source's candidates are: half alike, half not."""
    world = make_world(5)
    rng = random.Random(5)
    films = [
        Evidence(titles=(f.title, *f.aliases), year=f.year, minutes=float(f.minutes), ids=frozenset())
        for f in world.films
    ]
    albums = [
        Evidence(
            titles=(a.title,),
            year=a.year,
            artists=(a.artist,),
            tracks=tuple(t[0] for t in a.tracks),
            seconds=tuple(float(t[1]) for t in a.tracks),
        )
        for a in world.albums
    ]
    for name, known in (("films", films), ("albums", albums)):
        pairs = [(one, rng.choice((one, rng.choice(known)))) for one in rng.choices(known, k=PAIRS)]
        begun = time.perf_counter()
        for here, there in pairs:
            score(here, there)
        print(f"{name}: {len(pairs) / (time.perf_counter() - begun):,.0f} pairs/s")


if __name__ == "__main__":
    main()
