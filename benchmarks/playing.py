"""How fast a film begins and goes on after a jump, and what pages cost while six people watch.

    python -m benchmarks.playing [--seconds 60] [--pause 0]

Makes a film of 1080 lines that nothing takes as it is (HEVC with AC-3) and one in a box that browsers do not take
(Matroska with H.264), starts a server of its own, plays both, then has six players jump about while somebody looks at
the catalog. Each of the six asks for a height of its own, and none comes to the same segment twice until it has seen
them all, so that what they wait for is encoding and not a cache. With a pause each watches that long between two
jumps, for an hour on a machine that is needed meanwhile.
"""

from __future__ import annotations

import argparse
import os
import random
import re
import shutil
import signal
import statistics
import subprocess
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx

ROOT = Path(__file__).resolve().parents[1]
CAN = ['video/mp4; codecs="avc1.640033"', 'audio/mp4; codecs="mp4a.40.2"']
PATIENCE = 60.0
"""Seconds after which a player gives up."""
LOOPS = 39
"""So often is half a minute said again: films of twenty minutes."""
FILMS = {
    "converted": "-c:v libx265 -preset ultrafast -x265-params log-level=error -c:a ac3",
    "repackaged": "-c:v libx264 -preset ultrafast -g 120 -b:v 8M -c:a aac",
}


