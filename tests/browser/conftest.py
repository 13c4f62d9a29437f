"""A running Indice of its own for each module, and headless Chromium."""

from __future__ import annotations

import fcntl
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from indice.demo.household import build_household

from ..playing.zoo import Animal, make
from .drive import all_done, ask, see

ROOT = Path(__file__).resolve().parents[2]
FLAGS = "--headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage --disable-background-networking --disable-quic --no-first-run --disable-component-update --disable-sync --autoplay-policy=no-user-gesture-required"


@pytest.fixture(scope="module")
def home() -> Path:
    """A data folder of its own."""
    made = Path(tempfile.mkdtemp(prefix="indice-browser-", dir="/tmp"))
    made.chmod(0o755)
    return made


@cache
def ssdp_port() -> int:
    """Where routers of these tests hear searches; those of tests that run beside them hear elsewhere."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as link:
        link.bind(("127.0.0.1", 0))
        return int(link.getsockname()[1])


def own_ports() -> int:
    """So far from those of others are the ports of this process of the tests:
    two that start at once take none twice."""
    return 10 * int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw"))


@contextmanager
def running(home: Path, command: str, port: int) -> Iterator[str]:
    """A running Indice; ended by a TERM, cleanly, with nothing left behind."""
    env = {**os.environ, "INDICE_HOME": str(home), "INDICE_PORT": str(port), "PYTHONPATH": str(ROOT / "src")}
    env["INDICE_SSDP_PORT"] = str(ssdp_port())
    process = subprocess.Popen(
        [sys.executable, "-m", "indice.cli", command],
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    assert process.stdout is not None
    said = ""
    for line in process.stdout:
        said += line
        found = re.search(r"ready: (http://\S+)", line)
        if found:
            break
    else:
        pytest.fail(f"It did not start: {said}")
    yield found[1]
    process.send_signal(signal.SIGTERM)
    assert process.wait(30) == 0
    alive = subprocess.run(["pgrep", "-f", str(home)], capture_output=True, text=True, check=False).stdout
    assert alive == ""


@pytest.fixture(scope="session")
def household(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's folders, built once for all who run these tests side by side."""
    base = tmp_path_factory.getbasetemp()
    shared = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    made = shared / "household"
    with open(shared / "household.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        build_household(made)
    return made


@pytest.fixture(scope="module")
def address(home: Path, household: Path) -> Iterator[str]:
    """A running demo."""
    subprocess.run(["cp", "-a", str(household), str(home / "household")], check=True)
    with running(home, "demo", 7860 + own_ports()) as found:
        yield found


@pytest.fixture(scope="module")
def empty(home: Path) -> Iterator[str]:
    """A running Indice that holds nothing yet."""
    with running(home, "start", 7865 + own_ports()) as found:
        yield found


@contextmanager
def chromium() -> Iterator[webdriver.Chrome]:
    """Headless Chromium, 1280 by 800."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride", {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    )
    yield driver
    driver.quit()


@pytest.fixture(scope="module")
def browser() -> Iterator[webdriver.Chrome]:
    """Headless Chromium."""
    with chromium() as driver:
        yield driver


FILM = Animal("film.mp4", "-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 25 -c:a aac", "direct")
NAMES = ("Kettle Morning (2004)", "Slow Tin (1998)", "Wren Parade (2011)")
"""Films of a household without metadata."""


@pytest.fixture(scope="module")
def films(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> dict[str, int]:
    """Three films, with who keeps them signed in."""
    folder = tmp_path_factory.mktemp("shared")
    folder.chmod(0o755)
    root = folder / "Films"
    made = make(FILM, folder, seconds=6).read_bytes()
    for place, name in enumerate(NAMES):
        (root / name).mkdir(parents=True)
        (root / name / f"{name}.mp4").write_bytes(made + b"\0" * place)
    browser.get(empty)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    ask(browser, "/api/libraries", "POST", {"name": "Films", "kind": "movies", "folders": [str(root)]})
    all_done(browser)
    entries = ask(browser, "/api/shelves/films")["entries"]
    return {f"{name}.mp4": one["id"] for name in NAMES for one in entries if name.startswith(one["title"])}


@pytest.fixture(scope="module")
def stranger() -> Iterator[webdriver.Chrome]:
    """A browser in which nobody is signed in."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        options.add_argument(flag)
    made = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    yield made
    made.quit()
