"""Root's commands act as the account to which the data folder belongs, so that they
leave nothing there that it cannot use."""

from __future__ import annotations

import os
import pwd
import sys
from pathlib import Path

__all__ = ["act_as_owner", "closed_to_others"]

ROOT = Path(__file__).resolve().parents[2]
_ROOTS_OWN = frozenset(("install", "move-data", "test", "demo", "openapi", "handbook", "read"))
"""Commands that need root's rights, since they make accounts or write wherever they
are told to, or leave this folder alone."""


def closed_to_others(python: Path, root: Path = ROOT) -> Path | None:
    """A folder that keeps other accounts from the program or from the Python that runs it; None where nothing does."""
    for inner in (root, python.resolve(), Path(sys.base_prefix)):
        for place in (inner, *inner.parents):
            if not place.stat().st_mode & 0o001:
                return place
    return None


def act_as_owner(command: str, home: Path) -> pwd.struct_passwd | None:
    """Become the owner of a data folder for the rest of this process, with the groups it is in; returns who that is.

    None: this is not root, the folder is root's or not there, or the command needs root. Where the account could not
    read the program root stays root: then it is no service's program.
    """
    if os.geteuid() or command in _ROOTS_OWN or not home.is_dir():
        return None
    try:
        account = pwd.getpwuid(home.stat().st_uid)
    except KeyError:
        return None
    if account.pw_uid == 0 or closed_to_others(Path(sys.executable)) is not None:
        return None
    os.initgroups(account.pw_name, account.pw_gid)
    os.setgid(account.pw_gid)
    os.setuid(account.pw_uid)
    os.environ.update(HOME=account.pw_dir, INDICE_HOME=str(home))
    return account
