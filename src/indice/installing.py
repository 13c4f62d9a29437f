"""Makes a service of Indice on machines that systemd runs: an account of its own, a hardened unit, started at boot."""

from __future__ import annotations

import grp
import os
import pwd
import re
import shutil
import subprocess
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from .account import closed_to_others
from .errors import IndiceError
from .service import ROOT
from .store.cluster import hand_over

__all__ = ["UNIT", "Wanted", "install", "unit_of"]

UNIT = Path("/etc/systemd/system/indice.service")
_ACCOUNT = re.compile(r"[a-z_][a-z0-9_-]{0,30}")


@dataclass(frozen=True, slots=True)
class Wanted:
    """A service as it is wished for."""

    account: str = "indice"
    home: Path = Path("/var/lib/indice")
    groups: tuple[str, ...] = ()
    """Groups besides its own, such as those that may read the films."""
    root: Path = ROOT
    """Where the program lies."""
    python: Path = Path(sys.executable)


def unit_of(wanted: Wanted) -> str:
    """The unit (systemd.service(5), systemd.exec(5)): nothing of the system can
    be written to, and no right can be gained.

    Folders of libraries lie anywhere and names are mended in them, so that only the system's own folders are shut.
    """
    groups = f"SupplementaryGroups={' '.join(wanted.groups)}\n" if wanted.groups else ""
    return f"""[Unit]
Description=Indice, the household's films, series, music and photos
After=network-online.target local-fs.target remote-fs.target
Wants=network-online.target

[Service]
Type=exec
User={wanted.account}
Group={wanted.account}
{groups}Environment={_quoted(f"INDICE_HOME={wanted.home}")}
Environment={_quoted(f"PYTHONPATH={wanted.root / 'src'}")} PYTHONDONTWRITEBYTECODE=1
WorkingDirectory={_escaped(str(wanted.home))}
ExecStart={_quoted(str(wanted.python))} -m indice.cli start
Restart=on-failure
RestartSec=5
KillMode=mixed
TimeoutStopSec=60
StandardOutput=journal
StandardError=journal
SyslogIdentifier=indice
UMask=0027

CapabilityBoundingSet=
NoNewPrivileges=yes
ProtectSystem=full
ProtectClock=yes
ProtectControlGroups=yes
ProtectHostname=yes
ProtectKernelLogs=yes
ProtectKernelModules=yes
ProtectKernelTunables=yes
ProtectProc=invisible
PrivateDevices={"no" if Path("/dev/dri").exists() else "yes"}
PrivateTmp=yes
LockPersonality=yes
RemoveIPC=yes
RestrictAddressFamilies=AF_UNIX AF_INET AF_INET6 AF_NETLINK
RestrictNamespaces=yes
RestrictRealtime=yes
RestrictSUIDSGID=yes
SystemCallArchitectures=native
SystemCallFilter=@system-service
SystemCallErrorNumber=EPERM

[Install]
WantedBy=multi-user.target
"""


def _escaped(text: str) -> str:
    return text.replace("%", "%%")


def _quoted(text: str) -> str:
    inner = _escaped(text).replace("\\", "\\\\").replace('"', '\\"')
    return f'"{inner}"'


def install(wanted: Wanted, say: Callable[[str], None], *, unit: Path = UNIT) -> None:
    """Make the account, its data folder and the unit, and start the service where systemd runs the machine.

    Raises :class:`IndiceError` when one of it cannot be done; what was done is said.
    """
    if not _ACCOUNT.fullmatch(wanted.account):
        raise IndiceError(f"{wanted.account!r} is no name of an account.", hint="Take small letters and digits.")
    if os.geteuid():
        raise IndiceError("A service is made by root.", hint="sudo ./indice install, or see it first with --print.")
    if not shutil.which("systemctl"):
        raise IndiceError("systemd does not run this machine.", hint="See what it would be with --print.")
    for group in wanted.groups:
        _must_be_group(group)
    _must_be_readable(wanted)
    if not _is_account(wanted.account):
        _run("useradd", "--system", "--user-group", "--home-dir", str(wanted.home), "--shell", "/usr/sbin/nologin",
             wanted.account)  # fmt: skip
        say(f"The account {wanted.account} was made.")
    if wanted.groups:  # also for commands that are typed: see `account`
        _run("usermod", "--append", "--groups", ",".join(wanted.groups), wanted.account)
    wanted.home.mkdir(parents=True, exist_ok=True)
    account = pwd.getpwnam(wanted.account)
    if not any(wanted.home.iterdir()):
        os.chown(wanted.home, account.pw_uid, account.pw_gid)
        wanted.home.chmod(0o750)
    elif wanted.home.stat().st_uid != account.pw_uid:
        raise IndiceError(
            f"{wanted.home} belongs to somebody else.",
            hint=f"If {wanted.account} is to take it over: {hand_over(wanted.home, wanted.account)}",
        )
    unit.write_text(unit_of(wanted), "utf-8")
    say(f"The unit is {unit}.")
    if not Path("/run/systemd/system").is_dir():
        say("systemd does not run at the moment: the service starts with the machine.")
        _run("systemctl", "enable", unit.stem)
        return
    _run("systemctl", "daemon-reload")
    _run("systemctl", "enable", "--now", unit.stem)
    say("It runs, and starts with the machine. What it says: journalctl -u indice")


def _is_account(name: str) -> bool:
    try:
        pwd.getpwnam(name)
    except KeyError:
        return False
    return True


def _must_be_group(name: str) -> None:
    try:
        grp.getgrnam(name)
    except KeyError:
        raise IndiceError(f"There is no group {name}.", hint="`getent group` lists those that there are.") from None


def _must_be_readable(wanted: Wanted) -> None:
    """The account reads the program and the Python that runs it, which lie in folders that are open to all."""
    place = closed_to_others(wanted.python, wanted.root)
    if place is None:
        return
    if wanted.root.is_relative_to(place):
        raise IndiceError(
            f"{place} is closed to other accounts, and the program lies below it.",
            hint="Put the program below /opt, and install it from there.",
        )
    raise IndiceError(
        f"{place} is closed to other accounts, and the Python that the program was set up with lies below it.",
        hint=f"Set it up with the system's own: rm -r {wanted.root / '.venv'}; PATH=/usr/bin:/bin ./indice install",
    )


def _run(*command: str) -> None:
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        said = (done.stderr or done.stdout).strip().splitlines()
        raise IndiceError(f"{' '.join(command)} failed: {said[-1] if said else done.returncode}.")
