"""Child processes in which what strangers made is decoded: pictures, videos,
tags, templates. Bounded in memory and time.

Run as a module it is such a child: it takes one task after the other from its standard input and answers in JSON, so
that nothing that a hostile file makes of it can reach further than an answer.
"""

from __future__ import annotations

import atexit
import base64
import contextlib
import json
import os
import pickle
import queue
import resource
import select
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from functools import cache
from importlib import import_module
from pathlib import Path
from typing import Any, BinaryIO, cast

from ..core.phrase import phrase

__all__ = ["TooMuch", "Workshop", "give_way", "workshop"]

MEMORY_BYTES = 1 << 30
"""What a child may use beside what it needs to be there at all."""
LARGEST_FILE_BYTES = 256 << 20
"""The largest file that a child may write."""
SECONDS = 30.0
"""How long one task may take."""
LARGEST_ANSWER_BYTES = 64 << 20
PATIENT_NICENESS = 19
"""How far children stand back whose work nobody waits for: behind the pages and behind what is played."""
_TASKS = {
    "probe": "disk.tasks:probe_file",
    "thumbnails": "disk.tasks:thumbnails",
    "embedded": "disk.tasks:thumbnails_of_embedded",
    "frame": "disk.tasks:thumbnails_of_frame",
    "frame picture": "disk.thumbnails:frame_picture",
    "inside": "disk.inside:inside",
    "picture likeness": "disk.likeness:picture_likeness",
    "sound likeness": "disk.likeness:sound_likeness",
    "voice": "disk.voice:voice_of",
    "prints": "disk.voice:prints_of_sound",
    "sheet": "disk.sheets:draw_sheet",
    "key before": "disk.inside:key_before",
    "keys": "disk.inside:key_moments",
    "words since": "disk.inside:words_since",
    "towns": "disk.towns:towns_at",
    "convention": "disk.tasks:name_of_convention",
}
"""Where the function is that does a task."""
SOURCE = Path(__file__).resolve().parents[2]


class TooMuch(ValueError):
    """A task took more memory or time than it may, or brought its child down."""


class _Broken(Exception):
    """The child is not there any more."""


class _Child:
    """One child, and the pipes to it."""

    def __init__(self, memory_bytes: int, niceness: int) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "indice.disk.workshop", str(memory_bytes), str(niceness)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env={**os.environ, "PYTHONPATH": str(SOURCE)},
            start_new_session=False,
        )

    def ask(self, task: str, arguments: tuple[Any, ...], seconds: float) -> Any:
        """What the task gives; raises :class:`_Broken` when the child dies of
        it, TimeoutError when it takes too long."""
        body = pickle.dumps((task, arguments, seconds))
        deadline = time.monotonic() + seconds
        try:
            stdin = cast(BinaryIO, self.process.stdin)
            stdin.write(struct.pack(">Q", len(body)) + body)
            stdin.flush()
            (length,) = struct.unpack(">Q", self._read(8, deadline))
            if length > LARGEST_ANSWER_BYTES:
                raise _Broken
            return json.loads(self._read(length, deadline))
        except (OSError, struct.error) as error:
            if isinstance(error, TimeoutError):
                raise
            raise _Broken from error

    def _read(self, count: int, deadline: float) -> bytes:
        handle = cast(BinaryIO, self.process.stdout).fileno()
        found = bytearray()
        while len(found) < count:
            left = deadline - time.monotonic()
            if left <= 0 or not select.select([handle], [], [], left)[0]:
                raise TimeoutError
            part = os.read(handle, min(count - len(found), 1 << 20))
            if not part:
                raise _Broken
            found += part
        return bytes(found)

    def end(self) -> None:
        """It is not needed any more."""
        with contextlib.suppress(OSError):
            self.process.kill()
        with contextlib.suppress(OSError, ValueError):
            for pipe in (self.process.stdin, self.process.stdout):
                if pipe is not None:
                    pipe.close()
        self.process.wait()


class Workshop:
    """A few children, started when they are first needed."""

    def __init__(self, children: int | None = None, *, memory_bytes: int = MEMORY_BYTES) -> None:
        self._memory_bytes = memory_bytes
        self.niceness = 0
        """How far its children stand back from other processes (`nice`)."""
        self.share = 1.0
        """In which part of the time each of its children works at most; it rests behind each task."""
        self._waiting: queue.LifoQueue[_Child | None] = queue.LifoQueue()
        self._lock = threading.Lock()
        self._all: set[_Child] = set()
        for _ in range(children or max(2, os.cpu_count() or 2)):
            self._waiting.put(None)

    def run(self, task: str, *arguments: Any, seconds: float = SECONDS) -> Any:
        """What a task gives.

        Raises :class:`TooMuch` when it takes more than it may, ValueError with words for what it finds
        wrong, OSError as the task itself met it.
        """
        child = self._waiting.get()
        begun = time.monotonic()
        try:
            if child is None or child.process.poll() is not None:
                child = self._new()
            answer = child.ask(task, arguments, seconds)
        except TimeoutError:
            self._drop(child)
            child = None
            raise TooMuch(phrase("It takes too long to be read; it is left alone.")) from None
        except _Broken:
            self._drop(child)
            child = None
            raise TooMuch(
                phrase("It takes more memory than it may, or breaks what reads it; it is left alone.")
            ) from None
        finally:
            if self.share < 1.0:
                time.sleep((time.monotonic() - begun) * (1.0 / self.share - 1.0))
            self._waiting.put(child)
        return _answered(answer)

    def _new(self) -> _Child:
        child = _Child(self._memory_bytes, self.niceness)
        with self._lock:
            self._all.add(child)
        return child

    def _drop(self, child: _Child | None) -> None:
        if child is not None:
            child.end()
            with self._lock:
                self._all.discard(child)

    def close(self) -> None:
        """End all children."""
        for child in list(self._all):
            self._drop(child)


