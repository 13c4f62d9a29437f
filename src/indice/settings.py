"""All settings of a running Indice, in one typed place: defaults, then `indice.toml` in
the data folder, then the environment."""

from __future__ import annotations

import os
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, fields
from pathlib import Path
from typing import Any

from .core.schedule import read_quiet

__all__ = ["MOVED_TO", "Settings", "default_home"]

MOVED_TO = "moved-to"
"""A file in a data folder that was moved: a line that says where it is now."""
MOST_MOVES = 8


def default_home(env: Mapping[str, str]) -> Path:
    """The XDG data folder; for root, whose home no database server may enter, `/var/lib/indice`."""
    if os.geteuid() == 0:
        return Path("/var/lib/indice")
    base = env.get("XDG_DATA_HOME") or str(Path(env.get("HOME", "/")) / ".local" / "share")
    return Path(base) / "indice"


@dataclass(frozen=True, slots=True, kw_only=True)
class Settings:
    """Settings, made once when a command starts."""

    home: Path
    """Data folder: the private database, thumbnails, logs. `INDICE_HOME`."""
    database_url: str = ""
    """Another PostgreSQL server, instead of the private one. `INDICE_DATABASE_URL`."""
    database_networks: str = ""
    """Networks whose machines may reach the private database to work along, separated
    by commas. `INDICE_DATABASE_NETWORKS`."""
    host: str = "127.0.0.1"
    """Address that the web server binds to. `INDICE_HOST`."""
    port: int = 7800
    """Port of the web server; the next free one is taken when it is in use. `INDICE_PORT`."""
    web_threads: int = 64
    """Threads that answer requests. `INDICE_WEB_THREADS`."""
    worker_jobs: int = 2
    """Jobs that run side by side. `INDICE_WORKER_JOBS`."""
    secure_cookie: bool = False
    """Send the session's cookie over HTTPS only. `INDICE_SECURE_COOKIE`."""
    allowed_hosts: str = ""
    """Names besides the machine's own under which it may be asked for, separated by commas. `INDICE_ALLOWED_HOSTS`."""
    https: str = "off"
    """Speak HTTPS: `off`, `self` with a certificate that Indice makes, `own` with one's own. `INDICE_HTTPS`."""
    certificate: str = ""
    """File of one's own certificate and its chain, PEM; renewals are picked up. `INDICE_CERTIFICATE`."""
    certificate_key: str = ""
    """File of its key, PEM. `INDICE_CERTIFICATE_KEY`."""
    trusted_proxies: str = ""
    """Addresses or networks of proxies that are believed of whom they ask for,
    separated by commas. `INDICE_TRUSTED_PROXIES`."""
    allowed_networks: str = ""
    """Addresses or networks that may come in, besides this machine; empty: all. `INDICE_ALLOWED_NETWORKS`."""
    refused_networks: str = ""
    """Addresses or networks that may not. `INDICE_REFUSED_NETWORKS`."""
    announce: bool = False
    """Announce itself at home (mDNS), until the owner says otherwise in House. `INDICE_ANNOUNCE`."""
    ssdp_port: int = 1900
    """Port on which routers hear searches (UPnP); another one for trying things out. `INDICE_SSDP_PORT`."""
    conversions: int = 0
    """Films that are converted at the same time; 0: as many as the machine has cores. `INDICE_CONVERSIONS`."""
    segment_cache_mb: int = 2048
    """Room for converted segments. `INDICE_SEGMENT_CACHE_MB`."""
    hardware: str = "auto"
    """Whether an encoder of the machine is used where one really works: `auto` or `off`. `INDICE_HARDWARE`."""
    still_seconds: float = 3.0
    """A file that was written to within so many seconds is looked at twice, and waits
    while it grows. `INDICE_STILL_SECONDS`."""
    poll_minutes: int = 10
    """How often a library on a network share, where no change is told, is scanned; 0:
    never by itself. `INDICE_POLL_MINUTES`."""
    quiet_hours: str = ""
    """Hours in which nothing begins by itself, such as `20:30-23`: no scheduled scan, no poll, no
    digests, no backup. `INDICE_QUIET_HOURS`."""
    background_percent: int = 100
    """In which part of the time background work (looking inside, pictures, comparing) uses the processor: 100 is all
    that others leave, 25 a quarter. `INDICE_BACKGROUND_PERCENT`."""
    read_mb_per_second: float = 0.0
    """So many megabytes a second at most are read from disks for fingerprints and for looking inside; 0: as fast as
    it goes. `INDICE_READ_MB_PER_SECOND`."""
    fetch_mb_per_second: float = 0.0
    """So many megabytes a second at most of pictures are fetched from sources; 0: as fast as
    it goes. `INDICE_FETCH_MB_PER_SECOND`."""
    gone_days: int = 30
    """So long an entry whose files are gone is kept. `INDICE_GONE_DAYS`."""
    backup_folder: str = ""
    """Folder into which backups are written by themselves; none when it is empty. `INDICE_BACKUP_FOLDER`."""
    backup_every_hours: int = 24
    """How often. `INDICE_BACKUP_EVERY_HOURS`."""
    backup_keep: int = 7
    """How many of them are kept. `INDICE_BACKUP_KEEP`."""
    browse_roots: str = "/"
    """Folders that the folder chooser may show, separated by colons. `INDICE_BROWSE_ROOTS`."""

    @classmethod
    def load(cls, env: Mapping[str, str] | None = None) -> Settings:
        """Read the settings; raises ValueError that names the setting which is wrong."""
        env = os.environ if env is None else env
        home = Path(env["INDICE_HOME"]).expanduser() if env.get("INDICE_HOME") else default_home(env)
        home = _followed(home)
        values: dict[str, Any] = {}
        file = home / "indice.toml"
        if file.is_file():
            try:
                values = tomllib.loads(file.read_text("utf-8"))
            except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
                raise ValueError(f"{file}: {error}. Mend that line, or move the file away.") from error
        known = {field.name: field for field in fields(cls) if field.name != "home"}
        unknown = sorted(set(values) - set(known))
        if unknown:
            raise ValueError(
                f"{file}: there is no setting called {unknown[0]!r}. Known are {', '.join(sorted(known))}."
            )
        for name in known:
            text = env.get(f"INDICE_{name.upper()}")
            if text is not None:
                values[name] = text
        chosen = {
            name: _as_type(name, value, type(field.default)) for name, value in values.items() if (field := known[name])
        }
        try:
            read_quiet(str(chosen.get("quiet_hours", "")))
        except ValueError as error:
            raise ValueError(f"Setting quiet_hours: {error}.") from error
        for name, (least, most) in _BOUNDS.items():
            if name in chosen and not least <= chosen[name] <= most:
                raise ValueError(f"Setting {name}: {chosen[name]} is not between {least} and {most}.")
        return cls(home=home.absolute(), **chosen)


_BOUNDS = {
    "background_percent": (1, 100),
    "read_mb_per_second": (0, 1_000_000),
    "fetch_mb_per_second": (0, 1_000_000),
}


def _followed(home: Path) -> Path:
    """Where a data folder is now; raises ValueError when that is not there."""
    for _ in range(MOST_MOVES):
        note = home / MOVED_TO
        if not note.is_file():
            return home
        home = Path(note.read_text("utf-8").strip())
        if not home.is_dir():
            raise ValueError(
                f"The data folder was moved to {home}, which is not there. Plug its drive in, or remove {note}."
            )
    raise ValueError(f"{home / MOVED_TO}: the data folder was moved in a circle. Remove that file.")


def _as_type(name: str, value: Any, wanted: type) -> Any:
    try:
        if wanted is bool and isinstance(value, str):
            if value.lower() not in ("1", "0", "true", "false", "yes", "no", "on", "off"):
                raise ValueError(value)
            return value.lower() in ("1", "true", "yes", "on")
        return wanted(value)
    except (TypeError, ValueError) as error:
        raise ValueError(f"Setting {name}: {value!r} is not a {wanted.__name__}.") from error
