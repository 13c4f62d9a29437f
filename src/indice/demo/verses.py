"""What the songs of the demo household sing: made-up verses, with their moments."""

from __future__ import annotations

import random

from .world import ADJECTIVES, NOUNS

__all__ = ["verses"]

_LINES = (
    "there's a {a} {n} where the {m} used to be",
    "and nobody asks what the {n} will say",
    "I counted the lamps on the far side of the {m}",
    "you left me the {n} and the change from the {m}",
    "oh, hold the door till the {n} comes in",
    "a {a} light over a {a} {n}",
    "we were late for the {m}, we were early for the rain",
    "bring me the {n}, I will bring you the {m}",
)
_CHORUS = ("{t}, {t}", "carry me over to {t}", "nothing is owed and the night is long", "{t}, and home again")
LINE_SECONDS = 3.7


def verses(title: str, seconds: int) -> str:
    """A song's words as an LRC file has them: verses, and a chorus that comes again."""
    rng = random.Random(f"sung {title}")
    lines = [f"[ti:{title}]"]
    at = 1.2
    chorus = [line.format(t=title) for line in _CHORUS]
    while at < min(seconds - 16, 110):
        for text in [*(_line(rng, line) for line in rng.sample(_LINES, 4)), "", *chorus, ""]:
            lines.append(f"[{int(at // 60):02d}:{at % 60:05.2f}]{text}")
            at += LINE_SECONDS if text else LINE_SECONDS / 2
    return "\n".join(lines) + "\n"


def _line(rng: random.Random, line: str) -> str:
    one, other = rng.sample(NOUNS, 2)
    said = line.format(a=rng.choice(ADJECTIVES).lower(), n=one.lower(), m=other.lower())
    return said[0].upper() + said[1:]
