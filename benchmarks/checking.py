"""How long a names-only check of a whole drive takes, against `find` on the same tree.

Prints both times and what the contract allows: three times `find` plus four seconds.
Run:  .venv/bin/python -m benchmarks.checking [FILES]
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

WORDS = [
    "Harbour",
    "Glass",
    "Salt",
    "Meridian",
    "Tin",
    "Orchard",
    "Lantern",
    "Street",
    "Kessel",
    "Weir",
    "Ferry",
    "Moth",
    "Row",
    "Lodger",
    "Fen",
    "Reed",
]


def _title(number: int) -> str:
    return (
        f"{WORDS[number % 16]} {WORDS[number // 16 % 16]} {WORDS[number // 256 % 16]} "
        f"{chr(65 + number // 4096 % 26)}{number % 97}"
    )


def build(root: Path, files: int) -> None:
    """A drive of so many empty-looking files: films, series, music and photos in equal parts."""
    quarter = files // 4
    for number in range(quarter // 4):
        title = f"{_title(number)} ({1930 + number % 95})"
        folder = root / "movies" / title
        folder.mkdir(parents=True)
        for name in (f"{title}.mkv", f"{title}.en.srt", f"{title}.de.srt", "poster.jpg"):
            (folder / name).write_bytes(b"x")
    for number in range(quarter // 20):
        title = _title(number + 7)
        for episode in range(20):
            folder = root / "series" / f"{title} (2011)" / f"Season {episode // 10 + 1:02d}"
            folder.mkdir(parents=True, exist_ok=True)
            (
                folder / f"{title} - S{episode // 10 + 1:02d}E{episode % 10 + 1:02d} - {_title(number * episode)}.mkv"
            ).write_bytes(b"x")
    for number in range(quarter // 12):
        folder = root / "music" / f"Artist {number // 5}" / f"{_title(number)} (2004)"
        folder.mkdir(parents=True)
        (folder / "cover.jpg").write_bytes(b"x")
        for track in range(11):
            (folder / f"{track + 1:02d} - {_title(number * 11 + track)}.flac").write_bytes(b"x")
    for number in range(quarter // 50):
        folder = (
            root
            / "photos"
            / f"{2001 + number % 20}"
            / f"{2001 + number % 20}-{number % 12 + 1:02d}-{number % 28 + 1:02d} {_title(number)}"
        )
        folder.mkdir(parents=True, exist_ok=True)
        for picture in range(50):
            (folder / f"IMG_{number * 50 + picture:05d}.jpg").write_bytes(b"x")


def timed(command: list[str]) -> float:
    """Seconds that a command takes; its output is thrown away."""
    begun = time.perf_counter()
    done = subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True, check=False)
    if done.returncode not in (0, 1):  # 1: something was found
        raise SystemExit(f"{' '.join(command)} failed: {done.stderr.strip()[-400:]}")
    return time.perf_counter() - begun


def main() -> None:
    """Build the tree, measure, print."""
    files = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    with tempfile.TemporaryDirectory() as place:
        root = Path(place)
        build(root, files)
        for kind, folder in (
            ("mixed", root),
            *((kind, root / kind) for kind in ("movies", "series", "music", "photos")),
        ):
            find = min(timed(["find", str(folder), "-printf", "%p %s\\n"]) for _ in range(3))
            check = min(
                timed(
                    [
                        str(Path(__file__).parents[1] / "indice"),
                        "check",
                        str(folder),
                        "--library",
                        kind,
                        "--names-only",
                        "--jsonl",
                    ]
                )
                for _ in range(2)
            )
            print(f"{kind:7} find {find:5.2f} s   check {check:5.2f} s   allowed {3 * find + 4:5.2f} s")


if __name__ == "__main__":
    main()
