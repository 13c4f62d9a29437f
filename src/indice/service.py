"""Starts, watches and stops what makes up a running Indice: database, web server,
worker, and in the demo a stand-in source.

One supervisor a data folder: it holds the folder's lock as long as it lives. What ends without being told to is started
again, after pauses that grow; what the supervisor started ends with it, however it ends.
"""

from __future__ import annotations

import os
import secrets
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from .errors import IndiceError
from .held import MARK, HeldFile, end_marked, mark_of, said_by_holder
from .logs import open_log, turn_log
from .network.wishes import read_wishes
from .settings import Settings
from .store.cluster import Cluster, free_port
from .store.database import Database, open_database

__all__ = ["Running", "Service", "running", "stop_all"]

ROOT = Path(__file__).resolve().parents[2]
FIRST_PAUSE_SECONDS = 0.5
LONGEST_PAUSE_SECONDS = 60.0
WELL_AFTER_SECONDS = 60.0
"""What has run for so long is well again."""
LOOK_EVERY_SECONDS = 0.25
KEPT_TROUBLES = 20
_LOOPBACK = ("127.0.0.1", "::1", "localhost")


@dataclass(frozen=True, slots=True)
class Running:
    """A running Indice, as its supervisor says."""

    pid: int
    address: str
    demo: bool
    troubles: tuple[dict[str, str], ...] = ()
    """What ended without being told to, the newest last: `name`, `at`, `what`."""


def _lock_file(settings: Settings) -> Path:
    return settings.home / "indice.lock"


def running(settings: Settings) -> Running | None:
    """What runs for this data folder, or None."""
    said = said_by_holder(_lock_file(settings))
    if said is None:
        return None
    return Running(
        int(said.get("pid", 0)),
        str(said.get("address", "")),
        bool(said.get("demo")),
        tuple(said.get("troubles", ())),
    )


def stop_all(settings: Settings) -> list[str]:
    """Stop everything of this data folder, and nothing else; returns what was stopped."""
    stopped: list[str] = []
    found = running(settings)
    if found is not None and found.pid:
        os.kill(found.pid, signal.SIGTERM)
        for _ in range(250):
            if running(settings) is None:
                break
            time.sleep(0.1)
        stopped.append("web server and worker")
    left = end_marked(settings.home)
    if left:
        stopped.append(f"{left} {'process' if left == 1 else 'processes'} more")
    if not settings.database_url and Cluster(settings.home).stop():
        stopped.append("database")
    return stopped


@dataclass(slots=True)
class _Part:
    """One process that is kept running."""

    name: str
    arguments: list[str]
    process: subprocess.Popen[bytes] | None = None
    began: float = 0.0
    pause: float = FIRST_PAUSE_SECONDS
    again_at: float = 0.0
    wanted: Callable[[], bool] = lambda: True
    """Whether it is to run at all."""


