"""Live events: the server says what changed, the screen asks for it again. Server-sent events over one open answer."""

from __future__ import annotations

import json
import queue
import threading
import time
from collections.abc import Iterator
from functools import cache

import psycopg
from apiflask import APIBlueprint
from flask import Response

from .common import database

__all__ = ["Hub", "bp"]

bp = APIBlueprint("events", __name__, url_prefix="/api", tag="Events")
QUIET_SECONDS = 4.0
"""After so long without news a sign of life is sent; that is also how a closed screen is noticed."""
LONGEST_SECONDS = 600.0
GATHER_SECONDS = 0.15
RECONNECT_SECONDS = 2.0


class Hub:
    """Listens to the database once for all screens."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._screens: set[queue.SimpleQueue[str]] = set()
        self._lock = threading.Lock()
        threading.Thread(target=self._listen, daemon=True, name="events").start()

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(self._url, autocommit=True) as link:
                    link.execute("listen indice")
                    for note in link.notifies():
                        with self._lock:
                            for screen in self._screens:
                                screen.put(note.payload)
            except psycopg.OperationalError:
                time.sleep(RECONNECT_SECONDS)

    def stream(self) -> Iterator[str]:
        """What one screen is sent, until it closes."""
        mine: queue.SimpleQueue[str] = queue.SimpleQueue()
        with self._lock:
            self._screens.add(mine)
        began = time.monotonic()
        try:
            yield "retry: 2000\n\n"
            while time.monotonic() - began < LONGEST_SECONDS:
                topics = _gather(mine)
                yield f"data: {json.dumps({'topics': sorted(topics)})}\n\n" if topics else ": quiet\n\n"
        finally:
            with self._lock:
                self._screens.discard(mine)


def _gather(mine: queue.SimpleQueue[str]) -> set[str]:
    """Wait for news, then a moment more for what comes with it."""
    topics: set[str] = set()
    timeout = QUIET_SECONDS
    while True:
        try:
            topics.add(mine.get(timeout=timeout))
        except queue.Empty:
            return topics
        timeout = GATHER_SECONDS
        if len(topics) > 8:
            return topics


@cache
def _hub(url: str) -> Hub:
    return Hub(url)


@bp.get("/events")
@bp.doc(hide=True)
def listen() -> Response:
    """Topics that changed: jobs, catalog, findings, matches, sources."""
    stream = _hub(database().plain_url).stream()
    return Response(
        stream, mimetype="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )
