"""The doors between the rooms go one way."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).resolve().parents[2] / "src" / "indice"
OUTSIDE_OF_CORE = {
    "os",
    "sys",
    "socket",
    "subprocess",
    "pathlib",
    "sqlalchemy",
    "flask",
    "httpx",
    "logging",
    "structlog",
    "time",
    "random",
    "shutil",
}
ALLOWED = {
    "core": {"core"},
    "phrases": {"core"},
    "disk": {"disk", "core", "errors", "phrases"},
    "network": {"network", "disk", "errors", "settings"},
    "sources": {"sources", "core", "errors"},
    "store": {"store", "core", "sources", "disk", "errors", "phrases", "settings"},
    "work": {"work", "store", "disk", "sources", "core", "errors", "phrases", "settings"},
    "web": {"web", "work", "network", "store", "disk", "sources", "core", "errors", "phrases", "settings", "held", ""},
}


def imports_of(file: Path) -> set[str]:
    """Rooms of Indice that a file imports, and top-level names of everything else."""
    found: set[str] = set()
    depth = len(file.relative_to(SOURCE).parts) - 1
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            found |= {name.name.split(".")[0] for name in node.names}
        elif isinstance(node, ast.ImportFrom):
            if node.level == 0:
                found.add((node.module or "").split(".")[0])
            else:
                above = list(file.relative_to(SOURCE).parts[: depth - node.level + 1])
                found.add("room:" + (above + (node.module or "").split("."))[0])
    return found


@pytest.mark.parametrize("room", sorted(ALLOWED))
def test_a_room_uses_only_the_doors_it_has(room: str) -> None:
    files = sorted((SOURCE / room).rglob("*.py"))
    assert files
    for file in files:
        rooms = {name.removeprefix("room:") for name in imports_of(file) if name.startswith("room:")}
        assert rooms <= ALLOWED[room], f"{file} imports {rooms - ALLOWED[room]}"


def test_the_core_touches_no_outside_world() -> None:
    for file in sorted((SOURCE / "core").rglob("*.py")):
        touched = imports_of(file) & OUTSIDE_OF_CORE
        assert not touched, f"{file} imports {touched}"


ASKS = {"select", "insert", "update", "delete", "text", "func", "aliased"}
"""What a question to the database is made of."""
OF_A_SESSION = {"get", "get_one", "scalar", "scalars", "execute", "query", "add", "merge"}


def test_the_web_asks_the_store_and_never_the_database() -> None:
    for file in sorted((SOURCE / "web").rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text("utf-8"))):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("sqlalchemy"):
                taken = {name.name for name in node.names}
                assert not taken & ASKS, f"{file}:{node.lineno} takes {taken & ASKS}"
            if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name) and node.value.id == "db":
                assert node.attr not in OF_A_SESSION, f"{file}:{node.lineno} asks the database"