@dataclass(slots=True)
class Service:
    """Supervises the processes of one Indice."""

    settings: Settings
    demo: bool = False
    say: Callable[[str], None] = print
    _parts: dict[str, _Part] = field(default_factory=dict)
    _env: dict[str, str] = field(default_factory=dict)
    _stopping: bool = False
    _database: Database | None = None
    _address: str = ""
    _troubles: list[dict[str, str]] = field(default_factory=list)
    _database_part: _Part = field(default_factory=lambda: _Part("database", []))
    _lock: HeldFile | None = None

    def run(self) -> int:
        """Start everything, say the address, and stay until a signal; returns the exit status."""
        lock = HeldFile(_lock_file(self.settings))
        if not lock.take():
            known = running(self.settings)
            where = known.address if known and known.address else "it is just being started"
            self.say(f"Indice runs already: {where}")
            return 0
        self._lock = lock
        self._tell_state()
        signal.signal(signal.SIGTERM, self._signalled)
        signal.signal(signal.SIGINT, self._signalled)
        try:
            end_marked(self.settings.home)  # of a supervisor that was killed
            address = self._start()
            if self._stopping:
                return 0
            self.say(f"Indice is ready: {address}   {self._sign_in_hint()}")
            if address.startswith("https:") and self.settings.https == "self":
                from .disk.certificate import look_at_certificate

                found = look_at_certificate(self.settings.home / "certificate.pem")
                self.say(f"Its certificate is self-made; browsers ask about it once. SHA-256 {found.fingerprint}")
            self._watch()
            return 0
        finally:
            self._stop()
            lock.release()

    def _signalled(self, *_: object) -> None:
        self._stopping = True

    def _tell_state(self) -> None:
        if self._lock is not None:
            self._lock.say(address=self._address, demo=self.demo, troubles=self._troubles)

    def _sign_in_hint(self) -> str:
        from .store.people import has_owner, setup_code

        assert self._database is not None
        with self._database.begin() as db:
            if has_owner(db):
                return (
                    "Sign in with the name and password that you chose."
                    if not self.demo
                    else "Sign in as you chose on the first run."
                )
        hint = (
            "Open it, and choose your name and password; the demo's folders are offered."
            if self.demo
            else "Open it; the first page asks for your name and password."
        )
        if self.settings.host in _LOOPBACK:
            return hint
        return f"{hint} From another machine it asks for the code {setup_code(self.settings.home)}."

    def _start(self) -> str:
        from .work.requests import ensure_queue

        settings = self.settings
        self._database = open_database(settings)
        ensure_queue(self._database)
        secret = settings.home / "session-key"
        if not secret.is_file():
            secret.touch(mode=0o600)
            secret.write_text(secrets.token_urlsafe(48))
        self._env = {
            **os.environ,
            "INDICE_HOME": str(settings.home),
            "INDICE_HOST": settings.host,
            "PYTHONPATH": str(ROOT / "src"),
            "INDICE_DEMO": "1" if self.demo else "",
            MARK: mark_of(settings.home),
        }
        ports = self._prepare_demo() if self.demo else {}
        port = free_port(settings.port, settings.host)
        from .disk.certificate import certificate_files

        certificate = certificate_files(settings.home, settings.https, settings.certificate, settings.certificate_key)
        self._address = f"{'https' if certificate else 'http'}://{settings.host}:{port}"
        options = f"--worker-class indice.web.server.HouseWorker --workers 1 --threads {settings.web_threads}"
        options += f" --bind {settings.host}:{port} --timeout 120 --graceful-timeout 2 --keep-alive 20"
        options += " --access-logfile /dev/null --no-control-socket --limit-request-line 8000"
        spoken = ["--certfile", str(certificate[0]), "--keyfile", str(certificate[1])] if certificate else []
        self._begin(_Part("web", ["web", *options.split(), *spoken, "indice.web.app:create_served_app()"]))
        self._await_web(self._address)
        # Nobody waits for these two: the first page is up before they are.
        if self.demo:
            for name, stand_in in ports.items():
                self._begin(_Part(name, [name, str(stand_in)]))
            self._begin(_Part("router", ["router", f"port={self.settings.ssdp_port}"]))
        self._begin(_Part("worker", ["worker"]))
        self._parts["network"] = _Part("network", ["network", str(port)], wanted=self._wants_network)
        self._tell_state()
        return self._address

    def _wants_network(self) -> bool:
        return read_wishes(self.settings.home, announce=self.settings.announce).any

    def _prepare_demo(self) -> dict[str, int]:
        """Build the household and set up its services; returns the stand-ins' names and ports."""
        from .demo import is_built
        from .standins.profile import PROFILE, TEXT_PROFILE
        from .store.sources import add_source
        from .store.text_services import add_text_service

        household = self.settings.home / "household"
        if not is_built(household):
            from .demo.household import build_household

            self.say("Building the made-up household (about a minute) …")
            build_household(household)
        almanac = self._port_of("almanac", 7801)
        footline = self._port_of("footline", 7811)
        assert self._database is not None
        with self._database.begin() as db:
            add_source(db, PROFILE.format(url=f"http://127.0.0.1:{almanac}/reconcile"), None)
            add_text_service(db, TEXT_PROFILE.format(url=f"http://127.0.0.1:{footline}/exchange"), None)
        return {"almanac": almanac, "footline": footline}

    def _port_of(self, name: str, first: int) -> int:
        """A free port for a stand-in, the one that it had before where that is free."""
        kept = self.settings.home / f"{name}-port"
        port = free_port(int(kept.read_text()) if kept.is_file() else first)
        kept.write_text(str(port))
        return port

    def _begin(self, part: _Part) -> None:
        """Start a part, or start it again."""
        self._parts[part.name] = part
        out = open_log(self.settings.home / "logs", part.name)
        try:
            part.process = subprocess.Popen(
                [sys.executable, "-m", "indice.children", str(os.getpid()), *part.arguments],
                cwd=self.settings.home,
                env=self._env,
                stdout=out,
                stderr=subprocess.STDOUT,
                start_new_session=True,
            )
        finally:
            os.close(out)
        part.began = time.monotonic()

    def _await_web(self, address: str) -> None:
        import httpx

        log = self.settings.home / "logs" / "web.log"
        for _ in range(400):
            if self._stopping:
                return
            web = self._parts["web"].process
            if web is None or web.poll() is not None:
                raise IndiceError("The web server did not start.", hint=f"Look at {log}")
            try:
                # It is asked at this machine's own address; whose certificate it is does not matter for that.
                if httpx.get(f"{address}/api/status", timeout=1, verify=False).status_code < 500:
                    return
            except httpx.HTTPError:
                pass
            time.sleep(0.05)
        raise IndiceError("The web server does not answer.", hint=f"Look at {log}")

    def _watch(self) -> None:
        """Keep everything running until told to stop."""
        looked = 0.0
        while not self._stopping:
            moment = time.monotonic()
            for part in self._parts.values():
                self._look_after(part, moment)
            if not self.settings.database_url and moment - looked > 1:
                looked = moment
                self._look_after_database(moment)
                for log in (self.settings.home / "logs").glob("*.log"):
                    turn_log(log)
            time.sleep(LOOK_EVERY_SECONDS)

    def _look_after(self, part: _Part, moment: float) -> None:
        process = part.process
        if process is not None:
            status = process.poll()
            if not part.wanted():
                if status is None:
                    process.terminate()  # it ends by itself when it has taken back what it did
                else:
                    part.process = None
                return
            if status is None:
                if moment - part.began > WELL_AFTER_SECONDS:
                    part.pause = FIRST_PAUSE_SECONDS
                return
            part.process = None
            how = f"by signal {-status}" if status < 0 else f"with status {status}"
            self._plan_again(part, moment, f"ended on its own ({how})")
        if moment >= part.again_at and part.wanted():
            self._begin(part)

    def _look_after_database(self, moment: float) -> None:
        part, cluster = self._database_part, Cluster(self.settings.home, self.settings.database_networks)
        if cluster.is_running():
            if part.began and moment - part.began > WELL_AFTER_SECONDS:
                part.pause = FIRST_PAUSE_SECONDS
            return
        if moment < part.again_at:
            return
        self._plan_again(part, moment, "ended on its own")
        try:
            cluster.start()
            part.began = time.monotonic()
            self._note("database", "runs again")
        except (IndiceError, OSError) as error:
            self._note("database", f"does not start: {error}")

    def _plan_again(self, part: _Part, moment: float, what: str) -> None:
        part.again_at = moment + part.pause
        self._note(part.name, f"{what}; it is started again in {part.pause:g} s")
        part.pause = min(part.pause * 2, LONGEST_PAUSE_SECONDS)

    def _note(self, name: str, what: str) -> None:
        """Say what happened: here, in the log, and to whoever asks."""
        moment = datetime.now(UTC).isoformat(timespec="seconds")
        self._troubles = [*self._troubles, {"name": name, "at": moment, "what": what[:400]}][-KEPT_TROUBLES:]
        words = f"The {name} {what}. Its log: {self.settings.home / 'logs' / (name + '.log')}"
        self.say(words)
        handle = open_log(self.settings.home / "logs", "supervisor")
        try:
            os.write(handle, f"{moment} {words}\n".encode())
        finally:
            os.close(handle)
        self._tell_state()

    def _stop(self) -> None:
        processes: list[Any] = [part.process for part in self._parts.values() if part.process is not None]
        for child in processes:
            if child.poll() is None:
                child.terminate()
        deadline = time.monotonic() + 12
        for child in processes:
            try:
                child.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                os.killpg(child.pid, signal.SIGKILL)
                child.wait()
        if self._database is not None:
            self._database.engine.dispose()
        end_marked(self.settings.home, seconds=2)
        if not self.settings.database_url:
            Cluster(self.settings.home).stop()
