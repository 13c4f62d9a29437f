"""Keeps `src/indice/phrases` in step with the code: `python tools/phrases.py`.

Each template that the code says gets a reference in `en.json`; what nobody says any more leaves all languages. Then it
prints what the other languages lack.
"""

from __future__ import annotations

import ast
import json
import re
import tomllib
from collections.abc import Iterator
from pathlib import Path

SOURCE = Path(__file__).resolve().parents[1] / "src" / "indice"
PLACE = SOURCE / "phrases"
ROOMS = ("core", "disk", "network", "sources", "store", "web", "work")
"""What these say reaches people's screens; the commands speak English."""
WORDS_OF_REFERENCE = 7


def templates() -> list[str]:
    """All that is said, in the order of the code."""
    trees = [ast.parse(path.read_text("utf-8")) for room in ROOMS for path in sorted((SOURCE / room).rglob("*.py"))]
    errors = _errors(trees)
    shipped = sorted((SOURCE / "core" / "naming" / "conventions").glob("*.toml"))
    found = dict.fromkeys(str(tomllib.loads(path.read_text("utf-8"))["about"]) for path in shipped)
    for tree in trees:
        for node in ast.walk(tree):
            found |= dict.fromkeys(text for text in _said(node, errors) if text)
    return list(found)


def _errors(trees: list[ast.Module]) -> set[str]:
    """Names of all errors that are told to people."""
    bases = {
        node.name: {ast.unparse(base) for base in node.bases}
        for tree in trees
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef)
    }
    family = {"IndiceError"}
    while more := {name for name, own in bases.items() if own & family} - family:
        family |= more
    return family


def _said(node: ast.AST, errors: set[str]) -> Iterator[str]:
    if isinstance(node, ast.FunctionDef) and any(_called(one) == "check" for one in node.decorator_list):
        yield " ".join((ast.get_docstring(node) or "").split())
    if not isinstance(node, ast.Call):
        return
    name = _called(node)
    named = {keyword.arg: keyword.value for keyword in node.keywords}
    if name in ("phrase", "say", "term") or name in errors:
        yield from _texts(node.args[:1])
    if name == "check":
        yield from _texts([named["title"], named["why"]])
    if name == "shared" and "message" in named:
        yield from _texts([named["message"]])
    if name in errors and "hint" in named:
        yield from _texts([named["hint"]])


def _called(node: ast.AST) -> str:
    if not isinstance(node, ast.Call):
        return ""
    return node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")


def _texts(nodes: list[ast.expr]) -> Iterator[str]:
    for node in nodes:
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.value
        elif isinstance(node, ast.IfExp):
            yield from _texts([node.body, node.orelse])
        elif isinstance(node, ast.BoolOp):
            yield from _texts(node.values)


def references(said: list[str], known: dict[str, str]) -> dict[str, str]:
    """Reference → template: the known one, or one of its first words."""
    of = {template: reference for reference, template in known.items()}
    taken = {of[template] for template in said if template in of}
    made: dict[str, str] = {}
    for template in said:
        reference = of.get(template)
        if reference is None:
            words = re.findall(r"[a-z0-9]+", template.lower())[:WORDS_OF_REFERENCE]
            stem = reference = "-".join(words) or "listed"
            number = 2
            while reference in taken:
                reference, number = f"{stem}-{number}", number + 1
        taken.add(reference)
        made[reference] = template
    return made


def _read(language: str) -> dict[str, str]:
    said: dict[str, str] = json.loads((PLACE / f"{language}.json").read_text("utf-8"))
    return said


def _write(language: str, said: dict[str, str]) -> None:
    text = json.dumps(said, ensure_ascii=False, indent=1, sort_keys=True)
    (PLACE / f"{language}.json").write_text(f"{text}\n", "utf-8")


if __name__ == "__main__":
    english = references(templates(), _read("en"))
    _write("en", english)
    for other in sorted(path.stem for path in PLACE.glob("*.json") if path.stem != "en"):
        theirs = {reference: text for reference, text in _read(other).items() if reference in english}
        _write(other, theirs)
        for reference in sorted(english.keys() - theirs.keys()):
            print(f"{other}: {reference}: {english[reference]}")
