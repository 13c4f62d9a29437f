"""The supervisor and its processes, killed one by one; and a web server that nobody can hold up."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import socket
import stat
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

import indice
from indice.held import HeldFile, end_marked, mark_of, said_by_holder
from indice.service import running, stop_all
from indice.settings import Settings
from indice.store.cluster import Cluster, free_port

SOURCE = str(Path(indice.__file__).parents[1])


class House:
    """A running Indice in a folder of its own."""

    def __init__(self, home: Path) -> None:
        self.home = home
        self.settings = Settings.load({"INDICE_HOME": str(home)})
        self.port = free_port(0)
        self.supervisor = self.start()
        self.await_ready()

    def start(self) -> subprocess.Popen[bytes]:
        """Start a supervisor."""
        env = {**os.environ, "INDICE_HOME": str(self.home), "PYTHONPATH": SOURCE}
        with (self.home / "said.txt").open("ab") as out:
            command = [sys.executable, "-m", "indice.cli", "start", "--port", str(self.port)]
            return subprocess.Popen(command, env=env, stdout=out, stderr=out, start_new_session=True)

    @property
    def address(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"

    def answers(self) -> bool:
        """Whether pages and records are there."""
        with contextlib.suppress(httpx.HTTPError):
            return httpx.get(f"{self.address}/api/status", timeout=2).status_code == 200
        return False

    def await_ready(self, seconds: float = 40) -> None:
        """Wait until it answers and its worker runs."""
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            if self.answers() and self.pid_of("worker"):
                return
            time.sleep(0.1)
        pytest.fail(f"it does not answer: {(self.home / 'said.txt').read_text()[-2000:]}")

    def pid_of(self, name: str) -> int:
        """The process of a part, the one that the others of it come from; 0 when there is none."""
        found: dict[int, int] = {}
        for place in Path("/proc").glob("[0-9]*"):
            with contextlib.suppress(OSError):
                words = (place / "cmdline").read_bytes().split(b"\0")
                marked = f"INDICE_MARK={mark_of(self.home)}".encode() in (place / "environ").read_bytes().split(b"\0")
                if marked and b"indice.children" in words and words[4:5] == [name.encode()]:
                    found[int(place.name)] = int((place / "stat").read_text().rpartition(")")[2].split()[1])
        return next((pid for pid, parent in found.items() if parent not in found), 0)


@pytest.fixture(scope="module")
def house() -> Iterator[House]:
    """One house for all tests of this module; each leaves it running."""
    home = Path(tempfile.mkdtemp(prefix="indice-house-", dir="/tmp"))
    home.chmod(0o755)
    made = House(home)
    yield made
    stop_all(made.settings)
    shutil.rmtree(home, ignore_errors=True)


@pytest.mark.parametrize("name", ["web", "worker"])
def test_what_is_killed_is_started_again(house: House, name: str) -> None:
    before = house.pid_of(name)
    os.kill(before, signal.SIGKILL)
    deadline = time.monotonic() + 20

    def is_told() -> bool:
        found = running(house.settings)
        return found is not None and any(t["name"] == name and "signal 9" in t["what"] for t in found.troubles)

    while not (is_told() and house.pid_of(name) not in (0, before)) and time.monotonic() < deadline:
        time.sleep(0.1)
    assert is_told()
    house.await_ready()
    assert "ended on its own" in (house.home / "logs" / "supervisor.log").read_text()


def test_a_database_that_is_killed_is_started_again(house: House) -> None:
    cluster = Cluster(house.home)
    pid = int((cluster.data / "postmaster.pid").read_text().split("\n")[0])
    os.kill(pid, signal.SIGKILL)
    time.sleep(1.5)
    house.await_ready()
    assert int((cluster.data / "postmaster.pid").read_text().split("\n")[0]) != pid


def test_a_database_that_a_child_started_is_not_ended_with_its_children(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    home = Path(tempfile.mkdtemp(prefix="indice-mark-", dir="/tmp"))
    home.chmod(0o755)
    monkeypatch.setenv("INDICE_MARK", mark_of(home))
    cluster = Cluster(home)
    try:
        cluster.start()
        assert end_marked(home, seconds=0.5) == 0 and cluster.is_running()
    finally:
        cluster.stop("immediate")
        shutil.rmtree(home, ignore_errors=True)


def test_a_second_start_says_so_and_touches_nothing(house: House) -> None:
    before = {name: house.pid_of(name) for name in ("web", "worker")}
    second = house.start()
    assert second.wait(20) == 0
    assert f"runs already: {house.address}" in (house.home / "said.txt").read_text()
    assert {name: house.pid_of(name) for name in ("web", "worker")} == before and house.answers()


def test_when_the_supervisor_is_killed_everything_ends_and_the_next_start_has_the_same_port(house: House) -> None:
    os.kill(house.supervisor.pid, signal.SIGKILL)
    house.supervisor.wait()
    deadline = time.monotonic() + 20
    while (house.pid_of("web") or house.pid_of("worker")) and time.monotonic() < deadline:
        time.sleep(0.1)
    assert not house.pid_of("web") and not house.pid_of("worker")
    assert running(house.settings) is None
    house.supervisor = house.start()
    house.await_ready()


def test_logs_are_for_the_account_alone(house: House) -> None:
    logs = list((house.home / "logs").glob("*.log"))
    assert logs and all(stat.S_IMODE(log.stat().st_mode) == 0o600 for log in logs)


@contextlib.contextmanager
def many(count: int, port: int, say: bytes, drip: bool = False) -> Iterator[list[socket.socket]]:
    """Connections that each say something and then no more, or a letter a second."""
    links: list[socket.socket] = []
    over = threading.Event()

    def dripping() -> None:
        while not over.wait(0.5):
            for link in links:
                with contextlib.suppress(OSError):
                    link.send(b"x")

    try:
        for _ in range(count):
            link = socket.create_connection(("127.0.0.1", port), timeout=5)
            link.sendall(say)
            links.append(link)
        if drip:
            threading.Thread(target=dripping, daemon=True).start()
        yield links
    finally:
        over.set()
        for link in links:
            link.close()


HALVES = {
    "nothing": (b"", False),
    "half a head": (b"GET /api/status HTTP/1.1\r\nHost: 127.0.0.1\r\nX-More: ", True),
    "half a body": (
        b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 90\r\n\r\n{",
        True,
    ),
    "half a chunk": (
        b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n5a\r\n{",
        True,
    ),
    "one and a half": (
        b"GET /api/status HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\nGET /api/status HTTP/1.1\r\nHost: 127.0.0.1\r\nX-More: ",
        True,
    ),
}


@pytest.mark.parametrize("what", HALVES)
def test_half_requests_hold_nobody_up(house: House, what: str) -> None:
    said, drip = HALVES[what]
    with many(200, house.port, said, drip):
        time.sleep(1)
        began = time.monotonic()
        answers = [httpx.get(f"{house.address}/api/status", timeout=5).status_code for _ in range(10)]
        assert answers == [200] * 10
        assert time.monotonic() - began < 5  # not a measure of speed: without room every one of them runs into its end


def test_event_streams_take_no_threads_and_say_what_changes(house: House) -> None:
    with httpx.Client(base_url=house.address) as client:
        token = client.get("/api/status").json()["csrf"]
        made = client.post(
            "/api/setup",
            json={"name": "Odile", "password": "tidewrack 9", "language": "en"},
            headers={"X-Indice-Token": token},
        )
        assert made.status_code == 200
        cookie = f"indice={client.cookies['indice']}"
        ask = f"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {cookie}\r\n\r\n".encode()
        with many(150, house.port, ask) as links:
            for link in links:
                assert b"text/event-stream" in link.recv(4096)
            assert client.get("/api/today", timeout=5).status_code == 200
            from indice.store.database import Database
            from indice.store.jobs import announce

            database = Database(Cluster(house.home).url)
            with database.begin() as db:
                announce(db, "catalog")
            for link in (links[0], links[-1]):
                heard = b""
                while b"catalog" not in heard:
                    heard += link.recv(4096)
        with many(320, house.port, ask) as links:
            heads = [link.recv(200) for link in links]
            assert sum(b" 200 " in head for head in heads) < 320
            assert any(b" 503 " in head for head in heads)
        assert client.get("/api/today", timeout=5).status_code == 200


def test_stop_ends_its_own_processes_and_no_other(house: House) -> None:
    stranger = subprocess.Popen(["sleep", "60"])
    try:
        stop_all(house.settings)
        assert not house.pid_of("web") and not house.pid_of("worker") and not Cluster(house.home).is_running()
        (house.home / "indice.lock").write_text(json.dumps({"pid": stranger.pid, "address": house.address}))
        assert running(house.settings) is None
        assert stop_all(house.settings) == []
        assert stranger.poll() is None
        house.supervisor.wait(10)
        (Cluster(house.home).data / "postmaster.pid").write_text(f"{stranger.pid}\n{Cluster(house.home).data}\n")
        assert not Cluster(house.home).is_running()
        house.supervisor = house.start()
        house.await_ready()
        assert stranger.poll() is None
    finally:
        stranger.kill()
        stranger.wait()


def test_a_file_is_held_by_one_and_says_by_whom(tmp_path: Path) -> None:
    first, second = HeldFile(tmp_path / "lock"), HeldFile(tmp_path / "lock")
    assert said_by_holder(tmp_path / "lock") is None
    assert first.take() and not second.take()
    first.say(address="here")
    assert said_by_holder(tmp_path / "lock") == {"pid": os.getpid(), "address": "here"}
    first.release()
    assert said_by_holder(tmp_path / "lock") is None and second.take()


def test_what_carries_the_mark_is_ended_even_if_it_does_not_listen(tmp_path: Path) -> None:
    deaf = "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN); print('up', flush=True); time.sleep(60)"
    child = subprocess.Popen(
        [sys.executable, "-c", deaf], env={**os.environ, "INDICE_MARK": mark_of(tmp_path)}, stdout=subprocess.PIPE
    )
    assert child.stdout is not None and child.stdout.readline() == b"up\n"
    threading.Thread(target=child.wait, daemon=True).start()
    assert end_marked(tmp_path, seconds=0.5) == 1
    child.wait(10)
    assert child.returncode == -signal.SIGKILL
