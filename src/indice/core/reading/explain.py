"""A reading told to a person at a terminal: the name underlined part by part, the facts beside."""

from __future__ import annotations

import unicodedata

from .model import Reading

__all__ = ["explain"]

_COLOURS = {
    "title": 36,
    "series": 36,
    "artist": 36,
    "album": 36,
    "event": 36,
    "year": 33,
    "season": 32,
    "episodes": 32,
    "absolute": 32,
    "date": 32,
    "taken": 33,
    "track": 32,
    "disc": 32,
    "release": 35,
}


def _width(text: str) -> int:
    return sum(0 if unicodedata.combining(c) else 2 if unicodedata.east_asian_width(c) in "WF" else 1 for c in text)


def explain(path: str, reading: Reading, *, colour: bool) -> str:
    """Lines of text: the path, a line that underlines what each fact came from, then a line for each fact."""
    path = path.encode("utf-8", "replace").decode()
    marks = [" "] * len(path)
    for name, fact in reading.facts.items():
        for start, end in fact.spans:
            for place in range(start, min(end, len(path))):
                if marks[place] == " ":
                    marks[place] = name
    line = path
    if colour:
        line = "".join(
            f"\x1b[{_COLOURS.get(mark, 34)}m{letter}\x1b[0m" if mark != " " else letter
            for letter, mark in zip(path, marks, strict=True)
        )
    under = "".join(
        ("‾" if mark != " " else " ") * _width(letter) for letter, mark in zip(path, marks, strict=True)
    ).rstrip()
    lines = [line, under, f"  it is         {reading.kind}"]
    for name, fact in reading.facts.items():
        quoted = " … ".join(path[start:end] for start, end in fact.spans)
        because = f"“{quoted}”, {fact.rule}" if quoted else fact.rule
        lines.append(f"  {name:<13} {fact.value!s:<32} {because}")
    return "\n".join(lines) + "\n"
