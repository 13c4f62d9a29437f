"""A service of the system: a unit that systemd takes, an account, and words where it cannot be."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
from pathlib import Path

import pytest

import indice.installing as installing
from indice.errors import IndiceError
from indice.installing import Wanted, install, unit_of

as_root = pytest.mark.skipif(os.geteuid() != 0, reason="only root makes services")


@pytest.fixture
def called(monkeypatch: pytest.MonkeyPatch) -> list[tuple[str, ...]]:
    """Commands of the system that would be run."""
    made: list[tuple[str, ...]] = []
    monkeypatch.setattr(installing, "_run", lambda *command: made.append(command))
    monkeypatch.setattr(installing.shutil, "which", lambda name: f"/usr/bin/{name}")
    monkeypatch.setattr(installing, "_must_be_readable", lambda _: None)
    return made


@pytest.mark.skipif(not shutil.which("systemd-analyze"), reason="systemd is not installed")
@pytest.mark.parametrize("home", ["/var/lib/indice", '/srv/our films/50% "kept"', "/srv/кино"])
def test_systemd_takes_the_unit(tmp_path: Path, home: str) -> None:
    unit = tmp_path / "indice.service"
    unit.write_text(unit_of(Wanted(home=Path(home), groups=("media", "disk"))), "utf-8")
    done = subprocess.run(["systemd-analyze", "verify", str(unit)], capture_output=True, text=True, check=False)
    assert done.returncode == 0 and not done.stderr, done.stderr


def test_the_unit_says_where_and_who(tmp_path: Path) -> None:
    told = unit_of(Wanted("keeper", tmp_path, ("media",), python=Path("/opt/a b/python")))
    for line in (
        "User=keeper",
        "SupplementaryGroups=media",
        f'Environment="INDICE_HOME={tmp_path}"',
        'ExecStart="/opt/a b/python" -m indice.cli start',
        "NoNewPrivileges=yes",
        "Restart=on-failure",
        "WantedBy=multi-user.target",
    ):
        assert line in told.splitlines()
    assert "SupplementaryGroups" not in unit_of(Wanted())


@as_root
def test_it_is_made_with_an_account_and_a_folder_of_its_own(tmp_path: Path, called: list[tuple[str, ...]]) -> None:
    unit, home = tmp_path / "indice.service", tmp_path / "home"
    said: list[str] = []
    install(Wanted("nobody", home), said.append, unit=unit)
    assert home.stat().st_uid == pwd.getpwnam("nobody").pw_uid and home.stat().st_mode & 0o777 == 0o750
    assert f"INDICE_HOME={home}" in unit.read_text()
    assert ("useradd",) not in {command[:1] for command in called}, "it is there already"
    assert any(command[:2] == ("systemctl", "enable") for command in called)
    assert any(str(unit) in line for line in said)


@as_root
def test_what_cannot_be_is_said(tmp_path: Path, called: list[tuple[str, ...]]) -> None:
    taken = tmp_path / "taken"
    taken.mkdir()
    (taken / "letter").write_text("dear")
    for wanted, words in (
        (Wanted("Indice; rm -rf", tmp_path / "a"), "no name of an account"),
        (Wanted("nobody", tmp_path / "a", ("no such group",)), "no group"),
        (Wanted("nobody", taken), "belongs to somebody else"),
    ):
        with pytest.raises(IndiceError, match=words):
            install(wanted, print, unit=tmp_path / "indice.service")
    assert not (tmp_path / "indice.service").exists() and not called


def test_a_program_in_a_closed_folder_is_refused(tmp_path: Path) -> None:
    closed = tmp_path / "closed"
    (closed / "indice").mkdir(parents=True)
    closed.chmod(0o700)
    with pytest.raises(IndiceError, match="closed to other accounts"):
        installing._must_be_readable(Wanted(root=closed / "indice"))


def test_a_python_in_a_closed_folder_is_refused(tmp_path: Path) -> None:
    closed = tmp_path / "closed"
    closed.mkdir()
    (closed / "python").touch(0o755)
    closed.chmod(0o700)
    here = tmp_path / "venv"
    here.symlink_to(closed / "python")
    program = Path("/usr")
    with pytest.raises(IndiceError, match="Python that the program was set up with") as told:
        installing._must_be_readable(Wanted(root=program, python=here))
    assert f"rm -r {program / '.venv'}" in told.value.hint


@as_root
def test_the_account_is_put_into_its_groups(tmp_path: Path, called: list[tuple[str, ...]]) -> None:
    install(Wanted("nobody", tmp_path / "home", ("audio", "disk")), print, unit=tmp_path / "indice.service")
    assert ("usermod", "--append", "--groups", "audio,disk", "nobody") in called


def test_who_is_not_root_or_has_no_systemd_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(installing.os, "geteuid", lambda: 1000)
    with pytest.raises(IndiceError, match="made by root"):
        install(Wanted(), print)
    monkeypatch.setattr(installing.os, "geteuid", lambda: 0)
    monkeypatch.setattr(installing.shutil, "which", lambda _: None)
    with pytest.raises(IndiceError, match="systemd does not run"):
        install(Wanted(), print)