class Player:
    """Somebody signed in who plays."""

    def __init__(self, address: str) -> None:
        self.http = httpx.Client(base_url=address, timeout=60)
        self._token()
        said = self.post("/api/setup", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
        if said.status_code != 200:
            self._token()
            self.post("/api/session", {"name": "Odile", "password": "tidewrack 9"})
        self._token()

    def _token(self) -> None:
        self.http.headers["X-Indice-Token"] = self.http.get("/api/status").json()["csrf"]

    def post(self, path: str, body: dict[str, Any]) -> httpx.Response:
        """Send something."""
        return self.http.post(path, json=body)

    def begin(self, entry: int, **more: Any) -> tuple[str, int]:
        """Begin to play; the address of its segments, and how many there are."""
        told = self.post(f"/api/entries/{entry}/playback", {"can": CAN, **more}).json()
        base = told["url"].rpartition("/")[0]
        return base, self.http.get(f"{base}/picture.m3u8").text.count("#EXTINF")

    def beat(self, base: str, over: threading.Event) -> None:
        """Say every 20 seconds that somebody watches, as players do, until it is over."""
        while not over.wait(20):
            self.post(f"{base}/beat", {})

    def first_bytes(self, base: str, number: int) -> float:
        """Seconds until a second of a segment's picture is there; who is told that it
        takes longer asks again, as players do."""
        began = time.perf_counter()
        self.http.get(f"{base}/picture/head.mp4").raise_for_status()
        while True:
            with self.http.stream("GET", f"{base}/picture/{number}.m4s") as answer:
                if answer.status_code != 503 or time.perf_counter() - began > PATIENCE:
                    answer.raise_for_status()
                    took = 0.0
                    for _ in answer.iter_raw():
                        took = took or time.perf_counter() - began
                    return took
            time.sleep(float(answer.headers.get("Retry-After", "1")))


@contextmanager
def server(home: Path) -> Iterator[str]:
    """A server of its own."""
    env = {**os.environ, "INDICE_HOME": str(home), "INDICE_CONVERSIONS": "6", "PYTHONPATH": str(ROOT / "src")}
    command = [str(Path(__file__).parents[1] / "indice"), "start", "--port", "7970"]
    process = subprocess.Popen(command, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    assert process.stdout is not None
    try:
        yield next(found[1] for line in process.stdout if (found := re.search(r"ready: (http://\S+)", line)))
    finally:
        process.send_signal(signal.SIGTERM)
        process.wait(30)


def memory_of(home: Path) -> float:
    """Megabytes of all processes of a server."""
    total = 0
    for entry in Path("/proc").glob("[0-9]*"):
        try:
            if (
                str(home).encode() in (entry / "environ").read_bytes()
                and b"indice.children" in (entry / "cmdline").read_bytes()
            ):
                total += int((entry / "statm").read_text().split()[1])
        except OSError:
            continue
    return total * os.sysconf("SC_PAGE_SIZE") / 1e6


def main() -> None:
    """Make films, play them, and say how it went."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=int, default=60, help="how long six people jump about")
    parser.add_argument("--pause", type=float, default=0, help="seconds between two jumps of one player")
    asked = parser.parse_args()
    home = Path(tempfile.mkdtemp(prefix="indice-bench-", dir="/tmp"))
    home.chmod(0o755)
    films = Path(tempfile.mkdtemp(prefix="indice-bench-films-", dir="/tmp"))
    for name, options in FILMS.items():
        source = "testsrc2=s=1920x1080:r=24,noise=alls=6:allf=t"
        words = ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", source, "-f", "lavfi", "-i", "sine=440:r=48000"]
        short = films / f"{name}.short.mkv"
        subprocess.run([*words, "-t", "30", *options.split(), short], check=True)
        long = ["ffmpeg", "-v", "error", "-stream_loop", f"{LOOPS}", "-i", short, "-c", "copy", films / f"{name}.mkv"]
        subprocess.run(long, check=True)
        short.unlink()
    try:
        with server(home) as address:
            measure(address, home, films, asked.seconds, asked.pause)
    finally:
        for folder in (home, films):
            shutil.rmtree(folder, ignore_errors=True)


def measure(address: str, home: Path, films: Path, seconds: int, pause: float) -> None:
    """Play, jump, and look at the catalog meanwhile."""
    one = Player(address)
    one.post(
        "/api/libraries", {"name": "Films", "kind": "home-videos", "folders": [str(films)], "sure": True}
    ).raise_for_status()
    entries: dict[str, int] = {}
    while not set(FILMS) <= set(entries):
        time.sleep(0.5)
        for name in FILMS:
            for card in one.http.get(f"/api/search?q={name}").json()["entries"]:
                entries[card["title"].lower()] = card["id"]
    for name in FILMS:
        base, count = one.begin(entries[name], **({"max_height": 720} if name == "converted" else {}))
        first, jump = one.first_bytes(base, 0), one.first_bytes(base, count // 2)
        print(f"{name:11} first picture {first:.2f} s, after a jump {jump:.2f} s")
        one.post(f"{base}/end", {})
    before = memory_of(home)
    ends = time.monotonic() + seconds
    jumps: list[float] = []
    failed: list[str] = []

    def watch(seed: int) -> None:
        player, rng = Player(address), random.Random(seed)
        base, count = player.begin(entries["converted"], max_height=240 + 20 * seed)
        order: list[int] = []
        over = threading.Event()
        threading.Thread(target=player.beat, args=(base, over), daemon=True).start()
        while time.monotonic() < ends:
            order = order or rng.sample(range(count), count)
            try:
                jumps.append(player.first_bytes(base, order.pop()))
            except httpx.HTTPError as error:
                failed.append(f"{type(error).__name__} {error}"[:120])
            over.wait(pause)
        over.set()
        player.post(f"{base}/end", {})

    threads = [threading.Thread(target=watch, args=(seed,)) for seed in range(6)]
    for thread in threads:
        thread.start()
    pages: list[float] = []
    told = time.monotonic()
    while time.monotonic() < ends:
        began = time.perf_counter()
        one.http.get("/api/shelves/photos").raise_for_status()
        pages.append((time.perf_counter() - began) * 1000)
        time.sleep(0.1 + pause / 20)
        if time.monotonic() - told >= 300:
            told = time.monotonic()
            print(f"             {len(jumps)} jumps, {memory_of(home):.0f} MB", flush=True)
    for thread in threads:
        thread.join()
    pages.sort()
    print(f"six players  {len(jumps)} jumps, median {statistics.median(jumps):.2f} s, longest {max(jumps):.2f} s")
    print(
        f"a page       median {statistics.median(pages):.0f} ms, 95 of 100 within "
        f"{pages[int(len(pages) * 0.95)]:.0f} ms"
    )
    jumps.sort()
    print(f"             {len(failed)} in vain{': ' if failed else ''}{', '.join(sorted(set(failed))[:3])}")
    print(f"             90 of 100 jumps within {jumps[int(len(jumps) * 0.9)]:.2f} s")
    print(f"memory       {before:.0f} MB before, {memory_of(home):.0f} MB after")
    time.sleep(3)
    left = subprocess.run(
        ["pgrep", "-fc", "ffmpeg.*indice-bench-films"], capture_output=True, text=True, check=False
    ).stdout.strip()
    print(f"encoders     {left} left")


if __name__ == "__main__":
    main()
