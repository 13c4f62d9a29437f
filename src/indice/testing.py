"""Runs everything that must hold: linters, types, tests with real PostgreSQL, files and browser, front-end checks."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Sequence
from pathlib import Path

from .bootstrap import path_with_node

__all__ = ["run_all"]

ROOT = Path(__file__).resolve().parents[2]
FRONTEND = ROOT / "frontend"


_WORKERS = "2"
"""Tests run side by side, a file at a time, each process with a database server of its own."""
_AS_COLLECTED = ("--no-loadscope-reorder", "--durations", "25")
"""In the order that `tests/conftest.py` gives them: by the number of their tests
the longest would come last, and alone."""


def _steps() -> list[tuple[str, list[str], Path]]:
    python = sys.executable
    tools = ROOT / ".venv" / "bin"
    return [
        ("ruff", [str(tools / "ruff"), "check", "src", "tests", "benchmarks"], ROOT),
        ("ruff format", [str(tools / "ruff"), "format", "--check", "-q", "src", "tests", "benchmarks"], ROOT),
        ("pyright", [str(tools / "pyright"), "src"], ROOT),
        ("vue-tsc", ["npm", "run", "-s", "check"], FRONTEND),
        ("eslint", ["npm", "run", "-s", "lint"], FRONTEND),
        ("prettier", ["npm", "run", "-s", "format:check"], FRONTEND),
        ("vitest", ["npm", "run", "-s", "test"], FRONTEND),
        ("pytest", [python, "-m", "pytest", "tests", "-n", _WORKERS, "--dist", "loadfile", *_AS_COLLECTED], ROOT),
    ]


def run_all(arguments: Sequence[str]) -> int:
    """Run all steps, or with arguments pytest alone with those; returns the exit status."""
    env = {**os.environ, **path_with_node(), "PYTHONPATH": str(ROOT / "src")}
    if arguments:
        return subprocess.run([sys.executable, "-m", "pytest", *arguments], cwd=ROOT, env=env, check=False).returncode
    failed: list[str] = []
    for name, command, place in _steps():
        began = time.monotonic()
        print(f"── {name}", flush=True)
        code = subprocess.run(command, cwd=place, env=env, check=False).returncode
        print(
            f"   {name}: {'passed' if code == 0 else f'FAILED ({code})'}, {time.monotonic() - began:.0f} s", flush=True
        )
        if code:
            failed.append(name)
    print(f"Failed: {', '.join(failed)}" if failed else "Everything passed.", flush=True)
    return 1 if failed else 0
