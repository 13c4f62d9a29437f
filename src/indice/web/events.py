"""Live events: the server says what changed, the screen asks for it again. Server-sent events over one open answer.

One thread writes to all screens, so that none of them holds a thread of those that answer requests.
"""

from __future__ import annotations

import contextlib
import json
import selectors
import socket
import threading
import time
from collections.abc import Iterator
from functools import cache, partial

import psycopg
from apiflask import APIBlueprint
from flask import Response, request

from ..errors import IndiceError
from .common import database, viewer

__all__ = ["Hub", "bp"]

bp = APIBlueprint("events", __name__, url_prefix="/api", tag="Events")
QUIET_SECONDS = 4.0
"""After so long without news a sign of life is sent; that is also how a closed screen is noticed."""
LONGEST_SECONDS = 600.0
GATHER_SECONDS = 0.15
RECONNECT_SECONDS = 2.0
MOST_SCREENS = 300
"""Whoever comes after so many is told to ask every now and then instead."""
MOST_WAITING_BYTES = 64 * 1024
"""A screen that takes nothing while so much is for it is let go."""
TIDIED = frozenset(("findings", "jobs"))
"""Topics besides, for who tidies a library."""
LOOKED_AT = frozenset(("catalog", "marks", "lists", "shares", "together"))
"""Topics for who only looks at the catalog."""
HELLO = b"retry: 2000\n\n"


class _Screen:
    """One screen that listens."""

    def __init__(self, link: socket.socket, only: frozenset[str] | None = None) -> None:
        self.link = link
        self.only = only
        """Topics that it hears of; None: all."""
        self.until = time.monotonic() + LONGEST_SECONDS
        self.waiting = bytearray(HELLO)


class Hub:
    """Listens to the database once for all screens, and writes to them."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._screens: dict[int, _Screen] = {}
        self._joining: list[_Screen] = []
        self._topics: set[str] = set()
        self._lock = threading.Lock()
        self._bell, self._ear = socket.socketpair()
        self._ear.setblocking(False)
        self._changed = threading.Condition()
        self._turn = 0
        self._last: list[str] = []
        threading.Thread(target=self._listen, daemon=True, name="events-in").start()
        threading.Thread(target=self._write, daemon=True, name="events-out").start()

    @property
    def is_full(self) -> bool:
        """Whether no further screen can listen."""
        return len(self._screens) + len(self._joining) >= MOST_SCREENS

    def join(self, link: socket.socket, only: frozenset[str] | None = None) -> bool:
        """A screen listens, to some topics or to all; False when there are too many."""
        if self.is_full:
            return False
        link.setblocking(False)
        with self._lock:
            self._joining.append(_Screen(link, only))
        self._ring()
        return True

    def _ring(self) -> None:
        with contextlib.suppress(OSError):
            self._bell.send(b"!")

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(self._url, autocommit=True) as link:
                    link.execute("listen indice")
                    for note in link.notifies():
                        self._heard(note.payload)
            except psycopg.Error:
                time.sleep(RECONNECT_SECONDS)

    def _heard(self, topic: str) -> None:
        with self._lock:
            self._topics.add(topic)
        self._ring()

    def _write(self) -> None:
        """The one thread that writes to all screens."""
        loop = selectors.DefaultSelector()
        loop.register(self._ear, selectors.EVENT_READ)
        quiet_at = time.monotonic() + QUIET_SECONDS
        while True:
            for key, _ in loop.select(max(quiet_at - time.monotonic(), 0.0)):
                if key.fileobj is self._ear:
                    with contextlib.suppress(BlockingIOError):
                        self._ear.recv(4096)
                    time.sleep(GATHER_SECONDS)  # what comes in the same moment goes out together
                elif not _is_listening(key.data):
                    self._leave(loop, key.data)
            with self._lock:
                topics, self._topics = sorted(self._topics), set()
                joining, self._joining = self._joining, []
            for screen in joining:
                self._screens[screen.link.fileno()] = screen
                loop.register(screen.link, selectors.EVENT_READ, screen)
            if topics or joining or time.monotonic() >= quiet_at:
                quiet_at = time.monotonic() + QUIET_SECONDS
                for screen in list(self._screens.values()):
                    if not _send(screen, _message(topics, screen.only)):
                        self._leave(loop, screen)
            if topics:
                with self._changed:
                    self._turn += 1
                    self._last = topics
                    self._changed.notify_all()

    def _leave(self, loop: selectors.BaseSelector, screen: _Screen) -> None:
        self._screens.pop(screen.link.fileno(), None)
        with contextlib.suppress(KeyError, ValueError):
            loop.unregister(screen.link)
        screen.link.close()

    def stream(self, only: frozenset[str] | None = None) -> Iterator[str]:
        """The same as an answer that goes on, for servers that give no connection away."""
        yield HELLO.decode()
        began, turn = time.monotonic(), self._turn
        while time.monotonic() - began < LONGEST_SECONDS:
            with self._changed:
                self._changed.wait_for(partial(self._is_past, turn), QUIET_SECONDS)
                topics, turn = (self._last, self._turn) if self._turn != turn else ([], turn)
            yield _message(topics, only).decode()

    def _is_past(self, turn: int) -> bool:
        return self._turn != turn


def _message(topics: list[str], only: frozenset[str] | None) -> bytes:
    heard = topics if only is None else [topic for topic in topics if topic in only]
    return f"data: {json.dumps({'topics': heard})}\n\n".encode() if heard else b": quiet\n\n"


class _Narrow:
    """The hub as who only looks at the catalog hears it."""

    def __init__(self, hub: Hub, only: frozenset[str]) -> None:
        self._hub, self._only = hub, only

    def join(self, link: socket.socket) -> bool:
        """A screen listens; False when there are too many."""
        return self._hub.join(link, self._only)


def _is_listening(screen: _Screen) -> bool:
    """Whether a screen is still there: it has nothing to say, so that anything but silence is its end."""
    try:
        return bool(screen.link.recv(4096))
    except BlockingIOError:
        return True
    except OSError:
        return False


def _send(screen: _Screen, message: bytes) -> bool:
    """Send what is for a screen as far as it takes it; False when it has had its time, or takes nothing."""
    screen.waiting += message
    try:
        sent = screen.link.send(screen.waiting)
        del screen.waiting[:sent]
    except BlockingIOError:
        pass
    except OSError:
        return False
    return len(screen.waiting) < MOST_WAITING_BYTES and time.monotonic() < screen.until


@cache
def _hub(url: str) -> Hub:
    return Hub(url)


@bp.get("/events")
@bp.doc(hide=True)
def listen() -> Response:
    """Topics that changed: jobs, catalog, findings, matches, sources. 503
    `events-full` when too many screens listen."""
    hub = _hub(database().plain_url)
    if hub.is_full:
        raise IndiceError(
            "Too many screens listen.", hint="Ask every few seconds instead.", reference="events-full", status=503
        )
    asking = viewer()
    only = None if asking.manages else LOOKED_AT | TIDIED if asking.tidies else LOOKED_AT
    take = request.environ.get("indice.take_stream")
    if take is not None:
        take(hub if only is None else _Narrow(hub, only))
    return Response(
        hub.stream(only) if take is None else iter(()),
        mimetype="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )
