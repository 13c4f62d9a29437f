"""The list of packages and licences is that of what is installed."""

from __future__ import annotations

import json
import re
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
LISTED = {
    tuple(cell.strip() for cell in line.strip("|").split("|"))
    for line in (ROOT / "docs" / "dependencies.md").read_text("utf-8").splitlines()
    if line.startswith("| ") and not line.startswith("| package")
}


def test_each_package_is_listed_with_its_version_and_a_licence() -> None:
    pinned = re.findall(r"^([A-Za-z0-9_.-]+)==([^ ;\\]+)", (ROOT / "requirements.txt").read_text("utf-8"), re.MULTILINE)
    lock = json.loads((ROOT / "frontend" / "package-lock.json").read_text("utf-8"))["packages"]
    scripts = {(place.rpartition("node_modules/")[2], one.get("version", "")) for place, one in lock.items() if place}
    assert len(pinned) > 30 and len(scripts) > 100
    assert {row[:2] for row in LISTED} == {*pinned, *scripts}, "run .venv/bin/python tools/licences.py"
    assert all(len(row) == 3 and row[2] for row in LISTED)


def test_each_package_comes_with_its_digest_and_from_no_named_host() -> None:
    text = (ROOT / "requirements.txt").read_text("utf-8")
    assert text.count("--hash=sha256:") >= text.count("==")
    assert "://" not in text and "--index-url" not in text
