"""What the owner wants of the network, and how it stands, as two small files in the data folder.

They belong to this machine and not to the catalog: a database that several machines share says nothing of a router.
"""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

__all__ = ["Standing", "Wishes", "read_standing", "read_wishes", "write_standing", "write_wishes"]


@dataclass(frozen=True, slots=True)
class Wishes:
    """What the owner wants; nothing, until they say so."""

    announce: bool = False
    """Say by mDNS that Indice is here."""
    outside_port: int = 0
    """The port that the router is to open; 0: none."""

    @property
    def any(self) -> bool:
        """Whether there is anything to do."""
        return self.announce or self.outside_port > 0


@dataclass(frozen=True, slots=True)
class Standing:
    """How it stands."""

    announced: str = ""
    """The name under which Indice is announced."""
    router: str = ""
    """The router that has opened the port."""
    outside_address: str = ""
    outside_port: int = 0
    """The port that it has opened; 0: none."""
    problem: str = ""
    """Why it has not: a reference, whose words are in the locales."""


def _wishes_file(home: Path) -> Path:
    return home / "network.json"


def _standing_file(home: Path) -> Path:
    return home / "network-state.json"


def read_wishes(home: Path, *, announce: bool = False) -> Wishes:
    """What the owner wants; before they have said it, `announce` as the settings say."""
    told = _read(_wishes_file(home))
    wishes = Wishes(announce=announce)
    if isinstance(told.get("announce"), bool):
        wishes = replace(wishes, announce=told["announce"])
    port = told.get("outside_port")
    if isinstance(port, int) and 0 <= port <= 65535:
        wishes = replace(wishes, outside_port=port)
    return wishes


def write_wishes(home: Path, wishes: Wishes) -> None:
    """Keep what the owner wants."""
    _write(_wishes_file(home), asdict(wishes))


def read_standing(home: Path) -> Standing:
    """How it stands, as the process that sees to it has said."""
    told = _read(_standing_file(home))
    known = Standing()
    fit = {name: told[name] for name, value in asdict(known).items() if isinstance(told.get(name), type(value))}
    return replace(known, **fit)


def write_standing(home: Path, standing: Standing) -> None:
    """Say how it stands."""
    _write(_standing_file(home), asdict(standing))


def _read(file: Path) -> dict[str, Any]:
    try:
        told = json.loads(file.read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return told if isinstance(told, dict) else {}


def _write(file: Path, told: dict[str, Any]) -> None:
    part = file.with_suffix(".part")
    part.write_text(json.dumps(told), "utf-8")
    part.replace(file)
