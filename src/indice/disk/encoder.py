"""Runs the system's ffmpeg for one track of one file, and makes segments of what it says.

A run begins at a segment and goes on to the end; it waits when it is far enough ahead of who watches, and ends with
whoever started it: its output is a pipe that nobody reads any more. Nothing of a file is decoded in this process.
"""

from __future__ import annotations

import contextlib
import os
import subprocess
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import IO, cast

from ..core.phrase import phrase
from ..core.playing.boxes import BadBoxes, Sample, SampleReader, segment_of
from ..core.playing.orders import Order
from ..core.playing.timeline import Timeline
from .formats import CONTAINERS

__all__ = ["HEAD", "Run", "command", "take_text"]

HEAD = "head.mp4"
AHEAD = 4
"""So many segments are made before anybody asks for them."""
PIECE_SECONDS = 0.5
"""A segment goes out in pieces of this length, while it is made."""
PATIENCE_SECONDS = 1.5
"""A segment that a run reaches within so long is waited for: to begin anew takes about as long."""
NICENESS = 8
"""How far an encoder stands back from the pages while somebody waits for it."""
AHEAD_NICENESS = 12
"""How far, once it makes what nobody waits for yet: one that somebody else waits
for goes first, background work last."""
MEMORY_BYTES = 6 << 30
TEXT_SECONDS = 120.0
MOST_TEXT_BYTES = 40_000_000
_READ_BYTES = 1 << 16


def command(order: Order, path: bytes) -> list[bytes]:
    """The whole command: with less right to the processor than the pages have, and with bounds."""
    bounds = ["nice", "-n", str(NICENESS), "prlimit", f"--as={MEMORY_BYTES}", "--core=0"]
    words = [*bounds, "ffmpeg", "-nostdin", "-hide_banner", "-v", "error"]
    words += ["-protocol_whitelist", "file,pipe", "-format_whitelist", CONTAINERS, *order.before, "-i"]
    return [*(word.encode() for word in words), b"file:" + path, *(word.encode() for word in order.after)]


@dataclass(slots=True)
class Growing:
    """A segment that is being made."""

    pieces: list[bytes] = field(default_factory=list)
    is_whole: bool = False
    is_broken: bool = False