@cache
def _of_process(_pid: int) -> Workshop:
    made = Workshop()
    atexit.register(made.close)
    return made


def workshop() -> Workshop:
    """The workshop of this process."""
    return _of_process(os.getpid())


def give_way(share: float = 1.0) -> None:
    """Have the workshop of this process work in the background, in this part of
    the time at most: nobody waits for it."""
    workshop().niceness, workshop().share = PATIENT_NICENESS, share


def _answered(answer: dict[str, Any]) -> Any:
    kind, value = answer["kind"], answer["value"]
    if kind == "wrong":
        raise ValueError(value)
    if kind == "too much":
        raise TooMuch(value)
    if kind == "system":
        raise OSError(*value)
    return base64.b64decode(value) if kind == "bytes" else value


def _serve(memory_bytes: int, niceness: int) -> None:
    """Be a child: take tasks until there are no more."""
    os.nice(niceness)
    answers = os.dup(1)
    os.dup2(2, 1)  # whatever a library prints does not become an answer
    _bound()
    task = _loader(memory_bytes)
    asked = sys.stdin.buffer
    while head := asked.read(8):
        (length,) = struct.unpack(">Q", head)
        name, arguments, seconds = pickle.loads(asked.read(length))
        work = task(name)
        _bound_time(seconds)
        body = json.dumps(_try(work, arguments)).encode()
        view = memoryview(struct.pack(">Q", len(body)) + body)
        while view:
            view = view[os.write(answers, view) :]


def _try(work: Callable[..., Any], arguments: tuple[Any, ...]) -> dict[str, Any]:
    try:
        value = work(*arguments)
    except MemoryError:
        return {"kind": "too much", "value": phrase("It takes more memory than it may; it is left alone.")}
    except ValueError as error:
        return {"kind": "wrong", "value": str(error)}
    except OSError as error:
        if error.errno is None:
            return {"kind": "wrong", "value": str(error)}
        return {"kind": "system", "value": [error.errno, error.strerror or os.strerror(error.errno)]}
    except RecursionError:
        return {"kind": "wrong", "value": phrase("It is nested too deeply.")}
    except Exception as error:  # a hostile file can make a parser raise anything; the others go on
        return {"kind": "wrong", "value": phrase("It could not be understood ({name}).", name=type(error).__name__)}
    if isinstance(value, bytes):
        return {"kind": "bytes", "value": base64.b64encode(value).decode()}
    return {"kind": "value", "value": value}


def _bound() -> None:
    resource.setrlimit(resource.RLIMIT_FSIZE, (LARGEST_FILE_BYTES, LARGEST_FILE_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_NOFILE, (64, 64))


def _bound_memory(memory_bytes: int | None) -> None:
    """So much beside what is there already; None: as much as the system lets it have."""
    base = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    most = resource.getrlimit(resource.RLIMIT_AS)[1]
    wanted = most if memory_bytes is None else base + memory_bytes
    resource.setrlimit(resource.RLIMIT_AS, (wanted if most == resource.RLIM_INFINITY else min(wanted, most), most))


def _bound_time(seconds: float) -> None:
    """Processor time, in case nobody is left who watches the clock."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    limit = int(used.ru_utime + used.ru_stime + seconds * 2) + 2
    resource.setrlimit(resource.RLIMIT_CPU, (limit, resource.getrlimit(resource.RLIMIT_CPU)[1]))


def _loader(memory_bytes: int) -> Callable[[str], Callable[..., Any]]:
    """Finds what does a task. Only what it needs is imported, since somebody may wait for the first one; the code
    itself does not count as memory that a file takes.
    """

    @cache
    def load(name: str) -> Callable[..., Any]:
        module, _, function = _TASKS[name].partition(":")
        _bound_memory(None)
        found = getattr(import_module(f"indice.{module}"), function)
        _bound_memory(memory_bytes)
        return found

    return load


if __name__ == "__main__":
    _serve(int(sys.argv[1]), int(sys.argv[2]))
