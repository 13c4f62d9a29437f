"""How fast names are read, on one core: the development corpus repeated, the import, and names made to be slow.

Run: .venv/bin/python benchmarks/reading.py [CORPUS.jsonl …]
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from indice.core.reading.reader import read_path  # noqa: E402

SECONDS = 3.0
LIMIT_BYTES = 4096
HOSTILE = {
    "brackets": "[(" * 2048,
    "open brackets": "(" * 4096,
    "dots": "." * 4000 + ".mkv",
    "years": " ".join(["1999"] * 800),
    "marks": "S01E01" * 680,
    "dashes": " - " * 1365,
    "digits": "1" * 4096,
    "numbers": " - 1" * 1000,
    "words": "a.b" * 1365,
    "spaces": " " * 4096,
    "episodes": "E01" * 1365,
    "articles": ", The" * 800,
    "feat": " feat." * 680,
    "season": "season " * 585,
    "aka": " aka " * 800,
    "slashes": "a/" * 2048,
    "wide": "（" * 1365,
    "x": "1x1" * 1365,
    "dates": "2019-07-20" * 409,
    "technical": "1080p.x264." * 370,
    "languages": "german." * 585,
    "parts": "cd1 " * 1024,
    "underscores": "_" * 4096,
    "editions": "extended cut " * 315,
    "quotes": "'" * 4096,
    "ids": "[a-1]" * 819,
    "copies": " (1)" * 1024,
    "plus": "a+" * 2048,
    "han": "第一季" * 455,
    "semis": "; " * 2048,
    "acronym": "A." * 2048,
}


def cases(files: list[str]) -> list[tuple[str, str]]:
    """Paths with their libraries."""
    rows = [json.loads(line) for name in files for line in Path(name).read_text("utf-8").splitlines() if line.strip()]
    return [(row["path"], row["library"]) for row in rows]


def rate(paths: list[tuple[str, str]]) -> float:
    """Readings a second, best of three."""
    best = 0.0
    for _ in range(3):
        count, began = 0, time.perf_counter()
        while time.perf_counter() - began < SECONDS / 3:
            for path, library in paths:
                read_path(path, library)
            count += len(paths)
        best = max(best, count / (time.perf_counter() - began))
    return best


def main() -> None:
    """Print rates and the slowest hostile names."""
    default = sorted(str(path) for path in (ROOT.parent / "shared" / "corpus").glob("*.jsonl"))
    files = sys.argv[1:] or default
    if files:
        paths = cases(files)
        print(f"corpus          {rate(paths):10.0f} paths/s   ({len(paths)} paths repeated, one core)")
        fresh = [(f"{n} {path}", library) for n in range(20) for path, library in paths]
        began = time.perf_counter()
        for path, library in fresh:
            read_path(path, library)
        print(
            f"never seen      {len(fresh) / (time.perf_counter() - began):10.0f} paths/s   (every folder and file new)"
        )
    code = "import time; b = time.perf_counter(); import indice.core.reading; print(time.perf_counter() - b)"
    took = min(
        float(
            subprocess.run(
                [sys.executable, "-c", code],
                capture_output=True,
                text=True,
                check=True,
                env={"PYTHONPATH": str(ROOT / "src")},
            ).stdout
        )
        for _ in range(5)
    )
    print(f"import          {took * 1000:10.1f} ms")
    slowest: list[tuple[float, str, str]] = []
    for name, text in HOSTILE.items():
        for library, ending in (
            ("movies", ".mkv"),
            ("series", ".mkv"),
            ("music", ".mp3"),
            ("photos", ".jpg"),
            ("movies", ".srt"),
            ("mixed", ".mp4"),
        ):
            path = text.encode()[: LIMIT_BYTES - 4].decode("utf-8", "ignore") + ending
            best = min(_once(path, library) for _ in range(3))
            slowest.append((best, name, f"{library} {ending}"))
    slowest.sort(reverse=True)
    print("slowest names of 4,096 bytes:")
    for seconds, name, where in slowest[:8]:
        print(f"  {seconds * 1000:8.2f} ms  {name} ({where})")


def _once(path: str, library: str) -> float:
    began = time.perf_counter()
    read_path(path, library)
    return time.perf_counter() - began


if __name__ == "__main__":
    main()