class Run:
    """One encoder that is at work on one track."""

    def __init__(self, order: Order, path: bytes, timeline: Timeline, folder: Path) -> None:
        self._order, self._path, self._timeline, self._folder = order, path, timeline, folder
        self.first = self.place = self.wanted = order.first
        """The segment it began with, the one that is being made, and the last one that was asked for."""
        self.is_ended = False
        self._stopped = self._stands_back = False
        self._changed = threading.Condition()
        self._growing: dict[int, Growing] = {}
        self._process: subprocess.Popen[bytes] | None = None
        self._fragments = order.first * 1000
        self._began = time.monotonic()
        self._waited = 0.0
        self._made = self._counted_from = timeline.starts[order.first]
        """The moment of the film up to which there is something."""
        self._thread = threading.Thread(target=self._work, daemon=True, name="encoder")

    def start(self) -> None:
        """Begin; raises OSError when ffmpeg is not there."""
        self._folder.mkdir(parents=True, exist_ok=True)
        self._process = subprocess.Popen(
            command(self._order, self._path),
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )
        self._thread.start()

    def stop(self) -> None:
        """End it now; who waits for it is told."""
        with self._changed:
            self._stopped = True
            self._changed.notify_all()
        if self._process is not None:
            with contextlib.suppress(OSError):
                self._process.kill()
        if self._thread.is_alive() and self._thread is not threading.current_thread():
            self._thread.join(5)

    @property
    def is_over(self) -> bool:
        """Whether nothing more comes of it: it has ended, or was told to."""
        return self.is_ended or self._stopped

    @property
    def is_picture_encoder(self) -> bool:
        """Whether it encodes a picture, which takes most of a processor."""
        return "-c:v" in self._order.after and "copy" not in self._order.after

    @property
    def speed(self) -> float:
        """Seconds of the film that are made in a second of work, the search for the beginning left out."""
        worked = time.monotonic() - self._began - self._waited
        made = self._made - self._counted_from
        return made / worked if worked > 0.05 else 0.0

    def is_near(self, number: int) -> bool:
        """Whether a segment comes soon enough to be waited for."""
        if self.is_ended or number <= self.place:
            return number in self._growing or (number == self.place and not self.is_ended)
        speed = self.speed
        if not speed:
            return number == self.place + 1
        return (self._timeline.starts[number] - self._made) / speed <= PATIENCE_SECONDS

    def want(self, number: int) -> None:
        """Somebody asks for a segment: go on behind it, if that is near."""
        with self._changed:
            if self.wanted < number and self.is_near(number):
                self.wanted = number
            self._changed.notify_all()

    def wait_for_head(self, seconds: float) -> bool:
        """Whether the head is there, after so long at most."""
        with self._changed:
            return (
                self._changed.wait_for(
                    lambda: (self._folder / HEAD).is_file() or self.is_ended or self._stopped, seconds
                )
                and (self._folder / HEAD).is_file()
            )

    def pieces(self, number: int, seconds: float) -> Iterator[bytes] | None:
        """A segment as it grows; None when it does not begin within so long.

        The iterator ends early, with what there is, when the encoder ends in the middle.
        """
        with self._changed:
            self._changed.wait_for(lambda: self._begun(number) or self.is_ended or self._stopped, seconds)
            growing = self._growing.get(number)
        if growing is None or not growing.pieces:
            return None
        return self._follow(growing, seconds)

    def _begun(self, number: int) -> bool:
        growing = self._growing.get(number)
        return growing is not None and bool(growing.pieces)

    def _follow(self, growing: Growing, seconds: float) -> Iterator[bytes]:
        place = 0
        while True:
            with self._changed:
                self._changed.wait_for(
                    lambda seen=place: len(growing.pieces) > seen or growing.is_whole or growing.is_broken, seconds
                )
                pieces = growing.pieces[place:]
            if not pieces:
                return
            yield from pieces
            place += len(pieces)

    def _work(self) -> None:
        assert self._process is not None
        out = cast(IO[bytes], self._process.stdout)
        try:
            self._cut(out)
        except (BadBoxes, OSError, ValueError, subprocess.TimeoutExpired):
            pass  # what was made stands; who waits is told that there is no more
        finally:
            with contextlib.suppress(OSError):
                self._process.kill()
            out.close()
            self._process.wait()
            with self._changed:
                for growing in self._growing.values():
                    growing.is_broken = not growing.is_whole
                self.is_ended = True
                self._changed.notify_all()

    def _cut(self, out: IO[bytes]) -> None:
        reader = SampleReader()
        held: list[Sample] = []
        has_begun = False
        while piece := out.read1(_READ_BYTES):  # pyright: ignore[reportAttributeAccessIssue]
            for sample in reader.feed(piece):
                assert reader.head is not None
                scale = reader.head.timescale
                if not has_begun:
                    if not self._may_begin(sample, scale):
                        continue
                    has_begun = True
                    self._began = time.monotonic()
                    self._keep_head(reader.head.content)
                if held:
                    held[-1] = replace(held[-1], duration=max(sample.dts - held[-1].dts, 0))
                    self._settle(held, sample, scale, reader.head.track)
                held.append(sample)
            if not self._pause():
                return
        assert self._process is not None
        if held and reader.head is not None and not self._stopped and self._process.wait(5) == 0:
            self._give(held, reader.head.track)
            self._finish()

    def _start_of(self, number: int) -> float:
        return self._timeline.starts[number] - self._order.slack_seconds

    def _may_begin(self, sample: Sample, scale: int) -> bool:
        return (sample.is_sync or not self._order.cuts_at_sync) and sample.pts / scale >= self._start_of(self.first)

    def _settle(self, held: list[Sample], following: Sample, scale: int, track: int) -> None:
        """Hand out what is held when a segment or a piece of one is through."""
        starts = self._timeline.starts
        moment = following.pts / scale
        self._made = max(self._made, moment)
        if self._counted_from < self._order.full_seconds <= moment:
            self._counted_from, self._began = moment, time.monotonic()  # what was made thinly says nothing of its speed
        is_end = (
            (following.is_sync or not self._order.cuts_at_sync)
            and self.place + 1 < len(starts)
            and moment >= self._start_of(self.place + 1)
        )
        if is_end or (following.dts - held[0].dts) / scale >= PIECE_SECONDS:
            self._give(held, track)
            held.clear()
        if is_end:
            self._finish()
            self.place += 1
            while self.place + 1 < len(starts) and moment >= self._start_of(self.place + 1):
                self._finish()  # nothing is shown for longer than a segment
                self.place += 1
            if self.place > self.wanted + 1:
                self._stand_back()

    def _stand_back(self) -> None:
        """Let other encoders go first from now on; it cannot be taken back, which only the system may."""
        if self._stands_back or self._process is None:
            return
        self._stands_back = True
        with contextlib.suppress(OSError):  # it has just ended
            for thread in os.listdir(f"/proc/{self._process.pid}/task"):
                os.setpriority(os.PRIO_PROCESS, int(thread), AHEAD_NICENESS)

    def _give(self, samples: list[Sample], track: int) -> None:
        self._fragments += 1
        piece = segment_of(self._fragments, track, samples)
        with self._changed:
            self._growing.setdefault(self.place, Growing()).pieces.append(piece)
            self._changed.notify_all()

    def _finish(self) -> None:
        """A segment is whole: it goes to the disk, and out of memory when the next one is."""
        growing = self._growing.setdefault(self.place, Growing())
        if not (self._order.full_seconds and self.place == self.first):
            _write(self._folder / f"{self.place}.m4s", b"".join(growing.pieces))
        with self._changed:
            growing.is_whole = True
            self._growing.pop(self.place - 2, None)
            self._changed.notify_all()

    def _keep_head(self, content: bytes) -> None:
        if not (self._folder / HEAD).is_file():
            _write(self._folder / HEAD, content)
        with self._changed:
            self._changed.notify_all()

    def _pause(self) -> bool:
        """Wait while it is far ahead; False when it is to end."""
        if self.place <= self.wanted + AHEAD:
            return not self._stopped
        began = time.monotonic()
        with self._changed:
            self._changed.wait_for(lambda: self._stopped or self.place <= self.wanted + AHEAD)
        self._waited += time.monotonic() - began
        return not self._stopped


def _write(path: Path, content: bytes) -> None:
    part = path.with_name(f"{path.name}.{os.getpid()}.{threading.get_ident()}.part")
    part.write_bytes(content)
    part.replace(path)


def take_text(order: Order, path: bytes) -> bytes:
    """What ffmpeg says to an order for text; raises ValueError when it says nothing, or too much, or for too long."""
    try:
        done = subprocess.run(
            command(order, path),
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            timeout=TEXT_SECONDS,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise ValueError(phrase("It takes too long to read this text.")) from error
    if not done.stdout or len(done.stdout) > MOST_TEXT_BYTES:
        raise ValueError(phrase("There is no text to be read in this track."))
    return done.stdout
