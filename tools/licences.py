"""Writes docs/dependencies.md: every package that is installed to run or build Indice, its version and its licence.

Run with `.venv/bin/python tools/licences.py`; `--check` says whether the page is up to date, and changes nothing.
"""

from __future__ import annotations

import importlib.metadata as metadata
import json
import re
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PAGE = ROOT / "docs" / "dependencies.md"
HEAD = """# Dependencies and their licences

Made by `tools/licences.py` from `requirements.txt` and `frontend/package-lock.json`; a test says when it is out of date. From
Debian come Python, PostgreSQL, ffmpeg, Chromium with its driver, and fonts, each under its own licence; Node is
the machine's own, or comes as a Python package (MIT).
"""
_PINNED = re.compile(r"^([A-Za-z0-9_.-]+)==([^ ;\\]+)", re.MULTILINE)
_CLASSIFIED = "License :: OSI Approved :: "


def python_packages() -> list[tuple[str, str, str]]:
    """Name, version and licence of each pinned package; those for other systems are not installed and say so."""
    rows: list[tuple[str, str, str]] = []
    for name, version in _PINNED.findall((ROOT / "requirements.txt").read_text("utf-8")):
        try:
            rows.append((name, version, _licence(metadata.metadata(name))))
        except metadata.PackageNotFoundError:
            rows.append((name, version, "not used on this system"))
    return sorted(rows)


def _licence(told: metadata.PackageMetadata) -> str:
    said = told.get_all("License-Expression") or []
    classes = [c.removeprefix(_CLASSIFIED) for c in told.get_all("Classifier") or [] if c.startswith(_CLASSIFIED)]
    free = (told.get_all("License") or [""])[0].strip().splitlines()
    named = said[0] if said else ", ".join(classes) or (free[0] if free else "")
    return named[:80] or "see the package"


def script_packages() -> list[tuple[str, str, str]]:
    """Name, version and licence of each package of the front end, those that only build it as well."""
    lock = json.loads((ROOT / "frontend" / "package-lock.json").read_text("utf-8"))
    rows = {
        (place.rpartition("node_modules/")[2], str(one.get("version", "")), str(one.get("license", "see the package")))
        for place, one in lock["packages"].items()
        if place
    }
    return sorted(rows)


def page() -> str:
    """The page as it should be."""
    parts = [HEAD]
    for title, rows in (("Server", python_packages()), ("Front end", script_packages())):
        lines = [f"| {name} | {version} | {licence} |" for name, version, licence in rows]
        parts.append("\n".join((f"## {title}\n", "| package | version | licence |", "|---|---|---|", *lines, "")))
    return "\n".join(parts)


if __name__ == "__main__":
    if "--check" in sys.argv:
        sys.exit(PAGE.read_text("utf-8") != page())
    PAGE.write_text(page(), "utf-8")
