"""Live events: the server says what changed, the screen asks for it again. Server-sent events over one open answer."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator

import psycopg
from apiflask import APIBlueprint
from flask import Response

from .common import database

__all__ = ["bp"]

bp = APIBlueprint("events", __name__, url_prefix="/api", tag="Events")
QUIET_SECONDS = 10.0
LONGEST_SECONDS = 600.0
"""Then the browser connects anew, so that a dead screen holds no thread for ever."""


def _stream(url: str) -> Iterator[str]:
    began = time.monotonic()
    yield "retry: 2000\n\n"
    try:
        with psycopg.connect(url, autocommit=True) as link:
            link.execute("listen indice")
            while time.monotonic() - began < LONGEST_SECONDS:
                topics = {note.payload for note in link.notifies(timeout=QUIET_SECONDS, stop_after=1)}
                topics |= {note.payload for note in link.notifies(timeout=0.15)}
                yield f"data: {json.dumps({'topics': sorted(topics)})}\n\n" if topics else ": quiet\n\n"
    except psycopg.OperationalError:
        return


@bp.get("/events")
@bp.doc(hide=True)
def listen() -> Response:
    """Topics that changed: jobs, catalog, findings, matches, sources."""
    return Response(
        _stream(database().plain_url),
        mimetype="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )
