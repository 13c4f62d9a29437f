"""Starts and stops what makes up a running Indice: database, web server, worker, and in the demo the stand-in source."""

from __future__ import annotations

import json
import os
import secrets
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

import httpx

from .errors import IndiceError
from .settings import Settings
from .store.cluster import Cluster, free_port
from .store.database import Database, open_database

__all__ = ["Running", "Service", "running", "stop_all"]

ROOT = Path(__file__).resolve().parents[2]


@dataclass(frozen=True, slots=True)
class Running:
    """A running Indice, as its state file says."""

    pid: int
    address: str
    demo: bool


def _state_file(settings: Settings) -> Path:
    return settings.home / "running.json"


def running(settings: Settings) -> Running | None:
    """What runs for this data folder, or None."""
    file = _state_file(settings)
    try:
        state = json.loads(file.read_text())
        os.kill(state["pid"], 0)
    except (OSError, ValueError, KeyError):
        return None
    return Running(state["pid"], state["address"], state["demo"])


def stop_all(settings: Settings) -> list[str]:
    """Stop everything of this data folder; returns what was stopped."""
    stopped: list[str] = []
    found = running(settings)
    if found is not None:
        os.kill(found.pid, signal.SIGTERM)
        for _ in range(200):
            if running(settings) is None:
                break
            time.sleep(0.1)
        stopped.append("web server and worker")
    worker = settings.home / "worker.pid"
    if worker.is_file():
        try:
            os.kill(int(worker.read_text()), signal.SIGTERM)
            stopped.append("worker")
        except (OSError, ValueError):
            pass
        worker.unlink(missing_ok=True)
    if not settings.database_url and Cluster(settings.home).stop():
        stopped.append("database")
    return stopped


@dataclass(slots=True)
class Service:
    """Supervises the processes of one Indice."""

    settings: Settings
    demo: bool = False
    say: Callable[[str], None] = print
    _children: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)
    _stopping: bool = False
    _database: Database | None = None

    def run(self) -> int:
        """Start everything, say the address, and stay until a signal; returns the exit status."""
        known = running(self.settings)
        if known is not None:
            self.say(f"Indice runs already: {known.address}")
            return 0
        self.settings.home.mkdir(parents=True, exist_ok=True)
        signal.signal(signal.SIGTERM, self._signalled)
        signal.signal(signal.SIGINT, self._signalled)
        try:
            address = self._start()
            if self._stopping:
                return 0
            hint = self._sign_in_hint()
            self.say(f"Indice is ready: {address}   {hint}")
            return self._watch()
        finally:
            self._stop()

    def _signalled(self, *_: object) -> None:
        self._stopping = True

    def _sign_in_hint(self) -> str:
        from .store.catalog import has_owner

        assert self._database is not None
        with self._database.begin() as db:
            if has_owner(db):
                return (
                    "Sign in with the name and password that you chose."
                    if not self.demo
                    else "Sign in as you chose on the first run."
                )
        return (
            "Open it, and choose your name and password; the demo's folders are offered."
            if self.demo
            else "Open it; the first page asks for your name and password."
        )

    def _start(self) -> str:
        from .work.queue import ensure_queue

        settings = self.settings
        self._database = open_database(settings)
        ensure_queue(self._database)
        secret = settings.home / "session-key"
        if not secret.is_file():
            secret.touch(mode=0o600)
            secret.write_text(secrets.token_urlsafe(48))
        env = {
            **os.environ,
            "INDICE_HOME": str(settings.home),
            "PYTHONPATH": str(ROOT / "src"),
            "INDICE_DEMO": "1" if self.demo else "",
        }
        almanac_port = self._prepare_demo() if self.demo else 0
        port = free_port(settings.port, settings.host)
        address = f"http://{settings.host}:{port}"
        options = f"--worker-class gthread --workers 1 --threads {settings.web_threads} --bind {settings.host}:{port}"
        options += " --timeout 120 --graceful-timeout 2 --access-logfile /dev/null --no-control-socket"
        self._spawn("web", ["-m", "gunicorn", *options.split(), "indice.web.app:create_served_app()"], env)
        _state_file(settings).write_text(json.dumps({"pid": os.getpid(), "address": address, "demo": self.demo}))
        self._await_web(address)
        # Nobody waits for these two: the first page is up before they are.
        if self.demo:
            self._spawn("almanac", ["-m", "indice.standins.almanac", str(almanac_port)], env)
        self._spawn("worker", ["-m", "indice.cli", "worker"], env)
        return address

    def _prepare_demo(self) -> int:
        """Build the household and set up its source; returns the port of the stand-in."""
        from .demo import is_built
        from .standins.profile import PROFILE
        from .store.sources import add_source

        household = self.settings.home / "household"
        if not is_built(household):
            from .demo.household import build_household

            self.say("Building the made-up household (about a minute) …")
            build_household(household)
        port_file = self.settings.home / "almanac-port"
        port = free_port(int(port_file.read_text()) if port_file.is_file() else 7801)
        port_file.write_text(str(port))
        assert self._database is not None
        with self._database.begin() as db:
            add_source(db, PROFILE.format(url=f"http://127.0.0.1:{port}/reconcile"), None)
        return port

    def _spawn(self, name: str, arguments: list[str], env: dict[str, str]) -> None:
        logs = self.settings.home / "logs"
        logs.mkdir(exist_ok=True)
        with (logs / f"{name}.log").open("ab") as out:
            self._children[name] = subprocess.Popen(
                [sys.executable, *arguments],
                cwd=self.settings.home,
                env=env,
                stdout=out,
                stderr=subprocess.STDOUT,
                start_new_session=True,
            )

    def _await_web(self, address: str) -> None:
        for _ in range(300):
            if self._stopping:
                return
            web = self._children["web"]
            if web.poll() is not None:
                raise IndiceError(
                    "The web server did not start.", hint=f"Look at {self.settings.home / 'logs' / 'web.log'}"
                )
            try:
                if httpx.get(f"{address}/api/status", timeout=1).status_code < 500:
                    return
            except httpx.HTTPError:
                pass
            time.sleep(0.05)
        raise IndiceError("The web server does not answer.", hint=f"Look at {self.settings.home / 'logs' / 'web.log'}")

    def _watch(self) -> int:
        while not self._stopping:
            for name, child in self._children.items():
                if child.poll() is not None and not self._stopping:
                    self.say(
                        f"The {name} ended on its own; Indice stops. Look at {self.settings.home / 'logs' / (name + '.log')}"
                    )
                    return 1
            time.sleep(0.2)
        return 0

    def _stop(self) -> None:
        for child in self._children.values():
            if child.poll() is None:
                child.terminate()
        deadline = time.monotonic() + 12
        for child in self._children.values():
            try:
                child.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                os.killpg(child.pid, signal.SIGKILL)
                child.wait()
        if self._database is not None:
            self._database.engine.dispose()
        _state_file(self.settings).unlink(missing_ok=True)
        if not self.settings.database_url:
            Cluster(self.settings.home).stop()
