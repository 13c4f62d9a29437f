"""How much of the reading holds when a whole part of its data is taken away.

Each run drops one language of all word tables, one table of them, or one separator of columns, before the reading is
loaded, and scores the development corpora and the tables written from the contract again.

    python -m benchmarks.leave_out [CORPUS.jsonl …]
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tomllib
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DATA = ROOT / "src" / "indice" / "core" / "reading" / "data"
TABLES = ROOT / "tests" / "core" / "data"
COMPARED = {
    "kind", "title", "alt_title", "series", "year", "season", "episodes", "absolute", "date", "part", "edition", "version",
    "ids", "artist", "album_artist", "album", "disc", "track", "featuring", "taken", "event", "sequence", "marks", "role",
    "label", "language", "flags",
}  # fmt: skip

__all__ = ["main"]


def _corpora(files: list[str]) -> list[dict[str, object]]:
    shared = ROOT.parent / "shared" / "corpus"
    names = files or [*map(str, shared.glob("*.jsonl")), *map(str, shared.glob("second/*.jsonl"))]
    names += [str(path) for path in TABLES.glob("*-by-contract.jsonl")]
    return [json.loads(line) for name in names for line in Path(name).read_text("utf-8").splitlines() if line.strip()]


def _without(left: str) -> None:
    """Drop a part of the data from what is loaded later in this process."""
    what, _, name = left.partition(":")
    load = tomllib.loads

    def loads(text: str) -> dict[str, object]:
        tables = load(text)
        for key, table in list(tables.items()):
            inner = table.values() if all(isinstance(one, dict) for one in table.values()) else [table]
            for one in inner:
                if what == "language":
                    one.pop(name, None)
            if what == "table" and key == name:
                tables[key] = {"en": ["\x00nothing"]} if inner == [table] else {"none": {"en": ["\x00nothing"]}}
        return tables

    tomllib.loads = loads  # type: ignore[assignment]


def _accuracy(left: str, files: list[str]) -> float:
    sys.path.insert(0, str(ROOT / "src"))
    _without(left)
    from indice.core.reading import columns
    from indice.core.reading.reader import read_path
    from indice.core.reading.scan import fold

    if left.startswith("separator:"):
        columns._SEPARATORS = tuple(pair for pair in columns._SEPARATORS if pair[0] != left.partition(":")[2])

    def same(want: object, got: object) -> bool:
        return fold(want) == fold(got) if isinstance(want, str) and isinstance(got, str) else want == got

    cases = _corpora(files)
    right = 0
    for case in cases:
        reading = read_path(str(case["path"]), str(case["library"])).values()
        expect = case["expect"]
        assert isinstance(expect, dict)
        right += all(same(expect.get(field), reading.get(field)) for field in COMPARED)
    return right / len(cases)


def main() -> None:
    """Print the accuracy with nothing, and with each part, left out."""
    files = sys.argv[1:]
    if os.environ.get("LEFT_OUT"):
        print(_accuracy(os.environ["LEFT_OUT"], files))
        return
    words = tomllib.loads((DATA / "words.toml").read_text("utf-8"))
    leanings = tomllib.loads((DATA / "leanings.toml").read_text("utf-8"))
    languages = sorted({name for table in leanings.values() for name in table})
    parts = ["nothing:"] + [f"language:{name}" for name in languages]
    parts += [f"table:{name}" for name in (*words, *leanings)]
    parts += [
        f"separator:{name}"
        for name in ("spaced dash", "underscored dash", "dotted dash", "long dash", "dash", "underscore", "comma")
    ]
    found: list[tuple[float, str]] = []
    for part in parts:
        done = subprocess.run(
            [sys.executable, "-m", "benchmarks.leave_out", *files],
            env={**os.environ, "LEFT_OUT": part},
            capture_output=True,
            text=True,
            check=False,
            cwd=ROOT,
        )
        if done.returncode:
            print(f"{part:28} {done.stderr.splitlines()[-1] if done.stderr else ''}")
            continue
        found.append((float(done.stdout), part))
    print(f"{'left out':28} identity, of {len(_corpora(files))} names")
    for accuracy, part in sorted(found):
        print(f"{part:28} {accuracy:7.2%}")
    print(f"worst {min(found)[0]:.2%}, mean {sum(a for a, _ in found) / len(found):.2%}")


if __name__ == "__main__":
    main()
